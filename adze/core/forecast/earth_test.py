"""The earth test on paper: short the fence, and see how far the rods rise.

Practice: at least 100 m away lay steel on the live strand until the fence shows 1 to 2 kV, then read
between the last rod and a peg. What passes depends on the school; see docs/schools.md, DG-11 to DG-13.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from adze.core.basics.status import Status
from adze.core.build.construction import has_earth_strands
from adze.core.build.rods import array, layers_of, places_of
from adze.core.forecast.circuit import ENERGIZER
from adze.core.forecast.volts import Solved, equivalent_at
from adze.core.ground.feed import feed
from adze.core.ground.lines import point_at, run_of
from adze.core.ground.places import Place
from adze.core.ground.routes import Route, routes
from adze.core.ground.soil_areas import soil_of
from adze.core.ground.survey import JOIN_M
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods, TestSchool
from adze.core.plan.scalars import Position
from adze.core.plan.season import Season, Weather, soil_ohm_m
from adze.core.plan.stages import Incomplete, Stage
from adze.core.pulse.network import Port, Terminal
from adze.core.soil.earth import RodField

SHORT_AWAY_M = 100.0
DEEP_KV = 2.0  # a fence left above this was not shorted hard enough for its reading to be a proof
SHORTED_KV = 1.5  # where a short is deep enough (1 to 2)
_SHORT_RANGE_OHM = (2.0, 2000.0)
PEG_M = 10.0
# At the last rod, the fence shorted: what most schools call good, and what they still let pass.
USUAL_GOOD_KV, USUAL_TOLERABLE_KV = 0.3, 0.5
_STAKE_M, _STAKE_THICK_M, _STAKES_APART_M, MOST_STAKES = 0.4, 0.012, 1.0, 10


@dataclass(frozen=True)
class EarthTestSchool:
    """What a school lets pass: good up to, tolerable up to, kV at the rods; its saying."""

    label: str
    good_kv: float
    tolerable_kv: float
    says: str


TEST_SCHOOLS = {
    TestSchool.USUAL: EarthTestSchool(
        "0.3 good, 0.5 at most", USUAL_GOOD_KV, USUAL_TOLERABLE_KV, "0.2 to 0.3 kV is good; up to 0.5 is enough."
    ),
    TestSchool.STRICT: EarthTestSchool("0.2 good, 0.3 at most", 0.2, 0.3, "Zero is ideal; over 0.3 kV add a rod."),
    TestSchool.LENIENT: EarthTestSchool(
        "0.6 tolerable, 0.8 at most", 0.6, 0.8, "0.5 to 0.6 kV is acceptable; at 0.8 to 1.0 add a rod."
    ),
}


def judged(kv: float, school: TestSchool) -> Status:
    """An earth test's reading by a school."""
    row = TEST_SCHOOLS[school]
    if kv <= row.good_kv:
        return Status.HOLDS
    return Status.MARGINAL if kv <= row.tolerable_kv else Status.FAILS


def returns_by_strands(plan: Plan) -> bool:
    """Whether every line has earth strands, by which the pulse goes home."""
    return all(has_earth_strands(built.view) for built in standing_fences(plan))


def forecast_status(kv: float, season: Season, school: TestSchool, *, returns: bool) -> Status:
    """A forecast test of the plan: over what its school lets pass it fails in the usual week, in others it is marginal.

    Practice drives rods for the usual week and watches the test in a drought; few soils would ever pass otherwise.
    Where every line `returns` the pulse by earth strands it holds: a touch does not need the rods.
    """
    if returns or kv <= TEST_SCHOOLS[school].tolerable_kv:
        return Status.HOLDS
    return Status.FAILS if season is Season.USUAL else Status.MARGINAL


@dataclass(frozen=True)
class EarthTest:
    """Forecast of an earth test: true rod kV, what a peg at 10 m would show, how low the fence was shorted.

    `place` is where it is shorted; so many `stakes` in the ground there come to `stakes_ohm`, and bring the
    fence down to `stakes_kv`.
    """

    rods_ohm: float
    rods_kv: float
    peg_kv: float
    fence_kv: float
    short_ohm: float
    place: Place
    stakes: int
    stakes_ohm: float
    stakes_kv: float
    school: TestSchool
    season: Season
    returns: bool

    @property
    def status(self) -> Status:
        """Judged by the true rise."""
        return forecast_status(self.rods_kv, self.season, self.school, returns=self.returns)

    @property
    def is_deep(self) -> bool:
        """Whether stakes bring the fence down far enough for the reading to be a proof."""
        return self.stakes_kv <= DEEP_KV


