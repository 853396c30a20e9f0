"""GeoJSON in and out (RFC 7946): longitude and latitude, WGS84, heights as third figure."""

import json
import math
from collections.abc import Iterator
from typing import Any

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.ground.features import Feature, features, plan_words
from adze.formats.ground.imported import ImportedFeatures, ImportedSpot, Line, Part, part_of, plain_name
from adze.formats.json_text import read_json

_WGS84 = {
    "urn:ogc:def:crs:OGC:1.3:CRS84",
    "urn:ogc:def:crs:OGC::CRS84",
    "urn:ogc:def:crs:OGC::CRS84h",
    "EPSG:4326",
    "urn:ogc:def:crs:EPSG::4326",
    "EPSG:4979",
    "urn:ogc:def:crs:EPSG::4979",
}
_KEY = "adze"


def read_geojson(text: str) -> ImportedFeatures:
    """The lines and points of a GeoJSON file; polygons come as rings. Raises FormatError naming the feature."""
    content = read_json(text, "GeoJSON", constant=_no_constant)
    if not isinstance(content, dict) or "type" not in content:
        raise FormatError('GeoJSON: has no "type"; this is some other JSON')
    _refuse_projection(content)
    found = list(_parts(content))
    return ImportedFeatures(
        tuple(x for x in found if isinstance(x, Line)),
        tuple(x for x in found if isinstance(x, ImportedSpot)),
        plan=part_of(content.get(_KEY)),
    )


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


def _parts(content: dict[str, Any], name: str = "", part: Part | None = None) -> Iterator[Line | ImportedSpot]:
    kind = content.get("type")
    if kind == "FeatureCollection":
        rows = content.get("features")
        if not isinstance(rows, list):
            raise FormatError('GeoJSON: "features" must be a list')
        for number, feature in enumerate(rows, 1):
            if not isinstance(feature, dict):
                raise FormatError(f"GeoJSON: feature {number} is not an object")
            yield from _parts(feature, f"Line {number}")
    elif kind == "Feature":
        properties = content.get("properties")
        known = properties if isinstance(properties, dict) else {}
        geometry = content.get("geometry")
        label = plain_name(known.get("name") or known.get("Name"), name or "Line 1")
        if geometry is None and isinstance(properties, dict):
            return
        if not isinstance(geometry, dict):
            raise FormatError(f"GeoJSON: {label} has no geometry")
        yield from _parts(geometry, label, part_of(known.get(_KEY)))
    elif kind == "GeometryCollection":
        for geometry in _list(content.get("geometries"), name):
            if isinstance(geometry, dict):
                yield from _parts(geometry, name, part)
    else:
        yield from _geometry(kind, content.get("coordinates"), name, part)


def _list(value: Any, name: str) -> list[Any]:
    if not isinstance(value, list):
        raise FormatError(f"GeoJSON: {name or 'the file'} has no coordinates")
    return value


def _geometry(kind: object, rows: Any, name: str, part: Part | None) -> Iterator[Line | ImportedSpot]:
    label = name or "Line 1"
    if kind == "Point":
        point, _ = _point(rows, f"GeoJSON: {label}")
        yield ImportedSpot(label, point, part)
    elif kind == "MultiPoint":
        for number, row in enumerate(_list(rows, label), 1):
            yield ImportedSpot(f"{label} {number}", _point(row, f"GeoJSON: point {number} of {label}")[0])
    elif kind == "LineString":
        yield _line(rows, label, part)
    elif kind in ("MultiLineString", "Polygon"):
        parts = _list(rows, label)
        for number, ring in enumerate(parts, 1):
            own = label if len(parts) == 1 else f"{label} {number}"
            yield _line(ring, own, part if number == 1 else None, closed=kind == "Polygon")
    elif kind == "MultiPolygon":
        for number, polygon in enumerate(_list(rows, label), 1):
            yield from _geometry("Polygon", polygon, f"{label} {number}", None)
    else:
        raise FormatError(f"GeoJSON: {name or 'the file'} is a {kind}; a fence comes as LineString or Polygon")


def _line(rows: Any, label: str, part: Part | None, *, closed: bool = False) -> Line:
    if not isinstance(rows, list) or len(rows) < 2:
        raise FormatError(f"GeoJSON: {label} has fewer than 2 points")
    found = [_point(row, f"GeoJSON: point {number} of {label}") for number, row in enumerate(rows, 1)]
    heights = tuple(height for _, height in found)
    return Line(label, tuple(p for p, _ in found), heights if any(h is not None for h in heights) else (), closed, part)


def _point(row: Any, where: str) -> tuple[tuple[float, float], float | None]:
    if not isinstance(row, list) or len(row) < 2 or not all(_is_number(x) for x in row[:2]):
        raise FormatError(f"{where} is not [longitude, latitude]")
    height = float(row[2]) if len(row) > 2 and _is_number(row[2]) else None
    return (float(row[0]), float(row[1])), height


def _is_number(value: Any) -> bool:
    # Whole numbers may be longer than any float.
    return type(value) in (int, float) and abs(value) < 1e300 and math.isfinite(value)


def write_geojson(plan: Plan) -> str:
    """The plan's ground as GeoJSON; what Adze alone understands stands under "adze"."""
    rows = [_feature(f) for f in features(plan)]
    return json.dumps({"type": "FeatureCollection", _KEY: plan_words(plan), "features": rows}, indent=1)


def _feature(f: Feature) -> dict[str, Any]:
    points: list[Any] = [list(p) for p in f.points]
    if f.heights:
        points = [p if h is None else [*p, h] for p, h in zip(points, f.heights, strict=True)]
    coordinates = points[0] if f.shape == "Point" else [points] if f.shape == "Polygon" else points
    return {
        "type": "Feature",
        "properties": {"name": f.name, "kind": f.kind, _KEY: f.words},
        "geometry": {"type": f.shape, "coordinates": coordinates},
    }
