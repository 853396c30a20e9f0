"""Energizers side by side on this fence: what each would show and do, season by season, and with more fence."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

from adze.core.catalogue import pulse_of
from adze.core.circuit import ENERGIZER, RODS, Circuit, rod_field
from adze.core.fences import fence_at, standing_fences
from adze.core.forecast import Solved, Stand, Volts, solved, spot_of, stand_of, volts_of
from adze.core.ground import Place, feed, length_m, point_at, run_of
from adze.core.judge_volts import worst_touches
from adze.core.plan import Plan, changed
from adze.core.season import Season, Weather, soil_ohm_m
from adze.core.spot import Spot
from adze.core.stock import wanted_of
from adze.core.swap import Swap
from adze.core.tables import EnergizerModel
from adze.core.touches import Touch

MOST_RODS = 12


@dataclass
class Trials:
    """A plan solved once in a season, on which energizers and rods are exchanged."""

    plan: Plan
    weather: Weather

    def __post_init__(self) -> None:
        """Solve it. Raises Incomplete."""
        self.base: Solved = solved(self.plan, self.weather)
        self.swap = Swap(self.base.solution, RODS)
        self._spots: dict[Place, Spot] = {}

    def _spot(self, place: Place) -> Spot:
        if place not in self._spots:
            self._spots[place] = spot_of(self.base, place)
        return self._spots[place]

    def rods_ohm(self, count: int) -> float:
        """So many rods in the plan's row, in this weather, ohm."""
        rods = self.plan.rods.model_copy(update={"count": count})
        return rod_field(self.plan.model_copy(update={"rods": rods})).ohm(soil_ohm_m(self.plan, self.weather))

    def tried(self, unit: EnergizerModel, rods_ohm: float | None = None) -> "Tried":
        """An energizer, over the plan's rods or others."""
        ohm = self.base.circuit.rods_ohm if rods_ohm is None else rods_ohm
        source = pulse_of(unit, half=self.plan.half_power).at(ENERGIZER)
        drive = self.swap.drive(source, ohm)
        solution = self.swap.solution_under(drive, source)
        found = replace(self.base, circuit=Circuit(solution.network, self.base.circuit.wiring, ohm), solution=solution)
        forecast = volts_of(found)

        def stand(place: Place) -> Stand:
            return stand_of(found, place, self.swap.spot(self._spot(place), drive))

        return Tried(forecast, worst_touches(found, forecast, stand))


@dataclass(frozen=True)
class Tried:
    """A season under one energizer: the forecast, and the touches where the kV is least."""

    forecast: Volts
    touches: tuple[tuple[Place, Touch], ...]

    @cached_property
    def weakest(self) -> tuple[Place, Touch] | None:
        """The touch that falls shortest of what is wanted."""
        return min(self.touches, key=lambda row: row[1].body_kv / row[1].wanted_kv, default=None)

    def margin(self, plan: Plan) -> float:
        """What is there over what is wanted, at the worst place: kV of every fence, and the weakest touch.

        1 and more holds; 0 where nothing is fed.
        """
        shares = []
        for built in standing_fences(plan):
            kv = self.forecast.worst_on(frozenset(built.runs))[1]
            if kv != float("inf"):
                shares.append(kv / wanted_of(built.view))
        if self.weakest:
            touch = self.weakest[1]
            shares.append(touch.body_kv / touch.wanted_kv)
        return min(shares, default=0.0)


@dataclass(frozen=True)
class UnitHere:
    """One energizer on this fence: least kV by season, the weakest touch, margin, and the fewest rods that hold."""

    unit: EnergizerModel
    kv: dict[Season, float]
    touch: Touch | None
    where: Place | None
    season: Season
    margin: float
    rods: int | None


def units_here(plan: Plan, units: Iterable[EnergizerModel]) -> tuple[UnitHere, ...]:
    """Every energizer on a plan over its rods. Raises Incomplete."""
    trials = {season: Trials(plan, Weather(season)) for season in Season}
    return tuple(_unit_here(plan, unit, trials) for unit in units)


def _unit_here(plan: Plan, unit: EnergizerModel, trials: dict[Season, Trials]) -> UnitHere:
    rows = {season: trial.tried(unit) for season, trial in trials.items()}
    season = min(rows, key=lambda s: rows[s].margin(plan))
    worst = rows[season].weakest
    return UnitHere(
        unit=unit,
        kv={s: row.forecast.worst[1] for s, row in rows.items()},
        touch=worst[1] if worst else None,
        where=worst[0] if worst else None,
        season=season,
        margin=rows[season].margin(plan),
        rods=_fewest_rods(plan, unit, trials),
    )


def _fewest_rods(plan: Plan, unit: EnergizerModel, trials: dict[Season, Trials]) -> int | None:
    """The fewest rods of the plan's row with which it holds in every season; None up to the most that are tried.

    More rods never hold less: halved between.
    """

    def holds(count: int) -> bool:
        return all(t.tried(unit, t.rods_ohm(count)).margin(plan) >= 1 for t in trials.values())

    if not holds(MOST_RODS):
        return None
    low, high = 1, MOST_RODS
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
    # Drawn away from everything that lies there: what counts is its length.
    away = 10 + max(abs(x) for r in plan.runs for point in r.points for x in point)
    if more_m:
        rows.append({"id": "_more", "name": "More line", "fence": own.id, "points": [at, (away + more_m, at[1])]})
    if rolls:
        net = {"id": "_rolls", "name": "Rolls", "netting": "sheep_90", "herds": list(own.view.herds)}
        fences.append(net)
        rows.append({"id": "_net", "name": "Rolls", "fence": "_rolls", "points": [at, (at[0], away + 50 * rolls)]})
    return changed(plan, {"runs": rows, "fences": fences})
