"""Where rods may stand: places refused with the reason, and the dampest, quietest rows that are left.

Distances are those of common practice (docs/physics.md, "Distances"); local codes come first.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Point
from shapely.geometry.base import BaseGeometry

from adze.core.build.rods import places_of
from adze.core.ground.lines import line_of, point_at, run_of, shape_of
from adze.core.ground.nearby import name_of
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.scalars import Position
from adze.core.tables.ground import landmark_kinds, soils

APART_M = 3.0
_REACH_M, _GRID_M = 160.0, 10.0
_BEARINGS = tuple(range(0, 360, 45))
_FEW, _UNLIKE_M = 3, 30.0
_DAMP_M, _SHADE_M, _FENCE_M = 12.0, 8.0, 2.5
_LEAD_WORTH = 0.02  # of a score for each metre of lead
# How far rods keep off what would break them or be hurt by them, m, and why.
_KEPT_OFF = {
    "road": (3.0, "wheels"),
    "track": (3.0, "wheels"),
    "path": (2.0, "feet trip on them"),
    "yard": (3.0, "hooves and wheels"),
    "boundary": (1.0, "the neighbour's ground"),
    "buried": (10.0, "a buried cable"),
    "rock": (0.5, "rock: they cannot be driven"),
    "water": (0.0, "they would stand in it"),
    "field": (0.0, "the plough"),
}
_GATE_M = 5.0


@dataclass(frozen=True)
class Site:
    """A row proposed: its first rod and bearing, how far the lead is, and what speaks for it."""

    at: Position
    bearing_deg: float
    lead_m: float
    score: float
    reasons: tuple[str, ...]

    def row(self, rods: Rods) -> tuple[Position, ...]:
        """Where its rods would stand."""
        moved = {"position": self.at, "bearing_deg": self.bearing_deg, "places": (), "layout": "row"}
        return places_of(replaced(rods, **moved))


@dataclass(frozen=True)
class Refusal:
    """Why a rod may not stand at a spot; `is_clearance`: by the clearance of a landmark's kind, judged by siting."""

    words: str
    is_clearance: bool = False


def _keep_off(plan: Plan) -> list[tuple[BaseGeometry, float, Refusal]]:
    """Shapes, how far to keep off each in m, and why."""
    found: list[tuple[BaseGeometry, float, Refusal]] = []
    for mark in plan.landmarks:
        kind = landmark_kinds()[mark.kind]
        clear, why = _KEPT_OFF.get(mark.kind, (0.0, ""))
        if kind.rods_clear_m:
            clear, why = kind.rods_clear_m, "its earth and pipes would carry the pulse"
        if why:
            words = f"{_words(clear)}{name_of(mark)}: {why}"
            found.append((shape_of(mark), clear, Refusal(words, is_clearance=kind.rods_clear_m > 0)))
    for fixture in plan.fixtures:
        if fixture.kind == "gate":
            spot = Point(point_at(run_of(plan, fixture.run), fixture.at_m))
            found.append((spot, _GATE_M, Refusal(f"{_words(_GATE_M)}{fixture.name}: hooves and wheels")))
    return found


def _words(clear_m: float) -> str:
    return f"within {clear_m:g} m of " if clear_m else "in "


def refusals(plan: Plan, spots: Sequence[Position]) -> list[Refusal | None]:
    """Why a rod may not stand at each spot; None where it may."""
    rows = _keep_off(plan)
    return [next((why for shape, clear, why in rows if shape.distance(Point(at)) <= clear), None) for at in spots]


def snapped(plan: Plan, spot: Position) -> Position:
    """The spot moved so far that it lies 3 m from every other rod."""
    x, y = spot
    for _ in range(8):
        near = [at for at in placed(plan) if math.dist(at, (x, y)) < APART_M - 1e-6]
        if not near:
            break
        ax, ay = min(near, key=lambda at: math.dist(at, (x, y)))
        size = math.dist((ax, ay), (x, y))
        east, north = ((x - ax) / size, (y - ay) / size) if size > 1e-6 else (1.0, 0.0)
        x, y = ax + APART_M * east, ay + APART_M * north
    return round(x, 2), round(y, 2)


def placed(plan: Plan) -> tuple[Position, ...]:
    """Where the rods stand, if they have a place."""
    return places_of(plan.rods) if plan.rods.position or plan.rods.places else ()


