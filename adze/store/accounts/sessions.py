"""Signed-in browsers."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class Session:
    """A signed-in browser: whose it is and the CSRF token of its writes; `unseen`: its use is not noted yet;
    `is_fresh`: within five minutes they have shown to be the owner."""

    id: int
    account_id: int
    login: str
    name: str
    is_demo: bool
    is_guest: bool
    csrf: str
    unseen: bool
    is_fresh: bool


@dataclass(frozen=True, kw_only=True)
class Device:
    """A browser that an account is signed in on."""

    id: int
    made_at: datetime
    seen_at: datetime
    address: str
    device: str


@dataclass(frozen=True)
class NewSession:
    """A session to begin: the token's hash, whose it is, its CSRF token, from where, on which device."""

    token_hash: bytes
    account_id: int
    csrf: str
    address: str
    device: str


def add_session(connection: Connection, new: NewSession, *, days: int) -> None:
    """Remember a signed-in browser; forget those that have ended."""
    run(connection, _QUERIES["remove_old_sessions"])
    run(connection, _QUERIES["add_session"], days=days, **vars(new))


def get_session(connection: Connection, *, token_hash: bytes, idle_days: int) -> Session | None:
    """Who a browser is; its use is noted every few minutes."""
    found = fetch_one(connection, _QUERIES["get_session"], Session, token_hash=token_hash, idle_days=idle_days)
    if found and found.unseen:
        run(connection, _QUERIES["see_session"], session_id=found.id)
    return found


def confirm_session(connection: Connection, *, session_id: int) -> None:
    """Note that whoever is signed in has shown to be the owner."""
    run(connection, _QUERIES["confirm_session"], session_id=session_id)


def list_sessions(connection: Connection, *, account_id: int) -> tuple[Device, ...]:
    """The browsers that an account is signed in on, the last used first."""
    return fetch_all(connection, _QUERIES["list_sessions"], Device, account_id=account_id)


def remove_session(connection: Connection, *, token_hash: bytes) -> None:
    """Sign a browser out."""
    run(connection, _QUERIES["remove_session"], token_hash=token_hash)


def remove_session_by_id(connection: Connection, *, session_id: int, account_id: int) -> None:
    """Sign one of an account's browsers out."""
    run(connection, _QUERIES["remove_session_by_id"], session_id=session_id, account_id=account_id)


def remove_other_sessions(connection: Connection, *, account_id: int, session_id: int) -> int:
    """Sign all browsers of an account out but one; how many there were."""
    return run(connection, _QUERIES["remove_other_sessions"], account_id=account_id, session_id=session_id)
