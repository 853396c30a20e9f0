"""Step one of a design: lines, corners, gates, the energizer's and the rods' places, from the shape that is asked."""

import math
from itertools import pairwise
from typing import Any

from adze.core.design.brief import Around, Brief
from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run
from adze.core.plan.scalars import Position

_FROM_CORNER_M = 3.0  # between a corner's post and a gate's
_UNIT_BACK_M = 6.0  # the energizer outside the first corner
_RODS_BACK_M = 14.0  # the rods behind it, clear of a building's earth
_WAY_BESIDE_M = 8.0
_WAY_KIND = {"lane": "road", "road": "road", "path": "path"}
# Free ground between what is fenced and the line: what reaches in stays out of reach.
_CLEAR_M = {"hive": 3.0, "hutch": 3.0, "nest": 5.0, "tree": 2.5}
_APART_M = {"hive": 1.0, "hutch": 3.0, "nest": 3.0, "tree": 4.0}
_LABEL = {"hive": "Hive", "hutch": "Hen house", "nest": "Nest", "tree": "Tree"}


def lines_of(brief: Brief) -> dict[str, Any]:
    """Runs, landmarks, gates and places as a plan's update."""
    outlines, marks = _outlines(brief)
    runs = [_run(number, points) for number, points in enumerate(outlines, 1)]
    first, inward = runs[0].points[0], _inward(runs[0])
    unit = _moved(first, inward, -_UNIT_BACK_M)
    rods = _moved(first, inward, -_RODS_BACK_M)
    return {
        "runs": [run.model_dump() for run in runs],
        "landmarks": [*marks, *_ways(brief, runs)],
        "fixtures": _gates(brief, runs),
        "energizer_at": unit,
        "rods": {
            "position": rods,
            "bearing_deg": round(math.degrees(math.atan2(-inward[0], -inward[1])) % 360, 1) % 360,
        },
    }


def _outlines(brief: Brief) -> tuple[list[tuple[Position, ...]], list[dict[str, Any]]]:
    shape = brief.shape
    if shape.rectangle:
        return [_ring(shape.rectangle.width_m, shape.rectangle.depth_m)], []
    if shape.area_ha is not None:
        side = math.sqrt(shape.area_ha * 10_000)
        return [_ring(side, side)], []
    if shape.straight_m is not None:
        return [((0.0, 0.0), (shape.straight_m, 0.0))], []
    if shape.round:
        return _around(shape.round)
    return [tuple(line) for line in shape.lines or ()], []


def _ring(width_m: float, depth_m: float) -> tuple[Position, ...]:
    east, north = round(width_m, 2), round(depth_m, 2)
    return ((0.0, 0.0), (east, 0.0), (east, north), (0.0, north), (0.0, 0.0))


def _around(thing: Around) -> tuple[list[tuple[Position, ...]], list[dict[str, Any]]]:
    """Things in rows of up to four, and a ring that leaves room to work and keeps them out of reach."""
    clear, apart = _CLEAR_M[thing.kind], _APART_M[thing.kind]
    columns = min(thing.count, 4)
    rows = math.ceil(thing.count / columns)
    marks = [
        {
            "id": f"{thing.kind}{i + 1}",
            "kind": thing.kind if thing.kind != "tree" else "mark",
            "name": f"{_LABEL[thing.kind]} {i + 1}",
            "points": [[clear + i % columns * apart, clear + i // columns * apart]],
        }
        for i in range(thing.count)
    ]
    return [_ring(2 * clear + (columns - 1) * apart, 2 * clear + (rows - 1) * apart)], marks


def _run(number: int, points: tuple[Position, ...]) -> Run:
    closed = len(points) > 2 and math.dist(points[0], points[-1]) < 0.5
    name = "Outer line" if closed and number == 1 else f"Line {number}" if number > 1 else "Line"
    use = "fence" if number == 1 or closed else "cross"
    return Run.model_validate({"id": f"line{number}", "name": name, "points": points, "use": use})


def _inward(run: Run) -> tuple[float, float]:
    """From a line's first point towards what it goes round, or on along it; of length 1."""
    east = sum(p[0] for p in run.points) / len(run.points) - run.points[0][0]
    north = sum(p[1] for p in run.points) / len(run.points) - run.points[0][1]
    size = math.hypot(east, north) or 1.0
    return east / size, north / size


def _moved(at: Position, way: tuple[float, float], metres: float) -> Position:
    return round(at[0] + way[0] * metres, 2), round(at[1] + way[1] * metres, 2)


def _ways(brief: Brief, runs: list[Run]) -> list[dict[str, Any]]:
    """A lane, road or path along the first side, outside the fence."""
    (east, north), (to_east, to_north) = runs[0].points[:2]
    size = math.hypot(to_east - east, to_north - north)
    along = ((to_east - east) / size, (to_north - north) / size)
    inward = _inward(runs[0])
    side = 1.0 if along[0] * inward[1] - along[1] * inward[0] >= 0 else -1.0
    out = (along[1] * side, -along[0] * side)
    rows = []
    for i, kind in enumerate(dict.fromkeys(brief.beside)):
        away = _WAY_BESIDE_M + 12.0 * i
        ends = [
            _moved(_moved((east, north), out, away), along, -20.0),
            _moved(_moved((to_east, to_north), out, away), along, 20.0),
        ]
        rows.append({"id": f"way{i + 1}", "kind": _WAY_KIND[kind], "name": kind.capitalize(), "points": ends})
    return rows


def _gates(brief: Brief, runs: list[Run]) -> list[dict[str, Any]]:
    """Gates near the energizer's corner, then one in each cross line, then at the other corners of the first line."""
    places = [(run, _FROM_CORNER_M) for run in runs]
    corners = _corners_m(runs[0])[1:-1]
    places += [(runs[0], at + _FROM_CORNER_M) for at in corners]
    rows: list[dict[str, Any]] = []
    longest_m = max(math.dist(a, b) for run in runs for a, b in pairwise(run.points))
    widest_m = max((gate.width_m for gate in brief.gates), default=0.0)
    if widest_m > longest_m:
        raise ValueError(
            f"a gate of {widest_m:g} m is wider than the longest side, {longest_m:g} m; take a narrower one"
        )
    for number, gate in enumerate(brief.gates, 1):
        fits = [(run, at) for run, at in places if at - _FROM_CORNER_M + gate.width_m <= _side_m(run, at)]
        if not fits:
            break
        run, at = fits[0]
        places.remove(fits[0])
        rows.append(
            {
                "id": f"gate{number}",
                "kind": "gate",
                "name": f"Gate {number}",
                "run": run.id,
                "at_m": round(min(at + gate.width_m / 2, _side_m(run, at) - gate.width_m / 2), 2),
                "width_m": gate.width_m,
            }
        )
    return rows


def _side_m(run: Run, at_m: float) -> float:
    """How far along a line the side ends that a place lies on, m."""
    return min((corner for corner in _corners_m(run) if corner > at_m), default=length_m(run))


def _corners_m(run: Run) -> list[float]:
    """How far along a line its corners lie, m, its ends with them."""
    found = [0.0]
    for a, b in zip(run.points, run.points[1:], strict=False):
        found.append(found[-1] + math.dist(a, b))
    return found


def laid_out(brief: Brief) -> Plan:
    """A plan with the lines of a brief and nothing decided yet."""
    update = lines_of(brief)
    rods = update.pop("rods")
    return Plan.model_validate({"name": brief.name, "rods": rods, **update})
