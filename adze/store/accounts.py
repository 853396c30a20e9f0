"""Accounts and signed-in browsers."""

from dataclasses import dataclass

from adze.store.connection import Connection, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries("accounts")


@dataclass(frozen=True, kw_only=True)
class Account:
    """Who signs in."""

    id: int
    login: str
    name: str
    password_hash: str
    is_demo: bool


@dataclass(frozen=True, kw_only=True)
class Session:
    """A signed-in browser: whose it is and the word that its writes must carry."""

    account_id: int
    login: str
    name: str
    csrf: str


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


def get_account(connection: Connection, *, login: str) -> Account | None:
    """The account of a login."""
    return fetch_one(connection, _QUERIES["get_account"], Account, login=login)


def add_session(connection: Connection, *, token_hash: bytes, account_id: int, csrf: str, days: int) -> None:
    """Remember a signed-in browser; forget those that have ended."""
    run(connection, _QUERIES["remove_old_sessions"])
    run(connection, _QUERIES["add_session"], token_hash=token_hash, account_id=account_id, csrf=csrf, days=days)


def get_session(connection: Connection, *, token_hash: bytes) -> Session | None:
    """Who a browser is."""
    return fetch_one(connection, _QUERIES["get_session"], Session, token_hash=token_hash)


def remove_session(connection: Connection, *, token_hash: bytes) -> None:
    """Sign a browser out."""
    run(connection, _QUERIES["remove_session"], token_hash=token_hash)
