"""Grazing blocks: the faces that the lines enclose, their area and water, and how to divide and strip them."""

from dataclasses import dataclass

import numpy as np
import shapely
from scipy.optimize import brentq
from shapely import LineString, Point, Polygon, STRtree, box, unary_union
from shapely.affinity import rotate
from shapely.geometry.base import BaseGeometry
from shapely.ops import polygonize

from adze.core.basics.cache import cached_by_fields
from adze.core.basics.units import M_PER_FT
from adze.core.ground.lines import point_at, shape_of
from adze.core.ground.survey import survey
from adze.core.plan.document import Plan
from adze.core.plan.ground import Moves
from adze.core.plan.scalars import Position

WATER_KINDS = ("trough", "water_point", "well", "stream", "water")
_TAPS = ("trough", "water_point", "well", "pipe")  # what a hose is filled from
_REACH_M = 3.0  # stock drink across the line this far
_LEAST_M2 = 25.0
_EDGE_M = 0.6  # a line this near a block's edge, for more than the next figure, stands around it
_ALONG_M = 1.0
_BESIDE_M = 1.5  # to the spots beside a line that tell which side is grazed
_SAMPLES = 16  # of them along a line
ON_EDGE_M = 1.5  # a gate this near a block's edge stands in it
_SLACK = 1.1  # of a hose over the straight way


@dataclass(frozen=True)
class GrazingBlock:
    """A face between lines: its name, a spot inside, its area, the runs around it, and the water reached."""

    id: str
    name: str
    at: Position
    area_m2: float
    runs: tuple[str, ...]
    water: tuple[str, ...]
    farthest_water_m: float | None
    shape: Polygon


@dataclass(frozen=True)
class TankSource:
    """Where a hose is filled from: its name, and m of hose to just inside each block, the nearest block first."""

    name: str
    hose_m: tuple[tuple[str, float], ...]

    @property
    def longest_m(self) -> float:
        """The hose with which one tank serves all blocks from here."""
        return self.hose_m[-1][1]


@dataclass(frozen=True)
class Strip:
    """One strip of a block: its area, the temporary line that closes it, the way to water, and the gates into it."""

    number: int
    area_m2: float
    line: tuple[Position, ...]
    length_m: float
    water_m: float | None
    gates: tuple[str, ...] = ()


def _faces(plan: Plan) -> list[Polygon]:
    found = survey(plan)
    by_id = {run.id: run for run in plan.runs}
    parts: list[BaseGeometry] = [found.lines[run.id] for run in plan.runs if run.use != "temporary"]
    for join in (*found.joins, *found.apart):
        # An end may stop up to half a metre short of the line that it joins.
        gap = LineString([point_at(by_id[join.run], join.at_m), point_at(by_id[join.onto.run], join.onto.at_m)])
        if gap.length:
            parts.append(gap)
    faces: list[Polygon] = list(polygonize(unary_union(parts))) if parts else []
    return [face for face in faces if face.area >= _LEAST_M2]


@cached_by_fields("blocks", 16, identity_args=("runs", "meetings", "landmarks", "blocks"))
def blocks(plan: Plan) -> tuple[GrazingBlock, ...]:
    """The blocks of a plan, largest first; temporary lines do not part them."""
    names, tree = list(survey(plan).lines), STRtree(list(survey(plan).lines.values()))
    waters = [(m, shape_of(m)) for m in plan.landmarks if m.kind in WATER_KINDS]
    found = []
    for number, face in enumerate(sorted(_faces(plan), key=lambda f: -f.area), 1):
        spot = face.representative_point()
        named = next((b for b in plan.blocks if face.contains(Point(b.at))), None)
        reached = [(m.name or m.kind, shape) for m, shape in waters if shapely.dwithin(face, shape, _REACH_M)]
        found.append(
            GrazingBlock(
                id=named.id if named else "",
                name=named.name if named else f"Block {number}",
                at=(float(spot.x), float(spot.y)),
                area_m2=float(face.area),
                runs=tuple(names[i] for i in _beside(face, tree)),
                water=tuple(dict.fromkeys(name for name, _ in reached)),
                farthest_water_m=_farthest(face, [shape for _, shape in reached]),
                shape=face,
            )
        )
    return tuple(found)


def _beside(face: Polygon, tree: STRtree) -> list[int]:
    """Which lines a face has along its edge: the edge's pieces lie on them."""
    corners = np.array(face.exterior.coords)
    middles, lengths = (corners[1:] + corners[:-1]) / 2, np.hypot(*np.diff(corners, axis=0).T)
    piece, line = tree.query(shapely.points(middles), predicate="dwithin", distance=_EDGE_M)
    along = np.bincount(line, lengths[piece])
    return [int(i) for i in np.flatnonzero(along > _ALONG_M)]


def _farthest(face: Polygon, waters: list[BaseGeometry]) -> float | None:
    """How far an animal at the block's farthest corner walks to the nearest water, m as the crow flies."""
    if not waters:
        return None
    all_water = unary_union(waters)
    return max(float(Point(p).distance(all_water)) for p in face.exterior.coords)


