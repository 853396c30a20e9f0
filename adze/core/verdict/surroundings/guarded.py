"""What the fence is built round: hives, hutches, nests and trees, and who reaches them from outside the line."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

from shapely import Point, Polygon
from shapely.geometry.base import BaseGeometry

from adze.core.animals.strand_checks import StrandFinding, reach
from adze.core.basics.status import Status
from adze.core.basics.units import format_height
from adze.core.ground.blocks import block_at
from adze.core.ground.lines import run_of, shape_of
from adze.core.ground.nearby import name_of, nearest_on, short_words
from adze.core.ground.places import Place, place_words
from adze.core.ground.survey import JOIN_M
from adze.core.plan.constructions import Built
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.findings import Finding

CLEAR_M = 1.0  # to work round it, and for it not to be knocked onto the strands
_ON_THE_LINE_M = 0.3
_ASKED_WITHIN_M = 4.0  # farther behind the line nothing on legs reaches it
_RING_M2 = 200.0  # a ring so small stands round the tree, not under it
_GUARDED = ("hive", "hutch", "nest")


@cache
def _sought() -> frozenset[str]:
    """The kinds of landmarks that some animal is after."""
    return frozenset(word for kind in animal_kinds().values() for word in kind.wants.split())


def is_ringed(plan: Plan, mark: Landmark) -> bool:
    """Whether a tree stands in a ring of its own: then the fence is there for it."""
    return mark.kind == "tree" and _ring_around(plan, mark) is not None


def _ring_around(plan: Plan, mark: Landmark) -> str | None:
    """The small closed line that something stands in, by its id."""
    for run in plan.runs:
        if len(run.points) > 3 and math.dist(run.points[0], run.points[-1]) <= JOIN_M:
            ring = Polygon(run.points)
            if ring.is_valid and ring.area < _RING_M2 and ring.contains(Point(mark.points[0])):
                return run.id
    return None


def judge_clearance(plan: Plan, mark: Landmark) -> Iterator[Finding]:
    """Room between the line and what it guards, from every side and whatever the animal."""
    if mark.kind not in _GUARDED:
        return
    place, away = _nearest(plan, shape_of(mark), [run.id for run in plan.runs])
    if place is None or away >= CLEAR_M:
        return
    on_it = away < _ON_THE_LINE_M
    yield Finding(
        Stage.GROUND,
        "No room round it",
        Status.FAILS if on_it else Status.MARGINAL,
        f"{name_of(mark)} stands {'on the line' if on_it else short_words(plan, away) + ' from the line'}: whoever "
        "works at it backs into the strands, and what is knocked over lies on them.",
        figure=short_words(plan, away),
        limit=short_words(plan, CLEAR_M),
        place=place,
        where=place_words(plan, place),
        mend=f"Move the line or {name_of(mark)} by {short_words(plan, CLEAR_M - away)} at least.",
    )


def _nearest(plan: Plan, shape: BaseGeometry, runs: list[str]) -> tuple[Place | None, float]:
    rows = [nearest_on(run_of(plan, key), shape) for key in runs]
    return min(rows, key=lambda row: row[1]) if rows else (None, 0.0)


@dataclass(frozen=True)
class _Wanted:
    """What somebody wants behind a line: the nearest place of the line, and how far behind it, m."""

    mark: Landmark
    place: Place
    away_m: float


def _wanted(plan: Plan, built: Built) -> list[_Wanted]:
    found = []
    for mark in plan.landmarks:
        if mark.kind not in _sought():
            continue
        own, block = _ring_around(plan, mark), block_at(plan, mark.points[0])
        around = {own} if own else set(block.runs) if block and mark.kind != "tree" else set()
        place, away = _nearest(plan, Point(mark.points[0]), [key for key in built.runs if key in around])
        if place is not None and away < _ASKED_WITHIN_M:
            found.append(_Wanted(mark, place, away))
    return found


def judge_reach(plan: Plan, built: Built) -> Iterator[Finding]:
    """Who reaches over and through the strands of one way to build to what it wants behind them."""
    wanted = _wanted(plan, built)
    for animal in animals_of(built.view):
        rows = [row for row in wanted if row.mark.kind in animal_kinds()[animal.kind].wants.split()]
        if not rows:
            continue
        nearest = min(rows, key=lambda row: row.away_m)
        found: StrandFinding = reach(animal, round(100 * nearest.away_m))
        if found.value is None or found.limit is None:
            continue
        lacks = format_height(max(0.0, found.limit - found.value), plan.units)
        yield Finding(
            Stage.STRANDS,
            f"{animal_kinds()[animal.kind].label}: reaching in",
            found.status,
            f"{name_of(nearest.mark)} lies {format_height(found.value, plan.units)} behind the line; "
            f"{'neck and paw reach' if animal.climbs else 'the neck reaches'} "
            f"{format_height(found.limit, plan.units)}.",
            figure=format_height(found.value, plan.units),
            limit=format_height(found.limit, plan.units),
            place=nearest.place,
            where=place_words(plan, nearest.place),
            mend="" if found.status is Status.HOLDS else f"Move the line {lacks} farther out.",
        )
