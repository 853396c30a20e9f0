"""Searches for a design: the question, how far each is, the best so far."""

from dataclasses import dataclass
from typing import Any

from psycopg.types.json import Jsonb

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries
from adze.store.plans.plans import Written

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class SearchRow:
    """A search: waiting, running, done, stopped or failed, and the last that it told."""

    id: int
    state: str
    told: dict[str, Any]


@dataclass(frozen=True, kw_only=True)
class AskedSearch(Written):
    """What a search asks: the revision's document, and what is fixed."""

    wishes: dict[str, Any]


@dataclass(frozen=True)
class _Count:
    count: int


def ask_search(
    connection: Connection, *, plan_id: int, number: int, wishes: dict[str, Any], program: str, asked_by: int
) -> SearchRow:
    """Ask for a search; the same question of the same revision is one search."""
    values = {"plan_id": plan_id, "number": number, "program": program, "asked_by": asked_by}
    found = fetch_one(connection, _QUERIES["ask_search"], SearchRow, wishes=Jsonb(wishes), **values)
    assert found is not None
    return found


def get_search(connection: Connection, *, plan_id: int, search_id: int) -> SearchRow | None:
    """A search of a plan."""
    return fetch_one(connection, _QUERIES["get_search"], SearchRow, plan_id=plan_id, search_id=search_id)


def get_latest_search(connection: Connection, *, plan_id: int, number: int, program: str) -> SearchRow | None:
    """The search that was last asked for a revision."""
    values = {"plan_id": plan_id, "number": number, "program": program}
    return fetch_one(connection, _QUERIES["get_latest_search"], SearchRow, **values)


def count_open_searches(connection: Connection, *, account_id: int) -> int:
    """How many searches of an account wait or run."""
    (found,) = fetch_all(connection, _QUERIES["count_open_searches"], _Count, account_id=account_id)
    return found.count


def begin_search(connection: Connection, *, search_id: int) -> AskedSearch | None:
    """Take a search in hand; None where it was stopped or is gone."""
    return fetch_one(connection, _QUERIES["begin_search"], AskedSearch, search_id=search_id)


def tell_search(connection: Connection, *, search_id: int, told: dict[str, Any], state: str) -> bool:
    """Keep how far a running search is; False where it was stopped meanwhile."""
    return run(connection, _QUERIES["tell_search"], search_id=search_id, told=Jsonb(told), state=state) == 1


def stop_search(connection: Connection, *, plan_id: int, search_id: int) -> None:
    """Stop a search."""
    run(connection, _QUERIES["stop_search"], plan_id=plan_id, search_id=search_id)


def forget_searches(connection: Connection) -> None:
    """Drop searches of which nobody has asked for a week."""
    run(connection, _QUERIES["forget_searches"])
