"""A round: the places where a tester is held to the fence, in the order in which they are walked."""

import math
from dataclasses import dataclass

from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m, point_at
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position

# What is read with the fence off; such a reading names these in the place of a line.
ALONE = {"@unit": "Unit alone, fence lead off", "@lead": "End of the lead-out, fence off"}
ALONE_SHARE = 0.88  # of its open kV that a well unit gives at the least. Source: trade practice
_SAME_M = 5.0  # places nearer than this are one stop


@dataclass(frozen=True)
class Stop:
    """One stop: its name, place on a line (None beside the unit and at rods), where it lies, what is read there."""

    name: str
    place: Place | None
    at: Position
    what: str


def stops(plan: Plan) -> tuple[Stop, ...]:
    """Unit and lead-out first, rods with them, then test points, switches and ends, each time the nearest next."""
    if not plan.runs:
        return ()
    start = feed(plan)
    home = plan.energizer_at or plan.runs[0].points[0]
    first = [Stop(ALONE["@unit"], None, home, "unit")]
    if start is not None:
        first.append(Stop(ALONE["@lead"], None, _spot(plan, start.place), "lead"))
    if plan.rods.count:
        first.append(Stop("Rods, fence loaded", None, plan.rods.position or home, "rods"))
    rest: list[Stop] = []
    for f in plan.fixtures:
        if f.kind in ("test", "switch"):
            place = Place(f.run, f.at_m)
            rest.append(Stop(f.name, place, _spot(plan, place), f.kind))
    for run in plan.runs:
        place = Place(run.id, length_m(run))
        at = _spot(plan, place)
        if all(math.dist(at, other.at) > _SAME_M for other in rest):
            rest.append(Stop(f"End of {run.name}", place, at, "end"))
    for mark in plan.landmarks:
        if mark.kind in ("trough", "water_point", "milk_house"):
            rest.append(Stop(f"{mark.name}: stray volts", None, mark.points[0], "water"))
    return (*first, *_walked(rest, home))


def _spot(plan: Plan, place: Place) -> Position:
    return point_at(next(run for run in plan.runs if run.id == place.run), place.at_m)


def _walked(rest: list[Stop], begin: Position) -> list[Stop]:
    """The nearest next, again and again: a walk that a person would take."""
    here, left, found = begin, list(rest), []
    while left:
        nearest = min(left, key=lambda stop: math.dist(here, stop.at))
        left.remove(nearest)
        found.append(nearest)
        here = nearest.at
    return found
