"""How somebody gets better at finding faults: practice searches beside each other, and what the last one teaches."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

_LOOK_ON_THE_WAY = "Look where it usually fails on the way to the next reading: corners, gates, trees."
_SOMETHING_LEFT = "Something was left. Read again where you mended, then at the far ends: what is still low is another."
_QUICK = "As quick as every advice."
_MUCH_WALKING = "Much walking, few readings. Where lines part, amps on each leg say which one to leave out."
_TOO_MANY_READINGS = "Many readings. One at each branch parts the fence; two on the same stretch say nearly the same."
_WALKING_QUICKER = "Walking all of it had been quicker: the nearest branch first, and look where it usually fails."

SLOW, FEW_READINGS, MANY_READINGS = 1.5, 3, 9  # times the minutes of following every advice; readings of a search
_SHOWN = 8


@dataclass(frozen=True)
class PracticeRecord:
    """How often and with what success, minutes in times of every advice's (the oldest first), and a lesson."""

    times: int
    restored: int
    shares: tuple[float, ...]
    lesson: str


def practice_record(results: Sequence[Mapping[str, Any]]) -> PracticeRecord | None:
    """The record of ended practice searches, newest first; None without one."""
    own = [row for row in results if row.get("practice")]
    if not own:
        return None
    shares = tuple(_share(row) for row in reversed(own[:_SHOWN]))
    return PracticeRecord(len(own), sum(bool(row["restored"]) for row in own), shares, lesson(own[0]))


def _share(row: Mapping[str, Any]) -> float:
    return round(float(row["minutes"]) / max(float(row["advice_minutes"]), 1.0), 1)


def lesson(row: Mapping[str, Any]) -> str:
    """What a practice search teaches, by what it cost beside every advice and beside walking all of it."""
    if not row["restored"] or row["left"]:
        return _SOMETHING_LEFT
    share = _share(row)
    if share <= 1:
        return _QUICK
    if share > SLOW and row["readings"] < FEW_READINGS:
        return _MUCH_WALKING
    if share > SLOW and row["readings"] >= MANY_READINGS:
        return _TOO_MANY_READINGS
    if row["minutes"] > row["walking_minutes"]:
        return _WALKING_QUICKER
    return _LOOK_ON_THE_WAY
