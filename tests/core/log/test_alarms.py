"""Alarms of a device: low by two in a row and over by two, fallen fast, its battery, silence, quiet hours, worse."""

from datetime import UTC, datetime, time, timedelta

import pytest

from adze.core.forecast.volts import readings_at, solved
from adze.core.ground.places import Place
from adze.core.log.alarms import (
    USUAL_SHARE,
    AlarmKind,
    AlarmLimits,
    DeviceReading,
    alarms,
    is_quiet,
    is_worse,
    usual_limit_kv,
)
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather

NOW = datetime(2027, 5, 3, 12, tzinfo=UTC)
LIMITS = AlarmLimits(2.5, 120)


def sent(*kv: float, step_min: int = 10, battery_v: float | None = None) -> list[DeviceReading]:
    """Readings up to now, oldest first."""
    return [
        DeviceReading(NOW - timedelta(minutes=step_min * (len(kv) - 1 - k)), value, None, battery_v)
        for k, value in enumerate(kv)
    ]


def kinds(*kv: float, going: frozenset[AlarmKind] = frozenset(), step_min: int = 10) -> set[AlarmKind]:
    return {row.kind for row in alarms(LIMITS, sent(*kv, step_min=step_min), NOW, going)}


def test_one_wrong_reading_is_no_alarm() -> None:
    assert kinds(6.0, 6.0, 1.0) == set()
    assert kinds(6.0, 1.0, 6.0) == set()
    assert kinds(2.4, 2.4, step_min=60) == {AlarmKind.LOW}


def test_low_is_over_once_it_stands_a_little_above() -> None:
    low = frozenset({AlarmKind.LOW})
    assert kinds(2.0, 2.0, 2.55, going=low, step_min=60) == low
    assert kinds(2.0, 2.7, 2.7, going=low, step_min=60) == set()
    (row,) = alarms(LIMITS, sent(5.0, 2.2, 1.4, 2.0, step_min=60), NOW, frozenset())
    assert row.worst == 1.4
    assert row.since == NOW - timedelta(hours=2)


def test_a_fast_fall_is_told_before_it_is_low() -> None:
    assert kinds(7.0, 7.1, 6.9, 4.4, 4.3) == {AlarmKind.FAST}
    assert kinds(7.0, 7.1, 6.9, 5.4, 5.3) == set()
    assert kinds(7.0, 7.0, 4.4, 4.3, step_min=60) == set()  # not within half an hour


def test_silence_and_battery() -> None:
    old = [DeviceReading(NOW - timedelta(hours=3), 6.0)]
    (row,) = alarms(LIMITS, old, NOW, frozenset())
    assert (row.kind, row.worst) == (AlarmKind.SILENT, 180.0)
    assert {r.kind for r in alarms(LIMITS, sent(6.0, 6.0, battery_v=11.9), NOW, frozenset())} == {AlarmKind.BATTERY}
    assert alarms(LIMITS, [], NOW, frozenset()) == []


@pytest.mark.parametrize(
    ("at", "quiet"), [(time(23), True), (time(5, 59), True), (time(6), False), (time(21, 59), False)]
)
def test_quiet_hours_pass_midnight(at: time, quiet: bool) -> None:
    assert is_quiet(at, time(22), time(6)) is quiet
    assert not is_quiet(at, None, time(6))


def test_what_is_much_worse_is_told_again() -> None:
    assert is_worse(AlarmKind.LOW, 2.0, 1.5)
    assert not is_worse(AlarmKind.LOW, 2.0, 1.7)
    assert is_worse(AlarmKind.SILENT, 120, 1500)
    assert not is_worse(AlarmKind.SILENT, 120, 600)


def test_the_usual_limit_is_a_share_of_the_worst_week_at_its_place(hallow: Plan) -> None:
    near, far = Place("terraces", 0.0), Place("seabank", 400.0)
    for place in (near, far):
        least = min(float(readings_at(solved(hallow, Weather(season)), [place])[0, 0]) for season in Season)
        assert usual_limit_kv(hallow, place) == pytest.approx(USUAL_SHARE * least, abs=0.06)
