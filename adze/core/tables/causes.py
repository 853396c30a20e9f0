"""What usually fails on a fence, where, how it shows, and what is carried to mend it."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class FaultCause:
    """A cause of trouble; `kind` is what it is electrically, `off_first` "yes" where power is switched off first."""

    key: str
    kind: str
    label: str
    where: str
    shows: str
    off_first: str
    carry: str


@cache
def causes() -> dict[str, FaultCause]:
    """All causes by key."""
    return read_table("causes.csv", FaultCause)
