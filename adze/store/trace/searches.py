"""Searches for faults on a plan's fence, and what was done in them."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.types.json import Jsonb

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class TraceSearch:
    """A search: its season, whether it is thorough and the tester shows amps, what is hidden, when it began and ended.

    Something is hidden in practice alone.
    """

    id: int
    season: str
    is_thorough: bool
    hidden: dict[str, Any] | None
    started_at: datetime
    ended_at: datetime | None
    result: dict[str, Any] | None
    shows_amps: bool = True


@dataclass(frozen=True, kw_only=True)
class TraceEvent:
    """What somebody did in a search."""

    id: int
    what: str
    body: dict[str, Any]
    at: datetime
    by_name: str
    idempotency_key: str | None = None


@dataclass(frozen=True)
class _Row:
    id: int


def get_open_search(connection: Connection, *, plan_id: int) -> TraceSearch | None:
    """The search that is going on; None where there is none."""
    return fetch_one(connection, _QUERIES["get_open_search"], TraceSearch, plan_id=plan_id)


def get_search_of_step(connection: Connection, *, plan_id: int, token: str) -> TraceSearch | None:
    """The search in earnest that a step is of, by its token, or by e and its number; None where there is none."""
    return fetch_one(connection, _QUERIES["get_search_of_step"], TraceSearch, plan_id=plan_id, token=token)


def begin_search(
    connection: Connection,
    *,
    plan_id: int,
    season: str,
    is_thorough: bool,
    shows_amps: bool,
    hidden: dict[str, Any] | None,
    started_by: int,
) -> TraceSearch:
    """Begin a search; where one is going on already, it is that one. Raises RefusedByStore."""
    fetch_one(connection, _QUERIES["lock_plan_searches"], _Row, plan_id=plan_id)
    going = get_open_search(connection, plan_id=plan_id)
    if going is not None:
        return going
    values = {
        "season": season,
        "is_thorough": is_thorough,
        "shows_amps": shows_amps,
        "started_by": started_by,
    }
    made = fetch_one(
        connection,
        _QUERIES["add_trace_search"],
        TraceSearch,
        plan_id=plan_id,
        hidden=None if hidden is None else Jsonb(hidden),
        **values,
    )
    if made is None:
        raise Missing("The search was not kept.")
    return made


def add_practised(
    connection: Connection,
    *,
    plan_id: int,
    season: str,
    hidden: dict[str, Any],
    result: dict[str, Any],
    started_by: int,
) -> None:
    """Keep practice that ended elsewhere; by the token in `hidden` once. Raises RefusedByStore."""
    values = {"season": season, "hidden": Jsonb(hidden), "result": Jsonb(result), "idempotency_key": hidden["once"]}
    run(connection, _QUERIES["add_practised"], plan_id=plan_id, started_by=started_by, **values)


def end_search(connection: Connection, *, plan_id: int, search_id: int, result: dict[str, Any]) -> bool:
    """End a search with what came of it; whether it was still going on."""
    values = {"search_id": search_id, "result": Jsonb(result)}
    return fetch_one(connection, _QUERIES["end_search"], _Row, plan_id=plan_id, **values) is not None


def list_ended_searches(connection: Connection, *, plan_id: int, most: int = 20) -> tuple[TraceSearch, ...]:
    """The searches that ended, newest first."""
    return fetch_all(connection, _QUERIES["list_ended_searches"], TraceSearch, plan_id=plan_id, most=most)


def add_trace_event(
    connection: Connection, *, search_id: int, what: str, body: dict[str, Any], idempotency_key: str, by_account: int
) -> int:
    """Keep what was done; its id. One that is sent twice is kept once. Raises RefusedByStore."""
    values = {"what": what, "body": Jsonb(body), "idempotency_key": idempotency_key, "by_account": by_account}
    made = fetch_one(connection, _QUERIES["add_trace_event"], _Row, search_id=search_id, **values)
    if made is None:
        raise Missing("The search is there no more.")
    return made.id


def list_trace_events(connection: Connection, *, search_id: int) -> tuple[TraceEvent, ...]:
    """What was done in a search and stands, oldest first."""
    return fetch_all(connection, _QUERIES["list_trace_events"], TraceEvent, search_id=search_id)


def undo_trace_event_of(connection: Connection, *, search_id: int, token: str) -> bool:
    """Take a step back by its token, or by e and its number; False where it does not stand."""
    values = {"search_id": search_id, "token": token}
    return fetch_one(connection, _QUERIES["undo_trace_event_of"], _Row, **values) is not None


def undo_trace_event(connection: Connection, *, search_id: int) -> bool:
    """Take back the last of what stands; whether there was anything."""
    return fetch_one(connection, _QUERIES["undo_trace_event"], _Row, search_id=search_id) is not None


def list_finds(connection: Connection, *, plan_id: int, most: int = 200) -> tuple[TraceEvent, ...]:
    """What was found in searches in earnest, newest first."""
    return fetch_all(connection, _QUERIES["list_finds"], TraceEvent, plan_id=plan_id, most=most)
