"""What got through a plan's fence."""

from dataclasses import dataclass
from datetime import date

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class NewBreach:
    """So many animals of a kind that got through: how, where, on which day."""

    kind: str
    count: int
    way: str
    run: str
    at_m: float
    on_day: date
    note: str


@dataclass(frozen=True, kw_only=True)
class BreachRow(NewBreach):
    """One of them as it is kept, and who noted it."""

    id: int
    by_name: str


def add_passage(connection: Connection, *, plan_id: int, passage: NewBreach, by_account: int) -> None:
    """Note that something got through. Raises RefusedByStore."""
    run(connection, _QUERIES["add_passage"], plan_id=plan_id, by_account=by_account, **vars(passage))


def list_passages(connection: Connection, *, plan_id: int, most: int = 100) -> tuple[BreachRow, ...]:
    """What got through, newest first."""
    return fetch_all(connection, _QUERIES["list_passages"], BreachRow, plan_id=plan_id, most=most)


def get_passage(connection: Connection, *, plan_id: int, passage_id: int) -> BreachRow | None:
    """One of them; None where there is none of that number."""
    return fetch_one(connection, _QUERIES["get_passage"], BreachRow, plan_id=plan_id, id=passage_id)
