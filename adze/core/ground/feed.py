"""Where the energizer's lead-out meets the fence."""

import math
from dataclasses import dataclass

from shapely import Point

from adze.core.ground.lines import line_of, point_at, run_of
from adze.core.ground.places import Place, nearest_place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run


@dataclass(frozen=True)
class Feed:
    """Where the energizer's lead-out meets the fence and how long it is, m."""

    place: Place
    lead_m: float


def feed(plan: Plan, assumed_lead_m: float = 20.0) -> Feed | None:
    """The lead-out: from the energizer to the nearest run, or where it is led in; None without runs."""
    spot = plan.feed_at or plan.energizer_at
    if not plan.runs or spot is None:
        return Feed(Place(plan.runs[0].id, 0.0), assumed_lead_m) if plan.runs else None
    found = nearest_place(plan.runs, spot)
    if found is None or plan.feed_at is None:
        return found and Feed(*found)
    place, home = found[0], plan.energizer_at
    return Feed(place, math.dist(home, point_at(run_of(plan, place.run), place.at_m)) if home else assumed_lead_m)


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
