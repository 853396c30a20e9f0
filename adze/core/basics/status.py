"""How a judged figure stands against its limit."""

from enum import StrEnum


class Status(StrEnum):
    """How a thing stands; ordered by `worse`."""

    HOLDS = "holds"
    MARGINAL = "marginal"
    FAILS = "fails"
    UNKNOWN = "unknown"


_RANK = {Status.HOLDS: 0, Status.UNKNOWN: 1, Status.MARGINAL: 2, Status.FAILS: 3}


def rank(status: Status) -> int:
    """Order of badness."""
    return _RANK[status]


_MARGIN = 0.9


def against(value: float, limit: float) -> Status:
    """For what must reach a limit: holds, marginal within a tenth, else fails."""
    if value >= limit:
        return Status.HOLDS
    return Status.MARGINAL if value >= _MARGIN * limit else Status.FAILS
