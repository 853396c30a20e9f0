"""Photos of a plan's things: steps of the work, defects, what got through, finds of a search."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class PhotoRow:
    """A photo: its picture, the thing that it shows, by whom and when, where the camera stood in m of the plan."""

    id: int
    picture_id: int
    thing: str
    by_name: str
    at: datetime
    east_m: float | None
    north_m: float | None


@dataclass(frozen=True)
class _Count:
    photos: int


def add_photo(
    connection: Connection,
    *,
    plan_id: int,
    picture_id: int,
    thing: str,
    by_account: int,
    at: tuple[float, float] | None,
    idempotency_key: str = "",
) -> None:
    """Make a picture the photo of a thing; one that may be sent twice has a key. Raises RefusedByStore."""
    run(
        connection, _QUERIES["add_photo"], plan_id=plan_id, picture_id=picture_id, thing=thing, by_account=by_account,
        east_m=at and at[0], north_m=at and at[1], idempotency_key=idempotency_key,
    )  # fmt: skip


def count_photos(connection: Connection, *, plan_id: int, thing: str) -> int:
    """How many photos a thing has."""
    found = fetch_one(connection, _QUERIES["count_photos"], _Count, plan_id=plan_id, thing=thing)
    return found.photos if found else 0


def has_photo(connection: Connection, *, plan_id: int, idempotency_key: str) -> bool:
    """Whether a photo with this token is kept."""
    found = fetch_one(
        connection, _QUERIES["count_photos_by_key"], _Count, plan_id=plan_id, idempotency_key=idempotency_key
    )
    return found is not None and found.photos > 0


def list_photos(connection: Connection, *, plan_id: int, most: int = 500) -> tuple[PhotoRow, ...]:
    """The photos of a plan's things, oldest first."""
    return fetch_all(connection, _QUERIES["list_photos"], PhotoRow, plan_id=plan_id, most=most)


def drop_photo(connection: Connection, *, plan_id: int, photo_id: int) -> None:
    """Take a photo off, with its picture."""
    run(connection, _QUERIES["drop_photo"], plan_id=plan_id, photo_id=photo_id)
