"""Any file that holds ground, by what is in it: GeoJSON, GPX, KML, CSV of corners."""

from adze.core.plan.document import Plan
from adze.formats.corners_csv import read_corners, write_corners
from adze.formats.errors import FormatError
from adze.formats.geojson import read_geojson, write_geojson
from adze.formats.gpx import read_gpx, write_gpx
from adze.formats.imported import ImportedFeatures, Progress, quiet
from adze.formats.kml import read_kml, write_kml

WRITERS = {"geojson": write_geojson, "gpx": write_gpx, "kml": write_kml, "csv": write_corners}
MEDIA_TYPES = {
    "geojson": "application/geo+json",
    "gpx": "application/gpx+xml",
    "kml": "application/xml",
    "csv": "text/csv; charset=utf-8",
}
LARGEST_BYTES = 24_000_000


def read_ground(content: bytes, progress: Progress = quiet) -> ImportedFeatures:
    """What a file brings. Raises FormatError that says what is wrong and the mend."""
    if len(content) > LARGEST_BYTES:
        most = LARGEST_BYTES // 1_000_000
        raise FormatError(f"is {len(content) / 1e6:.0f} MB, at most {most} MB is taken; split it, or simplify it")
    head = content[:2000].lstrip(b"\xef\xbb\xbf \t\r\n")
    if not head:
        raise FormatError("is empty")
    if head.startswith(b"PK"):
        raise FormatError("is packed (a KMZ or ZIP); unpack it and take the file inside")
    progress(0.1, "Opening the file")
    if head.startswith(b"<"):
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
    if kind not in WRITERS:
        raise FormatError(f"{kind!r} is not written; one of {', '.join(WRITERS)}")
    return WRITERS[kind](plan)
