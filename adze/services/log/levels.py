"""Readings judged by what each point has shown before: learned levels, what is new between two places, what is seen."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from adze.core.animals.strand_rules import Role
from adze.core.basics.cache import cached
from adze.core.basics.types import Real
from adze.core.basics.units import band_words, kv_words
from adze.core.build.construction import fence_of
from adze.core.forecast.volts import readings_at, solved
from adze.core.ground.places import Place, place_words
from adze.core.log.level import (
    BAND,
    DAY_SHARE,
    METER_SHARE,
    DayAnswer,
    JudgedReading,
    LevelReading,
    Levels,
    alarm_limit,
    chi_square,
    judged,
    reading_spread,
)
from adze.core.log.weather_day import DayState, kv_of_day
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.core.plan.stock import wanted_of
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import farm_of, fence_place, spot_of
from adze.core.trace.predicted import sizes_of
from adze.core.trace.pulse_base import LS, base
from adze.core.trace.suspects import every_single
from adze.services.log.weather_days import FarmWeather
from adze.store.log.readings import Reading

_TURN = 1.2  # by which soil and growth are moved to see how kV turn
_LEARNED_DOUBT = 0.03  # of a point's level after some ten good readings, as a share
_TOLD_SPREADS = 2.33 + 1.28  # one false alarm in a hundred, nine faults in ten told
_SAME_M = 15.0  # readings nearer than this are of one point
MOST = 400


@dataclass(frozen=True)
class Learned:
    """What the readings taught: each judged, levels after the last, and the newest walk against the alarm's limit."""

    rows: dict[int, JudgedReading]
    levels: Levels
    walk: tuple[LevelReading, ...]
    chi: float
    limit: float

    @property
    def is_alarm(self) -> bool:
        """Whether the newest walk lies further off than one well walk in a hundred."""
        return self.chi > self.limit


@cached("turns of readings", 128, identity_args=1)
def _turns(plan: Plan, season: Season, places: tuple[Place, ...]) -> Real:
    """kV of the forecast at places, and how their logarithm turns with that of soil and of growth, (3, P)."""
    known = plan.calibration
    grassier = replaced(plan, calibration=known.model_copy(update={"leak_factor": known.leak_factor * _TURN}))
    drier = replaced(plan, calibration=known.model_copy(update={"soil_factor": known.soil_factor * _TURN}))
    kv = np.array([readings_at(solved(p, Weather(season)), places)[0] for p in (plan, drier, grassier)])
    kv = np.maximum(kv, 1e-3)
    turned = np.log(kv[1:] / kv[0]) / math.log(_TURN)
    return np.concatenate([kv[:1], turned])


def learned_of(plan: Plan, readings: Sequence[Reading], weather: FarmWeather | None = None) -> Learned | None:
    """What a plan's readings teach, newest first as they are listed; None where nothing can be computed.

    Where the farm's weather of a reading's day is known, its forecast is that of the day, else of its season.
    """
    rows = [row for row in readings[:MOST] if is_of_live(plan, row)]
    if not rows:
        return None
    points = _points(rows)
    found: dict[int, LevelReading] = {}
    wanted = {run: wanted_of(fence_at(plan, run).view) for run in {row.run for row in rows}}
    try:
        for row, (kv, with_soil, with_growth) in _forecasts(plan, rows, weather):
            at = (row.id, points[row.id], row.read_at, row.kv)
            found[row.id] = LevelReading(*at, kv, with_soil, with_growth, wanted[row.run])
    except (Incomplete, ValueError):
        return None
    levels, judgements = judged(list(found.values()))
    newest = max(row.read_at for row in rows)
    walk = tuple(r for r in found.values() if (newest - r.at).total_seconds() < 36 * 3600)
    before, _ = judged([r for r in found.values() if r not in walk])
    at_points = judged([])[0] if not before.points else before
    known = tuple(r for r in walk if r.point in at_points.points)
    return Learned(
        {row.key: row for row in judgements},
        levels,
        walk,
        chi_square(at_points, known) if known else 0.0,
        alarm_limit(len(known)),
    )


def _forecasts(
    plan: Plan, rows: Sequence[Reading], weather: FarmWeather | None
) -> Iterator[tuple[Reading, tuple[float, float, float]]]:
    """Each reading with the kV of its day or season there, and how they turn with soil and growth."""
    states = weather.states({row.id: row.read_at for row in rows}) if weather else {}
    places = {row.id: Place(row.run, round(row.at_m, 1)) for row in rows}
    turns: dict[Season, dict[Place, list[float]]] = {}
    for season in Season:
        own = tuple(dict.fromkeys(places[r.id] for r in rows if r.id in states or r.season == season.value))
        turns[season] = dict(zip(own, _turns(plan, season, own).T.tolist(), strict=True)) if own else {}
    for row in rows:
        place, state = places[row.id], states.get(row.id)
        kv, with_soil, with_growth = turns[Season.USUAL if state else Season(row.season)][place]
        if state is not None:
            seasons = (turns[Season.DRY][place][0], kv, turns[Season.WET][place][0])
            kv = kv_of_day(state, seasons, with_growth)
        yield row, (kv, with_soil, with_growth)


def is_of_live(plan: Plan, row: Reading) -> bool:
    """Whether a reading says something of the live strands of a line that is there."""
    if row.withdrawn_why is not None or row.is_over or row.run not in {run.id for run in plan.runs}:
        return False
    fence = fence_of(fence_at(plan, row.run).view)
    return fence[min(max(row.strand, 1), len(fence)) - 1].role is Role.LIVE


