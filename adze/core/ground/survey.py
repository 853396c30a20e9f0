"""The fence as it lies: distances along runs, where runs join, what crosses, what hangs on what."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import islice

import numpy as np
import shapely
from shapely import LineString, Point, STRtree, linestrings
from shapely.geometry.base import BaseGeometry

from adze.core.basics.cache import cached
from adze.core.ground.lines import distances_m, length_m, line_of
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Meeting, Run
from adze.core.plan.scalars import Position

JOIN_M = 0.5  # ends nearer than this to a line are joined to it
MOST_CROSSINGS = 1000  # of a plan: more is a scribble, of which nobody can say which are joins
_STEPS_AT_ONCE = 32
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


def is_tangle(plan: Plan) -> bool:
    """Whether lines cross more often than a plan may; what lies over the limit is not counted."""
    return len(crossings(plan)) > MOST_CROSSINGS


def joins(plan: Plan) -> tuple[Join, ...]:
    """Ends of runs that meet another run, or their own line, and are not kept apart."""
    return survey(plan).joins


def crossings(plan: Plan) -> tuple[Crossing, ...]:
    """Places where lines cross away from their ends, within one run or between two."""
    return survey(plan).crossings


@cached("survey", 16, identity_args=2)
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
        tuple(islice(_crossings(runs, shapes, tree, meetings), MOST_CROSSINGS + 1)),
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


@cached("ends of runs", 8192, identity_args=1)
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


@cached("loops of runs", 8192, identity_args=1)
def _loops(run: Run) -> tuple[float | None, float | None]:
    return _onto_itself(run, 0), _onto_itself(run, 1)


def _crossings(
    runs: tuple[Run, ...], shapes: list[LineString], tree: STRtree, meetings: tuple[Meeting, ...]
) -> Iterator[Crossing]:
    for run in runs:
        for first_m, second_m, point in _self_crossings(run):
            said = _said(meetings, run.id, run.id, point)
            yield Crossing(Place(run.id, first_m), Place(run.id, second_m), point, bool(said), said is not None)
    met = tree.query(shapes, predicate="intersects") if shapes else np.empty((2, 0), dtype=int)
    pairs = met[:, met[0] < met[1]].T
    pairs = pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))]
    for i, j in pairs.tolist():
        ends = [p for r in (runs[i], runs[j]) for p in (r.points[0], r.points[-1])]
        spots = _spots(shapes[i].intersection(shapes[j]))
        spots = [s for s in spots if min(math.dist((s.x, s.y), end) for end in ends) > JOIN_M]
        ats = (np.atleast_1d(shapely.line_locate_point(shapes[k], spots)) for k in (i, j))
        for spot, first_m, second_m in zip(spots, *ats, strict=True):
            point = float(spot.x), float(spot.y)
            said = _said(meetings, runs[i].id, runs[j].id, point)
            first, second = Place(runs[i].id, float(first_m)), Place(runs[j].id, float(second_m))
            yield Crossing(first, second, point, bool(said), said is not None)


def _spots(meet: BaseGeometry) -> list[Point]:
    """The points at which two lines meet; one for a stretch that they share."""
    parts = [part for part in getattr(meet, "geoms", [meet]) if not part.is_empty]
    return [part.representative_point() if part.length else part for part in parts]


@cached("self-crossings", 8192, identity_args=1)
def _self_crossings(run: Run) -> tuple[tuple[float, float, Position], ...]:
    """Where a run crosses itself: the two distances at which it passes, and the point; at most one over the limit.

    Candidates come from a tree of its steps, some steps at a time, so that a tangle is left as soon as it is known
    to be one.
    """
    if line_of(run).is_simple:
        return ()
    points, along = np.array(run.points), distances_m(run)
    steps = np.asarray(linestrings(np.stack([points[:-1], points[1:]], axis=1)), dtype=object)
    tree, found = STRtree(steps), []
    for start in range(0, len(steps), _STEPS_AT_ONCE):
        i, j = tree.query(steps[start : start + _STEPS_AT_ONCE], predicate="crosses")
        i, j = i[i + start < j] + start, j[i + start < j]
        spots = shapely.intersection(steps[i], steps[j])
        i, j, spots = (rows[shapely.get_type_id(spots) == 0] for rows in (i, j, spots))
        first, second = (along[k] + shapely.line_locate_point(steps[k], spots) for k in (i, j))
        found += [
            (float(a), float(b), (float(x), float(y)))
            for a, b, (x, y) in zip(first, second, shapely.get_coordinates(spots), strict=True)
        ]
        if len(found) > MOST_CROSSINGS:
            break
    return tuple(found[: MOST_CROSSINGS + 1])
