"""What mends a finding: changes of the plan, each judged over the whole plan in all seasons.

A finding that does not hold carries fixes (enough ones first, the cheapest first), or says that no change of the plan
on the list helps and names the nearest tries, or is a matter for the field or the drawing.
"""

from dataclasses import dataclass, replace
from functools import cached_property
from itertools import islice

from adze.core.advice.candidates import HOUR_WORTH, construction_of
from adze.core.advice.plan_changes import ChangeKind, apply_remedy
from adze.core.animals.strand_rules import MOST_STRANDS
from adze.core.basics.status import Status, rank
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.design.tries import Try, tries
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import probe_at, volts
from adze.core.ground.soil_areas import soil_of
from adze.core.plan.constructions import every_fence
from adze.core.plan.document import Plan
from adze.core.plan.season import Weather
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Cause, Finding, Verdict
from adze.core.verdict.judge import Judgement, judge, worsened
from adze.core.verdict.judge_volts import kv_finding, touch_finding

_MOST_TRIES = 24
_MOST_PAIRS = 3
_NOTICEABLE = 0.02  # of what is wanted: less is no help


@dataclass(frozen=True, eq=False)
class Fix:
    """A change tried: the plan that it makes, its finding as it stands then (None where it is gone), what it costs.

    `known` is the whole judgement where it was needed to tell how the finding stands.
    """

    one: Try
    finding: Finding
    after: Finding | None
    money: float
    plan: Plan
    before: Judgement
    known: Judgement | None

    @property
    def key(self) -> str:
        """The change in one word for a page."""
        return self.one.key

    @property
    def title(self) -> str:
        """What it does."""
        return self.one.title

    @property
    def hours(self) -> float:
        """Own work."""
        return self.one.hours

    @property
    def note(self) -> str:
        """What else is to be known of it; empty for nothing."""
        return self.one.note

    @property
    def status(self) -> Status:
        """How its finding stands with it."""
        return self.after.status if self.after else Status.HOLDS

    @property
    def effect(self) -> str:
        """The finding's figure before and after; empty where it stays or is gone."""
        before, after = self.finding.figure, self.after.figure if self.after else ""
        return f"{after} instead of {before}" if after and after != before else ""

    @property
    def worth(self) -> float:
        """What it costs with own hours counted, to rank by."""
        return self.money + HOUR_WORTH * self.hours

    @cached_property
    def judgement(self) -> Judgement:
        """The whole plan judged with it."""
        return self.known or judge(self.plan)

    @property
    def worse(self) -> tuple[Verdict, ...]:
        """The stages that it makes worse."""
        return worsened(self.before, self.judgement)

    @cached_property
    def is_enough(self) -> bool:
        """Whether its finding holds and no stage is worse."""
        return self.status is Status.HOLDS and not self.worse

    @property
    def gain(self) -> float:
        """How much more of what is wanted there is than before at the worst place, as a share of it."""
        return self._more_of_it(same_finding(self.judgement, self.finding))

    @property
    def gain_there(self) -> float:
        """The same where the finding stood, in its season."""
        return self._more_of_it(self.after)

    def _more_of_it(self, own: Finding | None) -> float:
        if not self.finding.limit_kv:
            return 0.0
        after = own.value_kv / own.limit_kv if own and own.limit_kv else 1.0
        return after - self.finding.value_kv / self.finding.limit_kv

    @property
    def helps(self) -> bool:
        """Whether the finding stands better with it, and noticeably so."""
        if rank(self.status) < rank(self.finding.status):
            return True
        return self.gain_there >= _NOTICEABLE if self.finding.limit_kv else bool(self.effect)

    @property
    def answers_cause(self) -> bool:
        """Whether its first change answers the cause of the shortfall."""
        kind = self.key.partition(":")[0]
        return self.finding.cause is not None and _ANSWERS.get(kind) is self.finding.cause


_ANSWERS: dict[str, Cause] = {
    ChangeKind.MISHAPS: Cause.MISHAP,
    ChangeKind.GROWTH: Cause.GROWTH,
    ChangeKind.BOTTOM: Cause.GROWTH,
    ChangeKind.CONDUCTOR: Cause.STRANDS,
    ChangeKind.ENERGIZER: Cause.UNIT,
    ChangeKind.RODS: Cause.RODS,
    ChangeKind.APRON: Cause.HOOVES,
    ChangeKind.LINE: Cause.HOOVES,
    ChangeKind.SCHEME: Cause.HOOVES,
    ChangeKind.EARTH_STRANDS: Cause.HOOVES,
    ChangeKind.SHORN: Cause.HOOVES,
    ChangeKind.SCHOOLED: Cause.HOOVES,
}


@dataclass(frozen=True)
class FindingAnswer:
    """What can be done about a finding: fixes, best first; `by_hand` where it is for the field or the drawing."""

    finding: Finding
    fixes: tuple[Fix, ...]
    by_hand: str

    @property
    def best(self) -> Fix | None:
        """The cheapest that is enough."""
        return next((fix for fix in self.fixes if fix.is_enough), None)

    @property
    def why_none(self) -> str:
        """Why nothing on the list is enough, with the two nearest tries."""
        if self.best:
            return ""
        if not self.fixes:
            return self.by_hand or "No change to this plan is known to help."
        tries = "; ".join(f"{fix.title}: {fix.effect or fix.status.value}" for fix in self.fixes[:2])
        return f"No single change is enough. Nearest: {tries}."


