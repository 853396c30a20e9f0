"""Any file that holds ground, by what is in it: GeoJSON, GPX, KML, CSV of corners."""

from collections.abc import Callable
from dataclasses import dataclass

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.ground.corners_csv import read_corners, write_corners
from adze.formats.ground.geojson import read_geojson, write_geojson
from adze.formats.ground.gpx import read_gpx, write_gpx
from adze.formats.ground.imported import ImportedFeatures, Progress, quiet
from adze.formats.ground.kml import read_kml, write_kml


@dataclass(frozen=True)
class GroundFormat:
    """A format of ground: the suffix that names it, its label, media type, and its writer."""

    key: str
    label: str
    media_type: str
    write: Callable[[Plan], str]


GROUND_FORMATS = {
    row.key: row
    for row in (
        GroundFormat("geojson", "GeoJSON", "application/geo+json", write_geojson),
        GroundFormat("gpx", "GPX", "application/gpx+xml", write_gpx),
        GroundFormat("kml", "KML", "application/xml", write_kml),
        GroundFormat("csv", "CSV of corners", "text/csv; charset=utf-8", write_corners),
    )
}
LARGEST_BYTES = 24_000_000
# What a file of that size holds at most where it is of real ground: by it a small one that unfolds is told apart.
_MOST_MARKS = {b"<": 1_600_000, b"lat=": 300_000, b"\n": 500_000, b",": 2_500_000}
_LONGEST_TAG = 20_000  # bytes: its attributes are compared with one another
_MARK_WORDS = {b"<": "tags", b"lat=": "points", b"\n": "rows", b",": "values"}


def read_ground(content: bytes, progress: Progress = quiet) -> ImportedFeatures:
    """What a file brings. Raises FormatError that says what is wrong and the mend."""
    if len(content) > LARGEST_BYTES:
        most = LARGEST_BYTES // 1_000_000
        raise FormatError(f"is {len(content) / 1e6:.0f} MB, at most {most} MB is taken; split it, or simplify it")
    for mark, most in _MOST_MARKS.items():
        if content.count(mark) > most:
            raise FormatError(f"holds more than {most:,} {_MARK_WORDS[mark]}; split it, or simplify it")
    head = content[:2000].lstrip(b"\xef\xbb\xbf \t\r\n")
    if not head:
        raise FormatError("is empty")
    if head.startswith(b"PK"):
        raise FormatError("is packed (a KMZ or ZIP); unpack it and take the file inside")
    progress(0.1, "Opening the file")
    if head.startswith(b"<"):
        if any(len(piece) - piece.rfind(b"<") > _LONGEST_TAG for piece in content.split(b">") if b"<" in piece):
            raise FormatError(f"has a tag of more than {_LONGEST_TAG:,} characters; that is no file of this kind")
        # What stands before the root may be long: the root decides.
        start = content[:20_000].lower()
        if b"<gpx" in start or b":gpx" in start:
            return read_gpx(content, progress)
        return read_kml(content)
    text = _text(content)
    return read_geojson(text) if head[:1] in b"{[" else read_corners(text)


def _text(content: bytes) -> str:
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        # Tables from office programs come in the old western code page.
        text = content.decode("cp1252", errors="replace")
    if "\x00" in text:
        raise FormatError("is not text; GeoJSON, GPX, KML or CSV is taken")
    return text


def write_ground(plan: Plan, kind: str) -> str:
    """A plan's ground in one of the formats. Raises FormatError for another."""
    if kind not in GROUND_FORMATS:
        raise FormatError(f"{kind!r} is not written; one of {', '.join(GROUND_FORMATS)}")
    return GROUND_FORMATS[kind].write(plan)
