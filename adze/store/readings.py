"""Readings taken at places of a plan."""

from dataclasses import dataclass
from datetime import datetime

from adze.store.connection import Connection, fetch_all, fetch_one
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries("readings")


@dataclass(frozen=True, kw_only=True)
class Reading:
    """What a tester showed at a place, beside what was forecast then (kV)."""

    id: int
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
    read_at: datetime


def add_reading(
    connection: Connection,
    *,
    plan_id: int,
    run: str,
    at_m: float,
    strand: int,
    kv: float,
    amps: float | None,
    outward: bool | None,
    season: str,
    note: str,
    forecast_low_kv: float | None,
    forecast_kv: float | None,
    forecast_high_kv: float | None,
    read_by: int,
) -> Reading:
    """Keep a reading. Raises Refused."""
    made = fetch_one(
        connection,
        _QUERIES["add_reading"],
        Reading,
        plan_id=plan_id,
        run=run,
        at_m=at_m,
        strand=strand,
        kv=kv,
        amps=amps,
        outward=outward,
        season=season,
        note=note,
        forecast_low_kv=forecast_low_kv,
        forecast_kv=forecast_kv,
        forecast_high_kv=forecast_high_kv,
        read_by=read_by,
    )
    if made is None:
        raise Missing("The reading was not kept.")
    return made


def list_readings(connection: Connection, *, plan_id: int, most: int = 50) -> tuple[Reading, ...]:
    """The newest readings of a plan."""
    return fetch_all(connection, _QUERIES["list_readings"], Reading, plan_id=plan_id, most=most)
