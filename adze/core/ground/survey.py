"""The fence as it lies: distances along runs, where runs join, what crosses, what hangs on what."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from shapely import LineString, Point, STRtree, linestrings

from adze.core.basics.cache import kept
from adze.core.ground.lines import distances_m, length_m, line_of
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Meeting, Run
from adze.core.plan.scalars import Position

JOIN_M = 0.5  # ends nearer than this to a line are joined to it
SAID_WITHIN_M = 25.0  # a meeting said of two lines stays theirs while they move this far


@dataclass(frozen=True)
class Join:
    """An end of a run that meets another run (or its own) at a place."""

    run: str
    at_m: float
    onto: Place


@dataclass(frozen=True)
class Crossing:
    """Two runs (or one with itself) that cross away from their ends; `said` when the plan says which it is."""

    first: Place
    second: Place
    point: Position
    joined: bool
    said: bool


@dataclass(frozen=True)
class Survey:
    """The lines of a plan as shapes, where ends join, which ends touch but are kept apart, what crosses."""

    lines: dict[str, LineString]
    joins: tuple[Join, ...]
    apart: tuple[Join, ...]
    crossings: tuple[Crossing, ...]


def survey(plan: Plan) -> Survey:
    """The lines, joins and crossings of a plan, found once."""
    return _survey(plan.runs, plan.meetings)


def joins(plan: Plan) -> tuple[Join, ...]:
    """Ends of runs that meet another run, or their own line, and are not kept apart."""
    return survey(plan).joins


def crossings(plan: Plan) -> tuple[Crossing, ...]:
    """Places where lines cross away from their ends, within one run or between two."""
    return survey(plan).crossings


@kept("survey", 16, same=2)
def _survey(runs: tuple[Run, ...], meetings: tuple[Meeting, ...]) -> Survey:
    shapes = [line_of(run) for run in runs]
    tree, by_id = STRtree(shapes), {run.id: run for run in runs}
    met: list[Join] = []
    apart: list[Join] = []
    for join in _end_joins(runs, shapes, tree):
        said = _said(meetings, join.run, join.onto.run, _end_point(by_id[join.run], join))
        (apart if said is False else met).append(join)
    return Survey(
        {run.id: shape for run, shape in zip(runs, shapes, strict=True)},
        tuple(met),
        tuple(apart),
        tuple(_crossings(runs, shapes, tree, meetings)),
    )


def _end_point(run: Run, join: Join) -> Position:
    return run.points[0] if join.at_m == 0.0 else run.points[-1]


def _said(meetings: tuple[Meeting, ...], first: str, second: str, point: Position) -> bool | None:
    """What the plan says of a meeting of two runs near a point: joined, apart, or nothing."""
    pair = {first, second}
    near = [(math.dist(m.at, point), m.joined) for m in meetings if {m.first, m.second} == pair]
    away, joined = min(near, default=(math.inf, False))
    return joined if away <= SAID_WITHIN_M else None


def _end_joins(runs: tuple[Run, ...], shapes: list[LineString], tree: STRtree) -> Iterator[Join]:
    if not runs:
        return
    lines = np.array(shapes, dtype=object)
    points = np.array([end for run in runs for end in _ends(run)], dtype=object)
    end, other = tree.query(points, predicate="dwithin", distance=JOIN_M)
    end, other = end[end // 2 != other], other[end // 2 != other]
    away = shapely.distance(lines[other], points[end])
    order = np.lexsort((other, away, end))
    end, other = end[order], other[order]
    first = np.unique(end, return_index=True)[1]
    ats = shapely.line_locate_point(lines[other[first]], points[end[first]])
    onto = {int(end[k]): (int(other[k]), float(at)) for k, at in zip(first, np.atleast_1d(ats), strict=True)}
    for number in range(2 * len(runs)):
        run = runs[number // 2]
        own = length_m(run) if number % 2 else 0.0
        if number in onto:
            k, at_m = onto[number]
            yield Join(run.id, own, Place(runs[k].id, at_m))
        elif (loop := _loops(run)[number % 2]) is not None:
            yield Join(run.id, own, Place(run.id, loop))


@kept("ends of runs", 8192, same=1)
def _ends(run: Run) -> tuple[Point, Point]:
    return Point(run.points[0]), Point(run.points[-1])


def _onto_itself(run: Run, at: int) -> float | None:
    """Where an end meets its own line away from that end: a ring that closes, or a loop on a stem."""
    if len(run.points) < 4:
        return None
    end = _ends(run)[at]
    rest = LineString(run.points[:-2] if at else run.points[2:])
    if rest.distance(end) > JOIN_M:
        return None
    before = 0.0 if at else float(LineString(run.points[:3]).length)
    onto = before + float(rest.project(end))
    # Start and end on one spot are one join, found from the end.
    return None if not at and onto > length_m(run) - JOIN_M else onto


@kept("loops of runs", 8192, same=1)
def _loops(run: Run) -> tuple[float | None, float | None]:
    return _onto_itself(run, 0), _onto_itself(run, 1)


def _crossings(
    runs: tuple[Run, ...], shapes: list[LineString], tree: STRtree, meetings: tuple[Meeting, ...]
) -> Iterator[Crossing]:
    for run in runs:
        for point in _self_crossings(run):
            places = _two_places(run, point)
            said = _said(meetings, run.id, run.id, point)
            yield Crossing(*places, point, bool(said), said is not None)
    met = tree.query(shapes, predicate="intersects") if shapes else np.empty((2, 0), dtype=int)
    pairs = met[:, met[0] < met[1]].T
    pairs = pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))]
    lines = np.array(shapes, dtype=object)
    meets = shapely.intersection(lines[pairs[:, 0]], lines[pairs[:, 1]])
    for (i, j), meet in zip(pairs.tolist(), meets.tolist(), strict=True):
        ends = [p for r in (runs[i], runs[j]) for p in (r.points[0], r.points[-1])]
        for part in getattr(meet, "geoms", [meet]):
            spot = part.representative_point() if part.length else part
            if part.is_empty or min(math.dist((spot.x, spot.y), end) for end in ends) <= JOIN_M:
                continue
            point = float(spot.x), float(spot.y)
            said = _said(meetings, runs[i].id, runs[j].id, point)
            first, second = (Place(runs[k].id, float(shapes[k].project(spot))) for k in (i, j))
            yield Crossing(first, second, point, bool(said), said is not None)


@kept("self-crossings", 8192, same=1)
def _self_crossings(run: Run) -> tuple[Position, ...]:
    if line_of(run).is_simple:
        return ()
    points = np.array(run.points)
    steps = np.asarray(linestrings(np.stack([points[:-1], points[1:]], axis=1)), dtype=object)
    pairs = STRtree(steps).query(steps, predicate="crosses").T.tolist()
    spots = [steps[i].intersection(steps[j]) for i, j in pairs if i < j]
    return tuple((float(s.x), float(s.y)) for s in spots if isinstance(s, Point))


def _two_places(run: Run, point: Position) -> tuple[Place, Place]:
    """The two distances at which a run passes one point."""
    spot, along = Point(point), distances_m(run)
    steps = [LineString(step) for step in pairwise(run.points)]
    near = sorted(range(len(steps)), key=lambda k: float(steps[k].distance(spot)))[:2]
    first, second = (Place(run.id, float(along[k] + steps[k].project(spot))) for k in sorted(near))
    return first, second
