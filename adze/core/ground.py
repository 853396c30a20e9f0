"""The fence as it lies: distances along runs, where runs join, what crosses, what hangs on what."""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from shapely import LineString, Point

from adze.core.laplace import Real
from adze.core.plan import Plan, Position, Run

JOIN_M = 0.5  # ends nearer than this to a line are joined to it


@dataclass(frozen=True)
class Place:
    """A distance along a run, m from its start."""

    run: str
    at_m: float


@dataclass(frozen=True)
class Join:
    """An end of a run that meets another run (or its own) at a place."""

    run: str
    at_m: float
    onto: Place


@dataclass(frozen=True)
class Crossing:
    """Two runs that cross without a join."""

    first: str
    second: str
    point: Position


@lru_cache(maxsize=512)
def line_of(run: Run) -> LineString:
    """The run as a line, m."""
    return LineString(run.points)


def length_m(run: Run) -> float:
    """Length of a run, m."""
    return float(line_of(run).length)


def distances_m(run: Run) -> Real:
    """Distance of each point of a run from its start (n,), m."""
    steps = np.hypot(*np.diff(np.array(run.points), axis=0).T)
    along: Real = np.concatenate([[0.0], np.cumsum(steps)])
    return along


def turns(run: Run) -> list[tuple[float, float]]:
    """Distance and turn in degrees of each inner point of a run."""
    steps = np.diff(np.array(run.points), axis=0)
    headings = np.degrees(np.arctan2(steps[:, 1], steps[:, 0]))
    change = np.abs((np.diff(headings) + 180) % 360 - 180)
    return list(zip(distances_m(run)[1:-1].tolist(), change.tolist(), strict=True))


@lru_cache(maxsize=64)
def nearest_place(runs: tuple[Run, ...], point: Position) -> tuple[Place, float] | None:
    """The place on any run nearest to a point and its distance, m; None without runs."""
    best: tuple[Place, float] | None = None
    for run in runs:
        line, at = line_of(run), Point(point)
        away = float(line.distance(at))
        if best is None or away < best[1] - 1e-9:
            best = Place(run.id, float(line.project(at))), away
    return best


def joins(plan: Plan) -> tuple[Join, ...]:
    """Ends of runs that meet another run, or their own start."""
    return _joins(plan.runs)


@lru_cache(maxsize=64)
def _joins(runs: tuple[Run, ...]) -> tuple[Join, ...]:
    found = []
    for run in runs:
        own = length_m(run)
        for at, point in ((0.0, run.points[0]), (own, run.points[-1])):
            onto = _meeting(runs, run, at, point)
            if onto:
                found.append(Join(run.id, at, onto))
    return tuple(found)


def _meeting(runs: tuple[Run, ...], run: Run, at: float, point: Position) -> Place | None:
    best: tuple[float, Place] | None = None
    for other in runs:
        if other.id == run.id:
            # Its own line counts only away from this very end: a ring that closes on itself.
            if at == 0.0 or math.dist(point, run.points[0]) > JOIN_M:
                continue
            return Place(run.id, 0.0)
        line = line_of(other)
        away = float(line.distance(Point(point)))
        if away <= JOIN_M and (best is None or away < best[0]):
            best = away, Place(other.id, float(line.project(Point(point))))
    return best and best[1]


def crossings(plan: Plan) -> tuple[Crossing, ...]:
    """Places where lines cross without a join, within one run or between two."""
    found = []
    runs = plan.runs
    for i, run in enumerate(runs):
        line = line_of(run)
        if not line.is_simple and not _only_closes(run):
            found.append(Crossing(run.id, run.id, run.points[len(run.points) // 2]))
        for other in runs[i + 1 :]:
            meet = line.intersection(line_of(other))
            for part in getattr(meet, "geoms", [meet]):
                if part.is_empty:
                    continue
                spot = part.representative_point() if part.length else part
                ends = [Point(p) for r in (run, other) for p in (r.points[0], r.points[-1])]
                if min(spot.distance(end) for end in ends) > JOIN_M:
                    found.append(Crossing(run.id, other.id, (float(spot.x), float(spot.y))))
    return tuple(found)


def _only_closes(run: Run) -> bool:
    """A ring drawn round to its own start touches itself only there."""
    if math.dist(run.points[0], run.points[-1]) > JOIN_M:
        return False
    return bool(LineString(run.points[:-1]).is_simple)


@dataclass(frozen=True)
class Feed:
    """Where the energizer's lead-out meets the fence and how long it is, m."""

    place: Place
    lead_m: float


def feed(plan: Plan, assumed_lead_m: float = 20.0) -> Feed | None:
    """The lead-out: from the energizer to the nearest place on a run; None without runs."""
    if not plan.runs:
        return None
    if plan.energizer_at is None:
        return Feed(Place(plan.runs[0].id, 0.0), assumed_lead_m)
    found = nearest_place(plan.runs, plan.energizer_at)
    return found and Feed(*found)


def fed_runs(plan: Plan) -> set[str]:
    """Ids of the runs that hang together with the feed, switches and gates shut."""
    start = feed(plan)
    if start is None:
        return set()
    linked: dict[str, set[str]] = {run.id: set() for run in plan.runs}
    for join in joins(plan):
        linked[join.run].add(join.onto.run)
        linked[join.onto.run].add(join.run)
    reached, todo = set(), [start.place.run]
    while todo:
        run = todo.pop()
        if run not in reached:
            reached.add(run)
            todo.extend(linked[run])
    return reached


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
