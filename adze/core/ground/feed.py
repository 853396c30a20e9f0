"""Where the energizer's lead-out meets the fence."""

import math
from collections.abc import Collection
from dataclasses import dataclass
from itertools import pairwise

from shapely import LineString, Point
from shapely.ops import nearest_points

from adze.core.ground.lines import line_of, point_at, run_of, shape_of
from adze.core.ground.places import Place, nearest_place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.scalars import Position

WITH_WHEELS = ("road", "track", "yard")
_NO_LENGTH_M = 0.01


@dataclass(frozen=True)
class Feed:
    """Where the energizer's lead-out meets the fence and how long it is, m."""

    place: Place
    lead_m: float


def feed(plan: Plan, assumed_lead_m: float = 20.0) -> Feed | None:
    """The lead-out: from the energizer to the nearest run, or where it is led in; None without runs.

    Drawn with points of its own, it meets the fence nearest to the last of them.
    """
    spots = plan.lead_out.points
    spot = plan.feed_at or (spots[-1] if spots else plan.energizer_at)
    if not plan.runs or spot is None:
        return Feed(Place(plan.runs[0].id, 0.0), assumed_lead_m) if plan.runs else None
    found = nearest_place(plan.runs, spot)
    if found is None or (plan.feed_at is None and not spots):
        return found and Feed(*found)
    place, home = found[0], plan.energizer_at
    if home is None:
        return Feed(place, assumed_lead_m)
    return Feed(place, sum(math.dist(a, b) for a, b in pairwise(_way(plan, place, home))))


def _way(plan: Plan, place: Place, home: Position) -> list[Position]:
    return [home, *plan.lead_out.points, point_at(run_of(plan, place.run), place.at_m)]


def lead_out_points(plan: Plan) -> list[Position]:
    """The lead-out as it is drawn, from the energizer to the fence; empty where either has no place."""
    start = feed(plan)
    return _way(plan, start.place, plan.energizer_at) if start and plan.energizer_at else []


def lead_out_shape(plan: Plan) -> LineString | None:
    """The lead-out as a line; None where energizer or fence has no place, or it has no length."""
    points = lead_out_points(plan)
    return LineString(points) if points and LineString(points).length >= _NO_LENGTH_M else None


def ways_crossed(plan: Plan) -> tuple[Landmark, ...]:
    """The roads, tracks, paths and yards that the lead-out crosses."""
    lead = lead_out_shape(plan)
    ways = [mark for mark in plan.landmarks if mark.kind in (*WITH_WHEELS, "path")] if lead else []
    return tuple(mark for mark in ways if shape_of(mark).intersects(lead))


def jumper(plan: Plan, run: Run, dead: Collection[str] = ()) -> tuple[str, float, tuple[Position, Position]] | None:
    """The shortest way that feeds a line from another that is fed: that line's id, its m, from where to where."""
    own = line_of(run)
    rows = [(float(line_of(other).distance(own)), other) for other in plan.runs if other.id not in {run.id, *dead}]
    if not rows:
        return None
    away, other = min(rows, key=lambda row: row[0])
    here, there = nearest_points(own, line_of(other))
    return other.id, away, ((here.x, here.y), (there.x, there.y))


def nearest_gap(plan: Plan, run: Run) -> tuple[str, float]:
    """The other run nearest to one that hangs on nothing, and how far its ends lie from it, m."""
    best = ("", math.inf)
    for other in plan.runs:
        if other.id == run.id:
            continue
        away = min(line_of(other).distance(Point(p)) for p in (run.points[0], run.points[-1]))
        if away < best[1]:
            best = other.name, float(away)
    return best
