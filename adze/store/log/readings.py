"""Readings taken at places of a plan."""

from dataclasses import asdict, dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class NewReading:
    """What a tester showed at a place, beside what was forecast then (kV)."""

    run: str
    at_m: float
    strand: int
    kv: float
    amps: float | None
    outward: bool | None
    season: str
    note: str
    forecast_low_kv: float | None
    forecast_kv: float | None
    forecast_high_kv: float | None
    is_over: bool = False
    corrects: int | None = None


@dataclass(frozen=True, kw_only=True)
class Reading(NewReading):
    """A reading as it is kept."""

    id: int
    read_at: datetime
    read_by_name: str
    withdrawn_why: str | None = None


def add_reading(
    connection: Connection,
    reading: NewReading,
    *,
    plan_id: int,
    read_by: int,
    idempotency_key: str = "",
    read_at: datetime | None = None,
) -> Reading:
    """Keep a reading, of now unless said; one with a token that is kept already is that one. Raises RefusedByStore."""
    values = asdict(reading) | {"read_at": read_at}
    made = fetch_one(
        connection,
        _QUERIES["add_reading"],
        Reading,
        plan_id=plan_id,
        read_by=read_by,
        idempotency_key=idempotency_key,
        **values,
    )
    if made is None:
        raise Missing("The reading was not kept.")
    return made


def list_readings(
    connection: Connection, *, plan_id: int, most: int = 50, skip: int = 0, withdrawn: bool = False
) -> tuple[Reading, ...]:
    """The newest readings of a plan, after so many that are newer; `withdrawn`: those that were withdrawn too."""
    values = {"plan_id": plan_id, "most": most, "skip": skip, "withdrawn": withdrawn}
    return fetch_all(connection, _QUERIES["list_readings"], Reading, **values)


def list_between(
    connection: Connection, *, plan_id: int, begun: datetime, ended: datetime, most: int = 500
) -> tuple[Reading, ...]:
    """The readings of a plan that count between two moments, newest first."""
    values = {"plan_id": plan_id, "begun": begun, "ended": ended, "most": most}
    return fetch_all(connection, _QUERIES["list_between"], Reading, **values)


@dataclass(frozen=True)
class _Withdrawn:
    id: int


def withdraw_reading(connection: Connection, *, plan_id: int, reading_id: int, why: str) -> bool:
    """Count a reading no more; whether it still counted."""
    values = {"plan_id": plan_id, "id": reading_id, "why": why}
    return fetch_one(connection, _QUERIES["withdraw_reading"], _Withdrawn, **values) is not None


def get_reading(connection: Connection, *, plan_id: int, reading_id: int) -> Reading | None:
    """A reading of a plan that counts; None where there is none."""
    return fetch_one(connection, _QUERIES["get_reading"], Reading, plan_id=plan_id, id=reading_id)


@dataclass(frozen=True, kw_only=True)
class LastRead:
    """When a plan was read last."""

    plan_id: int
    read_at: datetime


def list_last_read(connection: Connection, *, plans: list[int]) -> tuple[LastRead, ...]:
    """When each of some plans was read last; plans without a reading are left out."""
    return fetch_all(connection, _QUERIES["list_last_read"], LastRead, plans=plans)


@dataclass(frozen=True)
class Stamp:
    """How many readings a plan has, how many of them count, the newest's number: another one when any of it changes."""

    kept: int
    counting: int
    newest: int


def get_stamp(connection: Connection, *, plan_id: int) -> Stamp:
    """Whether a plan's readings are still those that were read before."""
    found = fetch_one(connection, _QUERIES["get_stamp"], Stamp, plan_id=plan_id)
    return found or Stamp(0, 0, 0)
