"""Every joint of a plan: where it is, what it joins, with which fastener, and how much jacket comes off."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.animals.strand_rules import Role
from adze.core.build.conductors import strand_pieces
from adze.core.build.construction import bottom_switch_of, conductors_of, fence_of, joined_groups, switched_on
from adze.core.build.count import strains_m
from adze.core.build.fittings import Fitting, most_used, strung
from adze.core.build.needs import PartNeed, priced
from adze.core.build.rods import DIVERTER_RODS
from adze.core.ground.feed import feed
from adze.core.ground.lines import point_at, run_of
from adze.core.ground.places import place_words
from adze.core.ground.survey import joins
from adze.core.ground.wiring import cable_m
from adze.core.plan.constructions import standing_fences, views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Diverter, Fixture, RodSite, Run, Switch
from adze.core.plan.scalars import Position

# Bare metal at each kind of joint, cm; two jackets, the wire never nicked. Source: trade practice.
STRIP_CM = {"strands": 0.0, "splice": 0.0, "cable": 2.5, "lead-out": 9.0, "rod": 9.0, "diverter": 6.5}
_SLEEVES = 2  # crimped side by side where a wire goes on in the next roll
# What joins wire to wire by the way chosen, and how many of it.
_WIRE_BONDS = {
    "clamp": ("joint_clamp", 1),
    "crimp": ("crimp_sleeve", _SLEEVES),
    "twist": ("", 1),
    "split_bolt": ("split_bolt", 1),
}


@dataclass(frozen=True)
class Joint:
    """One place where conductors are joined: what with what, with how many of which fastener, cm of bare cable.

    `run` is empty for what belongs to the whole plan, `part` for what is joined at terminals; `spot` where it lies, m
    east and north, where that is one spot.
    """

    run: str
    where: str
    kind: str
    words: str
    part: str
    fasteners: int
    spot: Position | None = None

    @property
    def strip_cm(self) -> float:
        """Bare end of cable, cm; 0 where there is no jacket."""
        return STRIP_CM[self.kind]


def joints_of(plan: Plan) -> Iterator[Joint]:
    """All joints, from the energizer outward."""
    yield from shared_joints(plan)
    yield from line_joints(plan)


def shared_joints(plan: Plan) -> Iterator[Joint]:
    """The joints that belong to no line: of the lead-out, the rods and the diverters."""
    start = feed(plan)
    if start is not None:
        meets = point_at(run_of(plan, start.place.run), start.place.at_m)
        to_lead, to_fence = "lead-out to the live terminal's lead", "lead-out to the live strands"
        where = place_words(plan, start.place)
        yield Joint("", "energizer", "lead-out", to_lead, "joint_clamp", 1, plan.energizer_at)
        yield Joint("", where, "lead-out", to_fence, _cable_clamp(plan, start.place.run, Role.LIVE), 1, meets)
        if earth_lead_m(plan) is not None:
            words, clamp = "earth lead to the earth strands or mesh", _cable_clamp(plan, start.place.run, Role.EARTH)
            yield Joint("", where, "lead-out", words, clamp, 1, meets)
    for built in standing_fences(plan):
        if bottom_switch_of(built.view):
            takes = most_used(switched_on(built.view), Role.LIVE)
            words, clamp = "cable to the switch, and on to the bottom strands", takes.cable if takes else "joint_clamp"
            yield Joint("", f"{built.name}, bottom switch", "cable", words, clamp, 2)
    for number in range(1, plan.rods.count + bool(plan.rods.monitor) + 1):
        spot = plan.rods.places[number - 1] if number <= len(plan.rods.places) else plan.rods.position
        yield Joint("", f"rod {number}", "rod", "earth lead through the clamp, unbroken", "rod_clamp", 1, spot)
    for site in (f for f in plan.fixtures if isinstance(f, RodSite)):
        words, spot = "lead through the clamps to the earth strand", _spot(plan, site)
        yield Joint("", site.name, "rod", words, "rod_clamp", site.rods, spot)
        clamp = _cable_clamp(plan, site.run, Role.EARTH)
        yield Joint("", site.name, "lead-out", "lead of the rods to the earth strands", clamp, 1, spot)
    for fixture in plan.fixtures:
        if fixture.kind == "diverter":
            words, spot = "fence side and earth side, at terminals", _spot(plan, fixture)
            yield Joint("", fixture.name, "diverter", words, "", 0, spot)
            if isinstance(fixture, Diverter) and fixture.earth == "own":
                yield Joint("", fixture.name, "rod", "its lead through the clamps", "rod_clamp", DIVERTER_RODS, spot)


def earth_lead_m(plan: Plan) -> float | None:
    """The earth lead from the unit to the earth strands or mesh of the line that is fed, m; None without any."""
    start = feed(plan)
    if start is None:
        return None
    view = views_by_run(plan)[start.place.run]
    return start.lead_m if view.apron or most_used(view, Role.EARTH) else None


def _cable_clamp(plan: Plan, run: str, role: Role) -> str:
    """What joins a cable to a line's strands of a role."""
    takes = most_used(views_by_run(plan)[run], role)
    return takes.cable if takes else "joint_clamp"


def _spot(plan: Plan, fixture: Fixture) -> Position:
    return point_at(run_of(plan, fixture.run), fixture.at_m)


def line_joints(plan: Plan) -> Iterator[Joint]:
    """The joints of all lines."""
    views = views_by_run(switched_on(plan))
    for run in plan.runs:
        yield from joints_of_line(plan, views[run.id], run)


