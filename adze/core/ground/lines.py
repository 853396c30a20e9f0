"""A run as geometry: its length, points along it, corners; the shapes of landmarks."""

import numpy as np
from shapely import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from adze.core.basics.cache import cached
from adze.core.basics.types import Real
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.scalars import Position
from adze.core.tables.ground import landmark_kinds

CORNER_DEGREES = 20.0


@cached("lines", 8192, identity_args=1)
def line_of(run: Run) -> LineString:
    """The run as a line, m."""
    return LineString(run.points)


@cached("runs by id", 64, identity_args=1)
def _by_id(runs: tuple[Run, ...]) -> dict[str, Run]:
    return {run.id: run for run in runs}


def run_of(plan: Plan, run_id: str) -> Run:
    """A run by its id. Raises KeyError."""
    return _by_id(plan.runs)[run_id]


def length_m(run: Run) -> float:
    """Length of a run, m."""
    return float(line_of(run).length)


def distances_m(run: Run) -> Real:
    """Distance of each point of a run from its start (n,), m."""
    steps = np.hypot(*np.diff(np.array(run.points), axis=0).T)
    along: Real = np.concatenate([[0.0], np.cumsum(steps)])
    return along


def point_at(run: Run, at_m: float) -> Position:
    """The point at a distance along a run, held within its ends."""
    spot = line_of(run).interpolate(min(max(at_m, 0.0), length_m(run)))
    return float(spot.x), float(spot.y)


def shape_of(mark: Landmark) -> BaseGeometry:
    """A landmark as a shape: a point, an area where its kind is one, else a line."""
    if len(mark.points) == 1:
        return Point(mark.points[0])
    if landmark_kinds()[mark.kind].shape == "area" and len(mark.points) > 2:
        area = Polygon(mark.points)
        return area if area.is_valid else area.buffer(0)
    return LineString(mark.points)


@cached("turns", 8192, identity_args=1)
def turns(run: Run) -> list[tuple[float, float]]:
    """Distance and turn in degrees of each inner point of a run."""
    steps = np.diff(np.array(run.points), axis=0)
    headings = np.degrees(np.arctan2(steps[:, 1], steps[:, 0]))
    change = np.abs((np.diff(headings) + 180) % 360 - 180)
    return list(zip(distances_m(run)[1:-1].tolist(), change.tolist(), strict=True))
