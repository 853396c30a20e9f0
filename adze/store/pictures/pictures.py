"""Pictures of plans: aerial photos and photos of places."""

from dataclasses import dataclass

from adze.store.connection import Connection, fetch_all, fetch_one
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Picture:
    """A picture with its content."""

    id: int
    name: str
    media_type: str
    width_px: int
    height_px: int
    content: bytes


@dataclass(frozen=True, kw_only=True)
class PictureName:
    """A picture by name."""

    id: int
    name: str


@dataclass(frozen=True, kw_only=True)
class _Id:
    id: int


@dataclass(frozen=True, kw_only=True)
class PictureCount:
    """How many pictures a plan holds, and their bytes together."""

    pictures: int
    bytes: int


def add_picture(
    connection: Connection,
    *,
    plan_id: int,
    name: str,
    media_type: str,
    size_px: tuple[int, int],
    content: bytes,
    made_by: int,
) -> int:
    """Keep a picture, `size_px` wide and high; its id. Raises Refused."""
    made = fetch_one(
        connection,
        _QUERIES["add_picture"],
        _Id,
        plan_id=plan_id,
        name=name,
        media_type=media_type,
        width_px=size_px[0],
        height_px=size_px[1],
        content=content,
        made_by=made_by,
    )
    if made is None:
        raise Missing("The picture was not kept.")
    return made.id


def get_picture(connection: Connection, *, plan_id: int, picture_id: int, account_id: int) -> Picture:
    """A picture of a plan of an account. Raises Missing."""
    found = fetch_one(
        connection, _QUERIES["get_picture"], Picture, plan_id=plan_id, picture_id=picture_id, account_id=account_id
    )
    if found is None:
        raise Missing("That picture is not among yours.")
    return found


def count_pictures(connection: Connection, *, plan_id: int) -> PictureCount:
    """What a plan's pictures come to."""
    return fetch_one(connection, _QUERIES["count_pictures"], PictureCount, plan_id=plan_id) or PictureCount(
        pictures=0, bytes=0
    )


def list_pictures(connection: Connection, *, plan_id: int) -> tuple[PictureName, ...]:
    """The pictures of a plan, without their content."""
    return fetch_all(connection, _QUERIES["list_pictures"], PictureName, plan_id=plan_id)


@dataclass(frozen=True, kw_only=True)
class _Copied:
    old: int
    new: int


def copy_pictures(connection: Connection, *, of: int, to: int, wanted: set[int]) -> dict[int, int]:
    """Keep some pictures of a plan for another plan too; their new ids by the old ones."""
    rows = [
        row
        for picture in sorted(wanted)
        for row in fetch_all(connection, _QUERIES["copy_picture"], _Copied, of=of, to=to, picture_id=picture)
    ]
    return {row.old: row.new for row in rows}
