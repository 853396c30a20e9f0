"""Photos of steps, defects and finds: kept small, shown beside what they show."""

import re
from dataclasses import dataclass

from adze.core.basics.units import format_length
from adze.core.ground.places import nearest_place, place_words
from adze.core.plan.document import Plan
from adze.formats.ground.projection import to_metres
from adze.services.pictures.picture_worker import Unreadable
from adze.services.pictures.pictures import keep_picture
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.pictures import photos
from adze.store.pictures.photos import PhotoRow

_THING = re.compile(r"(step|defect|passage|trace):[\w/:.-]{1,80}")
_MOST = 12
_ON_LINE_M, _FAR_M = 25.0, 5000.0  # a phone under trees is off by some 10 m


def add_photo(
    begin_transaction: BeginTransaction,
    opened: OpenPlan,
    *,
    thing: str,
    name: str,
    content: bytes,
    by_account: int,
    idempotency_key: str = "",
) -> None:
    """Keep a photo of a thing; with a token, once.

    Raises Unreadable for no picture, one too many, no such thing; OverQuota, Busy.
    """
    if not _THING.fullmatch(thing):
        raise Unreadable("A photo belongs to a step, a defect or an escape. Choose one of them.")
    with begin_transaction() as connection:
        if idempotency_key and photos.has_photo(connection, plan_id=opened.id, idempotency_key=idempotency_key):
            return
        if photos.count_photos(connection, plan_id=opened.id, thing=thing) >= _MOST:
            raise Unreadable(f"It has {_MOST} photos already. Remove one first.")
    kept, lon_lat = keep_picture(
        begin_transaction, plan_id=opened.id, account_id=by_account, name=name, content=content, purpose="photo"
    )
    with begin_transaction() as connection:
        at = to_metres(opened.plan.origin, [lon_lat])[0] if lon_lat else None
        photos.add_photo(
            connection,
            plan_id=opened.id,
            picture_id=kept.id,
            thing=thing,
            by_account=by_account,
            at=at,
            idempotency_key=idempotency_key,
        )


def drop_photo(begin_transaction: BeginTransaction, opened: OpenPlan, photo_id: int) -> None:
    """Take a photo off."""
    with begin_transaction() as connection:
        photos.drop_photo(connection, plan_id=opened.id, photo_id=photo_id)


@dataclass(frozen=True)
class ShownPhoto:
    """A photo as it is shown; `where` is where the camera stood, in words of the plan."""

    id: int
    picture_id: int
    by_name: str
    where: str


def photos_by_thing(begin_transaction: BeginTransaction, opened: OpenPlan) -> dict[str, list[ShownPhoto]]:
    """The photos of every thing of a plan that has some."""
    with begin_transaction() as connection:
        rows = photos.list_photos(connection, plan_id=opened.id)
    found: dict[str, list[ShownPhoto]] = {}
    for row in rows:
        shown = ShownPhoto(row.id, row.picture_id, row.by_name, _where(opened.plan, row))
        found.setdefault(row.thing, []).append(shown)
    return found


def _where(plan: Plan, row: PhotoRow) -> str:
    """Where a photo was taken: on a line, or how far from one; nothing where the camera did not say it."""
    if row.east_m is None or row.north_m is None:
        return ""
    near = nearest_place(plan.runs, (row.east_m, row.north_m))
    if near is None or near[1] > _FAR_M:
        return "taken far from this fence"
    place, away_m = near
    words = place_words(plan, place)
    return f"taken at {words}" if away_m <= _ON_LINE_M else f"taken {format_length(away_m, plan.units)} from {words}"
