"""Designs: how the lines of a plan could be built and fed, and the plan built so."""

from dataclasses import dataclass, field
from enum import StrEnum
from itertools import pairwise
from typing import Any

from adze.core.advice.plan_changes import with_earth_between
from adze.core.advice.reroute import Link, linked
from adze.core.animals.strand_rules import MOST_STRANDS, SWING_CM, Role, Scheme
from adze.core.build.construction import fence_of
from adze.core.ground.lines import length_m
from adze.core.plan.changes import changed, replaced
from adze.core.plan.constructions import built_as, every_fence, rebuilt
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.scalars import Position

Row = tuple[float, float, float]  # where a row of rods begins, m east and north, and its bearing in degrees


class StrandChange(StrEnum):
    """What a design makes of the strands that stand on the plan."""

    NONE = "as they are"
    ALL_LIVE = "all live"
    ALTERNATE = "in turn"
    EARTH_BETWEEN = "earth between"
    MESH_BEFORE = "mesh before"


_SCHEMES = {StrandChange.ALL_LIVE: Scheme.LIVE, StrandChange.ALTERNATE: Scheme.ALTERNATE}


@dataclass(frozen=True)
class Build:
    """How the lines are built and fed in place of the plan's own; None and the defaults leave it."""

    strands: StrandChange = StrandChange.NONE
    conductor: str | None = None
    far_rods: bool = False
    more_live: bool = False
    feed_at: Position | None = None
    link: Link | None = None


@dataclass(frozen=True)
class Choice:
    """One design: an energizer over so many rods of a length in a place (None: the plan's), on a build."""

    energizer: str
    rods: int
    rod_m: float | None = None
    rods_at: Row | None = None
    build: Build = field(default_factory=Build)


@dataclass(frozen=True)
class RodWay:
    """So many rods of a length, where the plan has them or in a row proposed elsewhere."""

    count: int
    length_m: float
    at: Row | None


def chosen(plan: Plan, choice: Choice) -> Plan:
    """The plan built by a choice. Raises ValidationError."""
    plan = built_so(plan, choice.build)
    rods = rods_so(plan, RodWay(choice.rods, choice.rod_m or plan.rods.length_m, choice.rods_at))
    return changed(plan, {"energizer": choice.energizer, "rods": rods.model_dump()})


def rods_so(plan: Plan, way: RodWay) -> Rods:
    """The plan's rods in that number, length and place."""
    moved: dict[str, object] = {}
    if way.at:
        moved = {"position": way.at[:2], "bearing_deg": way.at[2], "places": (), "layout": "row"}
    return replaced(plan.rods, count=way.count, length_m=way.length_m, **moved)


def built_so(plan: Plan, build: Build) -> Plan:
    """The plan with its lines built and fed so. Raises ValidationError."""
    for built in every_fence(plan):
        view = built.view
        if not built.runs or view.netting or view.behind:
            continue
        update: dict[str, object] = {"conductor": build.conductor} if build.conductor else {}
        if build.strands in _SCHEMES:
            update |= {"scheme": _SCHEMES[build.strands], "strands": []}
        elif build.strands is StrandChange.EARTH_BETWEEN:
            rows = with_earth_between(replaced(view, scheme=Scheme.LIVE, strands=()))
            if len(rows) <= MOST_STRANDS:
                update["strands"] = [{"cm": s.cm, "role": s.role} for s in rows]
        elif build.strands is StrandChange.MESH_BEFORE:
            update["apron"] = True
        plan = rebuilt(plan, built.id, update)
        if build.more_live:
            own = built_as(plan, built.id)
            plan = rebuilt(plan, built.id, {"strands": _one_more(own.view)})
    if build.feed_at:
        plan = changed(plan, {"feed_at": build.feed_at})
    if build.link:
        plan = linked(plan, build.link)
    return with_far_rods(plan) if build.far_rods else plan


def _one_more(view: Plan) -> list[dict[str, Any]]:
    """The strands of a fence with one more live one: half way in the widest gap, else on top."""
    own: list[dict[str, Any]] = [s.model_dump() for s in view.strands]
    rows = own or [{"cm": s.cm, "role": s.role} for s in fence_of(replaced(view, bottom_off=False))]
    if len(rows) >= MOST_STRANDS:
        return rows
    heights = [row["cm"] for row in rows]
    gap, low = max(((b - a, a) for a, b in pairwise(heights)), default=(0.0, heights[-1]))
    cm = (low + gap / 2) // 1 if gap >= 2 * SWING_CM else heights[-1] + SWING_CM
    return sorted([*rows, {"cm": cm, "role": Role.LIVE}], key=lambda row: row["cm"])


def with_far_rods(plan: Plan) -> Plan:
    """Three rods on the earth strand at the far end of the longest line."""
    run = max(plan.runs, key=length_m)
    keys = {f.id for f in plan.fixtures}
    key = next(f"farrods{i}" for i in range(len(keys) + 1) if f"farrods{i}" not in keys)
    row = {"id": key, "kind": "rods", "run": run.id, "at_m": round(length_m(run), 2), "name": "Far rods", "rods": 3}
    return changed(plan, {"fixtures": (*plan.fixtures, row)})
