"""Prices of parts."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class Price:
    """How a part is sold: unit, units in a pack, price of the pack."""

    key: str
    label: str
    unit: str
    pack: float
    price: float


@cache
def prices() -> dict[str, Price]:
    """All parts' prices by key."""
    return read_table("prices.csv", Price)
