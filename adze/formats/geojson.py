"""GeoJSON in and out: longitude and latitude (WGS84) outside, metres from the plan's origin inside."""

import json
import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from pyproj import Transformer

from adze.core.plan import Origin, Plan, Position
from adze.formats.errors import FormatError

_WGS84 = {"urn:ogc:def:crs:OGC:1.3:CRS84", "urn:ogc:def:crs:OGC::CRS84", "EPSG:4326", "urn:ogc:def:crs:EPSG::4326"}
_TOO_FAR_M = 100_000.0
_MOST_POINTS = 20_000


@lru_cache(maxsize=32)
def _projection(lat: float, lon: float) -> Transformer:
    # Equidistant from the farm's origin: true to 0.01 % within any farm.
    local = f"+proj=aeqd +lat_0={lat} +lon_0={lon} +datum=WGS84 +units=m"
    return Transformer.from_crs("EPSG:4326", local, always_xy=True)


def to_metres(origin: Origin, lon: float, lat: float) -> Position:
    """Metres east and north of the origin, to the millimetre."""
    x, y = _projection(origin.lat, origin.lon).transform(lon, lat)
    return round(x, 3), round(y, 3)


def to_degrees(origin: Origin, point: Position) -> tuple[float, float]:
    """Longitude and latitude of a point."""
    lon, lat = _projection(origin.lat, origin.lon).transform(*point, direction="INVERSE")
    return round(lon, 8), round(lat, 8)


@dataclass(frozen=True)
class ImportedLine:
    """A line from outside, in metres of the plan."""

    name: str
    points: tuple[Position, ...]


def read_lines(text: str, origin: Origin | None) -> tuple[Origin, tuple[ImportedLine, ...]]:
    """The lines of a GeoJSON file. Without an origin the first point becomes it.

    Polygons come as rings. Raises FormatError naming the feature.
    """
    try:
        content = json.loads(text, parse_constant=_no_constant)
    except (json.JSONDecodeError, RecursionError) as error:
        raise FormatError(f"GeoJSON: is not JSON ({error})") from error
    if not isinstance(content, dict) or "type" not in content:
        raise FormatError('GeoJSON: has no "type"; this is some other JSON')
    _refuse_projection(content)
    found = list(_lines(content))
    if not found:
        raise FormatError("GeoJSON: holds no LineString or Polygon to take as fence")
    if sum(len(points) for _, points in found) > _MOST_POINTS:
        raise FormatError(f"GeoJSON: holds more than {_MOST_POINTS} points; simplify the lines first")
    if origin is None:
        lon, lat = found[0][1][0]
        origin = Origin(lat=round(lat, 6), lon=round(lon, 6))
    lines = tuple(ImportedLine(name, _metres(name, points, origin)) for name, points in found)
    return origin, lines


def _no_constant(word: str) -> float:
    raise FormatError(f"GeoJSON: holds {word}, which is not a number")


def _refuse_projection(content: dict[str, Any]) -> None:
    crs = content.get("crs")
    if crs is None:
        return
    properties = crs.get("properties") if isinstance(crs, dict) else None
    name = properties.get("name") if isinstance(properties, dict) else None
    if name not in _WGS84:
        raise FormatError(
            f"GeoJSON: is in projection {name!r}; export it again as WGS84 longitude and latitude (EPSG:4326)"
        )


def _lines(content: dict[str, Any], name: str = "") -> Iterator[tuple[str, list[tuple[float, float]]]]:
    kind = content.get("type")
    if kind == "FeatureCollection":
        features = content.get("features")
        if not isinstance(features, list):
            raise FormatError('GeoJSON: "features" must be a list')
        for number, feature in enumerate(features, 1):
            if not isinstance(feature, dict):
                raise FormatError(f"GeoJSON: feature {number} is not an object")
            yield from _lines(feature, f"Line {number}")
    elif kind == "Feature":
        properties = content.get("properties")
        said = properties.get("name") if isinstance(properties, dict) else None
        geometry = content.get("geometry")
        label = str(said)[:80] if said else name or "Line 1"
        if not isinstance(geometry, dict):
            raise FormatError(f"GeoJSON: {label} has no geometry")
        yield from _lines(geometry, label)
    elif kind == "LineString":
        yield name or "Line 1", _points(content.get("coordinates"), name, 2)
    elif kind in ("MultiLineString", "Polygon"):
        parts = content.get("coordinates")
        if not isinstance(parts, list):
            raise FormatError(f"GeoJSON: {name} has no coordinates")
        for number, part in enumerate(parts, 1):
            label = name or "Line"
            yield label if len(parts) == 1 else f"{label} {number}", _points(part, name, 2)
    else:
        raise FormatError(f"GeoJSON: {name or 'the file'} is a {kind}; a fence comes as LineString or Polygon")


def _points(rows: Any, name: str, least: int) -> list[tuple[float, float]]:
    if not isinstance(rows, list) or len(rows) < least:
        raise FormatError(f"GeoJSON: {name or 'a line'} has fewer than {least} points")
    found: list[tuple[float, float]] = []
    for number, row in enumerate(rows, 1):
        plain = isinstance(row, list) and len(row) >= 2
        if not plain or not all(type(x) in (int, float) and math.isfinite(x) for x in row[:2]):
            raise FormatError(f"GeoJSON: point {number} of {name or 'a line'} is not [longitude, latitude]")
        lon, lat = float(row[0]), float(row[1])
        if abs(lon) > 180 or abs(lat) > 90:
            raise FormatError(
                f"GeoJSON: point {number} of {name or 'a line'} is [{lon:g}, {lat:g}]: metres of some projection, not "
                "degrees; export it again as WGS84 longitude and latitude (EPSG:4326)"
            )
        if not found or found[-1] != (lon, lat):
            found.append((lon, lat))
    if len(found) < least:
        raise FormatError(f"GeoJSON: {name or 'a line'} has no length: all its points are one")
    return found


def _metres(name: str, points: list[tuple[float, float]], origin: Origin) -> tuple[Position, ...]:
    found = tuple(to_metres(origin, lon, lat) for lon, lat in points)
    if any(math.hypot(*p) > _TOO_FAR_M for p in found):
        raise FormatError(f"GeoJSON: {name} lies more than 100 km from this plan; begin a new plan for it")
    return found


def write_geojson(plan: Plan) -> str:
    """The plan's runs and fixtures as GeoJSON."""
    features: list[dict[str, Any]] = [
        {
            "type": "Feature",
            "properties": {"name": run.name, "kind": "run"},
            "geometry": {"type": "LineString", "coordinates": [to_degrees(plan.origin, p) for p in run.points]},
        }
        for run in plan.runs
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}, indent=1)
