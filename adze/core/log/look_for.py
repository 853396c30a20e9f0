"""What to look for at a place of the fence, and how what is found is mended. Source: usual practice."""

from collections.abc import Iterator

from shapely import Point

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import fence_of, has_earth_strands
from adze.core.ground.lines import CORNER_DEGREES, length_m, point_at, run_of, shape_of, turns
from adze.core.ground.places import Place
from adze.core.ground.wiring import growth_at
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Diverter, Gate, RoadCrossing, Run
from adze.core.plan.season import grass_of
from adze.core.tables.causes import FaultCause
from adze.core.tables.construction import end_posts, post_kinds
from adze.core.tables.ground import grasses

REACH_M = 30.0  # what a look takes in: the stretch between two neighbouring places of a search
_UNDER_TREES_M = 12.0
_INSULATES_OHM_M = 1e5  # an end post of less after rain leaks where its insulator is missing
_TREES = frozenset({"tree", "wood"})


def look_for(plan: Plan, place: Place) -> tuple[str, ...]:
    """Keys of the causes that the plan makes likely at a place, the likeliest first; never empty.

    Raises KeyError for a line that is not there.
    """
    run = run_of(plan, place.run)
    return tuple(dict.fromkeys([*_beside(plan, run, place.at_m), *_of_fence(plan, run, place.at_m), "cut"]))


def _beside(plan: Plan, run: Run, at_m: float) -> Iterator[str]:
    """What trees, gates, crossings and diverters near by bring with them."""
    here = Point(point_at(run, min(max(at_m, 0.0), length_m(run))))
    trees = (shape_of(mark) for mark in plan.landmarks if mark.kind in _TREES)
    if any(tree.distance(here) <= _UNDER_TREES_M + REACH_M for tree in trees):
        yield "branch"
    near = [f for f in plan.fixtures if f.run == run.id and abs(f.at_m - at_m) <= REACH_M]
    if any(isinstance(f, Gate) and f.opens for f in near):
        yield "gate"
    if any((isinstance(f, Gate) and f.under_cable) or (isinstance(f, RoadCrossing) and not f.over) for f in near):
        yield "cable"
    if any(isinstance(f, Diverter) for f in near):
        yield "diverter"


def _of_fence(plan: Plan, run: Run, at_m: float) -> Iterator[str]:
    """What ends, posts, netting, earth strands and growth bring with them."""
    view = fence_at(plan, run.id).view
    strands = fence_of(view)
    ends = [0.0, length_m(run), *(at for at, degrees in turns(run) if degrees >= CORNER_DEGREES)]
    ends += [f.at_m for f in plan.fixtures if f.run == run.id and f.kind in ("strain", "gate")]
    if any(abs(end - at_m) <= REACH_M for end in ends):
        yield "tail"
        if end_posts()[view.end_post].wet_ohm_m < _INSULATES_OHM_M:
            yield "wet_post"
    if view.netting:
        yield "on_ground"
    grass = grasses()[growth_at(plan, run, at_m) or grass_of(plan, run).key]
    if any(s.role is Role.LIVE and s.cm <= 100 * grass.canopy_m for s in strands):
        yield "grass"
    if post_kinds()[view.post].insulators:
        yield "insulator"
    if has_earth_strands(view):
        yield "tangle"


def mend_words(plan: Plan, cause: FaultCause) -> str:
    """Whether power is switched off before a cause is mended, by the plan's school, and what is carried."""
    if cause.off_first == "yes" or plan.work.repairs == "off":
        how = "Switch off first, at the nearest switch, and check with the tester"
    else:
        how = "Your rule allows live work: insulated handle, dry boots, one hand, never alone"
    return f"{how}. Take along: {cause.carry}."
