"""One plan shown by a link, until a date, to whoever holds the link: a contractor, a neighbour, no account needed."""

import secrets

from adze.services.accounts.accounts import Caller, Key, admit_guest
from adze.services.limits.tokens import digest_of
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction
from adze.store.errors import Missing
from adze.store.sharing import look_links
from adze.store.sharing.look_links import LookLink
from adze.store.sharing.people import SharedFarm

LONGEST_DAYS = 365


def show(begin_transaction: BeginTransaction, farm: SharedFarm, *, made_by: int, plan_id: int, days: int) -> str:
    """A link's token, which is kept only as a hash: it is shown once. Raises ValueError."""
    if not 1 <= days <= LONGEST_DAYS:
        raise ValueError(f"Days: a link shows a plan for 1 to {LONGEST_DAYS} days.")
    token = secrets.token_urlsafe(24)
    with begin_transaction() as connection:
        made = look_links.add_look_link(
            connection, token_hash=digest_of(token), plan_id=plan_id, farm_id=farm.id, made_by=made_by, days=days
        )
    if not made:
        raise ValueError("Plan: choose one of this farm's plans.")
    return token


def hide(begin_transaction: BeginTransaction, farm: SharedFarm, *, link_id: int) -> None:
    """Take a link back, for all who came by it."""
    with begin_transaction() as connection:
        look_links.remove_look_link(connection, link_id=link_id, farm_id=farm.id)


def shown(begin_transaction: BeginTransaction, token: str) -> LookLink:
    """What a link shows. Raises Missing."""
    with begin_transaction() as connection:
        found = look_links.get_look_link(connection, token_hash=digest_of(token))
    if found is None:
        raise Missing("That link is wrong or has expired. Ask for another.")
    return found


def look(
    begin_transaction: BeginTransaction, token: str, *, session: Session | None, days: int, caller: Caller
) -> Key | None:
    """Let whoever is signed in look by a link, or else a guest: then the key for their browser. Raises Missing."""
    found = shown(begin_transaction, token)
    with begin_transaction() as connection:
        if session:
            look_links.add_looker(connection, link_id=found.id, account_id=session.account_id)
            return None
        key, guest = admit_guest(connection, f"Guest of {found.made_by_name}"[:80], days, caller)
        look_links.add_looker(connection, link_id=found.id, account_id=guest)
        return key
