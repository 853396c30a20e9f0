"""Photos of steps, defects and finds: kept small, shown beside what they show."""

import re

from adze.services.picture_worker import Unreadable
from adze.services.pictures import keep_picture
from adze.services.plans import OpenPlan
from adze.store import photos
from adze.store.connection import Transaction
from adze.store.photos import PhotoRow

_THING = re.compile(r"(step|defect|passage|trace):[\w/:.-]{1,80}")
_MOST = 12


def add_photo(
    transaction: Transaction, opened: OpenPlan, *, thing: str, name: str, content: bytes, by_account: int
) -> None:
    """Keep a photo of a thing. Raises Unreadable for no picture, one too many, no such thing; OverQuota, Busy."""
    if not _THING.fullmatch(thing):
        raise Unreadable("A photo belongs to a step, a defect or what got through; choose one of them.")
    with transaction() as connection:
        if photos.count_photos(connection, plan_id=opened.id, thing=thing) >= _MOST:
            raise Unreadable(f"It has {_MOST} photos already; take one off first.")
    kept = keep_picture(
        transaction, plan_id=opened.id, account_id=by_account, name=name, content=content, purpose="photo"
    )
    with transaction() as connection:
        photos.add_photo(connection, plan_id=opened.id, picture_id=kept.id, thing=thing, by_account=by_account)


def drop_photo(transaction: Transaction, opened: OpenPlan, photo_id: int) -> None:
    """Take a photo off."""
    with transaction() as connection:
        photos.drop_photo(connection, plan_id=opened.id, photo_id=photo_id)


def photos_by_thing(transaction: Transaction, plan_id: int) -> dict[str, list[PhotoRow]]:
    """The photos of every thing of a plan that has some."""
    with transaction() as connection:
        rows = photos.list_photos(connection, plan_id=plan_id)
    found: dict[str, list[PhotoRow]] = {}
    for row in rows:
        found.setdefault(row.thing, []).append(row)
    return found
