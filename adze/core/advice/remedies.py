"""Changes that would mend what fails in the volts, each with its effect computed and its cost.

A remedy is one or two changes of the plan. Its effect is the deciding finding computed again, in the season
and for the animal that decide; its cost is what it adds to the parts list, plus own hours.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from adze.core.advice.plan_changes import EVERY_HERD, Change, ChangeKind, key_of, with_earth_between
from adze.core.animals.strand_rules import MOST_STRANDS, WOOLLY_CM, Scheme
from adze.core.basics.rounding import significant
from adze.core.basics.status import Status, rank
from adze.core.basics.units import kv_words
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.build.parts import bill
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import probe_at, volts
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.soil_areas import soil_of
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.constructions import Built, fence_at, standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.ground import Run
from adze.core.plan.season import Weather
from adze.core.plan.stages import Stage
from adze.core.plan.stock import fleece_cm, is_bold, is_schooled
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors
from adze.core.tables.ground import grasses
from adze.core.verdict.findings import Cause, Finding, Verdict
from adze.core.verdict.judge import Judgement, judge, worsened
from adze.core.verdict.judge_volts import kv_finding, touch_finding
from adze.core.verdict.wired.dead_parts import dead_parts

# Own work, hours. Assumptions; what an hour is worth decides only the order.
HOUR_WORTH = 15.0
_ROD_HOURS = 0.4
_CUT_M_PER_HOUR = 400.0
_WIRE_M_PER_HOUR = 400.0
_SCHOOL_HOURS = 4.0
_UNIT_HOURS = 0.5
_SWITCH_HOURS = 0.1
MISHAP_HOURS = 0.5
_MESH_M_PER_HOUR = 60.0
_STRAND_M_PER_HOUR = 200.0  # an added strand, with its insulators
_SHEAR_PER_HOUR = 15.0
# Ways to build one line otherwise: the word of its change, what is said, metres an hour.
_LINE_WAYS = (
    ("turn", "Live and earth strands in turn", _STRAND_M_PER_HOUR),
    ("close", "Live and earth strands a head apart", _STRAND_M_PER_HOUR),
    ("mesh", "Bare mesh on the ground, joined to earth,", _MESH_M_PER_HOUR),
)
_MORE_RODS = (1, 2, 3, 5)
_BETTER_OHM = 1.5
_NOTICEABLE = 1.01
_MOST_PAIRS = 3


@dataclass(frozen=True)
class Remedy:
    """One change: its key to apply it, what it does in words, effect on the deciding figure, cost and hours.

    `worse` are the stages that it makes worse, as they stand then; `status` is that of the figure alone.
    """

    key: str
    title: str
    status: Status
    before: float
    after: float
    figure: str
    where: str
    money: float
    hours: float
    note: str = ""
    worse: tuple[Verdict, ...] = ()

    @property
    def is_enough(self) -> bool:
        """Whether its finding holds in all seasons and no stage is worse for it."""
        return self.status is Status.HOLDS and not self.worse

    @property
    def harm(self) -> str:
        """What it makes worse, in words; empty for nothing."""
        rows = (f"{v.stage.value.capitalize()} then {_STANDS[v.status]}" for v in self.worse)
        return "; ".join(rows)

    @property
    def changes_something(self) -> bool:
        """Whether more is left than before, and is said to be."""
        return self.after > self.before * _NOTICEABLE and kv_words(self.after) != kv_words(self.before)

    @property
    def answers(self) -> Cause:
        """The cause that its first change answers."""
        return _ANSWERS[ChangeKind(self.key.partition(":")[0])]

    @property
    def effect(self) -> str:
        """Before and after in kV."""
        return f"{self.figure} {kv_words(self.before)} → {kv_words(self.after)} kV"

    @property
    def worth(self) -> float:
        """What it costs with own hours counted, to rank by."""
        return self.money + HOUR_WORTH * self.hours


@dataclass(frozen=True)
class Candidate:
    """Changes to try together, what they do in words, own hours and a note."""

    changes: tuple[Change, ...]
    title: str
    hours: float
    note: str = ""


def _one(kind: ChangeKind, value: str, built: Built | None = None) -> tuple[Change, ...]:
    return (Change(kind, value, built.id or "" if built else ""),)


def candidates_of(plan: Plan, finding: Finding) -> Iterator[tuple[Candidate, ...]]:
    """Groups of alike changes that may raise a finding of Volts, from the least up; the line alone first."""
    if finding.animal is not None and finding.place is not None and len(plan.runs) > 1:
        run = run_of(plan, finding.place.run)
        yield from _on_one_line(run, is_netting=bool(fence_at(plan, run.id).view.netting))
    yield from _candidates(plan, _fence_of(plan, finding))


def _on_one_line(run: Run, *, is_netting: bool) -> Iterator[tuple[Candidate, ...]]:
    """What builds the line alone otherwise that falls short; netting takes no other strands."""
    for what, words, pace in _LINE_WAYS:
        if is_netting and what != "mesh":
            continue
        title = f"{words} on {run.name} alone"
        yield (Candidate(_one(ChangeKind.LINE, f"{run.id}:{what}"), title, length_m(run) / pace),)


def _candidates(plan: Plan, built: Built) -> Iterator[tuple[Candidate, ...]]:
    """Groups of alike candidates from the least up; the first of a group that mends ends the group.

    What changes strands changes those of the construction that falls short.
    """
    if plan.what_ifs:
        hours = MISHAP_HOURS * len(plan.what_ifs)
        yield (Candidate(_one(ChangeKind.MISHAPS, "mended"), "Mend what you set gone wrong", hours),)
    yield _more_rods(plan)
    yield _larger_units(plan)
    yield _cut_growth(plan)
    yield from _on_strands(plan, built)
    yield from _on_herds(plan)


def _more_rods(plan: Plan) -> tuple[Candidate, ...]:
    count = plan.rods.count
    return tuple(
        Candidate(_one(ChangeKind.RODS, str(count + n)), f"{n} more rod{'s' * (n > 1)}", n * _ROD_HOURS)
        for n in _MORE_RODS
        if count + n <= MOST_RODS
    )


def _larger_units(plan: Plan) -> tuple[Candidate, ...]:
    units, unit = catalogue(plan), unit_of(plan)
    larger = [e for e in units.values() if unit and e.supply == unit.supply and e.released_j > unit.released_j]
    return tuple(Candidate(_one(ChangeKind.ENERGIZER, e.key), f"Energizer {e.label}", _UNIT_HOURS) for e in larger[:3])


def _cut_growth(plan: Plan) -> tuple[Candidate, ...]:
    hours = sum(length_m(run) for run in plan.runs) / _CUT_M_PER_HOUR
    order = list(grasses())
    here = [run.grass or plan.grass for run in plan.runs] + [growth.grass for growth in plan.growths]
    now = max(order.index(grass) for grass in here)
    return tuple(
        Candidate(_one(ChangeKind.GROWTH, key), _CUT_WORDS[key], hours, "until it grows again")
        for key in reversed(order[:now])
    )


def _on_strands(plan: Plan, built: Built) -> Iterator[tuple[Candidate, ...]]:
    own = built.view
    own_m = sum(length_m(run) for run in plan.runs if run.id in built.runs)
    wire = conductors()[own.conductor]
    better = [c for c in conductors().values() if c.ohm_per_km * _BETTER_OHM <= wire.ohm_per_km and c.kind == wire.kind]
    better.sort(key=lambda c: c.price_per_m)
    hours = len(fence_of(own)) * own_m / _WIRE_M_PER_HOUR
    yield tuple(Candidate(_one(ChangeKind.CONDUCTOR, c.key, built), f"Strands of {c.label}", hours) for c in better[:2])
    if not own.apron:
        mesh = _one(ChangeKind.APRON, "on", built)
        yield (Candidate(mesh, "Bare mesh on the ground, joined to earth", own_m / _MESH_M_PER_HOUR),)
    if own.scheme is Scheme.LIVE and not (own.netting or own.behind):
        alternate = _one(ChangeKind.SCHEME, Scheme.ALTERNATE.value, built)
        turn = Candidate(alternate, "Live and earth strands in turn", own_m / _STRAND_M_PER_HOUR)
        added = _one(ChangeKind.EARTH_STRANDS, "between", built)
        between = Candidate(added, "Earth strands between the live ones", 2 * own_m / _STRAND_M_PER_HOUR)
        yield (turn, between) if len(with_earth_between(own)) <= MOST_STRANDS else (turn,)
    if bottom_group_of(own) and not own.bottom_off:
        off = _one(ChangeKind.BOTTOM, "off", built)
        yield (Candidate(off, "Bottom strands off", _SWITCH_HOURS, "small animals pass while they are off"),)


def _on_herds(plan: Plan) -> Iterator[tuple[Candidate, ...]]:
    woolled = [h for h in plan.stock if fleece_cm(animal_kinds()[h.kind], h, plan.on_date) > WOOLLY_CM]
    if woolled:
        hours = sum(h.count for h in woolled) / _SHEAR_PER_HOUR
        shorn = _one(ChangeKind.SHORN, EVERY_HERD)
        yield (Candidate(shorn, "Shear first", hours, "holds until the fleece is back"),)
    new = [
        h
        for h in plan.stock
        if not (is_schooled(h, plan.on_date) or is_bold(h)) and animal_kinds()[h.kind].purpose == "hold"
    ]
    if new:
        schooled = _one(ChangeKind.SCHOOLED, EVERY_HERD)
        yield (Candidate(schooled, "School the new animals first", _SCHOOL_HOURS, "a week in a training pen"),)


_CUT_WORDS = {"none": "Cut the line clean", "light": "Cut grass to 15 cm", "moderate": "Cut growth to 30 cm"}


def deciding_finding(judgement: Judgement) -> Finding | None:
    """The volts finding to mend first; None when all hold or nothing is known."""
    return judgement.verdicts[Stage.VOLTS].worst


def _again(plan: Plan, finding: Finding) -> Finding | None:
    """The deciding finding on a changed plan, in its season and place."""
    season = finding.season
    if season is None:
        mended = replace(finding, status=Status.HOLDS, value_kv=finding.limit_kv)
        return next((f for f in dead_parts(plan) if f.title == finding.title), mended)
    weather, built = Weather(season), _fence_of(plan, finding)
    if finding.animal is None or finding.place is None:
        return kv_finding(plan, season, volts(plan, weather), built)
    probe = probe_at(plan, weather, finding.place)
    soil = soil_of(plan, finding.place)
    same = [t for t in touches(built.view, probe.equivalent, weather, soil) if t.animal.kind == finding.animal]
    return touch_finding(plan, season, finding.place, same[0]) if same else None


def _worst_alike(whole: Judgement, finding: Finding) -> Finding | None:
    """The worst finding of the same animal, or of the same fence's kV, anywhere in any season of a judgement."""
    alike = [f for f in whole.verdicts[Stage.VOLTS].findings if f.limit_kv and _is_alike(f, finding)]
    return max(alike, key=lambda f: f.severity, default=None)


