"""Each point's own healthy level, learned from its readings, and whether a reading is well for its day.

What is not known is kept as one Gaussian: unit, rods and growth for the whole fence, and an offset for each point, all
as logarithms of kV about the forecast. Each reading is one scalar Kalman step (R. E. Kalman, J. Basic Eng. 82 (1960));
rods and growth drift back to what the tables say with time; a reading that is far off teaches nothing, so that a fault
does not become the healthy level.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum

import numpy as np

from adze.core.basics.types import Real

UNIT_DOUBT, RODS_DOUBT, GROWTH_DOUBT, POINT_DOUBT = 0.04, 0.30, 0.35, 0.05
METER_SHARE, METER_KV, DAY_SHARE = 0.03, 0.1, 0.02
RODS_DAYS, GROWTH_DAYS = 45.0, 30.0  # after which little is left of what was learned of them
BAND = 2.0  # spreads: 19 of 20 well readings lie within
FAR_OFF = 3.5  # spreads: beyond it a reading teaches nothing
TOGETHER = timedelta(hours=36)  # readings of one walk
_MOST_GROWTH = 1.1  # three times as much growth as was learned: more is no growth


class DayAnswer(StrEnum):
    """How a reading stands for its day."""

    WELL = "well"
    SHORT = "short"
    HIGH = "high"
    LOW = "low"
    GROWTH = "growth"
    NEW = "new"


@dataclass(frozen=True)
class LevelReading:
    """A reading of kV at a point: what the forecast has there, and how its logarithm turns with rods' and growth's."""

    key: int
    point: str
    at: datetime
    kv: float
    forecast_kv: float
    with_rods: float
    with_growth: float
    wanted_kv: float


@dataclass(frozen=True)
class JudgedReading:
    """A reading for its day: kV that were to be expected, the band, how many spreads off, and the answer.

    `growth` is how many times the growth that was learned would explain it (answer GROWTH); `after` the key of the
    reading of the same walk, nearer the unit, that was still well (answer NEW), None where none was; `before` how many
    readings its point had taught by then.
    """

    key: int
    expected_kv: float
    low_kv: float
    high_kv: float
    spreads_off: float
    answer: DayAnswer
    growth: float = 1.0
    after: int | None = None
    before: int = 0


@dataclass(frozen=True)
class Levels:
    """What is learned: mean (3+N,) and covariance of unit, rods, growth and each point, when, and from how many."""

    mean: Real
    cov: Real
    points: dict[str, int]
    at: datetime | None
    counts: dict[str, int]

    def expected(self, point: str, forecast_kv: float, with_rods: float, with_growth: float) -> tuple[float, float]:
        """kV to be expected at a point, and its spread as a share."""
        row = self.row_of(point, with_rods, with_growth)
        known = self.points.get(point) is not None
        spread = float(row @ self.cov @ row) + (0.0 if known else POINT_DOUBT**2)
        return forecast_kv * math.exp(float(row @ self.mean)), math.sqrt(spread)

    def row_of(self, point: str, with_rods: float, with_growth: float) -> Real:
        """How the logarithm of kV at a point turns with everything that is not known."""
        row = np.zeros(len(self.mean))
        row[:3] = 1.0, with_rods, with_growth
        if point in self.points:
            row[3 + self.points[point]] = 1.0
        return row


def unlearned(points: Sequence[str]) -> Levels:
    """Before any reading: as the tables say."""
    doubts = [UNIT_DOUBT, RODS_DOUBT, GROWTH_DOUBT, *[POINT_DOUBT] * len(points)]
    return Levels(
        np.zeros(len(doubts)), np.diag(np.square(doubts)), {name: k for k, name in enumerate(points)}, None, {}
    )


def reading_spread(kv: float) -> float:
    """The tester's error and the day's own, as a share of the reading."""
    return math.hypot(METER_SHARE, METER_KV / max(kv, 0.2), DAY_SHARE)


def drifted(levels: Levels, at: datetime) -> Levels:
    """The same when time has passed: rods and growth drift back to what the tables say."""
    if levels.at is None or at <= levels.at:
        return levels
    days = (at - levels.at) / timedelta(days=1)
    left = np.ones(len(levels.mean))
    left[1], left[2] = math.exp(-days / RODS_DAYS), math.exp(-days / GROWTH_DAYS)
    cov = levels.cov * np.outer(left, left)
    cov[1, 1] += (1 - left[1] ** 2) * RODS_DOUBT**2
    cov[2, 2] += (1 - left[2] ** 2) * GROWTH_DOUBT**2
    return Levels(levels.mean * left, cov, levels.points, at, levels.counts)


def learned(levels: Levels, reading: LevelReading) -> tuple[Levels, float, float, float]:
    """After a reading: the levels, the kV that were expected, the whole spread as a share, and the spreads off."""
    levels = drifted(levels, reading.at)
    expected, doubt = levels.expected(reading.point, reading.forecast_kv, reading.with_rods, reading.with_growth)
    whole = math.hypot(doubt, reading_spread(reading.kv))
    off = math.log(max(reading.kv, 0.02) / max(expected, 0.02)) / whole
    at = max(reading.at, levels.at or reading.at)
    if abs(off) > FAR_OFF or reading.forecast_kv <= 0:
        return Levels(levels.mean, levels.cov, levels.points, at, levels.counts), expected, whole, off
    row = levels.row_of(reading.point, reading.with_rods, reading.with_growth)
    gained = levels.cov @ row
    gain = gained / whole**2
    counts = levels.counts | {reading.point: levels.counts.get(reading.point, 0) + 1}
    after = Levels(levels.mean + gain * off * whole, levels.cov - np.outer(gain, gained), levels.points, at, counts)
    return after, expected, whole, off


def judged(readings: Sequence[LevelReading]) -> tuple[Levels, tuple[JudgedReading, ...]]:
    """Readings in time, each judged by what was learned before it, and what is known after the last."""
    points = list(dict.fromkeys(reading.point for reading in readings))
    levels, found = unlearned(points), []
    ordered = sorted(readings, key=lambda reading: (reading.at, reading.key))
    for walk in _walks(ordered):
        before, rows = levels, []
        for reading in walk:
            taught = levels.counts.get(reading.point, 0)
            levels, expected, whole, off = learned(levels, reading)
            low, high = expected * math.exp(-BAND * whole), expected * math.exp(BAND * whole)
            answer = _answer(reading, low, high, _least_alike(before, reading))
            rows.append(JudgedReading(reading.key, expected, low, high, off, answer, before=taught))
        more = _growth(before, walk)
        for row in rows:
            if row.answer not in (DayAnswer.NEW, DayAnswer.LOW):
                found.append(row)
            elif more is not None:
                found.append(replace(row, answer=DayAnswer.GROWTH, growth=more))
            elif row.answer is DayAnswer.LOW:
                found.append(row)
            else:
                well = [other.key for other in rows[: rows.index(row)] if other.answer is not DayAnswer.NEW]
                found.append(replace(row, after=well[-1] if well else None))
    return levels, tuple(found)


def _least_alike(before: Levels, reading: LevelReading) -> float:
    """The least kV that are well if neither rods nor growth have changed since the walk before."""
    expected, _ = before.expected(reading.point, reading.forecast_kv, reading.with_rods, reading.with_growth)
    row = before.row_of(reading.point, 0.0, 0.0)
    known = reading.point in before.counts
    doubt = float(row @ before.cov @ row) + (0.0 if known else POINT_DOUBT**2)
    return expected * math.exp(-BAND * math.hypot(math.sqrt(doubt), reading_spread(expected)))


def _answer(reading: LevelReading, low: float, high: float, least_alike: float) -> DayAnswer:
    if reading.kv < low:
        return DayAnswer.NEW
    if reading.kv < least_alike:
        return DayAnswer.LOW
    if reading.kv > high:
        return DayAnswer.HIGH
    return DayAnswer.SHORT if reading.kv < reading.wanted_kv else DayAnswer.WELL


def _walks(ordered: Sequence[LevelReading]) -> list[list[LevelReading]]:
    found: list[list[LevelReading]] = []
    for before, reading in zip([None, *ordered], ordered, strict=False):
        if before is None or reading.at - before.at > TOGETHER:
            found.append([])
        found[-1].append(reading)
    return found


def _growth(levels: Levels, walk: Sequence[LevelReading]) -> float | None:
    """How many times the growth that was learned explains a walk that is low; None where growth does not.

    All points of the walk must then be low as growth makes them: at least two, and none left far off.
    """
    if len({reading.point for reading in walk}) < 2:
        return None
    off, slope, spread = [], [], []
    for reading in walk:
        now = drifted(levels, reading.at)
        expected, doubt = now.expected(reading.point, reading.forecast_kv, reading.with_rods, 0.0)
        expected *= math.exp(reading.with_growth * float(now.mean[2]))
        off.append(math.log(max(reading.kv, 0.02) / max(expected, 0.02)))
        slope.append(reading.with_growth)
        spread.append(math.hypot(min(doubt, POINT_DOUBT), reading_spread(reading.kv)))
    y, x, s = np.array(off), np.array(slope), np.array(spread)
    weight = 1 / s**2
    whole = float((weight * x * x).sum())
    if whole < 1e-9:
        return None
    more = float((weight * x * y).sum()) / whole
    left = np.abs(y - more * x) / s
    if not 0.15 < more < _MOST_GROWTH or float(left.max()) > BAND:
        return None
    return math.exp(more)


def alarm_limit(count: int) -> float:
    """The chi-square of so many readings that one well round in a hundred passes (Wilson and Hilferty, 1931)."""
    if count < 1:
        return math.inf
    shrink = 2 / (9 * count)
    return count * (1 - shrink + 2.3263 * math.sqrt(shrink)) ** 3


def chi_square(levels: Levels, walk: Sequence[LevelReading]) -> float:
    """How far a round lies off what is learned, all points together, doubts shared."""
    if not walk:
        return 0.0
    now = drifted(levels, walk[-1].at)
    rows = np.array([now.row_of(r.point, r.with_rods, r.with_growth) for r in walk])
    off = np.array([math.log(max(r.kv, 0.02) / max(r.forecast_kv, 0.02)) for r in walk]) - rows @ now.mean
    cov = rows @ now.cov @ rows.T + np.diag([reading_spread(r.kv) ** 2 for r in walk])
    return float(off @ np.linalg.solve(cov, off))
