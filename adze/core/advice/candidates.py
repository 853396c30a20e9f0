"""Changes of a plan that may raise what falls short in the volts, with own hours; not yet judged."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.advice.plan_changes import EVERY_HERD, Change, ChangeKind, with_earth_between
from adze.core.animals.strand_rules import MOST_STRANDS, WOOLLY_CM, Scheme
from adze.core.basics.units import counted
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.ground.lines import length_m, run_of
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.constructions import Built, fence_at, standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.ground import Run
from adze.core.plan.stock import fleece_cm, is_bold, is_schooled
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors
from adze.core.tables.ground import grasses
from adze.core.verdict.findings import Finding

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
    ("turn", "Make the strands live and earth in turn", _STRAND_M_PER_HOUR),
    ("close", "Set live and earth strands a head apart", _STRAND_M_PER_HOUR),
    ("mesh", "Lay bare mesh on the ground, joined to earth,", _MESH_M_PER_HOUR),
)
_MORE_RODS = (1, 2, 3, 5)
_BETTER_OHM = 1.5


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
    yield from _candidates(plan, construction_of(plan, finding))


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
        yield (Candidate(_one(ChangeKind.MISHAPS, "mended"), "Mend the faults you set", hours),)
    yield _more_rods(plan)
    yield _larger_units(plan)
    yield _cut_growth(plan)
    yield from _on_strands(plan, built)
    yield from _on_herds(plan)


def add_rods_words(count: int, more: int) -> str:
    """A change that adds rods to those there are."""
    return f"Add {counted(more, 'rod')} ({count + more} in all)"


def _more_rods(plan: Plan) -> tuple[Candidate, ...]:
    count = plan.rods.count
    return tuple(
        Candidate(_one(ChangeKind.RODS, str(count + n)), add_rods_words(count, n), n * _ROD_HOURS)
        for n in _MORE_RODS
        if count + n <= MOST_RODS
    )


def _larger_units(plan: Plan) -> tuple[Candidate, ...]:
    units, unit = catalogue(plan), unit_of(plan)
    larger = [e for e in units.values() if unit and e.supply == unit.supply and e.released_j > unit.released_j]
    return tuple(Candidate(_one(ChangeKind.ENERGIZER, e.key), f"Use the {e.label}", _UNIT_HOURS) for e in larger[:3])


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
    yield tuple(
        Candidate(_one(ChangeKind.CONDUCTOR, c.key, built), f"Use {c.label} for the strands", hours) for c in better[:2]
    )
    if not own.apron:
        mesh = _one(ChangeKind.APRON, "on", built)
        yield (Candidate(mesh, "Lay bare mesh on the ground, joined to earth", own_m / _MESH_M_PER_HOUR),)
    if own.scheme is Scheme.LIVE and not (own.netting or own.behind):
        alternate = _one(ChangeKind.SCHEME, Scheme.ALTERNATE.value, built)
        turn = Candidate(alternate, "Make the strands live and earth in turn", own_m / _STRAND_M_PER_HOUR)
        added = _one(ChangeKind.EARTH_STRANDS, "between", built)
        between = Candidate(added, "Add earth strands between the live ones", 2 * own_m / _STRAND_M_PER_HOUR)
        yield (turn, between) if len(with_earth_between(own)) <= MOST_STRANDS else (turn,)
    if bottom_group_of(own) and not own.bottom_off:
        off = _one(ChangeKind.BOTTOM, "off", built)
        yield (Candidate(off, "Switch the bottom strands off", _SWITCH_HOURS, "small animals pass while they are off"),)


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
        yield (Candidate(schooled, "Train the new animals first", _SCHOOL_HOURS, "a week in a training pen"),)


_CUT_WORDS = {"none": "Cut the line clean", "light": "Cut grass to 15 cm", "moderate": "Cut growth to 30 cm"}


def construction_of(plan: Plan, finding: Finding) -> Built:
    """The way the line is built on which a finding stands."""
    return fence_at(plan, finding.place.run) if finding.place else standing_fences(plan)[0]
