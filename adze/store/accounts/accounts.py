"""Accounts, and what happened to them."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Account:
    """Who signs in."""

    id: int
    login: str
    name: str
    password_hash: str
    is_demo: bool


@dataclass(frozen=True, kw_only=True)
class Event:
    """Something that happened to an account: what, from where, on which device, when."""

    kind: str
    address: str
    device: str
    at: datetime


def add_account(connection: Connection, *, login: str, name: str, password_hash: str, is_demo: bool) -> Account:
    """A new account. Raises Taken."""
    made = fetch_one(
        connection,
        _QUERIES["add_account"],
        Account,
        login=login,
        name=name,
        password_hash=password_hash,
        is_demo=is_demo,
    )
    if made is None:
        raise Missing("The account was not made.")
    return made


def keep_visitor(connection: Connection, *, account_id: int, login: str, name: str, password_hash: str) -> Account:
    """What a visitor has made as an account of one's own. Raises Taken, Missing where it is dropped already."""
    kept = fetch_one(
        connection,
        _QUERIES["keep_visitor"],
        Account,
        account_id=account_id,
        login=login,
        name=name,
        password_hash=password_hash,
    )
    if kept is None:
        raise Missing("What was planned without an account was dropped after a day. Make an account and plan it again.")
    return kept


def add_guest(connection: Connection, *, login: str, name: str) -> Account:
    """An account for somebody who came by a link; no password lets them in."""
    made = fetch_one(connection, _QUERIES["add_guest"], Account, login=login, name=name)
    if made is None:
        raise Missing("The account was not made.")
    return made


def remove_old_guests(connection: Connection) -> int:
    """Take off guests whose links are over; how many there were."""
    return run(connection, _QUERIES["remove_old_guests"])


def get_account(connection: Connection, *, login: str) -> Account | None:
    """The account of a login."""
    return fetch_one(connection, _QUERIES["get_account"], Account, login=login)


def change_password(connection: Connection, *, account_id: int, password_hash: str) -> None:
    """Keep another password."""
    run(connection, _QUERIES["change_password"], account_id=account_id, password_hash=password_hash)


def remove_account(connection: Connection, *, account_id: int) -> None:
    """Take an account off with all that it owns."""
    run(connection, _QUERIES["remove_account"], account_id=account_id)


def remove_old_visitors(connection: Connection) -> int:
    """Take off what visitors to the demo left a day ago; how many there were."""
    return run(connection, _QUERIES["remove_old_visitors"])


def add_event(connection: Connection, *, account_id: int, kind: str, address: str, device: str) -> None:
    """Note what happened to an account."""
    run(connection, _QUERIES["add_event"], account_id=account_id, kind=kind, address=address, device=device)


def list_events(connection: Connection, *, account_id: int, most: int = 30) -> tuple[Event, ...]:
    """What happened to an account, newest first."""
    return fetch_all(connection, _QUERIES["list_events"], Event, account_id=account_id, most=most)
