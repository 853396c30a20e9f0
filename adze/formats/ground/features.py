"""A plan's ground as features in degrees: the same for every format that goes out."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from adze.core.ground.lines import distances_m, point_at, shape_of
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.scalars import Position
from adze.formats.ground.imported import part_words
from adze.formats.ground.projection import LonLat, to_degrees

# Ground goes out as features; an aerial photo stays with the plan that holds its picture.
_APART = {"runs", "fixtures", "landmarks", "notes", "energizer_at", "underlay"}


@dataclass(frozen=True)
class Feature:
    """A part of a plan as it goes out: shape (Point, LineString, Polygon), degrees, heights, its own words."""

    shape: str
    kind: str
    name: str
    points: tuple[LonLat, ...]
    heights: tuple[float | None, ...]
    words: str


def plan_words(plan: Plan) -> str:
    """All of a plan that is not ground, as text."""
    row = plan.model_dump(mode="json", exclude=_APART)
    return part_words("plan", row)


def features(plan: Plan) -> Iterator[Feature]:
    """Every part of a plan's ground."""

    def degrees(points: tuple[Position, ...]) -> tuple[LonLat, ...]:
        return tuple(to_degrees(plan.origin, points))

    for run in plan.runs:
        words = part_words("run", run.model_dump(mode="json"), "points")
        yield Feature("LineString", "fence", run.name, degrees(run.points), _heights(run), words)
    runs = {run.id: run for run in plan.runs}
    for f in plan.fixtures:
        spot = degrees((point_at(runs[f.run], f.at_m),))
        yield Feature("Point", f.kind, f.name, spot, (), part_words("fixture", f.model_dump(mode="json")))
    for number, mark in enumerate(plan.landmarks):
        # Spots and areas may come back apart: the number says which lies on which.
        words = part_words("landmark", mark.model_dump(mode="json") | {"number": number}, "points")
        yield Feature(_shape(mark), mark.kind, mark.name or mark.kind, degrees(_outline(mark)), (), words)
    for note in plan.notes:
        words = part_words("note", note.model_dump(mode="json"), "at", "photos")
        yield Feature("Point", "note", note.name, degrees((note.at,)), (), words)
    if plan.energizer_at:
        words = part_words("energizer", {})
        yield Feature("Point", "energizer", "Energizer", degrees((plan.energizer_at,)), (), words)
    if plan.rods.position:
        yield Feature("Point", "rods", "Rods", degrees((plan.rods.position,)), (), part_words("rods", {}))


def _heights(run: Run) -> tuple[float | None, ...]:
    """The ground's height at each point, where the profile reaches."""
    if not run.profile:
        return ()
    at, heights = np.array(run.profile).T
    known = [
        (round(float(np.interp(d, at, heights)), 2) if at[0] - 1 <= d <= at[-1] + 1 else None)
        for d in distances_m(run).tolist()
    ]
    return tuple(known)


def _shape(mark: Landmark) -> str:
    if len(mark.points) == 1:
        return "Point"
    return "Polygon" if shape_of(mark).geom_type in ("Polygon", "MultiPolygon") else "LineString"


def _outline(mark: Landmark) -> tuple[Position, ...]:
    """A landmark's points, closed where it is an area."""
    return (*mark.points, mark.points[0]) if _shape(mark) == "Polygon" else mark.points
