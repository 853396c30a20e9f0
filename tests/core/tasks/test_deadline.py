"""Whether a fence stands in time, and what would make it fit."""

from datetime import UTC, datetime

import pytest

from adze.core.tasks.deadline import in_time, working_minutes
from adze.core.tasks.schedule import Hand, schedule
from adze.core.tasks.steps import Step

MONDAY = datetime(2027, 5, 10, 8, tzinfo=UTC)
TWO = (Hand("Ann", "leader"), Hand("Ben"))


def job(*minutes: float, most: int = 1) -> tuple[Step, ...]:
    return tuple(Step(f"s{n}", "posts", f"Step {n}", "", (), m, most=most) for n, m in enumerate(minutes))


@pytest.mark.parametrize(
    ("until", "minutes"),
    [
        (datetime(2027, 5, 10, 8, tzinfo=UTC), 0),
        (datetime(2027, 5, 10, 12, tzinfo=UTC), 240),
        (datetime(2027, 5, 10, 22, tzinfo=UTC), 480),
        (datetime(2027, 5, 12, 7, tzinfo=UTC), 960),
        (datetime(2027, 5, 12, 9, tzinfo=UTC), 1020),
    ],
)
def test_hours_that_are_there(until: datetime, minutes: float) -> None:
    assert working_minutes(MONDAY, until, 8) == pytest.approx(minutes)


def test_what_fits_says_how_much_is_to_spare() -> None:
    found = in_time(job(120, 120), TWO, 8, frozenset(), (MONDAY, datetime(2027, 5, 10, 16, tzinfo=UTC)))
    assert (found.left_min, found.there_min, found.spare_min) == (120, 480, 360)
    assert not found.is_tight
    assert found.more_hands is None
    assert found.begin_by == MONDAY


def test_little_to_spare_is_said() -> None:
    found = in_time(job(420, 420), TWO, 8, frozenset(), (MONDAY, datetime(2027, 5, 10, 16, tzinfo=UTC)))
    assert found.is_tight


def test_too_late_says_what_would_do() -> None:
    span = MONDAY, datetime(2027, 5, 11, 8, tzinfo=UTC)
    found = in_time(job(*(240,) * 6), TWO, 8, frozenset(), span)
    assert found.left_min == 720
    assert found.spare_min == -240
    assert found.more_hands == 1
    assert found.day_h == 12
    assert found.begin_by == datetime(2027, 5, 9, 8, tzinfo=UTC)
    more = [*TWO, Hand("Helper")]
    assert schedule(job(*(240,) * 6), more).length <= found.there_min


def test_more_people_do_not_help_a_step_that_one_does() -> None:
    found = in_time(job(900), TWO, 8, frozenset(), (MONDAY, datetime(2027, 5, 11, 8, tzinfo=UTC)))
    assert found.more_hands is None


def test_what_is_done_is_not_left() -> None:
    found = in_time(job(240, 240, 240), TWO, 8, frozenset({"s0", "s1"}), (MONDAY, MONDAY))
    assert (found.left_min, found.there_min) == (240, 0)
