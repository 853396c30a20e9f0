"""Energizers side by side on this fence: what each would show and do, season by season, and with more fence."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from adze.core.basics.types import Complex, Index
from adze.core.basics.units import needed_words
from adze.core.build.rods import rods_ohm
from adze.core.forecast.circuit import ENERGIZER, RODS
from adze.core.forecast.earth_test import (
    TEST_SCHOOLS,
    returns_by_strands,
    short_ohm,
    short_place,
)
from adze.core.forecast.touches import Touch, touches
from adze.core.forecast.volts import Samples, Solved, counted_spectra, equivalent_at, samples, solved
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m, point_at, run_of
from adze.core.ground.places import Place
from adze.core.ground.soil_areas import own_soil
from adze.core.plan.catalogue import pulse_of
from adze.core.plan.changes import changed, replaced
from adze.core.plan.constructions import fence_at, standing_fences, views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.season import Season, Weather
from adze.core.plan.stock import wanted_of
from adze.core.pulse.network import Port, Terminal
from adze.core.pulse.port_equivalent import PortEquivalent
from adze.core.pulse.source_update import SourceUpdate
from adze.core.tables.animals import animal_word
from adze.core.tables.construction import nettings
from adze.core.tables.energizers import EnergizerModel

_FEW_RODS = 12
_NO_OHM = 0.01


class Trials:
    """A plan solved once in a season, on which energizers and rods are exchanged.

    What any of them gives at the sampled places is a mix of two columns: one put together for each.
    """

    def __init__(self, plan: Plan, weather: Weather) -> None:
        """Solve it. Raises Incomplete."""
        self.plan, self.weather = plan, weather
        self.base: Solved = solved(plan, weather)
        self.swap = SourceUpdate(self.base.solution, RODS)
        self._spots: dict[Place, PortEquivalent] = {}
        pieces, where = self.base.circuit.pieces, samples(self.base)
        free = [
            replace(self.base, solution=replace(self.base.solution, free_v=column, discharge=None))
            for column in self.swap.columns
        ]
        # Strands that are apart and fed stand after the live ones, each at its own places.
        own, self._terminals = _apart_rows(self.base, where)
        self._columns = tuple(
            np.concatenate([counted_spectra(one, where), _apart_spectra(one, where, own, self._terminals)])
            for one in free
        )
        every = np.concatenate([np.arange(len(where.piece)), own])
        self._terminals = [Terminal.LIVE] * len(where.piece) + self._terminals
        of_piece, at_m = where.piece[every], where.at_m[every]
        self._places = [
            Place(pieces[i].run, pieces[i].from_m + float(at)) for i, at in zip(of_piece, at_m, strict=True)
        ]
        fed = np.array([piece.a in self.base.circuit.wiring.reached for piece in pieces])[of_piece]
        self.fences = [
            (wanted_of(built.view), rows)
            for built in standing_fences(plan)
            if len(rows := np.flatnonzero(fed & [place.run in built.runs for place in self._places]))
        ]
        views, grounds = views_by_run(plan), [pieces[i].soil or plan.soil for i in of_piece]
        kinds: dict[tuple[str, int], list[int]] = {}
        for i in np.flatnonzero(fed):
            kinds.setdefault((grounds[i], id(views[self._places[i].run])), []).append(int(i))
        self._grounds = [(soil, np.array(rows)) for (soil, _), rows in kinds.items()]
        self._views = views

    def _spot(self, place: Place) -> PortEquivalent:
        if place not in self._spots:
            self._spots[place] = equivalent_at(self.base, place)
        return self._spots[place]

    def rods_ohm(self, count: int, length_m: float | None = None) -> float:
        """So many rods in the plan's row, of its length or another, in this weather, ohm."""
        rods = replaced(self.plan.rods, count=count, length_m=length_m or self.plan.rods.length_m)
        return rods_ohm(replaced(self.plan, rods=rods), self.weather)

    @property
    def tolerable_kv(self) -> float:
        """What the plan's school lets pass in an earth test."""
        return TEST_SCHOOLS[self.plan.earth_school].tolerable_kv

    def test_kv(self, unit: EnergizerModel, rods_ohm: float) -> float:
        """The rods' rise in an earth test under an energizer over rods of so many ohm."""
        drive = self.swap.drive(pulse_of(unit, half=self.plan.half_power).at(ENERGIZER), rods_ohm)
        at = self._spot(self._short)
        under, shown_kv = self.swap.equivalent(at, drive), self.base.shown_kv
        ohm = short_ohm(lambda ohm: float(shown_kv(under.load_v(ohm, Terminal.LIVE))))
        return float(shown_kv(self.swap.rods_v(at, drive, ohm)))

    @cached_property
    def _short(self) -> Place:
        place = short_place(self.plan)
        assert place is not None, "a plan without lines is not solved"
        return place

    def tried(self, unit: EnergizerModel, rods_ohm: float | None = None, *, with_joules: bool = False) -> "Tried":
        """An energizer, over the plan's rods or others of so many ohm; the touch's joules only where asked."""
        ohm = self.base.circuit.rods_ohm if rods_ohm is None else rods_ohm
        drive = self.swap.drive(pulse_of(unit, half=self.plan.half_power).at(ENERGIZER), ohm)
        first, second = self._columns
        kv = self.base.shown_kv(drive.mix(first, second))
        felt: list[tuple[Place, Touch]] = []
        for soil, rows in self._grounds:
            row = rows[int(np.argmin(kv[rows]))]
            place = self._places[row]
            equivalent = self.swap.equivalent(self._spot(place), drive).seen_from(self._terminals[row])
            view = self._views[place.run]
            ground = own_soil(self.plan, soil)
            felt += [(place, t) for t in touches(view, equivalent, self.weather, ground, with_joules=with_joules)]
        weakest = min(felt, key=lambda row: row[1].body_kv / row[1].wanted_kv, default=None)
        least = [(float(kv[rows].min()), wanted) for wanted, rows in self.fences]
        shortest = min(least, key=lambda row: row[0] / row[1], default=(0.0, math.inf))
        return Tried(min((row[0] for row in least), default=0.0), weakest, shortest)


