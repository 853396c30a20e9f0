"""The weather of a farm, day by day."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from adze.store.connection import Connection, fetch_all, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class StoredDay:
    """A day: rain in mm, mean air in °C (None: not known, a gauge tells rain alone), whether there was a storm."""

    day: date
    rain_mm: float
    mean_c: float | None
    is_stormy: bool


@dataclass(frozen=True, kw_only=True)
class HearingFarm:
    """A farm that hears a feed: its zone, and a plan that says where it lies."""

    farm_id: int
    time_zone: str
    plan_id: int


def keep_days(connection: Connection, days: Sequence[StoredDay], *, farm_id: int) -> None:
    """Keep days as a feed tells them. Raises RefusedByStore."""
    run(
        connection,
        _QUERIES["keep_days"],
        farm_id=farm_id,
        days=[row.day for row in days],
        rain_mm=[row.rain_mm for row in days],
        mean_c=[row.mean_c for row in days],
        is_stormy=[row.is_stormy for row in days],
    )


def keep_gauge(connection: Connection, *, farm_id: int, day: date, gauge_mm: float) -> None:
    """Keep what a rain gauge showed for a day. Raises RefusedByStore."""
    run(connection, _QUERIES["keep_gauge"], farm_id=farm_id, day=day, gauge_mm=gauge_mm)


def list_days(connection: Connection, *, farm_id: int, until: date, most: int = 800) -> tuple[StoredDay, ...]:
    """The newest days of a farm up to one, newest first."""
    return fetch_all(connection, _QUERIES["list_days"], StoredDay, farm_id=farm_id, until=until, most=most)


def list_hearing_farms(connection: Connection, *, after: int, most: int) -> tuple[HearingFarm, ...]:
    """Farms that have asked the feed, by their number."""
    return fetch_all(connection, _QUERIES["list_hearing_farms"], HearingFarm, after=after, most=most)