def joints_of_line(plan: Plan, view: Plan, run: Run) -> Iterator[Joint]:
    """The joints of one line: strands together at both ends of each strain, cables, links, branches, ends of rolls."""
    if view.netting and not view.strands:
        return
    fixtures = [f for f in view.fixtures if f.run == run.id]
    strains = strains_m(fixtures, run)
    links = [(f.name, point_at(run, f.at_m)) for f in fixtures if f.kind == "join"]
    cables = [f for f in fixtures if cable_m(f) > 0]
    branches = [join for join in joins(plan) if join.run == run.id != join.onto.run]
    for role in (Role.LIVE, Role.EARTH):
        n, takes = sum(s.role is role for s in fence_of(view)), most_used(view, role)
        if takes is None:
            continue
        bond, each = bond_of(view, takes)
        apart = role is Role.LIVE and run.joined in ("near", "none")
        groups = joined_groups(plan, run) if role is Role.LIVE and not apart else ()
        together, bonds = _together(groups, n, role)
        ends = _ends_apart(run) if apart else _ends(run, strains)
        for where, spot in (*ends, *links) if bonds and takes.bond else ():
            yield Joint(run.id, where, "strands", together, bond, each * bonds, spot)
        for number, (at_m, _) in enumerate(strains[1:] if apart and takes.bond else (), 1):
            where, words = f"{run.name}, from strain {number} into {number + 1}", f"{n} {role.value}, each to its own"
            yield Joint(run.id, where, "strands", words, bond, each * n, point_at(run, at_m))
        if role is Role.LIVE:
            yield from _at_switches(plan, run, fixtures, takes)
        for f in cables:
            words, spot = f"core to the {role.value} strands, at both sides", _spot(plan, f)
            yield Joint(run.id, f.name, "cable", words, takes.cable, 2, spot)
        for join in branches:
            onto = f"{run.name} on {place_words(plan, join.onto)}"
            words, spot = f"{n} {role.value}, each to its own", point_at(run, join.at_m)
            yield Joint(run.id, onto, "strands", words, bond or takes.cable, each * n, spot)
    yield from _splices(view, run)


def bond_of(view: Plan, takes: Fitting) -> tuple[str, int]:
    """What joins one strand to another, and how many of it a joint takes; empty for a twist."""
    return _WIRE_BONDS[view.work.joint] if takes.bond == "joint_clamp" else (takes.bond, 1)


def _together(groups: tuple[tuple[int, ...], ...], count: int, role: Role) -> tuple[str, int]:
    """What is joined to each other at an end, in words, and with how many bonds."""
    if len(groups) < 2:
        return f"{count} {role.value} strands together", count - 1
    many = [group for group in groups if len(group) > 1]
    words = [f"strands {', '.join(map(str, group))} together" for group in many]
    words += [f"strand {group[0]} apart" for group in groups if len(group) == 1]
    return "; ".join(words), sum(len(group) - 1 for group in many)


def _at_switches(plan: Plan, run: Run, fixtures: list[Fixture], takes: Fitting) -> Iterator[Joint]:
    """The cable of each switch: from what feeds it, and on to the strands that it parts."""
    for f in fixtures:
        if isinstance(f, Switch):
            own = f"strand{'s' * (len(f.strands) > 1)} {', '.join(map(str, f.strands))}" if f.strands else "the strands"
            words = f"cable from the live strands to the switch, and on to {own}"
            yield Joint(run.id, f.name, "cable", words, takes.cable, 2, _spot(plan, f))


def _ends_apart(run: Run) -> Iterator[tuple[str, Position]]:
    """Where strands that are apart are joined: at the end that the pulse comes in by, or nowhere."""
    if run.joined == "near":
        yield f"{run.name}, start", run.points[0]


def _ends(run: Run, strains: tuple[tuple[float, float], ...]) -> Iterator[tuple[str, Position]]:
    for number, (start_m, end_m) in enumerate(strains, 1):
        yield f"{run.name}, strain {number}, start", point_at(run, start_m)
        yield f"{run.name}, strain {number}, end", point_at(run, end_m)


def _splices(view: Plan, run: Run) -> Iterator[Joint]:
    """Where a strand is longer than a roll and goes on in the next."""
    rolls = {made.label: made.roll_m for made in conductors_of(view)}
    parts = {row.made.label: (row.fitting.splice, row.made.kind) for row in strung(view)}
    for label, piece in strand_pieces(view, run, [f for f in view.fixtures if f.run == run.id]):
        times, (part, kind) = int(piece.length_m // rolls[label]), parts[label]
        if times and part:
            each = _SLEEVES if part == "crimp_sleeve" else 1
            yield Joint(run.id, piece.where, "splice", f"{kind} on into the next roll", part, times * each)


def joint_needs(joints: list[Joint]) -> Iterator[PartNeed]:
    """The fasteners of joints; rod clamps are counted with the rods."""
    for part in dict.fromkeys(j.part for j in joints if j.part and j.kind != "rod"):
        kinds: dict[str, int] = {}
        for j in joints:
            if j.part == part and j.fasteners:
                kinds[j.kind] = kinds.get(j.kind, 0) + j.fasteners
        why = ", ".join(f"{n} {_FOR[kind]}" for kind, n in kinds.items())
        yield priced("Joints", part, sum(kinds.values()), why)


_FOR = {
    "strands": "where strands are joined to each other",
    "cable": "at cables under gates and ways",
    "splice": "where a roll ends",
    "lead-out": "at the lead-out's ends",
}