def _apart_rows(found: Solved, where: Samples) -> tuple[Index, list[Terminal]]:
    """The sampled places of strands that are apart and fed, each with its terminal."""
    reached = found.circuit.reached if found.circuit.groups else frozenset[Port]()
    rows: list[int] = []
    terminals: list[Terminal] = []
    for i, piece in enumerate(found.circuit.pieces):
        for group in found.circuit.groups.get(piece.run, ())[1:]:
            if Port(found.solution.spans[piece.span].a, group.terminal) in reached:
                here = range(int(where.starts[i]), int(where.starts[i + 1]))
                rows += here
                terminals += [group.terminal] * len(here)
    return np.array(rows, dtype=np.intp), terminals


def _apart_spectra(found: Solved, where: Samples, rows: Index, terminals: list[Terminal]) -> Complex:
    """Volts of strands that are apart as they count for the fence, at their places, (Q, K+1)."""
    volts = np.empty((len(rows), found.solution.free_v.shape[1]), dtype=np.complex128)
    for number, (row, terminal) in enumerate(zip(rows.tolist(), terminals, strict=True)):
        span = found.circuit.pieces[where.piece[row]].span
        order, v, _ = found.solution.along_spans([span], where.at_m[row : row + 1])
        earth = v[0, order.index(Terminal.EARTH)] if Terminal.EARTH in order else 0.0
        volts[number] = v[0, order.index(terminal)] - earth
    return volts


@dataclass(frozen=True)
class Tried:
    """A season under one energizer: least kV, the touch that falls shortest, and kV of what is wanted on the fences.

    `shortest` is (kV, kV wanted) of the fence that falls shortest.
    """

    least_kv: float
    weakest: tuple[Place, Touch] | None
    shortest: tuple[float, float]

    @property
    def deciding(self) -> tuple[float, float]:
        """What falls shortest, (kV, kV wanted): on a fence, or through a body."""
        felt = [(touch.body_kv, touch.wanted_kv) for _, touch in ([self.weakest] if self.weakest else [])]
        return min([self.shortest, *felt], key=lambda row: row[0] / row[1])

    @property
    def margin(self) -> float:
        """What there is over what is wanted: 1 and more holds, 0 where nothing is fed."""
        there, wanted = self.deciding
        return there / wanted

    @property
    def deciding_words(self) -> str:
        """The same in words."""
        there, wanted = self.deciding
        on = "on the fence"
        if self.weakest and self.weakest[1].wanted_kv == wanted and self.weakest[1].body_kv == there:
            on = f"through the {animal_word(self.weakest[1].animal.kind)}"
        return f"{needed_words(there, wanted)}, {on}"