def open_findings(judgement: Judgement) -> tuple[Finding, ...]:
    """What fails or is marginal in any stage, the worst first; what one stage repeats of another once."""
    found = [f for v in judgement.verdicts.values() for f in v.findings if f.status is not Status.HOLDS]
    return tuple(sorted((f for f in found if not f.repeats), key=lambda f: f.severity, reverse=True))


def answer(
    plan: Plan, judgement: Judgement, finding: Finding, *, keepers: bool = True, only_best: bool = False
) -> FindingAnswer:
    """The fixes of a finding: each candidate tried on the plan and judged whole; the keeper's doings only if asked.

    With `only_best` they are judged from the cheapest on, up to the first that is enough.
    """
    made = [_made(plan, one) for one in islice(tries(plan, finding), _MOST_TRIES) if keepers or not one.is_keepers]
    found: list[Fix] = []
    for change in sorted(filter(None, made), key=lambda change: change.worth if only_best else 0.0):
        found.append(_judged(judgement, finding, change))
        if only_best and found[-1].is_enough:
            break
    helps = [fix for fix in _thinned(found) if fix.helps]
    return FindingAnswer(finding, _ordered(helps), "" if helps else finding.mend)


def _thinned(fixes: list[Fix]) -> list[Fix]:
    """Of alike changes the least that is enough; else the least and the most."""
    kept = [fix for fix in fixes if fix.one.group < 0]
    for group in sorted({fix.one.group for fix in fixes} - {-1}):
        alike = [fix for fix in fixes if fix.one.group == group]
        enough = [fix for fix in alike if fix.is_enough]
        kept += enough[:1] or list(dict.fromkeys((alike[0], alike[-1])))
    return kept


def paired(plan: Plan, judgement: Judgement, found: FindingAnswer) -> FindingAnswer:
    """An answer of which nothing is enough alone, with pairs that are: the strongest change with each of the others."""
    if found.best or len(found.fixes) < 2 or not found.finding.limit_kv:
        return found
    strongest, *others = sorted(found.fixes, key=lambda fix: fix.gain_there, reverse=True)
    pairs: list[Fix] = []
    for other in sorted(others, key=lambda fix: fix.worth):
        title = f"{strongest.title}, and {other.title[:1].lower()}{other.title[1:]}"
        note = "; ".join(note for note in (strongest.note, other.note) if note)
        both = Try(f"{strongest.key}+{other.key}", title, strongest.hours + other.hours, note)
        pair = tried(plan, judgement, found.finding, both)
        if pair and pair.is_enough:
            pairs.append(pair)
        if len(pairs) == _MOST_PAIRS:
            break
    return replace(found, fixes=_ordered([*pairs, *found.fixes]))


def _ordered(fixes: list[Fix]) -> tuple[Fix, ...]:
    """Enough ones first, the cheapest first; then the least bad, and what answers the cause."""

    def order(fix: Fix) -> tuple[bool, int, bool, float]:
        return not fix.is_enough, rank(fix.status), not (fix.is_enough or fix.answers_cause), fix.worth

    return tuple(sorted(fixes, key=order))


@dataclass(frozen=True)
class _Made:
    """A change made on the plan, and what it adds to the parts list."""

    one: Try
    plan: Plan
    money: float

    @property
    def worth(self) -> float:
        return self.money + HOUR_WORTH * self.one.hours


def tried(plan: Plan, judgement: Judgement, finding: Finding, one: Try) -> Fix | None:
    """One change on the plan; None where it cannot be made or changes nothing."""
    made = _made(plan, one)
    return _judged(judgement, finding, made) if made else None


def _made(plan: Plan, one: Try) -> _Made | None:
    try:
        changed = apply_remedy(plan, one.key)
    except ValueError:
        return None
    if changed == plan or any(
        len(fence_of(b.view)) > MOST_STRANDS and not b.view.netting for b in every_fence(changed)
    ):
        return None
    base = bill(plan).total if plan.runs else 0.0
    return _Made(one, changed, round(bill(changed).total - base, 2) if changed.runs else 0.0)


def _judged(judgement: Judgement, finding: Finding, made: _Made) -> Fix:
    # Where the figure falls short still in its own season and place, the rest need not be judged to say so.
    own, whole = _there_again(made.plan, finding), None
    if own is None or own.status is Status.HOLDS:
        whole = judge(made.plan)
        own = same_finding(whole, finding)
    return Fix(made.one, finding, own, made.money, made.plan, judgement, whole)


def _there_again(plan: Plan, finding: Finding) -> Finding | None:
    """A figure of Volts on a changed plan, in its season and place; None for what has none."""
    season = finding.season
    if finding.stage is not Stage.VOLTS or season is None:
        return None
    weather, built = Weather(season), construction_of(plan, finding)
    if finding.animal is None or finding.place is None:
        found: Finding | None = kv_finding(plan, season, volts(plan, weather), built)
    else:
        probe, soil = probe_at(plan, weather, finding.place), soil_of(plan, finding.place)
        same = [t for t in touches(built.view, probe.equivalent, weather, soil) if t.animal.kind == finding.animal]
        found = touch_finding(plan, season, finding.place, same[0]) if same else None
    return found if found and found.title == finding.title else None


def same_finding(judgement: Judgement, finding: Finding) -> Finding | None:
    """The finding of the same name in a judgement, the worst of several; figures move along the line, others do not."""
    rows = [f for f in judgement.verdicts[finding.stage].findings if f.title == finding.title]
    if not finding.limit_kv:
        rows = [f for f in rows if f.where == finding.where]
    return max(rows, key=lambda f: f.severity, default=None)
