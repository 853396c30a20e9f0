"""Earth tests and stray volts as they were read."""

from dataclasses import dataclass
from datetime import date
from typing import Any

from adze.store.connection import Connection, fetch_all, fetch_one
from adze.store.errors import Missing
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class StoredTest:
    """An earth test: what was read (kV), with how many rods, and what it implied then (ohm, ohm m, kV)."""

    id: int
    run: str
    at_m: float
    season: str
    rods_kv: float
    fence_kv: float
    before_kv: float | None
    peg_m: float
    rods: int
    tester: str
    school: str
    note: str
    rods_ohm: float
    low_ohm: float
    high_ohm: float
    soil_ohm_m: float
    full_kv: float
    read_on: date


@dataclass(frozen=True, kw_only=True)
class StoredStray:
    """Volts read where animals drink, and what was forecast there."""

    id: int
    landmark: str
    place: str
    volts: float
    season: str
    forecast_v: float | None
    note: str
    read_on: date


@dataclass(frozen=True, kw_only=True)
class LastTest:
    """The last day on which a plan's earth was tested in a season."""

    plan_id: int
    season: str
    read_on: date


def add_earth_test(connection: Connection, **row: Any) -> StoredTest:
    """Keep a test; its columns by name. Raises Refused."""
    made = fetch_one(connection, _QUERIES["add_earth_test"], StoredTest, **row)
    if made is None:
        raise Missing("The test was not kept.")
    return made


def list_earth_tests(connection: Connection, *, plan_id: int, most: int = 60) -> tuple[StoredTest, ...]:
    """The newest tests of a plan."""
    return fetch_all(connection, _QUERIES["list_earth_tests"], StoredTest, plan_id=plan_id, most=most)


def add_stray_reading(connection: Connection, **row: Any) -> StoredStray:
    """Keep volts read at a place; its columns by name. Raises Refused."""
    made = fetch_one(connection, _QUERIES["add_stray_reading"], StoredStray, **row)
    if made is None:
        raise Missing("The reading was not kept.")
    return made


def list_stray_readings(connection: Connection, *, plan_id: int, most: int = 60) -> tuple[StoredStray, ...]:
    """The newest stray readings of a plan."""
    return fetch_all(connection, _QUERIES["list_stray_readings"], StoredStray, plan_id=plan_id, most=most)


def list_last_tests(connection: Connection, *, plans: list[int]) -> tuple[LastTest, ...]:
    """The last test of each season on some plans."""
    return fetch_all(connection, _QUERIES["list_last_tests"], LastTest, plans=plans)