def _points(rows: Sequence[Reading]) -> dict[int, str]:
    """The point of each reading: those of one line that lie nearer than 15 m are one."""
    known: list[tuple[str, float, str]] = []
    found: dict[int, str] = {}
    for row in reversed(rows):
        point = next((name for run, at, name in known if run == row.run and abs(at - row.at_m) < _SAME_M), None)
        if point is None:
            point = f"{row.run}@{row.at_m:.0f}"
            known.append((row.run, row.at_m, point))
        found[row.id] = point
    return found


def answer_words(plan: Plan, row: JudgedReading, readings: dict[int, Reading]) -> str:
    """What a reading says for its day, beside what its point has shown before."""
    band = f"{band_words(kv_words(row.low_kv), kv_words(row.high_kv))} kV"
    own = readings[row.key]
    if row.answer is DayAnswer.GROWTH:
        times = f"{row.growth:.1f}"
        return f"Low, but growth explains it: about {times} times as much as before at every point of this walk."
    if row.answer is DayAnswer.NEW:
        short = kv_words(max(0.0, row.expected_kv - own.kv))
        here = place_words(plan, Place(own.run, own.at_m))
        if row.after is None:
            return f"Something new, near the unit too: {short} kV less than this point shows ({band})."
        last = readings[row.after]
        near = place_words(plan, Place(last.run, last.at_m))
        return f"Something new between {near} and {here}: {short} kV less than this point shows ({band})."
    if row.answer is DayAnswer.LOW:
        return f"Low for today ({band}): dry ground or growth may explain it. Another point would show which."
    if row.answer is DayAnswer.HIGH:
        return f"More than this point has shown before ({band})."
    if row.answer is DayAnswer.SHORT:
        return f"As this point shows ({band}), but below what the animals need."
    return f"As this point shows ({band})."


@dataclass(frozen=True)
class PointLevel:
    """What a point should show in a usual week by what it has shown, kV, and from how many readings."""

    low_kv: float
    likely_kv: float
    high_kv: float
    count: int


def levels_at(
    plan: Plan, learned: Learned, places: tuple[Place, ...], state: DayState | None
) -> dict[Place, PointLevel]:
    """What places should show on a day, in a usual week where its state is unknown; where nothing was learned: none."""
    found: dict[Place, PointLevel] = {}
    for place, (kv, with_soil, with_growth) in turns_of_day(plan, places, state).items():
        point = next((p for p in learned.levels.points if _is_near(p, place)), None)
        if point is None or not learned.levels.counts.get(point):
            continue
        expected, doubt = learned.levels.expected(point, kv, with_soil, with_growth)
        whole = BAND * math.hypot(doubt, reading_spread(expected))
        count = learned.levels.counts[point]
        found[place] = PointLevel(expected * math.exp(-whole), expected, expected * math.exp(whole), count)
    return found


def turns_of_day(
    plan: Plan, places: tuple[Place, ...], state: DayState | None
) -> dict[Place, tuple[float, float, float]]:
    """kV of places on a day, in a usual week where its state is unknown, and how they turn with soil and growth.

    Raises Incomplete.
    """
    if not places:
        return {}
    usual = _turns(plan, Season.USUAL, places)
    if state is None:
        return dict(zip(places, map(tuple, usual.T.tolist()), strict=True))
    dry, wet = (_turns(plan, season, places)[0] for season in (Season.DRY, Season.WET))
    return {
        place: (kv_of_day(state, (float(dry[k]), kv, float(wet[k])), with_growth), with_soil, with_growth)
        for k, (place, (kv, with_soil, with_growth)) in enumerate(zip(places, usual.T.tolist(), strict=True))
    }


def _is_near(point: str, place: Place) -> bool:
    run, _, at = point.rpartition("@")
    return run == place.run and abs(float(at) - place.at_m) < _SAME_M


@dataclass(frozen=True)
class Seen:
    """On a line: the most ohms to soil that a round tells wherever on it they lie; None: it may tell none."""

    run: str
    ohm: float | None


@cached("what a round sees", 8, identity_args=1)
def seen_by(plan: Plan, points: tuple[Place, ...]) -> tuple[Seen, ...]:
    """The leaks that a round of points tells, by line, nine times in ten at one false alarm in a hundred rounds.

    Every point's own doubt is what good readings leave of it. Raises Incomplete, NetworkError.
    """
    farm = farm_of(plan, Season.USUAL)
    where = grid(farm)
    every = every_single(base(farm, where))
    size = np.concatenate([[np.inf], sizes_of(every.base.faults.kind).ravel()])
    spread = math.hypot(_LEARNED_DOUBT, METER_SHARE / 2, DAY_SHARE)
    off = np.zeros(len(every.fault))
    chosen = np.arange(len(every.fault))
    for place in points:
        kv, healthy = every.kv_at(where.place(spot_of(plan, place)), chosen)
        off += (np.log(np.maximum(kv, 0.02) / max(healthy, 0.02)) / spread) ** 2
    told = np.sqrt(off) > _TOLD_SPREADS
    found = []
    for run in plan.runs:
        least = math.inf
        for number, legs in enumerate(where.legs):
            here = fence_place(plan, where, number)
            if here is None or here.run != run.id or not legs:
                continue
            own = (every.base.faults.place[every.fault] == number) & (every.base.faults.kind[every.fault] == LS)
            own[0] = False
            sizes = size[own & told]
            least = min(least, float(sizes.max()) if len(sizes) else 0.0)
        found.append(Seen(run.id, least if 0 < least < math.inf else None))
    return tuple(found)
