"""Makes one picture small, as a program of its own with a limit on its memory: `python -m … SIDE < picture > jpeg`.

What comes out is a line of width, height and, where the camera wrote it, longitude and latitude; then a JPEG without
anything that the camera or a program wrote into it. Exit status 1: the message on stderr says why it cannot be taken.
"""

import io
import resource
import sys
import warnings

import pillow_heif
from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

MEMORY_BYTES = 500_000_000
_MOST_PIXELS = 50_000_000  # as decoded, at 4 bytes each
_TAKEN = ("JPEG", "PNG", "WEBP", "TIFF", "HEIF")
LonLat = tuple[float, float]


class Unreadable(ValueError):
    """A picture that cannot be taken; the message says why and the mend."""


def taken_at(picture: Image.Image) -> LonLat | None:
    """Where the camera says that it stood, degrees; None where it does not say it or cannot be believed."""
    try:
        gps = picture.getexif().get_ifd(ExifTags.IFD.GPSInfo)
        found = [
            sum(float(part) / 60**power for power, part in enumerate(gps[tag])) * (-1 if gps[tag - 1] in "SW" else 1)
            for tag in (ExifTags.GPS.GPSLongitude, ExifTags.GPS.GPSLatitude)
        ]
    except (KeyError, TypeError, ValueError, ZeroDivisionError, SyntaxError):
        return None
    lon, lat = found
    return (lon, lat) if abs(lon) <= 180 and abs(lat) <= 90 and (lon or lat) else None


def small(content: bytes, side: int) -> tuple[bytes, int, int, LonLat | None]:
    """A picture as JPEG within a square of `side` pixels: bytes, width, height, where it was taken. Raises Unreadable.

    A JPEG is read at an eighth, a quarter or half of its size where that is enough.
    """
    with Image.open(io.BytesIO(content), formats=_TAKEN) as opened:
        opened.draft("RGB", (side, side))
        if opened.width * opened.height > _MOST_PIXELS:
            millions = _MOST_PIXELS // 1_000_000
            raise Unreadable(f"The picture has more than {millions} million pixels; save it smaller, or as JPEG.")
        place = taken_at(opened)
        opened.thumbnail((side, side))
        upright = ImageOps.exif_transpose(opened).convert("RGB")
    upright.info.clear()
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue(), upright.width, upright.height, place


def main() -> None:
    """Read stdin, write stdout."""
    pillow_heif.register_heif_opener(thumbnails=False)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            ready, width, height, place = small(sys.stdin.buffer.read(), int(sys.argv[1]))
    except Unreadable as error:
        sys.exit(f"{error}")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Warning, Image.DecompressionBombError):
        sys.exit("That is not a picture that Adze can read. Use JPEG, PNG, WebP, HEIC or TIFF.")
    except MemoryError:
        sys.exit("The picture needs too much memory to be read; save it smaller, or as JPEG.")
    head = " ".join(f"{figure!r}" for figure in (width, height, *(place or ())))
    sys.stdout.buffer.write(f"{head}\n".encode() + ready)


if __name__ == "__main__":
    main()
