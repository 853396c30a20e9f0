"""Pictures: small, upright, stripped, and never more of the memory than they are worth."""

import io
import subprocess
import sys

import pytest
from PIL import Image

from adze.services.picture_worker import MEMORY_BYTES, Unreadable
from adze.services.pictures import prepared


def encoded(image: Image.Image, kind: str, **options: object) -> bytes:
    out = io.BytesIO()
    image.save(out, kind, **options)  # type: ignore[arg-type]
    return out.getvalue()


def test_a_picture_is_made_small_upright_and_stripped() -> None:
    exif = Image.Exif()
    exif[274] = 6  # turned a quarter
    exif[271] = "a maker"
    content = encoded(Image.new("RGB", (3000, 1000), "red"), "JPEG", exif=exif, comment=b"a secret")
    ready, width, height = prepared(content, "photo")
    assert (width, height) == (533, 1600)
    assert b"secret" not in ready
    assert b"a maker" not in ready
    with Image.open(io.BytesIO(ready)) as again:
        assert again.size == (533, 1600)
        assert not again.getexif()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "no picture"),
        (b"GIF89a" + b"0" * 99, "no picture"),
        (b"\x89PNG\r\n\x1a\n" + b"0" * 50, "no picture"),
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
        "runpy.run_module('adze.services.picture_worker', run_name='__main__');"
        "print(re.search(r'VmHWM:\\s+(\\d+)', open('/proc/self/status').read())[1], file=sys.stderr)"
    )
    made = subprocess.run([sys.executable, "-c", code], input=content, capture_output=True, check=True)
    assert int(made.stderr) * 1024 < 300_000_000 < MEMORY_BYTES
    assert made.stdout.startswith(b"2225 2225\n") or made.stdout.startswith(b"4000 4000\n")
