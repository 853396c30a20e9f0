"""The rods of a plan judged: what they cost the fence, what other counts give, and where a rule of thumb goes wrong."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from adze.core.advice.schools import RodSchool, rod_schools
from adze.core.basics.status import Status, rank
from adze.core.basics.units import kv_words
from adze.core.build.rod_sites import proposed
from adze.core.build.rods import array, layers_of, lead_ohm, rods_ohm
from adze.core.forecast.compare_units import Trials, Tried
from adze.core.forecast.earth_test import TEST_SCHOOLS, forecast_status, returns_by_strands
from adze.core.forecast.touches import Touch
from adze.core.ground.places import Place
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.season import Guess, Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.ground import rod_metals, soils

_SHOWN = 12
_DRAINED = ("moist_sand", "dry_sand", "gravel")
_KNEE = 0.08  # a rod that takes off less than this share of the ohms is past the knee
_NO_OHM = 0.01
_LONG_M = 2.4


@dataclass(frozen=True)
class InSeason:
    """Rods in a season: ohms with their range, kV that they cost at the weakest place, test, weakest touch.

    `name` is a season's, or "frozen" for the usual season with the top frozen.
    """

    name: str
    ohm: float
    low_ohm: float
    high_ohm: float
    least_kv: float
    without_kv: float
    test_kv: float
    status: Status
    touch: Touch | None
    where: Place | None

    @property
    def cost_kv(self) -> float:
        """kV lost in the rods where the fence is weakest."""
        return max(0.0, self.without_kv - self.least_kv)


@dataclass(frozen=True)
class RodCount:
    """So many rods in the plan's row in the driest week: ohms with range, test at the rods; that of the usual week."""

    count: int
    ohm: float
    low_ohm: float
    high_ohm: float
    test_kv: float
    usual_kv: float
    status: Status


@dataclass(frozen=True)
class JudgedSchool:
    """A rule for the number of rods with what its number gives here, and why it fails where it does."""

    school: RodSchool
    ohm: float | None
    test_kv: float | None
    status: Status | None
    why: str


