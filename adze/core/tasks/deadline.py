"""Whether a fence stands in time: the work that is left against the hours that are, and what would make it fit."""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta

from adze.core.basics.cache import cached
from adze.core.tasks.schedule import MOST_PEOPLE, Hand, schedule
from adze.core.tasks.steps import Step

READY_FOR = {"stock": "the animals come", "path": "the path opens again", "crop": "the crop is worth coming for"}
_LEAST_SPARE = 0.25  # of the work: weather, a part that is missing, ground that is harder than it looks
_MOST_MORE = 4
_LONGER_FROM_H, _LONGER_TO_H = 9, 14


@dataclass(frozen=True)
class InTime:
    """Minutes of work that are left and that there are until a fence must stand.

    `more_hands` with which it would fit, None where more people do not help or none are needed; `begin_by` the latest
    begin with the crew as it is, in whole days; `day_h` hours that the day would have to have instead, None above 16.
    """

    left_min: float
    there_min: float
    more_hands: int | None
    begin_by: datetime
    day_h: float | None

    @property
    def spare_min(self) -> float:
        """What is to spare, below 0 what is missing."""
        return self.there_min - self.left_min

    @property
    def is_tight(self) -> bool:
        """Whether it fits with less to spare than work in a field takes."""
        return 0 <= self.spare_min < _LEAST_SPARE * self.left_min


def working_minutes(begins: datetime, until: datetime, day_h: float) -> float:
    """Minutes of work between two times, from each day's begin, so many hours a day."""
    if until <= begins:
        return 0.0
    days = (until.date() - begins.date()).days
    whole = sum(60 * day_h for _ in range(days))
    last = datetime.combine(until.date(), begins.timetz())
    part = min(60 * day_h, max(0.0, (until - last) / timedelta(minutes=1)))
    return whole + part


@cached("in time", 32)
def in_time(
    steps: tuple[Step, ...], crew: tuple[Hand, ...], day_h: float, done: frozenset[str], span: tuple[datetime, datetime]
) -> InTime:
    """Whether the steps that are left fit between a begin and the time by which they must be done. Raises CrewError."""
    begins, until = span
    left = schedule(steps, crew, day_h, done).length
    there = working_minutes(begins, until, day_h)
    late = left > there
    return InTime(
        left,
        there,
        _more_hands(steps, crew, day_h, done, there) if late else None,
        _begin_by(until, begins.timetz(), left, day_h),
        _longer_day(steps, crew, done, span) if late else None,
    )


def _more_hands(
    steps: Sequence[Step], crew: Sequence[Hand], day_h: float, done: frozenset[str], there_min: float
) -> int | None:
    for more in range(1, min(_MOST_MORE, MOST_PEOPLE - len(crew)) + 1):
        helpers = [Hand(f"Helper {n}", "any", frozenset()) for n in range(more)]
        if schedule(steps, [*crew, *helpers], day_h, done).length <= there_min:
            return more
    return None


def _longer_day(
    steps: Sequence[Step], crew: Sequence[Hand], done: frozenset[str], span: tuple[datetime, datetime]
) -> float | None:
    hours = range(_LONGER_FROM_H, _LONGER_TO_H + 1)
    # A longer day never needs more of them: the first that does is found by halving.
    first = bisect_left(hours, True, key=lambda h: schedule(steps, crew, h, done).length <= working_minutes(*span, h))
    return float(hours[first]) if first < len(hours) else None


def _begin_by(until: datetime, at: time, left_min: float, day_h: float) -> datetime:
    """The latest day on which the work can begin and still be done."""
    begins = datetime.combine(until.date(), at)
    while working_minutes(begins, until, day_h) < left_min:
        begins -= timedelta(days=1)
    return begins