def _is_alike(one: Finding, other: Finding) -> bool:
    fence = [f.title.partition(": ")[2] for f in (one, other)]
    return one.animal == other.animal if other.animal else one.animal is None and fence[0] == fence[1]


def _fence_of(plan: Plan, finding: Finding) -> Built:
    """The way the line is built on which a finding stands."""
    return fence_at(plan, finding.place.run) if finding.place else standing_fences(plan)[0]


def remedies(plan: Plan, judgement: Judgement) -> tuple[Remedy, ...]:
    """Remedies of the deciding volts finding: those that are enough, cheapest first, then those that only help.

    Of these, what answers the cause of the shortfall stands first, then by cause: a short, growth, the strands, the
    unit, rods, hooves.
    """
    finding = deciding_finding(judgement)
    if finding is None or judgement.blocked:
        return ()
    groups = list(candidates_of(plan, finding))
    found = [m for group in groups if (m := _least_of(plan, group, finding, judgement))]
    if found and not any(m.is_enough for m in found):
        found += _pairs(plan, found, groups, finding, judgement)

    def order(m: Remedy) -> tuple[bool, bool, int, float]:
        enough = m.is_enough
        turn = 0 if enough else _TURN.get(ChangeKind(m.key.partition(":")[0]), len(_TURN))
        return not enough, not enough and m.answers is not finding.cause, turn, m.worth

    return tuple(sorted(found, key=order))


