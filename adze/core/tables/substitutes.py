"""Cheaper things that are used in the place of parts, and what is lost with each."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class Substitute:
    """What stands in for a part: so many for each unit of it, at a price, and what it loses in kV, years or work."""

    key: str
    part: str
    label: str
    unit: str
    each: float
    price: float
    loses: str


@cache
def substitutes() -> dict[str, Substitute]:
    """All substitutes by key."""
    return read_table("substitutes.csv", Substitute)
