"""Setting a line out: by lengths and bearings, at a fixed distance from something, as a square, as a lane."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from shapely import LineString, Point, Polygon, box
from shapely.geometry.base import BaseGeometry

from adze.core.basics.units import parse_length_m
from adze.core.plan.scalars import SPOT_M, Position

_POINTS = {
    p: i * 22.5
    for i, p in enumerate("N NNE NE ENE E ESE SE SSE S SSW SW WSW W WNW NW NNW".split())  # noqa: SIM905
}
_QUADRANT = re.compile(r"([NS])\s*(\d{1,2}(?:[.,]\d+)?)\s*°?\s*([EW])")
_DEGREES = re.compile(r"[+-]?\d{1,3}(?:[.,]\d{1,6})?")
MOST_LEGS = 500


def parse_bearing_deg(text: str) -> float:
    """Degrees from north to the east of a typed bearing: 45, 45°, NE, N 30 E. Raises ValueError."""
    shown = " ".join(text.replace("º", "°").split()).upper()
    if shown in _POINTS:
        return _POINTS[shown]
    if match := _QUADRANT.fullmatch(shown):
        turn = float(match[2].replace(",", "."))
        if turn <= 90:
            north, east = match[1] == "N", match[3] == "E"
            return (turn if east else -turn) % 360 if north else 180 - turn if east else 180 + turn
    plain = shown.removesuffix("°").removesuffix("DEG").strip()
    if _DEGREES.fullmatch(plain) and -360 <= float(plain.replace(",", ".")) <= 360:
        return float(plain.replace(",", ".")) % 360
    raise ValueError(f"{text.strip()!r} is not a bearing; write degrees from north such as 45, or NE, or N 30 E")


def parse_legs(text: str, unit: str = "m") -> tuple[tuple[float, float], ...]:
    """Length in m and bearing in degrees of each line of text, such as `120 m NE` or `85, 310`.

    Raises ValueError naming the line.
    """
    rows = [row.strip() for row in re.split(r"[\n|]", text) if row.strip()]
    if not rows:
        raise ValueError("write one stretch to a line: a length and a bearing, such as 120 m NE")
    if len(rows) > MOST_LEGS:
        raise ValueError(f"{len(rows)} stretches: at most {MOST_LEGS} are taken at once")
    legs = []
    for number, row in enumerate(rows, 1):
        try:
            legs.append(_leg(row, unit))
        except ValueError as fault:
            raise ValueError(f"line {number}: {fault}") from fault
    return tuple(legs)


def _leg(row: str, unit: str) -> tuple[float, float]:
    # The bearing is the shortest tail that leaves a length before it: "5 ft 6 in N 30 E".
    fault: ValueError | None = None
    cuts = [m.start() for m in re.finditer(r"[\s,;@]+", row)]
    for at in cuts:
        head, tail = row[:at], row[at:].strip(" \t,;@")
        try:
            length, bearing = parse_length_m(head, unit), parse_bearing_deg(tail)
        except ValueError as error:
            fault = fault or error
            continue
        if length <= SPOT_M:
            raise ValueError(f"{head!r} is no length to walk; it must be above {SPOT_M * 100:g} cm")
        return length, bearing
    raise fault or ValueError(f"{row!r} needs a length and a bearing, such as 120 m NE")


def walked(start: Position, legs: Sequence[tuple[float, float]]) -> tuple[Position, ...]:
    """The points of a line walked by legs of length (m) and bearing (degrees from north to the east)."""
    points = [start]
    for length, bearing in legs:
        east, north = points[-1]
        turn = math.radians(bearing)
        points.append((round(east + length * math.sin(turn), 3), round(north + length * math.cos(turn), 3)))
    return tuple(points)


def legs_of(points: Sequence[Position]) -> tuple[tuple[float, float], ...]:
    """Length and bearing of each stretch: the way back from `walked`."""
    return tuple((math.dist(a, b), bearing_deg(a, b)) for a, b in pairwise(points))


def bearing_deg(a: Position, b: Position) -> float:
    """Bearing from one point to another, degrees from north to the east."""
    return math.degrees(math.atan2(b[0] - a[0], b[1] - a[1])) % 360


def square_around(centre: Position, side_m: float, turned_deg: float = 0.0) -> tuple[Position, ...]:
    """A closed square around a point, its first side turned from north."""
    half, turn = side_m / 2, math.radians(turned_deg)
    corners = [(-half, -half), (-half, half), (half, half), (half, -half), (-half, -half)]
    c, s = math.cos(turn), math.sin(turn)
    return tuple((round(centre[0] + x * c + y * s, 3), round(centre[1] - x * s + y * c, 3)) for x, y in corners)


def ring_around(shape: BaseGeometry, distance_m: float) -> tuple[Position, ...]:
    """A closed fence everywhere at least `distance_m` from a shape, with square corners.

    A point gets a square whose sides lie at the distance.
    """
    if isinstance(shape, Point):
        return square_around((shape.x, shape.y), 2 * distance_m)
    hull = shape if isinstance(shape, Polygon) else shape.buffer(0.01, cap_style="square", join_style="mitre")
    ring = hull.buffer(distance_m, join_style="mitre", mitre_limit=1.5)
    if isinstance(ring, Polygon):
        return _rounded(list(ring.exterior.coords))
    raise ValueError("the shape has several parts; fence each of them")


def beside(shape: LineString, distance_m: float, *, left: bool) -> tuple[Position, ...]:
    """A line at a fixed distance from another, on its left or right, with square corners.

    Raises ValueError where the line turns so sharply that nothing is left.
    """
    line = shape.offset_curve(distance_m if left else -distance_m, join_style="mitre", mitre_limit=2.0)
    if not isinstance(line, LineString) or line.is_empty or line.length < 1:
        raise ValueError("at that distance the line folds onto itself; take a smaller distance or the other side")
    return _rounded(list(line.coords))


def lane(points: Sequence[Position], width_m: float) -> tuple[tuple[Position, ...], tuple[Position, ...]]:
    """The two sides of a lane along a middle line."""
    middle = LineString(points)
    return beside(middle, width_m / 2, left=True), beside(middle, width_m / 2, left=False)


def _rounded(coordinates: list[tuple[float, ...]]) -> tuple[Position, ...]:
    points: list[Position] = []
    for x, y, *_ in coordinates:
        point = round(x, 3), round(y, 3)
        if not points or math.dist(points[-1], point) > 2 * SPOT_M:
            points.append(point)
    return tuple(points)


@dataclass(frozen=True)
class Peg:
    """A corner to set out from a middle peg: distance m and bearing, and the side to the next corner, m."""

    distance_m: float
    bearing_deg: float
    side_m: float


def pegs(points: Sequence[Position]) -> tuple[Position, tuple[Peg, ...], tuple[float, float]]:
    """A closed figure by tape: its middle, each corner from there, and for four corners both diagonals, m.

    Equal diagonals of a figure with equal opposite sides are what makes it square on the ground.
    """
    corners = list(points[:-1]) if math.dist(points[0], points[-1]) < SPOT_M else list(points)
    shape: BaseGeometry = Polygon(corners) if len(corners) > 2 else box(*LineString(corners).bounds)
    middle = shape.centroid
    centre = round(float(middle.x), 3), round(float(middle.y), 3)
    ring = [*corners, corners[0]]
    rows = tuple(Peg(math.dist(centre, a), bearing_deg(centre, a), math.dist(a, b)) for a, b in pairwise(ring))
    across = (math.dist(corners[0], corners[2]), math.dist(corners[1], corners[3])) if len(corners) == 4 else (0.0, 0.0)
    return centre, rows, across