class EarthHere:
    """A plan's earth, solved once in each season. Raises Incomplete."""

    def __init__(self, plan: Plan) -> None:
        """Solve it."""
        unit = unit_of(plan)
        if unit is None:
            raise Incomplete(Stage.POWER, "No energizer is chosen. Choose one at Power.")
        self.plan, self.unit = plan, unit
        self.returns = returns_by_strands(plan)
        self._trials = {season: Trials(plan, Weather(season)) for season in Season}

    def judged(self, test_kv: float, season: Season) -> Status:
        """A forecast test as it counts on this plan."""
        return forecast_status(test_kv, season, self.plan.earth_school, returns=self.returns)

    def tested(self, plan: Plan) -> tuple[float, float, Status]:
        """The rods of a plan that differs in nothing else: kV of the tests in the driest and the usual week, status."""
        dry, usual = (
            self._trials[season].test_kv(self.unit, rods_ohm(plan, Weather(season)))
            for season in (Season.DRY, Season.USUAL)
        )
        return dry, usual, max(self.judged(dry, Season.DRY), self.judged(usual, Season.USUAL), key=rank)

    def seasons(self) -> tuple[InSeason, ...]:
        """The rods in every season, and with the top frozen where the plan says how deep."""
        rows = [self._season(season.value, season) for season in Season]
        if self.plan.frost_m > 0:
            rows.append(self._season("frozen", Season.USUAL, frozen=True))
        return tuple(rows)

    def _season(self, name: str, season: Season, *, frozen: bool = False) -> InSeason:
        trial, weather = self._trials[season], Weather(season)
        metal = rod_metals()[self.plan.rods.metal]
        ohm, low, high = (
            rods_ohm(self.plan, replace(weather, guess=guess), frozen=frozen, film=film)
            for guess, film in ((Guess.LIKELY, None), (Guess.HIGH, metal.film_low), (Guess.LOW, metal.film_high))
        )
        found, best = trial.tried(self.unit, ohm, with_joules=True), trial.tried(self.unit, _NO_OHM)
        test = trial.test_kv(self.unit, ohm)
        where, touch = found.weakest or (None, None)
        status = self.judged(test, season if not frozen else Season.DRY)
        return InSeason(name, ohm, low, high, found.least_kv, best.least_kv, test, status, touch, where)

    def with_ohm(self, ohm: float, season: Season = Season.DRY) -> Tried:
        """The fence over rods of so many ohm."""
        return self._trials[season].tried(self.unit, ohm)

    def counts(self) -> tuple[RodCount, ...]:
        """One rod to a dozen, and a few more than stand, in the driest week."""
        most = max(_SHOWN, min(MOST_RODS, self.plan.rods.count + 3))
        return tuple(self._count(n) for n in range(1, most + 1))

    def _count(self, count: int) -> RodCount:
        plan = replaced(self.plan, rods=replaced(self.plan.rods, count=count))
        guesses = (Guess.LIKELY, Guess.HIGH, Guess.LOW)
        ohm, low, high = (rods_ohm(plan, Weather(Season.DRY, guess)) for guess in guesses)
        return RodCount(count, ohm, low, high, *self.tested(plan))

    def fewest(self, season: Season = Season.DRY) -> int | None:
        """The fewest rods in the plan's row whose test passes in a season; None where not even 200 do.

        More rods never read more: halved between.
        """
        low, high = 0, MOST_RODS
        if self._test_kv(high, season) > self._limit_kv:
            return None
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if self._test_kv(middle, season) <= self._limit_kv else (middle, high)
        return high

    def instead(self) -> tuple[str, ...]:
        """What brings the test down where no number of rods like the plan's does: each computed for as many rods."""
        rods = self.plan.rods
        count = max(rods.count, _SHOWN)
        site = next(iter(proposed(replaced(self.plan, rods=replaced(rods, count=min(count, _SHOWN))))), None)
        ways: dict[str, dict[str, object]] = {
            f"{count} rods of {_LONG_M:g} m": {"length_m": _LONG_M},
            f"{count} slanted over the rock": {"length_m": _LONG_M, "slant_deg": 60.0},
            f"{count} in bores of conductive clay": {"bore_cm": 8.0},
            f"{count} with bare wire in a trench between them": {"bare_wire": True},
        }
        if site is not None:
            ways[f"{count} in a second field in damper ground"] = {"position": site.at, "bearing_deg": site.bearing_deg}
        found = []
        for words, update in ways.items():
            plan = replaced(self.plan, rods=replaced(rods, count=count, places=(), **update))
            test = self._trials[Season.DRY].test_kv(self.unit, rods_ohm(plan, Weather(Season.DRY)))
            if test <= self._limit_kv:
                found.append(f"{words} ({kv_words(test)} kV)")
        return tuple(found)

    @property
    def _limit_kv(self) -> float:
        return TEST_SCHOOLS[self.plan.earth_school].tolerable_kv

    def _test_kv(self, count: int, season: Season) -> float:
        trial = self._trials[season]
        return trial.test_kv(self.unit, trial.rods_ohm(count))

    def schools(self) -> tuple[JudgedSchool, ...]:
        """Every school's number with what it gives here in the driest week."""
        rods = self.plan.rods
        rows = rod_schools(self.unit, rods.length_m, well_drained=self.plan.soil in _DRAINED)
        return tuple(self._school(row) for row in rows)

    def _school(self, school: RodSchool) -> JudgedSchool:
        if school.count is None:
            return JudgedSchool(school, None, None, None, "")
        rods = replaced(self.plan.rods, count=min(MOST_RODS, school.count), length_m=school.length_m)
        layers = layers_of(self.plan, Weather(Season.DRY))
        ohm = array(rods, layers).ohm + lead_ohm(self.plan)
        test, _, status = self.tested(replaced(self.plan, rods=rods))
        return JudgedSchool(school, ohm, test, status, self._why(school, test))

    def _why(self, school: RodSchool, test: float) -> str:
        """Why a rule is right or wrong here."""
        soil, limit = soils()[self.plan.soil], TEST_SCHOOLS[self.plan.earth_school].tolerable_kv
        dry = layers_of(self.plan, Weather(Season.DRY)).upper_ohm_m
        if test <= limit:
            spare = limit / max(test, 1e-6)
            return "more than this soil asks." if spare > 2.5 else "enough."
        if school.goes_by == "joules released and soil":
            return f"two more do not make up for {dry:.0f} Ω·m."
        return f"it goes by {school.goes_by}, not by {soil.label.lower()} of {dry:.0f} Ω·m."


def knee(counts: Sequence[RodCount]) -> int:
    """The last rod that still takes off a fair share of the ohms."""
    for before, after in pairwise(counts):
        if (before.ohm - after.ohm) / before.ohm < _KNEE:
            return before.count
    return counts[-1].count


def with_rods(plan: Plan, **update: object) -> Plan:
    """The plan with its rods changed. Raises ValidationError."""
    return changed(plan, {"rods": {**plan.rods.model_dump(), **update}})