_STANDS = {Status.FAILS: "fails", Status.MARGINAL: "is marginal", Status.UNKNOWN: "is not known"}
_ANSWERS = {
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
_TURN = {kind: list(Cause).index(cause) for kind, cause in _ANSWERS.items()}


def _least_of(plan: Plan, group: tuple[Candidate, ...], finding: Finding, judgement: Judgement) -> Remedy | None:
    """The least candidate of a group that mends, else the strongest that helps."""
    last: Remedy | None = None
    for candidate in group:
        remedy = _tried(plan, candidate, finding, judgement)
        if remedy is None:
            continue
        if remedy.is_enough:
            return remedy
        last = remedy if last is None or _helps_more(remedy, last) else last
    helps = last and (rank(last.status) < rank(finding.status) or last.changes_something)
    return last if helps else None


def _helps_more(one: Remedy, other: Remedy) -> bool:
    return (len(one.worse), -one.after) < (len(other.worse), -other.after)


def _tried(plan: Plan, candidate: Candidate, finding: Finding, judgement: Judgement) -> Remedy | None:
    """A candidate with its effect and cost; None when the fence could not be built or nothing is comparable."""
    changed = plan
    for change in candidate.changes:
        changed = change.apply(changed)
    before, built = (len(fence_of(_fence_of(p, finding).view)) for p in (plan, changed))
    if built > max(MOST_STRANDS, before):
        return None
    worse: tuple[Verdict, ...] = ()
    after = _again(changed, finding)
    if after is not None and after.status is Status.HOLDS:
        # Another place, season or stage may fall short now: what is called enough holds by the whole verdict.
        whole = judge(changed)
        after, worse = _worst_alike(whole, finding) or after, worsened(judgement, whole)
    if after is None:
        return None
    return Remedy(
        key=key_of(candidate.changes),
        title=candidate.title,
        status=after.status,
        before=finding.value_kv,
        after=after.value_kv,
        figure="touch" if finding.animal else "least",
        where=after.where,
        money=max(0.0, bill(changed).total - bill(plan).total),
        hours=significant(candidate.hours),
        note=candidate.note,
        worse=worse,
    )


def _pairs(
    plan: Plan,
    found: list[Remedy],
    groups: list[tuple[Candidate, ...]],
    finding: Finding,
    judgement: Judgement,
) -> list[Remedy]:
    """Where nothing mends alone: the strongest change with each of the others, cheapest first."""
    strongest = max(found, key=lambda m: m.after)
    by_key = {key_of(c.changes): c for group in groups for c in group}
    mended = []
    for other in sorted(found, key=lambda m: m.worth):
        if other is strongest:
            continue
        one, two = by_key[strongest.key], by_key[other.key]
        title = f"{one.title}, and {two.title[:1].lower()}{two.title[1:]}"
        notes = "; ".join(n for n in (one.note, two.note) if n)
        pair = _tried(
            plan, Candidate((*one.changes, *two.changes), title, one.hours + two.hours, notes), finding, judgement
        )
        if pair and pair.is_enough:
            mended.append(pair)
        if len(mended) == _MOST_PAIRS:
            break
    return mended
