"""CSV of corners: one point a row, by longitude and latitude or by metres, lines told apart by a column."""

import csv
import io
import math
from itertools import groupby

from shapely import from_wkt
from shapely.errors import ShapelyError

from adze.core.plan.document import Plan
from adze.core.plan.ground import Origin
from adze.formats.errors import FormatError
from adze.formats.ground.features import features, plan_words
from adze.formats.ground.imported import ImportedFeatures, ImportedSpot, Line, Part, part_of, plain_name
from adze.formats.ground.projection import to_degrees
from adze.formats.tables.rows_csv import csv_rows, harmless, unguarded

_COLUMNS = {
    "lon": ("lon", "long", "lng", "longitude", "x"),
    "lat": ("lat", "latitude", "y"),
    "east": ("east_m", "east", "easting", "e"),
    "north": ("north_m", "north", "northing", "n"),
    "height": ("height_m", "height", "ele", "elevation", "alt", "altitude", "z"),
    "line": ("line", "run", "track", "fence", "line_id", "track_fid"),
    "name": ("name", "label"),
    "kind": ("kind", "type"),
    "words": ("adze",),
    "wkt": ("wkt", "geometry", "geom"),
}
_HEADER = ("line", "point", "name", "kind", "lon", "lat", "height_m", "adze")
_AWAY_M = 200_000.0


def read_corners(text: str) -> ImportedFeatures:
    """Lines and spots of a table. Raises FormatError naming the row and the column."""
    rows = _table(text)
    if not rows:
        raise FormatError("CSV: is empty; the first row names the columns, such as line,lon,lat")
    names = [cell.strip().lower() for cell in rows[0]]
    columns = {key: next((names.index(n) for n in known if n in names), -1) for key, known in _COLUMNS.items()}
    body = [(number, row) for number, row in enumerate(rows[1:], 2) if any(cell.strip() for cell in row)]
    if columns["wkt"] >= 0 and columns["lon"] < 0:
        return _from_wkt(columns, body)
    metric = columns["east"] >= 0 and columns["north"] >= 0
    if not metric and (columns["lon"] < 0 or columns["lat"] < 0):
        raise FormatError(
            f"CSV: its first row is {', '.join(names)[:80]!r}; it must name the columns lon and lat (or east_m and "
            "north_m), and may name line, name and height_m"
        )
    plan = next((p for _, row in body if (p := part_of(_cell(row, columns["words"]))) and p["part"] == "plan"), None)
    body = [(n, row) for n, row in body if (part_of(_cell(row, columns["words"])) or {}).get("part") != "plan"]
    return _grouped(columns, body, plan, metric=metric and columns["lon"] < 0)


def _table(text: str) -> list[list[str]]:
    first = text.split("\n", 1)[0]
    delimiter = max(",;\t", key=first.count)
    return csv_rows(text, delimiter)


def _cell(row: list[str], column: int) -> str:
    return row[column].strip() if 0 <= column < len(row) else ""


def _number(row: list[str], column: int, where: str, name: str) -> float:
    text = _cell(row, column)
    try:
        value = float(text.replace(",", "."))
    except ValueError as error:
        raise FormatError(f"{where}, {name}: {text[:40]!r} is not a number") from error
    if not math.isfinite(value):
        raise FormatError(f"{where}, {name}: {text[:40]!r} is not a finite number")
    return value


Row = tuple[str, str, Part | None, tuple[float, float], float | None]


def _grouped(
    columns: dict[str, int], body: list[tuple[int, list[str]]], plan: Part | None, *, metric: bool
) -> ImportedFeatures:
    found: list[Row] = []
    keys = ("east", "north") if metric else ("lon", "lat")
    origin = Origin()
    for number, row in body:
        where = f"CSV: row {number}"
        one, two = (_number(row, columns[key], where, key) for key in keys)
        if metric and max(abs(one), abs(two)) > _AWAY_M:
            raise FormatError(f"{where}: {one:g}, {two:g} m lies more than 200 km from zero; give metres from the farm")
        point = to_degrees(origin, [(one, two)])[0] if metric else (one, two)
        height = _number(row, columns["height"], where, "height") if _cell(row, columns["height"]) else None
        words = part_of(_cell(row, columns["words"]))
        found.append((_cell(row, columns["line"]), unguarded(_cell(row, columns["name"])), words, point, height))
    lines: list[Line] = []
    spots: list[ImportedSpot] = []
    for key, group in groupby(found, key=lambda r: r[0] if columns["line"] >= 0 else "Line 1"):
        rows = list(group)
        if columns["line"] >= 0 and not key:
            spots += [ImportedSpot(plain_name(name, "Marked spot"), point, words) for _, name, words, point, _ in rows]
            continue
        name, part = plain_name(rows[0][1] or key, f"Line {len(lines) + 1}"), rows[0][2]
        heights = tuple(h for *_, h in rows)
        closed = bool(part and part.get("closed"))
        own = {k: v for k, v in part.items() if k != "closed"} if part else None
        points = tuple(point for *_, point, _ in rows)
        lines.append(Line(name, points, heights if any(h is not None for h in heights) else (), closed, own))
    zero = {"part": "plan", "origin": origin.model_dump()} if metric and plan is None else plan
    return ImportedFeatures(tuple(lines), tuple(spots), plan=zero)


def _from_wkt(columns: dict[str, int], body: list[tuple[int, list[str]]]) -> ImportedFeatures:
    lines: list[Line] = []
    spots: list[ImportedSpot] = []
    for number, row in body:
        text = _cell(row, columns["wkt"])
        if not text:
            continue
        try:
            shape = from_wkt(text)
        except ShapelyError as error:
            raise FormatError(f"CSV: row {number}: {text[:40]!r} is not a shape in WKT") from error
        name, words = (
            plain_name(unguarded(_cell(row, columns["name"])), f"Line {number - 1}"),
            part_of(_cell(row, columns["words"])),
        )
        for part in getattr(shape, "geoms", [shape]):
            ring = part.exterior if part.geom_type == "Polygon" else part
            coordinates = list(ring.coords)
            points = tuple((float(c[0]), float(c[1])) for c in coordinates)
            heights = tuple(float(c[2]) for c in coordinates) if ring.has_z else ()
            if len(points) == 1:
                spots.append(ImportedSpot(name, points[0], words))
            else:
                lines.append(Line(name, points, heights, part.geom_type == "Polygon", words))
    return ImportedFeatures(tuple(lines), tuple(spots))


def write_corners(plan: Plan) -> str:
    """One row a point; rows without a line are spots, the last one carries the plan's own words."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(_HEADER)
    count = 0
    for feature in features(plan):
        words = feature.words
        if feature.shape == "Polygon":
            words = words[:-1] + ',"closed":true}'
        if feature.shape != "Point":
            count += 1
        heights = feature.heights or (None,) * len(feature.points)
        for number, ((lon, lat), height) in enumerate(zip(feature.points, heights, strict=True), 1):
            line = "" if feature.shape == "Point" else count
            tail = ("" if height is None else height, words if number == 1 else "")
            writer.writerow([line, number, harmless(feature.name), feature.kind, f"{lon:.9f}", f"{lat:.9f}", *tail])
    writer.writerow(["", "", harmless(plan.name), "plan", "", "", "", plan_words(plan)])
    return out.getvalue()
