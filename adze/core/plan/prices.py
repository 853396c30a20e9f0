"""The user's own figures of what is bought: prices that go before the made-up ones, what is added to lengths."""

from typing import Annotated

from pydantic import Field, FiniteFloat

from adze.core.plan.scalars import Name, Part


class OwnPrice(Part):
    """What a part costs in the user's shop: its key or label in the list, how many in a pack, the shop's own code."""

    part: Annotated[str, Field(min_length=1, max_length=80)]
    price: Annotated[FiniteFloat, Field(ge=0, le=1_000_000)]
    pack: Annotated[FiniteFloat, Field(gt=0, le=100_000)]
    code: Annotated[str, Field(max_length=40)] = ""


class Allowance(Part):
    """What is added to measured lengths: % of a strand, cm to tie off at each of its ends, m of a lead.

    `spares`: a few more of what breaks or is lost.

    Strands sag, bend and are cut wrongly; a lead needs slack at both ends. Source: trade practice.
    """

    waste_percent: Annotated[FiniteFloat, Field(ge=0, le=30)] = 5.0
    tail_cm: Annotated[FiniteFloat, Field(ge=10, le=300)] = 50.0
    lead_m: Annotated[FiniteFloat, Field(ge=0, le=50)] = 5.0
    spares: bool = False


class ShedTake(Part):
    """So much of a part that this plan takes from the farm's shed."""

    part: Annotated[str, Field(min_length=1, max_length=80)]
    quantity: Annotated[FiniteFloat, Field(gt=0, le=1_000_000)]


class Quote(Part):
    """What a shop offers: its prices, and the value added tax that comes on top, %."""

    shop: Name
    vat_percent: Annotated[FiniteFloat, Field(ge=0, le=40)] = 0.0
    prices: Annotated[tuple[OwnPrice, ...], Field(max_length=400)]
