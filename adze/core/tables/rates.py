"""Minutes that work takes."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class WorkRate:
    """Minutes for one person for each unit of a kind of work."""

    key: str
    label: str
    minutes: float
    unit: str


@cache
def rates() -> dict[str, WorkRate]:
    """All rates by key."""
    return read_table("rates.csv", WorkRate)
