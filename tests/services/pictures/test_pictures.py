"""Pictures: small, upright, stripped, and never more of the memory than they are worth."""

import io
import subprocess
import sys

import pillow_heif
import pytest
from PIL import ExifTags, Image

from adze.services.pictures.picture_worker import MEMORY_BYTES, Unreadable
from adze.services.pictures.pictures import prepared


def encoded(image: Image.Image, kind: str, **options: object) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **options)  # type: ignore[arg-type]
    return out.getvalue()


def test_a_picture_is_made_small_upright_and_stripped() -> None:
    exif = Image.Exif()
    exif[274] = 6  # turned a quarter
    exif[271] = "a maker"
    content = encoded(Image.new("RGB", (3000, 1000), "red"), "JPEG", exif=exif, comment=b"a secret")
    made = prepared(content, "photo")
    ready = made.content
    assert (made.width_px, made.height_px, made.lon_lat) == (533, 1600, None)
    assert b"secret" not in ready
    assert b"a maker" not in ready
    with Image.open(io.BytesIO(ready)) as again:
        assert again.size == (533, 1600)
        assert not again.getexif()


def placed(kind: str, lon: tuple[str, float], lat: tuple[str, float]) -> bytes:
    """A picture whose camera wrote where it stood."""
    exif = Image.Exif()
    gps = exif.get_ifd(ExifTags.IFD.GPSInfo)
    for tag, (side, degrees) in ((ExifTags.GPS.GPSLongitude, lon), (ExifTags.GPS.GPSLatitude, lat)):
        whole = int(degrees)
        gps[tag - 1], gps[tag] = side, (whole, int(60 * (degrees - whole)), 60 * (60 * (degrees - whole) % 1))
    exif[ExifTags.IFD.GPSInfo] = gps
    return encoded(Image.new("RGB", (640, 480), "olive"), kind, exif=exif)


@pytest.mark.parametrize("kind", ["JPEG", "WEBP", "HEIF"])
def test_where_the_camera_stood_is_read_and_stripped(kind: str) -> None:
    pillow_heif.register_heif_opener()
    made = prepared(placed(kind, ("W", 12.345), ("S", 40.5)), "photo")
    assert made.lon_lat == pytest.approx((-12.345, -40.5), abs=1e-6)
    with Image.open(io.BytesIO(made.content)) as again:
        assert again.format == "JPEG"
        assert not again.getexif()


def test_a_place_that_cannot_be_is_no_place() -> None:
    assert prepared(placed("JPEG", ("E", 200.0), ("N", 40.0)), "photo").lon_lat is None
    assert prepared(placed("JPEG", ("E", 0.0), ("N", 0.0)), "photo").lon_lat is None


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "not a picture"),
        (b"GIF89a" + b"0" * 99, "not a picture"),
        (b"\x89PNG\r\n\x1a\n" + b"0" * 50, "not a picture"),
        (b"0" * 16_000_001, "at most 16 MB"),
        (encoded(Image.new("RGB", (8900, 8900)), "PNG"), "more than 50 million pixels"),
    ],
)
def test_what_cannot_be_taken_says_why(content: bytes, says: str) -> None:
    with pytest.raises(Unreadable, match=says):
        prepared(content, "photo")


def test_eighty_million_pixels_cost_less_than_300_mb() -> None:
    content = encoded(Image.new("L", (8900, 8900)), "JPEG")
    code = (
        "import re, runpy, sys; sys.argv = ['worker', '4000'];"
        "runpy.run_module('adze.services.pictures.picture_worker', run_name='__main__');"
        "print(re.search(r'VmHWM:\\s+(\\d+)', open('/proc/self/status').read())[1], file=sys.stderr)"
    )
    made = subprocess.run([sys.executable, "-c", code], input=content, capture_output=True, check=True)
    assert int(made.stderr) * 1024 < 300_000_000 < MEMORY_BYTES
    assert made.stdout.startswith(b"2225 2225\n") or made.stdout.startswith(b"4000 4000\n")
