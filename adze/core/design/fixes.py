"""What mends a finding: changes of the plan, each judged over the whole plan in all seasons.

A finding that does not hold carries fixes (enough ones first, the cheapest first), or says that no change of the plan
on the list helps and names the nearest tries, or is a matter for the field or the drawing.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import islice

from adze.core.advice.earth_here import EarthHere
from adze.core.advice.plan_changes import Change, ChangeKind, apply_remedy
from adze.core.advice.remedies import HOUR_WORTH, candidates_of
from adze.core.animals.strand_rules import MOST_STRANDS, Scheme
from adze.core.basics.status import Status, rank
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.ground.zones import zones
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.constructions import every_fence
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.energizers import EnergizerModel
from adze.core.verdict.actions import ActionKind, place_action, setting
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge import Judgement, judge, worsened
from adze.core.verdict.wired.layout import TRACE_MINUTES, TRACE_TITLE

_LONG_M = 2.4
_FEW_RODS = 15  # more than anybody drives: other ways are looked for
_BORE_CM = 8
_MOST_TRIES = 24
_SWITCHES_APART_M = (1000.0, 800.0, 650.0, 500.0, 400.0, 300.0, 200.0)
_ROD_HOURS, _BORE_HOURS, _SMALL_HOURS, _TRAIN_HOURS = 0.4, 0.7, 0.3, 4.0


# What people have to do again and again, or do with the animals: never done by itself on a plan.
_KEEPERS = ("train", "schooled", "grass", "shorn", "bottom")


@dataclass(frozen=True)
class Try:
    """One change that may mend a finding: its key, what it does in words, own hours."""

    key: str
    title: str
    hours: float = _SMALL_HOURS
    note: str = ""

    @property
    def is_keepers(self) -> bool:
        """Whether it is the keeper's doing, not the fence's: training, cutting, shearing."""
        return any(part.partition(":")[0].partition("@")[0] in _KEEPERS for part in self.key.split("+"))


@dataclass(frozen=True)
class Fix:
    """A change tried: how its finding stands then and by which figure, what it costs, which stages it makes worse.

    `gain` is how much more of what is wanted there is than before, as a share of it.
    """

    key: str
    title: str
    status: Status
    effect: str
    money: float
    hours: float
    worse: tuple[Verdict, ...]
    note: str
    plan: Plan
    judgement: Judgement
    gain: float

    @property
    def worth(self) -> float:
        """What it costs with own hours counted, to rank by."""
        return self.money + HOUR_WORTH * self.hours

    @property
    def is_enough(self) -> bool:
        """Whether its finding holds and no stage is worse."""
        return self.status is Status.HOLDS and not self.worse


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
            return self.by_hand or "No change of this plan is known to help."
        tries = "; ".join(f"{fix.title}: {fix.effect or fix.status.value}" for fix in self.fixes[:2])
        return f"No change of this plan helps alone. Nearest: {tries}."


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
    helps = [fix for fix in found if fix.is_enough or rank(fix.status) < rank(finding.status) or fix.effect]
    ordered = sorted(helps, key=lambda fix: (not fix.is_enough, len(fix.worse), rank(fix.status), fix.worth))
    return FindingAnswer(finding, tuple(ordered), "" if helps else finding.mend)


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
    one, after = made.one, judge(made.plan)
    own = same_finding(after, finding)
    status = own.status if own else Status.HOLDS
    effect = f"{finding.figure} → {own.figure}" if own and own.figure and own.figure != finding.figure else ""
    worse = worsened(judgement, after)
    return Fix(
        one.key,
        one.title,
        status,
        effect,
        made.money,
        one.hours,
        worse,
        one.note,
        made.plan,
        after,
        _gain(finding, own),
    )


def _gain(finding: Finding, own: Finding | None) -> float:
    if not finding.limit_kv:
        return 0.0
    return ((own.value_kv / own.limit_kv) if own and own.limit_kv else 1.0) - finding.value_kv / finding.limit_kv


def same_finding(judgement: Judgement, finding: Finding) -> Finding | None:
    """The finding of the same name in a judgement, the worst of several; figures move along the line, others do not."""
    rows = [f for f in judgement.verdicts[finding.stage].findings if f.title == finding.title]
    if not finding.limit_kv:
        rows = [f for f in rows if f.where == finding.where]
    return max(rows, key=lambda f: f.severity, default=None)


def tries(plan: Plan, finding: Finding) -> Iterator[Try]:
    """What may mend a finding, by what it is about: its own action first."""
    if finding.action is not None:
        hours = _TRAIN_HOURS if finding.action.kind is ActionKind.TRAIN else _SMALL_HOURS
        yield Try(finding.action_key, finding.action.words, hours)
    if finding.title == TRACE_TITLE:
        yield from _more_switches(plan)
    elif finding.stage is Stage.VOLTS or (finding.stage is Stage.POWER and finding.limit_kv):
        if finding.season is not None:
            yield from _for_volts(plan, finding)
    elif finding.stage is Stage.EARTH and finding.season is not None:
        yield from _for_test(plan, finding.season)
    elif finding.title.startswith("Too little for"):
        yield from _energizers(_of_its_kind(plan, larger=True)[:4])
    elif finding.stage is Stage.STRANDS and (finding.action is None or finding.action.kind is ActionKind.HEIGHTS):
        yield from _for_strands(finding)


def _more_switches(plan: Plan) -> Iterator[Try]:
    """The fewest switches, spread evenly over what is too long to walk, with which no part takes too long any more."""
    found = zones(plan)
    long = [z for z in found.zones if z.live and z.minutes > TRACE_MINUTES] if found else []
    for apart_m in _SWITCHES_APART_M:
        keys = [
            place_action(
                ActionKind.SWITCH, s.run, s.from_m + (k + 1) * s.length_m / (round(s.length_m / apart_m) + 1)
            ).key
            for zone in long
            for s in zone.stretches
            for k in range(round(s.length_m / apart_m))
        ]
        after = zones(apply_remedy(plan, "+".join(keys))) if keys else None
        if after and all(zone.minutes <= TRACE_MINUTES for zone in after.zones if zone.live):
            yield Try("+".join(keys), f"{len(keys)} switch{'es' * (len(keys) > 1)}", len(keys) * _SMALL_HOURS)
            return


def _for_volts(plan: Plan, finding: Finding) -> Iterator[Try]:
    """The changes of Volts."""
    # Of alike changes the least and the most: what lies between is found by doing the least again.
    for group in candidates_of(plan, finding):
        for one in dict.fromkeys((group[0], group[-1])) if group else ():
            yield Try("+".join(change.key for change in one.changes), one.title, one.hours, one.note)


def _for_test(plan: Plan, season: Season) -> Iterator[Try]:
    """So many rods that the test passes, where people drive as many; else longer ones, clay, smaller units."""
    rods = plan.rods
    try:
        fewest = EarthHere(plan).fewest(season)
    except Incomplete:
        return
    if fewest is not None and rods.count < fewest <= _FEW_RODS:
        more = fewest - rods.count
        yield Try(_rods(count=fewest), f"{more} more rod{'s' * (more > 1)}", more * _ROD_HOURS)
    for count in dict.fromkeys((rods.count, min(_FEW_RODS, max(rods.count, 2 * rods.count)))):
        extra = f" and {count - rods.count} more" if count > rods.count else ""
        if rods.length_m < _LONG_M and not rods.slant_deg and plan.subsoil is None:
            yield Try(_rods(count=count, length_m=_LONG_M), f"Rods of {_LONG_M:g} m{extra}", count * _ROD_HOURS)
        if rods.bore_cm is None:
            yield Try(
                _rods(count=count, bore_cm=_BORE_CM), f"Rods in bores of conductive clay{extra}", count * _BORE_HOURS
            )
    yield Try("rod-site", "Rods in damper ground", rods.count * _ROD_HOURS)
    unit = unit_of(plan)
    smaller = [
        u for u in catalogue(plan).values() if unit and u.supply == unit.supply and u.released_j < unit.released_j
    ]
    for one in smaller[-2:]:
        yield Try(Change(ChangeKind.ENERGIZER, one.key).key, f"Energizer {one.label}")
    yield Try(Change(ChangeKind.EARTH_STRANDS, "between").key, "Earth strands between the live ones", 4.0)
    if season is Season.USUAL and fewest is not None and _FEW_RODS < fewest <= MOST_RODS:
        yield Try(_rods(count=fewest), f"{fewest - rods.count} more rods", (fewest - rods.count) * _ROD_HOURS)


def _rods(**values: float) -> str:
    return setting("rods", **{name: f"{value:g}" for name, value in values.items()}).key


def _of_its_kind(plan: Plan, *, larger: bool) -> list[EnergizerModel]:
    """Energizers of the plan's supply that are larger, or smaller, from the least up."""
    unit = unit_of(plan)
    rows = [u for u in catalogue(plan).values() if unit and u.supply == unit.supply]
    return [
        u for u in rows if unit and ((u.released_j > unit.released_j) if larger else (u.released_j < unit.released_j))
    ]


def _energizers(units: list[EnergizerModel]) -> Iterator[Try]:
    for one in units:
        yield Try(Change(ChangeKind.ENERGIZER, one.key).key, f"Energizer {one.label}")


def _for_strands(finding: Finding) -> Iterator[Try]:
    """The strands by the rules, all live or in turn."""
    for words, scheme in (("all live", Scheme.LIVE), ("live and earth in turn", Scheme.ALTERNATE)):
        change = Change(ChangeKind.SCHEME, scheme.value, finding.fence)
        yield Try(change.key, f"Strands by the rules, {words}", 4.0)