def tank_sources(plan: Plan) -> tuple[TankSource, ...]:
    """Where one tank that is moved along could be filled from by a hose, the shortest hose for all blocks first.

    Straight over the ground and under the lines; a hose is laid with a tenth more.
    """
    found, sources = blocks(plan), [m for m in plan.landmarks if m.kind in _TAPS]
    rows = []
    for mark in sources if found else ():
        away = [(block.name, _SLACK * float(block.shape.distance(shape_of(mark)))) for block in found]
        rows.append(TankSource(mark.name or mark.kind, tuple(sorted(away, key=lambda row: row[1]))))
    return tuple(sorted(rows, key=lambda row: row.longest_m))


def gates_of(plan: Plan, shape: BaseGeometry) -> tuple[str, ...]:
    """Names of the gates that stand in the edge of a block or of a part of it."""
    runs = {run.id: run for run in plan.runs}
    gates = [f for f in plan.fixtures if f.kind == "gate" and f.run in runs]
    return tuple(f.name for f in gates if shape.boundary.distance(Point(point_at(runs[f.run], f.at_m))) < ON_EDGE_M)


def block_at(plan: Plan, spot: Position) -> GrazingBlock | None:
    """The block around a spot."""
    return next((b for b in blocks(plan) if b.shape.contains(Point(spot))), None)


def stock_sides(plan: Plan) -> dict[str, str]:
    """The side of each run that stock graze, going from its start: "left" or "right"; none where no block lies.

    The side with more of a block beside it counts; where blocks lie on both, as along a cross-fence, the left.
    """
    grazed = shapely.union_all([b.shape for b in blocks(plan)])
    sides: dict[str, str] = {}
    for run in plan.runs:
        line = LineString(run.points)
        along_m = (np.arange(_SAMPLES) + 0.5) * line.length / _SAMPLES
        here, next_ = (
            shapely.get_coordinates(shapely.line_interpolate_point(line, along_m + step_m)) for step_m in (0.0, 0.01)
        )
        ahead = (next_ - here) / np.linalg.norm(next_ - here, axis=1, keepdims=True)
        beside = np.stack([-ahead[:, 1], ahead[:, 0]], axis=1) * _BESIDE_M
        left, right = (int(shapely.contains_xy(grazed, here + way * beside).sum()) for way in (1, -1))
        if left or right:
            sides[run.id] = "left" if left >= right else "right"
    return sides


def divide(face: Polygon, parts: int, bearing_deg: float) -> tuple[LineString, ...]:
    """Lines along a bearing that cut a face into parts of equal area, in order to the right of the bearing."""
    # Turned so that the bearing points north: every cut is then a line of one easting.
    turned = rotate(face, bearing_deg, origin=(0, 0))
    west, south, east, north = turned.bounds

    def area_to(x: float) -> float:
        return float(turned.intersection(box(west - 1, south - 1, x, north + 1)).area)

    cuts = []
    for i in range(1, parts):
        wanted = turned.area * i / parts
        x = brentq(lambda x, w=wanted: area_to(x) - w, west, east, xtol=1e-4)
        met = turned.intersection(LineString([(x, south - 1), (x, north + 1)]))
        longest = max(getattr(met, "geoms", [met]), key=lambda part: part.length)
        cuts.append(rotate(LineString(longest.coords), -bearing_deg, origin=(0, 0)))
    return tuple(cuts)


@cached_by_fields("strips", 16, identity_args=("runs", "fixtures", "meetings", "landmarks", "blocks"))
def strips(plan: Plan, moves: Moves) -> tuple[Strip, ...]:
    """The strips of a plan of moves in order; empty where its spot lies in no block."""
    block = block_at(plan, moves.at)
    if block is None:
        return ()
    cuts = divide(block.shape, moves.strips, moves.bearing_deg)
    waters = [shape_of(m) for m in plan.landmarks if m.kind in WATER_KINDS]
    water = unary_union(waters) if waters else None
    found = []
    turned = rotate(block.shape, moves.bearing_deg, origin=(0, 0))
    west, south, east, north = turned.bounds
    before = west - 1
    for number in range(1, moves.strips + 1):
        cut = cuts[number - 1] if number < moves.strips else None
        x = float(rotate(cut, moves.bearing_deg, origin=(0, 0)).coords[0][0]) if cut else east
        # Grazed strips stay open behind the herd: the way to water leads over them.
        own = turned.intersection(box(before, south - 1, x, north + 1))
        line = tuple((round(e, 3), round(n, 3)) for e, n in cut.coords) if cut else ()
        shape = rotate(own, -moves.bearing_deg, origin=(0, 0))
        corners = _outline(shape)
        away = None if water is None else max(float(Point(p).distance(water)) for p in corners)
        found.append(
            Strip(number, float(own.area), line, float(cut.length) if cut else 0.0, away, gates_of(plan, shape))
        )
        before = x
    return tuple(found)


def _outline(shape: BaseGeometry) -> list[tuple[float, ...]]:
    return [tuple(p) for part in getattr(shape, "geoms", [shape]) for p in part.exterior.coords]


def hectares(area_m2: float) -> float:
    """Area in ha."""
    return area_m2 / 10_000


def acres(area_m2: float) -> float:
    """Area in acres of 43,560 square feet."""
    return area_m2 / (43_560 * M_PER_FT**2)
