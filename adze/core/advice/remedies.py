"""Changes that would mend what fails in the volts, each with its effect computed and its cost.

A mend is a change of the plan. Its effect is the deciding finding computed again, in the season
and for the animal that decide; its cost is what it adds to the parts list, plus own hours.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from adze.core.advice.ground_remedies import do_deed
from adze.core.animals.strand_rules import MOST_STRANDS, SWING_CM, WOOLLY_CM, Role, Scheme, Strand
from adze.core.basics.rounding import significant
from adze.core.basics.status import Status, rank
from adze.core.basics.units import kv_words
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.build.parts import bill
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import stand_at, volts
from adze.core.ground.lines import length_m
from adze.core.ground.soil_areas import soil_of
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.changes import changed, replaced
from adze.core.plan.constructions import Built, built_as, fence_at, rebuilt, standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of, fleece_cm, is_bold, is_schooled
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors
from adze.core.tables.ground import grasses
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge import Judgement
from adze.core.verdict.judge_volts import kv_finding, touch_finding

# Own work, hours. Assumptions; what an hour is worth decides only the order.
_HOUR_WORTH = 15.0
_ROD_HOURS = 0.4
_CUT_M_PER_HOUR = 400.0
_WIRE_M_PER_HOUR = 400.0
_SCHOOL_HOURS = 4.0
_SHEAR_PER_HOUR = 15.0
_MORE_RODS = (1, 2, 3, 5)
_BETTER_OHM = 1.5
_NOTICEABLE = 1.01
_MOST_PAIRS = 3


@dataclass(frozen=True)
class Mend:
    """One change: its key to apply it, what it does in words, effect on the deciding figure, cost and hours."""

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

    @property
    def effect(self) -> str:
        """Before and after in kV."""
        return f"{self.figure} {kv_words(self.before)} → {kv_words(self.after)} kV"

    @property
    def worth(self) -> float:
        """What it costs with own hours counted, to rank by."""
        return self.money + _HOUR_WORTH * self.hours


@dataclass(frozen=True)
class _Candidate:
    key: str
    title: str
    hours: float
    note: str = ""


def apply_mend(plan: Plan, key: str) -> Plan:
    """The plan with a mend done. Raises ValueError for a key that is not a mend of this plan."""
    first, _, rest = key.partition("+")
    if rest:
        return apply_mend(apply_mend(plan, first), rest)
    key, _, fence = key.partition("@")
    what, _, value = key.partition(":")
    built = built_as(plan, fence or None)
    if fence and built.id != fence:
        raise ValueError("That fence is no longer on the plan.")
    if what == "rods" and value.isdigit():
        rods = replaced(plan.rods, count=int(value))
        return changed(plan, {"rods": rods.model_dump()})
    if what in ("energizer", "grass"):
        update: dict[str, object] = {what: value}
        if what == "grass":
            update["runs"] = [run.model_dump() | {"grass": None} for run in plan.runs]
        return changed(plan, update)
    if what == "conductor":
        return rebuilt(plan, built.id, {"conductor": value})
    if key == "scheme:alternate":
        return rebuilt(plan, built.id, {"scheme": "alternate", "strands": []})
    if key == "earth:between":
        rows = [{"cm": s.cm, "role": s.role.value} for s in with_earth_between(built.view)]
        return rebuilt(plan, built.id, {"strands": rows})
    if key == "apron:on":
        return rebuilt(plan, built.id, {"apron": True})
    if key == "bottom:off":
        return rebuilt(plan, built.id, {"bottom_off": True})
    if what in ("schooled", "shorn"):
        change = {"schooled": True} if what == "schooled" else {"woolled": False, "sheared": None}
        herds = [h.model_dump() | (change if value in ("all", h.kind) else {}) for h in plan.stock]
        return changed(plan, {"stock": herds})
    return do_deed(plan, key)


def with_earth_between(plan: Plan) -> tuple[Strand, ...]:
    """The live strands as they stand, with an earth strand half way in each gap that a head can reach."""
    fence = fence_of(replaced(plan, bottom_off=False))
    reach = max((a.nose_cm + a.head_cm for a in animals_of(plan)), default=100.0)
    found = [fence[0]]
    for lower, upper in pairwise(fence):
        both_live = lower.role is Role.LIVE and upper.role is Role.LIVE
        if both_live and upper.cm - lower.cm >= 2 * SWING_CM and lower.cm <= reach:
            found.append(Strand(float((lower.cm + upper.cm) // 2), Role.EARTH))
        found.append(upper)
    return tuple(found)


def _candidates(plan: Plan, built: Built) -> Iterator[tuple[_Candidate, ...]]:
    """Groups of alike candidates from the least up; the first of a group that mends ends the group.

    What changes strands changes those of the fence that falls short.
    """
    on, own = (f"@{built.id}" if built.id else ""), built.view
    count = plan.rods.count
    yield tuple(
        _Candidate(f"rods:{count + n}", f"{n} more rod{'s' * (n > 1)}", n * _ROD_HOURS)
        for n in _MORE_RODS
        if count + n <= MOST_RODS
    )
    units, unit = catalogue(plan), unit_of(plan)
    larger = [e for e in units.values() if unit and e.supply == unit.supply and e.released_j > unit.released_j]
    yield tuple(_Candidate(f"energizer:{e.key}", f"Energizer {e.label}", 0.5) for e in larger[:3])
    length = sum(length_m(run) for run in plan.runs)
    order = list(grasses())
    now = max(order.index(run.grass or plan.grass) for run in plan.runs)
    yield tuple(
        _Candidate(f"grass:{key}", _CUT_WORDS[key], length / _CUT_M_PER_HOUR, "until it grows again")
        for key in reversed(order[:now])
    )
    wire = conductors()[own.conductor]
    strands, own_m = len(fence_of(own)), sum(length_m(run) for run in plan.runs if run.id in built.runs)
    better = [c for c in conductors().values() if c.ohm_per_km * _BETTER_OHM <= wire.ohm_per_km and c.kind == wire.kind]
    better.sort(key=lambda c: c.price_per_m)
    yield tuple(
        _Candidate(f"conductor:{c.key}{on}", f"Strands of {c.label}", strands * own_m / _WIRE_M_PER_HOUR)
        for c in better[:2]
    )
    if not own.apron:
        yield (_Candidate(f"apron:on{on}", "Bare mesh on the ground, joined to earth", own_m / 60.0),)
    if own.scheme is Scheme.LIVE and not (own.netting or own.behind):
        turn = _Candidate(f"scheme:alternate{on}", "Live and earth strands in turn", own_m / 200.0)
        between = _Candidate(f"earth:between{on}", "Earth strands between the live ones", 2 * own_m / 200.0)
        yield (turn, between) if len(with_earth_between(own)) <= MOST_STRANDS else (turn,)
    if bottom_group_of(own) and not own.bottom_off:
        yield (_Candidate(f"bottom:off{on}", "Bottom strands off", 0.1, "small animals pass while they are off"),)
    woolled = [h for h in plan.stock if fleece_cm(animal_kinds()[h.kind], h, plan.on_date) > WOOLLY_CM]
    if woolled:
        hours = sum(h.count for h in woolled) / _SHEAR_PER_HOUR
        yield (_Candidate("shorn:all", "Shear first", hours, "holds until the fleece is back"),)
    new = [
        h
        for h in plan.stock
        if not (is_schooled(h, plan.on_date) or is_bold(h)) and animal_kinds()[h.kind].purpose == "hold"
    ]
    if new:
        yield (_Candidate("schooled:all", "School the new animals first", _SCHOOL_HOURS, "a week in a training pen"),)


_CUT_WORDS = {"none": "Cut the line clean", "light": "Cut grass to 15 cm", "moderate": "Cut growth to 30 cm"}


def deciding_finding(judgement: Judgement) -> Finding | None:
    """The volts finding to mend first; None when all hold or nothing is known."""
    return judgement.verdicts[Stage.VOLTS].worst


def _again(plan: Plan, finding: Finding) -> Finding | None:
    """The deciding finding on a changed plan, in its season and place."""
    season = finding.season or Season.DRY
    weather, built = Weather(season), _fence_of(plan, finding)
    if finding.animal is None or finding.place is None:
        return kv_finding(plan, season, volts(plan, weather), built)
    stand = stand_at(plan, weather, finding.place)
    soil = soil_of(plan, finding.place)
    same = [t for t in touches(built.view, stand.spot, weather, soil) if t.animal.kind == finding.animal]
    return touch_finding(plan, season, finding.place, same[0]) if same else None


def _fence_of(plan: Plan, finding: Finding) -> Built:
    """The way the line is built on which a finding stands."""
    return fence_at(plan, finding.place.run) if finding.place else standing_fences(plan)[0]


def mends(plan: Plan, judgement: Judgement) -> tuple[Mend, ...]:
    """Mends of the deciding volts finding: what mends it cheapest first, then what only helps."""
    finding = deciding_finding(judgement)
    if finding is None or judgement.blocked:
        return ()
    groups = list(_candidates(plan, _fence_of(plan, finding)))
    found = [m for group in groups if (m := _least_of(plan, group, finding))]
    if found and all(m.status is not Status.HOLDS for m in found):
        found += _pairs(plan, found, groups, finding)
    return tuple(sorted(found, key=lambda m: (rank(m.status), m.worth)))


def _least_of(plan: Plan, group: tuple[_Candidate, ...], finding: Finding) -> Mend | None:
    """The least candidate of a group that mends, else the strongest that helps."""
    last: Mend | None = None
    for candidate in group:
        mend = _tried(plan, candidate, finding)
        if mend is None:
            continue
        last = mend if last is None or mend.after > last.after else last
        if mend.status is Status.HOLDS:
            break
    helps = last and (rank(last.status) < rank(finding.status) or last.after > last.before * _NOTICEABLE)
    return last if helps else None


def _tried(plan: Plan, candidate: _Candidate, finding: Finding) -> Mend | None:
    """A candidate with its effect and cost; None when the fence could not be built or nothing is comparable."""
    changed = apply_mend(plan, candidate.key)
    before, built = (len(fence_of(_fence_of(p, finding).view)) for p in (plan, changed))
    if built > max(MOST_STRANDS, before):
        return None
    after = _again(changed, finding)
    if after is None:
        return None
    return Mend(
        key=candidate.key,
        title=candidate.title,
        status=after.status,
        before=finding.value_kv,
        after=after.value_kv,
        figure="touch" if finding.animal else "least",
        where=after.where,
        money=max(0.0, bill(changed).total - bill(plan).total),
        hours=significant(candidate.hours),
        note=candidate.note,
    )


def _pairs(plan: Plan, found: list[Mend], groups: list[tuple[_Candidate, ...]], finding: Finding) -> list[Mend]:
    """Where nothing mends alone: the strongest change with each of the others, cheapest first."""
    strongest = max(found, key=lambda m: m.after)
    by_key = {c.key: c for group in groups for c in group}
    mended = []
    for other in sorted(found, key=lambda m: m.worth):
        if other is strongest:
            continue
        one, two = by_key[strongest.key], by_key[other.key]
        title = f"{one.title}, and {two.title[:1].lower()}{two.title[1:]}"
        notes = "; ".join(n for n in (one.note, two.note) if n)
        pair = _tried(plan, _Candidate(f"{one.key}+{two.key}", title, one.hours + two.hours, notes), finding)
        if pair and pair.status is Status.HOLDS:
            mended.append(pair)
        if len(mended) == _MOST_PAIRS:
            break
    return mended