def proposed(plan: Plan) -> tuple[Site, ...]:
    """The best rows for the plan's rods within reach of its energizer; none while it has no place."""
    home, rods = plan.energizer_at, plan.rods
    if home is None or rods.count < 1:
        return ()
    steps = np.arange(-_REACH_M, _REACH_M + 1, _GRID_M)
    starts = np.round(np.array(home) + np.stack(np.meshgrid(steps, steps, indexing="ij"), axis=-1).reshape(-1, 2), 2)
    lead_m = np.array([math.dist(home, start) for start in starts])
    starts, lead_m = starts[lead_m <= _REACH_M], lead_m[lead_m <= _REACH_M]
    bearings = _BEARINGS if rods.count > 1 else _BEARINGS[:1]
    # From the origin: the rows of one bearing are the same but for where they begin.
    offsets = np.array([Site((0.0, 0.0), float(bearing), 0.0, 0.0, ()).row(rods) for bearing in bearings])
    rows = (starts[:, None, None] + offsets).reshape(-1, rods.count, 2)
    turns, lead_m = np.tile(bearings, len(starts)), np.repeat(lead_m, len(bearings))
    shapes = np.asarray(
        shapely.multipoints(rows.reshape(-1, 2), indices=np.repeat(np.arange(len(rows)), rods.count)), dtype=object
    )
    free = np.ones(len(rows), dtype=bool)
    for shape, clear, _ in _keep_off(plan):
        free &= shapely.distance(shapes, shape) > clear
    firsts, turns, lead_m, shapes = rows[free, 0], turns[free], lead_m[free], shapes[free]
    score, good = -_LEAD_WORTH * lead_m, []
    for words, near, worth, of in _merits(plan):
        # What the soil does goes by where the middle of the row lies (core.build.rods).
        here = shapely.distance(shapely.centroid(shapes) if near == 0.0 else shapes, of) <= near
        score = score + worth * here
        good.append((words, here))
    best: list[Site] = []
    for i in np.argsort(-score):
        east, north = firsts[i].tolist()
        if all(math.dist((east, north), other.at) > _UNLIKE_M for other in best):
            reasons = tuple(dict.fromkeys(words for words, here in good if here[i]))
            best.append(Site((east, north), float(turns[i]), float(lead_m[i]), float(score[i]), reasons))
        if len(best) == _FEW:
            break
    return tuple(best)


def _merits(plan: Plan) -> list[tuple[str, float, float, BaseGeometry]]:
    """What makes a place better or worse for rods: in words, within how far, how much it counts, where."""
    found: list[tuple[str, float, float, BaseGeometry]] = []
    own = soils()[plan.soil].ohm_m
    for mark in plan.landmarks:
        shape = shape_of(mark)
        if mark.kind == "soil" and mark.soil and soils()[mark.soil].ohm_m != own:
            soil = soils()[mark.soil]
            better = "better" if soil.ohm_m < own else "worse"
            found.append((f"{soil.label.lower()}, {better} than around", 0.0, 2 * math.log(own / soil.ohm_m), shape))
        elif mark.kind == "hollow":
            found.append((f"damp all year: {name_of(mark)}", 0.0, 3.0, shape))
        elif mark.kind in ("stream", "water"):
            found.append((f"damp: {name_of(mark)}", _DAMP_M, 2.0, shape))
        elif mark.kind in ("wood", "tree", "building"):
            found.append((f"shaded: {name_of(mark)}", _SHADE_M, 0.7, shape))
    found += [("along the fence, where nothing drives", _FENCE_M, 0.3, line_of(run)) for run in plan.runs]
    return found


def along_fence(spot: Position, bearing_of: Sequence[Position]) -> dict[str, object]:
    """A row beside a stretch of fence from a spot, half a metre off it: what it sets of the rods."""
    (ax, ay), (bx, by) = bearing_of[0], bearing_of[-1]
    bearing = math.degrees(math.atan2(bx - ax, by - ay)) % 360
    turn = math.radians(bearing + 90)
    at = (round(spot[0] + 0.5 * math.sin(turn), 2), round(spot[1] + 0.5 * math.cos(turn), 2))
    return {"position": at, "bearing_deg": round(bearing, 1), "places": [], "layout": "row"}
