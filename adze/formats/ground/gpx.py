"""GPX 1.1 in and out: tracks and routes as lines, waypoints as spots."""

from collections.abc import Sequence
from xml.etree.ElementTree import Element
from xml.sax.saxutils import escape

import gpxpy
from gpxpy.gpx import (
    GPX,
    GPXException,
    GPXRoutePoint,
    GPXTrack,
    GPXTrackPoint,
    GPXTrackSegment,
    GPXWaypoint,
)

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.ground.features import Feature, features, plan_words
from adze.formats.ground.imported import (
    ImportedFeatures,
    ImportedSpot,
    Line,
    Part,
    Progress,
    part_of,
    plain_name,
    quiet,
)
from adze.formats.tables.xml import refuse_declarations

_SPACE = "urn:adze:plan:1"
_WALKED = 50  # a track with more points was walked
_PART = f"{{{_SPACE}}}part"


def read_gpx(content: bytes, progress: Progress = quiet) -> ImportedFeatures:
    """Each segment of a track and each route as a line; waypoints as spots. Raises FormatError."""
    refuse_declarations(content, "GPX")
    progress(0.3, "Reading points")
    try:
        found = gpxpy.parse(_decoded(content))
    except (GPXException, ValueError, TypeError, AttributeError, RecursionError) as error:
        words = " ".join(str(error).removeprefix("Error parsing XML: ").split())
        raise FormatError(f"GPX: is not whole XML ({words}); it may be cut off, export it again") from error
    progress(0.8, "Putting lines together")
    lines: list[Line] = []
    notes: list[str] = []
    for number, track in enumerate(found.tracks, 1):
        name, part = plain_name(track.name, f"Track {number}"), _part(track.extensions)
        segments = [s for s in track.segments if s.points]
        if len(segments) > 1:
            notes.append(f"{name} has {len(segments)} parts with gaps between them; each comes as a line of its own")
        for i, segment in enumerate(segments, 1):
            own = name if i == 1 else f"{name[:70]}, part {i}"
            lines.append(_line(own, segment.points, part if i == 1 else None))
    if any(line.heights and len(line.points) > _WALKED for line in lines):
        notes.append("its heights come from a receiver, which is often metres off: judge dips and rises by eye")
    lines += [
        _line(plain_name(route.name, f"Route {number}"), route.points, _part(route.extensions))
        for number, route in enumerate(found.routes, 1)
        if route.points
    ]
    spots = [
        ImportedSpot(plain_name(w.name, "Marked spot"), (w.longitude, w.latitude), _part(w.extensions))
        for w in found.waypoints
    ]
    return ImportedFeatures(tuple(lines), tuple(spots), tuple(notes), _part(found.metadata_extensions))


def _decoded(content: bytes) -> str:
    """UTF-8 as the standard wants; old devices write the western code page, some desktop programs UTF-16."""
    for encoding in ("utf-16" if content[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig", "cp1252"):
        try:
            return content.decode(encoding)
        except UnicodeDecodeError:
            continue
    return content.decode("utf-8", errors="replace")


def _line(name: str, points: Sequence[GPXTrackPoint | GPXRoutePoint], part: Part | None) -> Line:
    heights = tuple(p.elevation for p in points)
    closed = bool(part and part.get("closed"))
    return Line(
        name,
        tuple((p.longitude, p.latitude) for p in points),
        heights if any(h is not None for h in heights) else (),
        closed,
        {k: v for k, v in part.items() if k != "closed"} if part else None,
    )


def _part(extensions: list[Element]) -> Part | None:
    return next((part_of(e.text) for e in extensions if e.tag == _PART), None)


def _extension(words: str) -> Element:
    element = Element(_PART)
    # gpxpy writes the text of extensions as it stands.
    element.text = escape(words)
    return element


def write_gpx(plan: Plan) -> str:
    """Runs and lines of the ground as tracks, the rest as waypoints; Adze's own words as extensions."""
    gpx = GPX()
    gpx.creator = "Adze"
    gpx.name = plan.name
    gpx.nsmap["adze"] = _SPACE
    gpx.metadata_extensions.append(_extension(plan_words(plan)))
    for feature in features(plan):
        if feature.shape == "Point":
            (lon, lat) = feature.points[0]
            waypoint = GPXWaypoint(lat, lon, name=feature.name, type=feature.kind)
            waypoint.extensions.append(_extension(feature.words))
            gpx.waypoints.append(waypoint)
        else:
            gpx.tracks.append(_track(feature))
    return gpx.to_xml(version="1.1")


def _track(feature: Feature) -> GPXTrack:
    track = GPXTrack(name=feature.name)
    track.type = feature.kind  # type: ignore[assignment]
    # A track is open: that it is an area is said beside it.
    closed = feature.shape == "Polygon"
    words = feature.words[:-1] + ',"closed":true}' if closed else feature.words
    track.extensions.append(_extension(words))
    heights = feature.heights or (None,) * len(feature.points)
    points = [GPXTrackPoint(lat, lon, elevation=h) for (lon, lat), h in zip(feature.points, heights, strict=True)]
    track.segments.append(GPXTrackSegment(points))
    return track
