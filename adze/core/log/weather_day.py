"""A fence's day by the weather record: how wet, how dry, how much has grown since the cut, and what kV that makes.

Each is a figure from 0 to 1 between the plan's seasons, or a number of times as much growth as the plan assumes. The
constants are assumptions for temperate pasture; what the readings teach (core.log.level) corrects them.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

WET_DAYS, WET_MM = 0.75, 8.0  # rain wets leaves and posts for most of a day; 8 mm wet all of it
SOAKED_MM, DRY_DAYS = 5.0, 21.0  # a day of 5 mm ends a dry spell; after three weeks the top soil is as dry as it gets
FROZEN_C = -2.0  # mean of a day: frozen soil leads no better than dry
# Grass grows above 5 °C (base temperature of perennial ryegrass, Lolium perenne); six weeks at 15 °C raise it fully.
GROWS_ABOVE_C, FULL_DEGREE_DAYS = 5.0, 420.0
LEAST_GROWTH, MOST_GROWTH = 0.3, 1.7  # times what the plan assumes: just cut, and never
GROWING_MM = 20.0  # of rain in two weeks: below it growth slows in proportion
STORM_MS = 15.0
_LONGEST_SPELL = 60


@dataclass(frozen=True)
class WeatherDay:
    """A day of the record: rain in mm, mean air in °C (None: not known), whether there was thunder or a storm."""

    day: date
    rain_mm: float
    mean_c: float | None
    is_stormy: bool = False


@dataclass(frozen=True)
class DayState:
    """How a fence stands on a day: wet and dry from 0 to 1, times the plan's growth (1: unknown), days without rain."""

    wet: float
    dry: float
    growth: float
    rainless_days: int
    is_frozen: bool
    since_cut_days: int | None


def day_state(record: Mapping[date, WeatherDay], day: date, cut: date | None) -> DayState | None:
    """The state of a day; None where the record lacks that day or the one before it.

    Days that the record lacks within a spell count as the mean of those that it has.
    """
    if day not in record or day - timedelta(days=1) not in record:
        return None
    wet = 0.0
    for back in range(4):
        past = record.get(day - timedelta(days=back))
        if past is not None:
            wet += past.rain_mm / WET_MM * math.exp(-back / WET_DAYS)
    rainless = _rainless(record, day)
    mean_c = record[day].mean_c
    is_frozen = mean_c is not None and mean_c < FROZEN_C
    wet = 0.0 if is_frozen else min(1.0, wet)
    dry = 1.0 if is_frozen else (1 - wet) * min(1.0, rainless / DRY_DAYS)
    growth = grown(record, cut, day) if cut is not None and cut <= day else None
    since = (day - cut).days if cut is not None and growth is not None else None
    return DayState(wet, dry, 1.0 if growth is None else growth, rainless, is_frozen, since)


def _rainless(record: Mapping[date, WeatherDay], day: date) -> int:
    for back in range(_LONGEST_SPELL):
        past = record.get(day - timedelta(days=back))
        if past is None or past.rain_mm >= SOAKED_MM:
            return back
    return _LONGEST_SPELL


def grown(record: Mapping[date, WeatherDay], cut: date, day: date) -> float | None:
    """Times the plan's growth that stands after a cut, by degree days where there was rain; None without temperatures.

    Days whose temperature is not known count as the mean of the others.
    """
    if cut == day:
        return LEAST_GROWTH
    known = [warmth for at in _days(cut, day) if (warmth := _warmth(record, at)) is not None]
    if not known:
        return None
    degree_days = sum(known) / len(known) * (day - cut).days
    return LEAST_GROWTH + (MOST_GROWTH - LEAST_GROWTH) * (1 - math.exp(-degree_days / FULL_DEGREE_DAYS))


def _days(first: date, last: date) -> Sequence[date]:
    return [first + timedelta(days=n) for n in range(1, (last - first).days + 1)]


def _warmth(record: Mapping[date, WeatherDay], day: date) -> float | None:
    """Degree days of a day, less where the two weeks before were dry; None where its temperature is not known."""
    row = record.get(day)
    if row is None or row.mean_c is None:
        return None
    fortnight = [past for n in range(14) if (past := record.get(row.day - timedelta(days=n)))]
    rain = sum(past.rain_mm for past in fortnight) * 14 / len(fortnight)
    return max(0.0, row.mean_c - GROWS_ABOVE_C) * min(1.0, rain / GROWING_MM)


def kv_of_day(state: DayState, seasons: tuple[float, float, float], with_growth: float) -> float:
    """kV of a day between those of the driest, the usual and the wettest week, with the growth of that day.

    `with_growth` is how the logarithm of kV turns with that of growth. Geometric between seasons: losses multiply.
    """
    dry, usual, wet = (max(kv, 1e-3) for kv in seasons)
    kv = usual * (wet / usual) ** state.wet * (dry / usual) ** state.dry
    return float(kv * state.growth**with_growth)


def storms(record: Mapping[date, WeatherDay], until: date) -> date | None:
    """The last stormy day of the record up to a day; None where there is none."""
    return max((row.day for row in record.values() if row.is_stormy and row.day <= until), default=None)
