"""Stray volts: how far the ground rises where animals drink, and how far it would at other places.

What the rods put into the ground comes back to the fence all along it: near the rods the ground rises,
beside the fence it falls a little, far from both it stands still. A metal pipe from afar stands at
nothing, so a muzzle on it meets all of the rise under the hooves; a pipe that passes the rods carries their
rise away. Beyond a few rod lengths the rise is rho I / (2 pi r): more rods hardly change it, distance and
less leak do. Source: point sources on a half space, E. D. Sunde (1949), ch. 2.
"""

from dataclasses import dataclass

import numpy as np
from shapely import MultiPoint

from adze.core.basics.status import Status
from adze.core.basics.types import Real
from adze.core.build.rods import Array, array, layers_of, places_of
from adze.core.forecast.circuit import ENERGIZER
from adze.core.forecast.volts import Solved, solved
from adze.core.ground.lines import length_m, point_at, shape_of
from adze.core.ground.nearby import name_of
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark
from adze.core.plan.season import Season, Weather
from adze.core.pulse.network import Terminal

NOTICED_V, REFUSED_V = 0.5, 5.0  # cattle notice; they go off the water for days (5 to 7)
WATERS = ("trough", "water_point", "well", "tap", "milk_house")
_STEP_M = 1.0
_AFAR_M = 5000.0
_ALONG_M = 10.0
_BESIDE_M = 3.0  # nearer to the fence its strands are no points any more
_RAY_M = np.geomspace(5.0, 2000.0, 80)


@dataclass(frozen=True)
class Stray:
    """One place: rise in V of the ground at a pulse's peak by season and under the worst load, and a 1 m step there.

    `far_m` is how far from the rods in that direction it would stay unnoticed (None: nowhere within 2 km),
    `by_pipe` names a metal pipe that comes nearer to the rods than the place itself.
    """

    mark: Landmark
    away_m: float
    volts: dict[str, float]
    step_v: float
    far_m: float | None
    by_pipe: str

    @property
    def worst_v(self) -> float:
        """The most of all."""
        return max(self.volts.values())

    @property
    def status(self) -> Status:
        """Refused where a metal pipe leads there by the rods; where no pipe is drawn it may be of plastic."""
        if round(self.worst_v) <= REFUSED_V:  # as it is shown, in whole volts
            return Status.HOLDS
        return Status.FAILS if self.by_pipe else Status.MARGINAL


def _rods_v(found: Solved) -> float:
    return abs(found.solution.node_peak_v(ENERGIZER, Terminal.EARTH))


def heavily_loaded(plan: Plan) -> Plan:
    """The plan with heavy growth under every line: the worst load of a year."""
    runs = tuple(replaced(run, grass=None) for run in plan.runs)
    return changed(plan, {"grass": "heavy", "runs": runs, "growths": ()})


@dataclass(frozen=True)
class Rise:
    """The ground's rise around rods that stand at so many V, with the fence that takes the current back."""

    field: Array
    rods_v: float
    fence: Real

    def volts(self, points_m: Real) -> Real:
        """At points (P, 2), V (P,): of one sign or the other."""
        rods = self.field.rise_ohm(points_m)
        afar = self.field.rise_ohm(np.array([[_AFAR_M, 0.0]]) + self.fence.mean(axis=0))[0] * _AFAR_M
        away = np.hypot(*(points_m[:, None, :] - self.fence[None, :, :]).transpose(2, 0, 1))
        back = afar * (1 / np.maximum(away, _BESIDE_M)).mean(axis=1)
        rise: Real = (rods - back) / self.field.ohm * self.rods_v
        return rise


def _fence_points(plan: Plan) -> Real:
    return np.array(
        [
            point_at(run, at)
            for run in plan.runs
            for at in np.linspace(0, length_m(run), max(2, round(length_m(run) / _ALONG_M)))
        ]
    )


def strays(plan: Plan) -> tuple[Stray, ...]:
    """Every place where animals drink. Raises Incomplete; none while the rods have no place."""
    marks = [m for m in plan.landmarks if m.kind in WATERS]
    if not marks or not (plan.rods.position or plan.rods.places):
        return ()
    cases = {season.value: (plan, season) for season in Season}
    cases["worst load"] = (heavily_loaded(plan), Season.WET)
    fence, at = _fence_points(plan), np.array(places_of(plan.rods))
    rises = {}
    for name, (case, season) in cases.items():
        weather = Weather(season)
        rises[name] = Rise(array(plan.rods, layers_of(plan, weather)), _rods_v(solved(case, weather)), fence)
    return tuple(_stray(plan, mark, at, rises) for mark in marks)


def _stray(plan: Plan, mark: Landmark, rods: Real, rises: dict[str, Rise]) -> Stray:
    middle = shape_of(mark).centroid
    spot = np.array([middle.x, middle.y])
    nearest = rods[int(np.argmin(np.hypot(*(rods - spot).T)))]
    away = float(np.hypot(*(spot - nearest)))
    way = (spot - nearest) / (away or 1.0)
    places = spot + np.array([[0.0, 0.0], [_STEP_M, 0.0], [0.0, _STEP_M]])
    volts = {name: np.abs(rise.volts(places)) for name, rise in rises.items()}
    step = max(float(np.abs(v[1:] - v[0]).max()) for v in volts.values())
    ray = np.max([np.abs(rise.volts(nearest + _RAY_M[:, None] * way)) for rise in rises.values()], axis=0)
    loud = np.flatnonzero(ray >= NOTICED_V)
    far = float(_RAY_M[loud[-1] + 1]) if len(loud) and loud[-1] + 1 < len(_RAY_M) else None
    return Stray(
        mark,
        away,
        {name: float(v[0]) for name, v in volts.items()},
        step,
        far if len(loud) else 0.0,
        _pipe_past_rods(plan, mark, rods, away),
    )


def _pipe_past_rods(plan: Plan, mark: Landmark, rods: Real, away_m: float) -> str:
    """A metal pipe at the place that comes nearer to the rods than the place lies."""
    for pipe in (m for m in plan.landmarks if m.kind == "pipe"):
        at_mark, at_rods = (shape_of(pipe).distance(shape) for shape in (shape_of(mark), MultiPoint(rods)))
        if at_mark < _BESIDE_M and at_rods < away_m - 1.0:
            return name_of(pipe)
    return ""


def monitor_v(plan: Plan, season: Season) -> float | None:
    """What a separate rod that watches shows against the earth terminal, V; None without one. Raises Incomplete."""
    if plan.rods.monitor is None or not (plan.rods.position or plan.rods.places):
        return None
    field = array(plan.rods, layers_of(plan, Weather(season)))
    return _rods_v(solved(plan, Weather(season))) * field.peg_fraction(plan.rods.monitor)
