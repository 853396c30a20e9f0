"""Take a picture: looked at, turned upright, made small, stripped of what the camera adds."""

import io
import warnings

from PIL import Image, ImageOps, UnidentifiedImageError

from adze.store import pictures
from adze.store.connection import Transaction
from adze.store.pictures import Picture

LARGEST_BYTES = 16_000_000
_LARGEST_PIXELS = 80_000_000
_SIDE_PX = {"photo": 1600, "underlay": 4000}
_MOST_PICTURES, _MOST_BYTES = 200, 200_000_000
_TAKEN = ("JPEG", "PNG", "WEBP", "TIFF")


class Unreadable(ValueError):
    """A picture that cannot be taken; the message says why and the mend."""


def prepared(content: bytes, purpose: str) -> tuple[bytes, int, int]:
    """A picture as JPEG within the sides of its purpose: bytes, width and height in pixels. Raises Unreadable."""
    if len(content) > LARGEST_BYTES:
        raise Unreadable(
            f"The picture is {len(content) / 1e6:.0f} MB, at most {LARGEST_BYTES // 1_000_000} MB is taken."
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(content), formats=_TAKEN) as opened:
                if opened.width * opened.height > _LARGEST_PIXELS:
                    raise Unreadable("The picture has more than 80 million pixels; save it smaller.")
                upright = ImageOps.exif_transpose(opened).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Warning, Image.DecompressionBombError) as error:
        if isinstance(error, Unreadable):
            raise
        raise Unreadable("That is no picture that can be read; JPEG, PNG, WebP and TIFF are taken.") from error
    side = _SIDE_PX[purpose]
    upright.thumbnail((side, side))
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=82, optimize=True)
    return out.getvalue(), upright.width, upright.height


def keep_picture(
    transaction: Transaction, *, plan_id: int, account_id: int, name: str, content: bytes, purpose: str
) -> Picture:
    """Keep a picture of a plan. Raises Unreadable."""
    with transaction() as connection:
        kept = pictures.count_pictures(connection, plan_id=plan_id)
    if kept.pictures >= _MOST_PICTURES or kept.bytes >= _MOST_BYTES:
        raise Unreadable(f"This plan holds {kept.pictures} pictures already; that is as many as are kept.")
    ready, width, height = prepared(content, purpose)
    words = " ".join(name.split())[:120] or "Photo"
    with transaction() as connection:
        made = pictures.add_picture(
            connection,
            plan_id=plan_id,
            name=words,
            media_type="image/jpeg",
            size_px=(width, height),
            content=ready,
            made_by=account_id,
        )
    return Picture(id=made, name=words, media_type="image/jpeg", width_px=width, height_px=height, content=ready)
