"""When a device's readings are an alarm: low, fallen fast, its battery, or silence; told once, and again when worse."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from enum import StrEnum

from adze.core.forecast.volts import readings_at, solved
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather

IN_A_ROW = 2  # one wrong reading is no alarm
FAST_SHARE, FAST_WITHIN = 0.30, timedelta(minutes=30)
BATTERY_V = 12.2  # at rest: half empty, of a lead battery
_OVER_SHARE = 1.05  # of its limit: what a low fence must reach before the alarm is over
_WORSE_SHARE = 0.80  # of what was told: worth telling again
SILENT_MIN, LEAST_SILENT_MIN, MOST_SILENT_MIN = 120, 10, 10_080


USUAL_SHARE = 0.8  # of the worst week's forecast: no false alarm in made-up healthy years (bench/alarms.py)


def usual_limit_kv(plan: Plan, place: Place) -> float:
    """The kV below which an alarm at a place says something: a share of the least that the year forecasts there.

    Raises Incomplete.
    """
    least = min(float(readings_at(solved(plan, Weather(season)), [place])[0, 0]) for season in Season)
    return round(USUAL_SHARE * least, 1)


class AlarmKind(StrEnum):
    """What an alarm is of."""

    LOW = "low"
    FAST = "fast"
    BATTERY = "battery"
    SILENT = "silent"


@dataclass(frozen=True)
class DeviceReading:
    """What a device sent: when by our clock, kV, A and its battery's V where it reads them."""

    at: datetime
    kv: float
    amps: float | None = None
    battery_v: float | None = None


@dataclass(frozen=True)
class AlarmLimits:
    """When a device alarms: below so many kV, after so many minutes of silence."""

    alarm_kv: float
    silent_min: int


@dataclass(frozen=True)
class Alarm:
    """Something that goes on: its kind, since when, and its worst figure (kV; V of a battery; minutes of silence)."""

    kind: AlarmKind
    since: datetime
    worst: float


def alarms(
    limits: AlarmLimits, newest: Sequence[DeviceReading], now: datetime, going: frozenset[AlarmKind]
) -> list[Alarm]:
    """The alarms that hold now, from the newest readings (oldest first) and those that were going on."""
    found: list[Alarm] = []
    if not newest:
        return found
    last = newest[-1]
    silent = now - last.at
    if silent > timedelta(minutes=limits.silent_min):
        found.append(Alarm(AlarmKind.SILENT, last.at, silent / timedelta(minutes=1)))
    row = _low(limits, newest, was_low=AlarmKind.LOW in going)
    if row:
        found.append(row)
    elif (fast := _fast(newest)) is not None:
        found.append(fast)
    flat = [r for r in newest if r.battery_v is not None][-IN_A_ROW:]
    if len(flat) == IN_A_ROW and all((r.battery_v or 0.0) < BATTERY_V for r in flat):
        found.append(Alarm(AlarmKind.BATTERY, flat[0].at, min(r.battery_v or 0.0 for r in flat)))
    return found


def _low(limits: AlarmLimits, newest: Sequence[DeviceReading], *, was_low: bool) -> Alarm | None:
    """Low by two in a row; over again by two in a row that are a little above the limit."""
    limit = limits.alarm_kv * (_OVER_SHARE if was_low else 1.0)
    rows = newest[-IN_A_ROW:]
    if was_low:
        low = not (len(rows) == IN_A_ROW and all(r.kv >= limit for r in rows))
    else:
        low = len(rows) == IN_A_ROW and all(r.kv < limit for r in rows)
    if not low:
        return None
    own: list[DeviceReading] = []
    for row in reversed(newest):
        if row.kv >= limit:
            break
        own.append(row)
    own = own or [newest[-1]]
    return Alarm(AlarmKind.LOW, own[-1].at, min(r.kv for r in own))


def _fast(newest: Sequence[DeviceReading]) -> Alarm | None:
    """Fallen by a third within half an hour, and still there at the next reading."""
    rows = newest[-IN_A_ROW:]
    before = [r for r in newest[:-IN_A_ROW] if rows[0].at - r.at <= FAST_WITHIN]
    if len(rows) < IN_A_ROW or not before:
        return None
    level = sorted(r.kv for r in before)[len(before) // 2]
    if all(r.kv < (1 - FAST_SHARE) * level for r in rows):
        return Alarm(AlarmKind.FAST, rows[0].at, min(r.kv for r in rows))
    return None


def is_quiet(at: time, start: time | None, end: time | None) -> bool:
    """Whether a time of the day lies in the quiet hours; they may pass midnight."""
    if start is None or end is None or start == end:
        return False
    return start <= at < end if start < end else at >= start or at < end


def is_worse(kind: AlarmKind, told: float, worst: float) -> bool:
    """Whether an alarm that was told is so much worse that it is told again."""
    if kind is AlarmKind.SILENT:
        return worst > 12 * told
    return worst < _WORSE_SHARE * told
