"""Upkeep that was done on a plan's fence, and what is to be mended later."""

from dataclasses import dataclass
from datetime import date

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class UpkeepDone:
    """Upkeep as it was done."""

    kind: str
    done_on: date
    note: str
    by_name: str


@dataclass(frozen=True, kw_only=True)
class Defect:
    """Something to be mended later, at a place of a line."""

    id: int
    run: str
    at_m: float
    words: str
    noted_on: date
    by_name: str


@dataclass(frozen=True)
class _Last:
    kind: str
    done_on: date


@dataclass(frozen=True)
class _Mended:
    id: int


def add_upkeep(connection: Connection, *, plan_id: int, kind: str, done_on: date, note: str, by_account: int) -> None:
    """Keep that something was done on a day. Raises RefusedByStore."""
    values = {"kind": kind, "done_on": done_on, "note": note, "by_account": by_account}
    run(connection, _QUERIES["add_upkeep"], plan_id=plan_id, **values)


def list_last(connection: Connection, *, plan_id: int) -> dict[str, date]:
    """The last day of each kind."""
    return {row.kind: row.done_on for row in fetch_all(connection, _QUERIES["list_last"], _Last, plan_id=plan_id)}


def list_upkeep(connection: Connection, *, plan_id: int, most: int = 40) -> tuple[UpkeepDone, ...]:
    """What was done, newest first."""
    return fetch_all(connection, _QUERIES["list_upkeep"], UpkeepDone, plan_id=plan_id, most=most)


def add_defect(
    connection: Connection,
    *,
    plan_id: int,
    place: tuple[str, float],
    words: str,
    noted_on: date,
    by_account: int,
    idempotency_key: str = "",
) -> None:
    """Note something to be mended later at (run, m); `idempotency_key` is the token of one that may be sent twice.

    Raises RefusedByStore.
    """
    values = {"words": words, "noted_on": noted_on, "by_account": by_account, "idempotency_key": idempotency_key}
    run(connection, _QUERIES["add_defect"], plan_id=plan_id, run=place[0], at_m=place[1], **values)


def list_defects(connection: Connection, *, plan_id: int) -> tuple[Defect, ...]:
    """What is still to be mended."""
    return fetch_all(connection, _QUERIES["list_defects"], Defect, plan_id=plan_id)


def mend_defect(connection: Connection, *, plan_id: int, defect_id: int, mended_on: date) -> bool:
    """It is mended; whether it was still open."""
    found = fetch_one(connection, _QUERIES["mend_defect"], _Mended, plan_id=plan_id, id=defect_id, mended_on=mended_on)
    return found is not None
