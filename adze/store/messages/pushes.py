"""Browsers that are told of alarms, and what is to be told to each."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)
MOST_BROWSERS = 10


@dataclass(frozen=True)
class PushTarget:
    """Where a browser is told: the address at its push service, its public key and its secret (base64url)."""

    endpoint: str
    p256dh: str
    auth: str


@dataclass(frozen=True, kw_only=True)
class PushNote:
    """Something to be told to a browser: a title, a sentence, the page that it opens."""

    id: int
    browser_id: int
    title: str
    body: str
    path: str
    made_at: datetime
    endpoint: str
    p256dh: str
    auth: str


@dataclass(frozen=True)
class _Key:
    private_key: str


@dataclass(frozen=True)
class _Id:
    id: int


def keep_key(connection: Connection, *, private_key: str) -> str:
    """Keep the key by which push services know this Adze, unless there is one; the key that counts."""
    run(connection, _QUERIES["keep_push_key"], private_key=private_key)
    return get_key(connection) or private_key


def get_key(connection: Connection) -> str | None:
    """The key by which push services know this Adze; None before the first browser asked for it."""
    kept = fetch_one(connection, _QUERIES["get_push_key"], _Key)
    return kept.private_key if kept else None


def add_browser(connection: Connection, target: PushTarget, *, account_id: int) -> int:
    """Tell a browser of alarms from now on; its id. Of an account's browsers the newest ten are kept."""
    made = fetch_one(connection, _QUERIES["add_push_browser"], _Id, account_id=account_id, **vars(target))
    if made is None:
        raise Missing("The browser was not kept.")
    run(connection, _QUERIES["drop_oldest_push_browsers"], account_id=account_id, most=MOST_BROWSERS)
    return made.id


def remove_browser(connection: Connection, *, account_id: int, endpoint: str) -> None:
    """Tell a browser no longer."""
    run(connection, _QUERIES["remove_push_browser"], account_id=account_id, endpoint=endpoint)


def list_browsers(connection: Connection, *, plan_id: int) -> tuple[int, ...]:
    """The browsers that are told of a plan's alarms."""
    return tuple(row.id for row in fetch_all(connection, _QUERIES["list_push_browsers"], _Id, plan_id=plan_id))


def add_note(connection: Connection, *, browser_id: int, title: str, body: str, path: str) -> int:
    """Keep something until it is told; its id."""
    values = {"title": title, "body": body, "path": path}
    made = fetch_one(connection, _QUERIES["add_push_note"], _Id, browser_id=browser_id, **values)
    if made is None:
        raise Missing("The note was not kept.")
    return made.id


def get_note(connection: Connection, *, note_id: int) -> PushNote | None:
    """What is to be told, and where; None once it is told."""
    return fetch_one(connection, _QUERIES["get_push_note"], PushNote, note_id=note_id)


def remove_note(connection: Connection, *, note_id: int) -> None:
    """Keep what is told no longer."""
    run(connection, _QUERIES["remove_push_note"], note_id=note_id)


def forget_browser(connection: Connection, *, browser_id: int) -> None:
    """Forget a browser that its push service knows no longer, with all that was to be told to it."""
    run(connection, _QUERIES["forget_push_browser"], browser_id=browser_id)


def forget_notes(connection: Connection) -> None:
    """Drop what could not be told within a day."""
    run(connection, _QUERIES["forget_push_notes"])