def short_place(plan: Plan, away_m: float = SHORT_AWAY_M) -> Place | None:
    """Where the test shorts the fence: so far out by the wire where stakes bite best, or at the farthest place.

    Round a ring the pulse comes from both sides: its farthest place is half way. None without runs.
    """
    ways = routes(plan)
    if not ways:
        start = feed(plan)
        return start.place if start else None
    found = []
    for way in ways:
        most = farthest_m(plan, way)
        left = min(away_m, most)
        for leg in way.legs:
            if left <= leg.length_m + 1e-6:
                at = leg.from_m + (left if leg.to_m >= leg.from_m else -left)
                found.append((most < away_m, Place(leg.run, at), most))
                break
            left -= leg.length_m
    dry = Weather(Season.DRY)
    return min(found, key=lambda row: (row[0], soil_ohm_m(plan, dry, soil_of(plan, row[1])), -row[2]))[1]


def farthest_m(plan: Plan, way: Route) -> float:
    """How far the farthest place of a way lies from the energizer by the wire, m."""
    last = way.legs[-1]
    run = run_of(plan, last.run)
    closes = math.dist(point_at(run, last.from_m), point_at(run, last.to_m)) < JOIN_M
    return way.length_m - (last.length_m / 2 if closes else 0.0)


def reaches(plan: Plan, away_m: float = SHORT_AWAY_M) -> bool:
    """Whether a fence goes as far from the energizer as a test wants to be."""
    return any(farthest_m(plan, way) >= away_m for way in routes(plan))


def peg_at(rods: Rods, away_m: float = PEG_M) -> Position:
    """A peg so far from the last rod, outward from the others."""
    at = places_of(rods)
    middle = np.mean(at, axis=0)
    out = np.subtract(at[-1], middle)
    if not out.any():
        out = np.array([math.sin(math.radians(rods.bearing_deg)), math.cos(math.radians(rods.bearing_deg))])
    east, north = np.add(at[-1], out / np.hypot(*out) * away_m)
    return float(east), float(north)


def short_ohm(fence_kv: Callable[[float], float]) -> float:
    """The short that brings the fence down to what a test wants, ohm; the hardest that steel gives where none does.

    `fence_kv` tells what the fence shows at the short with so many ohm.
    """
    low, high = _SHORT_RANGE_OHM
    if fence_kv(low) >= SHORTED_KV:
        return low
    if fence_kv(high) <= SHORTED_KV:
        return high
    return math.exp(brentq(lambda x: fence_kv(math.exp(x)) - SHORTED_KV, math.log(low), math.log(high), xtol=0.01))


def stakes_for(ohm: float, ground_ohm_m: float) -> tuple[int, float]:
    """How many stakes in a row come down to so many ohm, and what they come to; as many as are carried if none do."""
    for count in range(1, MOST_STAKES + 1):
        have = RodField.row(count, _STAKES_APART_M, _STAKE_M, _STAKE_THICK_M).ohm(ground_ohm_m)
        if have <= ohm:
            break
    return count, have


def earth_test(found: Solved) -> EarthTest:
    """Short a solved fence at `short_place`, and read the rods. Raises Incomplete."""
    plan, weather = found.plan, found.weather
    place = short_place(plan)
    if place is None:
        raise Incomplete(Stage.GROUND, "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    fraction = array(plan.rods, layers_of(plan, weather)).peg_fraction(peg_at(plan.rods))
    equivalent = equivalent_at(found, place)

    def fence_kv(ohm: float) -> float:
        return float(found.shown_kv(equivalent.load_v(ohm, Terminal.LIVE)))

    ohm = short_ohm(fence_kv)
    rise = float(found.shown_kv(equivalent.elsewhere_v(ohm, Port(ENERGIZER, Terminal.EARTH))))
    stakes, reached = stakes_for(ohm, soil_ohm_m(plan, weather, soil_of(plan, place)))
    return EarthTest(
        rods_ohm=found.circuit.rods_ohm,
        rods_kv=rise,
        peg_kv=rise * fraction,
        fence_kv=fence_kv(ohm),
        short_ohm=ohm,
        place=place,
        stakes=stakes,
        stakes_ohm=reached,
        stakes_kv=fence_kv(reached),
        school=plan.earth_school,
        season=weather.season,
        returns=returns_by_strands(plan),
    )