@dataclass(frozen=True)
class UnitHere:
    """One energizer on this fence: least kV by season, the weakest touch, margin, and the fewest rods that hold.

    `margin` is that of kV and touch; `test_margin` what the earth test in the driest week tolerates over what the
    rods would show, infinite where earth strands carry the return. `rods` are enough for both.
    """

    unit: EnergizerModel
    kv: dict[Season, float]
    touch: Touch | None
    where: Place | None
    season: Season
    margin: float
    test_margin: float
    rods: int | None


def units_here(plan: Plan, units: Iterable[EnergizerModel]) -> tuple[UnitHere, ...]:
    """Every energizer on a plan over its rods. Raises Incomplete."""
    trials = {season: Trials(plan, Weather(season)) for season in Season}
    return tuple(_unit_here(unit, trials) for unit in units)


def _test_margin(unit: EnergizerModel, trials: dict[Season, Trials], count: int) -> float:
    """What the driest week's earth test tolerates over what so many rods would show."""
    dry = trials[Season.DRY]
    if returns_by_strands(dry.plan):
        return math.inf
    return dry.tolerable_kv / max(dry.test_kv(unit, dry.rods_ohm(count)), 1e-9)


def _unit_here(unit: EnergizerModel, trials: dict[Season, Trials]) -> UnitHere:
    rows = {season: trial.tried(unit, with_joules=True) for season, trial in trials.items()}
    season = min(rows, key=lambda s: rows[s].margin)
    worst = rows[season].weakest
    return UnitHere(
        unit=unit,
        kv={s: row.least_kv for s, row in rows.items()},
        touch=worst[1] if worst else None,
        where=worst[0] if worst else None,
        season=season,
        margin=rows[season].margin,
        test_margin=_test_margin(unit, trials, trials[season].plan.rods.count),
        rods=_fewest_rods(unit, trials),
    )


def _fewest_rods(unit: EnergizerModel, trials: dict[Season, Trials]) -> int | None:
    """The fewest rods of the plan's row with which it holds in every season; None where no number of them does.

    More rods hardly ever hold less (where earth strands carry the return, they may by a little): halved between,
    up to the plan's own count where that holds, else a dozen, else the most that a plan may have.
    """
    own = trials[Season.DRY].plan.rods.count

    def holds(count: int) -> bool:
        enough = all(t.tried(unit, t.rods_ohm(count)).margin >= 1 for t in trials.values())
        return enough and _test_margin(unit, trials, count) >= 1

    if holds(own):
        low, high = 1, own
    elif any(trial.tried(unit, _NO_OHM).margin < 1 for trial in trials.values()):
        return None
    elif holds(_FEW_RODS):
        low, high = 1, _FEW_RODS
    elif holds(MOST_RODS):
        low, high = _FEW_RODS, MOST_RODS
    else:
        return None
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if holds(middle) else (middle + 1, high)
    return low


def grown(plan: Plan, more_m: float, rolls: int) -> Plan:
    """The plan with so much more line and so many rolls of netting hung at its far end.

    Raises ValueError for growth below nothing.
    """
    if more_m < 0 or rolls < 0:
        raise ValueError("growth: give 0 or more kilometres and rolls")
    start = feed(plan)
    if start is None or not (more_m or rolls):
        return plan
    run = run_of(plan, start.place.run)
    at = point_at(run, length_m(run))
    rows = [run.model_dump() for run in plan.runs]
    fences = [fence.model_dump() for fence in plan.fences]
    own = fence_at(plan, run.id)
    # Drawn outward from the middle of what is there, and for netting square to that: what counts is the length.
    middle = np.mean([point for r in plan.runs for point in r.points], axis=0)
    outward = np.subtract(at, middle)
    east, north = outward / (np.hypot(*outward) or 1.0) if outward.any() else (1.0, 0.0)
    if more_m:
        rows.append(
            {
                "id": "_more",
                "name": "More line",
                "fence": own.id,
                "points": [at, (at[0] + east * more_m, at[1] + north * more_m)],
            }
        )
    if rolls:
        net = {"id": "_rolls", "name": "Rolls", "netting": "sheep_90", "herds": list(own.view.herds)}
        fences.append(net)
        net_m = nettings()["sheep_90"].roll_m * rolls
        rows.append(
            {
                "id": "_net",
                "name": "Rolls",
                "fence": "_rolls",
                "points": [at, (at[0] - north * net_m, at[1] + east * net_m)],
            }
        )
    return changed(plan, {"runs": rows, "fences": fences})
