"""Every joint of a plan: where it is, what it joins, with what, and how much jacket comes off."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import fence_of
from adze.core.build.count import strain_lengths_m
from adze.core.ground.feed import feed
from adze.core.ground.places import place_words
from adze.core.ground.survey import joins
from adze.core.ground.wiring import cable_m
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run

# Bare metal at each kind of joint, cm; two jackets, the wire never nicked. Source: trade practice.
STRIP_CM = {"strands": 0.0, "cable": 2.5, "lead-out": 9.0, "rod": 9.0, "diverter": 6.5}


@dataclass(frozen=True)
class Joint:
    """One place where conductors are joined: what with what, how many clamps, cm of bare end of cable (0: none)."""

    where: str
    kind: str
    words: str
    clamps: int
    strip_cm: float


def joints_of(plan: Plan) -> Iterator[Joint]:
    """All joints, from the energizer outward."""
    start = feed(plan)
    if start is not None:
        where = place_words(plan, start.place)
        yield Joint(where, "lead-out", "lead-out to the live strands", 1, STRIP_CM["lead-out"])
    for number in range(1, plan.rods.count + 1):
        yield Joint(f"rod {number}", "rod", "earth lead through the clamp, unbroken", 1, STRIP_CM["rod"])
    for fixture in plan.fixtures:
        if fixture.kind == "diverter":
            yield Joint(fixture.name, "diverter", "fence side and earth side", 2, STRIP_CM["diverter"])
    views = views_by_run(plan)
    for run in plan.runs:
        yield from _of_line(plan, views[run.id], run)


def _of_line(plan: Plan, view: Plan, run: Run) -> Iterator[Joint]:
    if view.netting and not view.strands:
        return
    fixtures = [f for f in view.fixtures if f.run == run.id]
    groups = [(role, sum(s.role is role for s in fence_of(view))) for role in (Role.LIVE, Role.EARTH)]
    together = ", ".join(f"{n} {role.value}" for role, n in groups if n > 1)
    each = sum(max(n - 1, 0) for _, n in groups)
    for number in range(1, len(strain_lengths_m(fixtures, run)) + 1):
        for end in ("start", "end") if each else ():
            yield Joint(
                f"{run.name}, strain {number}, {end}", "strands", f"{together} together", each, STRIP_CM["strands"]
            )
    for fixture in fixtures:
        if fixture.kind == "join" and each:
            yield Joint(fixture.name, "strands", f"{together} together", each, STRIP_CM["strands"])
        if cable_m(fixture) > 0:
            cores = sum(n > 0 for _, n in groups)
            yield Joint(
                fixture.name, "cable", f"{cores} core{'s' * (cores > 1)} at both sides", 2 * cores, STRIP_CM["cable"]
            )
    for join in joins(plan):
        if join.run == run.id != join.onto.run:
            total = sum(n for _, n in groups)
            yield Joint(
                f"{run.name} on {place_words(plan, join.onto)}", "strands", "each strand to its own", total, 0.0
            )
