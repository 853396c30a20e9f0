"""Take a picture: made small, turned upright and stripped by a program of its own, one or two at a time."""

import subprocess
import sys
from dataclasses import dataclass

from adze.services.limits.concurrency import ConcurrencyLimiter
from adze.services.limits.quotas import check_room
from adze.services.pictures.picture_worker import LonLat, Unreadable
from adze.store.connection import BeginTransaction
from adze.store.pictures import pictures
from adze.store.pictures.pictures import Picture

LARGEST_BYTES = 16_000_000
_SIDE_PX = {"photo": 1600, "underlay": 4000}
_MOST_PICTURES, _MOST_BYTES = 200, 200_000_000
_TURNS = ConcurrencyLimiter(1, 6)
_PATIENCE_S = 30


@dataclass(frozen=True)
class Prepared:
    """A picture as JPEG within the sides of its purpose, and where the camera stood, which the JPEG no longer says."""

    content: bytes
    width_px: int
    height_px: int
    lon_lat: LonLat | None


def prepared(content: bytes, purpose: str) -> Prepared:
    """A picture made small, upright and stripped. Raises Unreadable, Busy."""
    if len(content) > LARGEST_BYTES:
        raise Unreadable(
            f"The picture is {len(content) / 1e6:.0f} MB, at most {LARGEST_BYTES // 1_000_000} MB is allowed."
        )
    command = [sys.executable, "-m", "adze.services.pictures.picture_worker", str(_SIDE_PX[purpose])]
    with _TURNS.turn():
        try:
            made = subprocess.run(command, input=content, capture_output=True, check=False, timeout=_PATIENCE_S)
        except subprocess.TimeoutExpired:
            raise Unreadable("The picture takes too long to read; save it smaller, or as JPEG.") from None
    if made.returncode:
        lines = made.stderr.decode(errors="replace").strip().splitlines()
        raise Unreadable(lines[-1] if made.returncode == 1 and lines else "The picture could not be read.")
    size, _, ready = made.stdout.partition(b"\n")
    width, height, *place = size.split()
    lon_lat = (float(place[0]), float(place[1])) if place else None
    return Prepared(ready, int(width), int(height), lon_lat)


def keep_picture(
    begin_transaction: BeginTransaction, *, plan_id: int, account_id: int, name: str, content: bytes, purpose: str
) -> tuple[Picture, LonLat | None]:
    """Keep a picture of a plan; with it, where the camera stood. Raises Unreadable, OverQuota, Busy."""
    with begin_transaction() as connection:
        kept = pictures.count_pictures(connection, plan_id=plan_id)
    if kept.pictures >= _MOST_PICTURES or kept.bytes >= _MOST_BYTES:
        raise Unreadable(f"This plan holds {kept.pictures} pictures already, the most allowed.")
    with begin_transaction() as connection:
        check_room(connection, plan_id=plan_id)
    ready = prepared(content, purpose)
    words = " ".join(name.split())[:120] or "Photo"
    with begin_transaction() as connection:
        made = pictures.add_picture(
            connection,
            plan_id=plan_id,
            name=words,
            media_type="image/jpeg",
            size_px=(ready.width_px, ready.height_px),
            content=ready.content,
            made_by=account_id,
        )
    kept_as = Picture(
        id=made, name=words, media_type="image/jpeg",
        width_px=ready.width_px, height_px=ready.height_px, content=ready.content,
    )  # fmt: skip
    return kept_as, ready.lon_lat
