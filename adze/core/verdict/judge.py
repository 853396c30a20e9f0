"""The verdict on a plan: every stage judged, with place, season, limit and reason."""

from dataclasses import dataclass

from adze.core.basics.status import Status, rank
from adze.core.build.parts import bill
from adze.core.forecast.earth_test import EarthTest, earth_test
from adze.core.forecast.touches import Touch
from adze.core.forecast.volts import Volts, solved, volts_of
from adze.core.ground.places import Place
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.plan.stock import wanted_of
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge_earth import judge_earth
from adze.core.verdict.judge_fence import judge_strands
from adze.core.verdict.judge_ground import judge_ground
from adze.core.verdict.judge_power import judge_power
from adze.core.verdict.judge_stock import judge_stock
from adze.core.verdict.judge_volts import judge_volts, worst_touches

_COUNTED = {1: "one", 2: "two", 3: "three", 4: "four", 5: "five", 6: "six"}


@dataclass(frozen=True)
class Judgement:
    """All verdicts of a plan, its season forecasts, touches and earth test; `blocked` names what is missing."""

    verdicts: dict[Stage, Verdict]
    volts: dict[Season, Volts]
    touches: dict[Season, tuple[tuple[Place, Touch], ...]]
    earth_tests: dict[Season, EarthTest]
    wanted_kv: float
    blocked: str = ""

    @property
    def status(self) -> Status:
        """The worst stage decides."""
        return max((v.status for v in self.verdicts.values()), key=rank)

    @property
    def to_fix(self) -> tuple[Finding, ...]:
        """What fails in any stage, the worst first; what Power only repeats of Volts is left out."""
        found = [f for v in self.verdicts.values() for f in v.findings if f.status is Status.FAILS]
        return tuple(sorted((f for f in found if not f.repeats), key=lambda f: f.severity, reverse=True))

    @property
    def keeps_out(self) -> str:
        """What is said where animals are about to go in; empty while nothing fails."""
        return f"{self.sentence} {self.to_fix[0].title}: {self.to_fix[0].reason}" if self.to_fix else ""

    @property
    def sentence(self) -> str:
        """How the whole fence stands, in one sentence, by its worst stage."""
        if self.blocked:
            return self.blocked
        count = len(self.to_fix)
        if count:
            what = f"{_COUNTED.get(count, str(count))} thing{'s' * (count > 1)}"
            return f"{what[0].upper()}{what[1:]} to fix before you buy."
        return {
            Status.HOLDS: "This fence holds all year.",
            Status.MARGINAL: "This fence holds, with little to spare in places.",
        }.get(self.status, "Not everything is known yet.")

    @property
    def worst(self) -> Finding | None:
        """The finding that decides: the worst one, volts before the rest."""
        found = [v.worst for v in self.verdicts.values() if v.worst]
        order = [Stage.VOLTS, Stage.EARTH, Stage.STRANDS, Stage.GROUND, Stage.POWER, Stage.STOCK]
        return min(found, key=lambda f: (-rank(f.status), order.index(f.stage))) if found else None


def judge(plan: Plan) -> Judgement:
    """Judge every stage of a plan."""
    wanted = max(wanted_of(built.view) for built in standing_fences(plan))
    verdicts = {
        Stage.STOCK: judge_stock(plan),
        Stage.GROUND: judge_ground(plan),
        Stage.STRANDS: judge_strands(plan),
    }
    seasons: dict[Season, Volts] = {}
    felt: dict[Season, tuple[tuple[Place, Touch], ...]] = {}
    tests: dict[Season, EarthTest] = {}
    blocked = ""
    try:
        for season in Season:
            done = _in_season(plan, season)
            seasons[season], felt[season] = done.volts, done.touches
            tests[season] = done.earth_test
    except Incomplete as missing:
        blocked = str(missing)
        stage = missing.stage
        if stage in verdicts and verdicts[stage].status is not Status.FAILS:
            verdicts[stage] = Verdict(stage, "nothing yet", unknown=blocked)
        seasons, felt, tests = {}, {}, {}
    volts = judge_volts(plan, seasons, felt, blocked)
    verdicts[Stage.POWER] = judge_power(plan, seasons, wanted, volts, blocked)
    verdicts[Stage.EARTH] = judge_earth(plan, tests, volts, blocked)
    verdicts[Stage.VOLTS] = volts
    verdicts[Stage.PARTS] = judge_parts(plan)
    return Judgement(verdicts, seasons, felt, tests, wanted, blocked)


def worsened(before: Judgement, after: Judgement) -> tuple[Verdict, ...]:
    """The stages, as they stand after a change, that it has made worse in any season.

    What Volts finds to fall short is told at Power too: it counts at Volts.
    """
    rows = (verdict for stage, verdict in after.verdicts.items() if verdict.badness > before.verdicts[stage].badness)
    found = tuple(rows)
    return tuple(v for v in found if v.stage is not Stage.POWER) or found


@dataclass(frozen=True)
class _Judged:
    """One season: what is forecast, felt and tested."""

    volts: Volts
    touches: tuple[tuple[Place, Touch], ...]
    earth_test: EarthTest


def _in_season(plan: Plan, season: Season) -> _Judged:
    # One solution serves the forecast, the touches and the earth test.
    found = solved(plan, Weather(season))
    forecast = volts_of(found)
    return _Judged(forecast, worst_touches(found, forecast), earth_test(found))


def judge_parts(plan: Plan) -> Verdict:
    """What the list comes to."""
    if not plan.runs:
        return Verdict(
            Stage.PARTS,
            "nothing to count",
            unknown="Draw the fence at Ground first; the list follows from it.",
        )
    return Verdict(Stage.PARTS, f"{bill(plan).total:,.0f} in all")
