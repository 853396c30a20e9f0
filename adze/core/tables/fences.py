"""Fences without electricity, to set an electric one beside."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class OtherFence:
    """A fence without electricity: money and own hours per m, the years it stands, what it does to animals."""

    key: str
    label: str
    price_per_m: float
    hours_per_m: float
    years: float
    injury: str
    wants: str

    @property
    def price_a_year(self) -> float:
        """Money per metre for each year that it stands."""
        return self.price_per_m / self.years


@cache
def other_fences() -> dict[str, OtherFence]:
    """All of them by key."""
    return read_table("other_fences.csv", OtherFence)
