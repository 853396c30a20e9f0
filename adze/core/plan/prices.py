"""The user's own prices: they go before the made-up ones."""

from typing import Annotated

from pydantic import Field, FiniteFloat

from adze.core.plan.scalars import Part


class OwnPrice(Part):
    """What a part costs in the user's shop: its key or label in the list, how many in a pack, the shop's own code."""

    part: Annotated[str, Field(min_length=1, max_length=80)]
    price: Annotated[FiniteFloat, Field(ge=0, le=1_000_000)]
    pack: Annotated[FiniteFloat, Field(gt=0, le=100_000)]
    code: Annotated[str, Field(max_length=40)] = ""
