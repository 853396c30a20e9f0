"""Makes one picture small, as a program of its own with a limit on its memory: `python -m … SIDE < picture > jpeg`.

What comes out is width, height and a line's end, then a JPEG without anything that the camera or a program wrote
into it. Exit status 1: the message on stderr says why it cannot be taken.
"""

import io
import resource
import sys
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

MEMORY_BYTES = 500_000_000
_MOST_PIXELS = 50_000_000  # as decoded, at 4 bytes each
_TAKEN = ("JPEG", "PNG", "WEBP", "TIFF")


class Unreadable(ValueError):
    """A picture that cannot be taken; the message says why and the mend."""


def small(content: bytes, side: int) -> tuple[bytes, int, int]:
    """A picture as JPEG within a square of `side` pixels: bytes, width, height. Raises Unreadable.

    A JPEG is read at an eighth, a quarter or half of its size where that is enough.
    """
    with Image.open(io.BytesIO(content), formats=_TAKEN) as opened:
        opened.draft("RGB", (side, side))
        if opened.width * opened.height > _MOST_PIXELS:
            millions = _MOST_PIXELS // 1_000_000
            raise Unreadable(f"The picture has more than {millions} million pixels; save it smaller, or as JPEG.")
        opened.thumbnail((side, side))
        upright = ImageOps.exif_transpose(opened).convert("RGB")
    upright.info.clear()
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue(), upright.width, upright.height


def main() -> None:
    """Read stdin, write stdout."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            ready, width, height = small(sys.stdin.buffer.read(), int(sys.argv[1]))
    except Unreadable as error:
        sys.exit(f"{error}")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Warning, Image.DecompressionBombError):
        sys.exit("That is no picture that can be read; JPEG, PNG, WebP and TIFF are taken.")
    except MemoryError:
        sys.exit("The picture needs too much memory to be read; save it smaller, or as JPEG.")
    sys.stdout.buffer.write(f"{width} {height}\n".encode() + ready)


if __name__ == "__main__":
    main()
