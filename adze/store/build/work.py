"""The work on a plan's fence: crew, day, what was ticked, a farm's own rates and forecast."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date, datetime, time
from typing import Any

from psycopg.types.json import Jsonb

from adze.store.connection import Connection, fetch_all, fetch_one, run
from adze.store.loader import load_queries

_QUERIES = load_queries(__name__)


@dataclass(frozen=True, kw_only=True)
class CrewMember:
    """Somebody on the crew; `may` names the machines that they may use."""

    name: str
    role: str
    may: Sequence[str]


@dataclass(frozen=True, kw_only=True)
class WorkDay:
    """When the work begins, how many hours a day has, and by when it must stand, for whom."""

    begins_on: date
    begins_at: time
    day_h: float
    ready_by: datetime | None = None
    ready_for: str = ""


@dataclass(frozen=True, kw_only=True)
class TaskEvent:
    """What somebody did at a step: start, pause, done, undone, note; `said` is the step as it was then."""

    id: int
    step: str
    what: str
    said: str
    note: str
    by_name: str
    at: datetime


@dataclass(frozen=True, kw_only=True)
class NewEvent:
    """What is done at a step, of now unless said; `idempotency_key` makes it one, however often it is sent."""

    step: str
    what: str
    said: str = ""
    note: str = ""
    idempotency_key: str = ""
    at: datetime | None = None


@dataclass(frozen=True)
class _Id:
    id: int


@dataclass(frozen=True)
class _Rate:
    kind: str
    minutes: float


@dataclass(frozen=True)
class StoredForecast:
    """Hours of a forecast as JSON rows, and when they were heard."""

    forecast: list[dict[str, Any]] | None
    forecast_at: datetime | None


def list_crew(connection: Connection, *, plan_id: int) -> tuple[CrewMember, ...]:
    """The crew of a plan; none where nobody was named."""
    return fetch_all(connection, _QUERIES["list_crew"], CrewMember, plan_id=plan_id)


def set_crew(connection: Connection, crew: Sequence[CrewMember], *, plan_id: int) -> None:
    """The crew in the place of the one before. Raises RefusedByStore."""
    run(connection, _QUERIES["clear_crew"], plan_id=plan_id)
    for place, one in enumerate(crew):
        run(
            connection, _QUERIES["add_crew_member"], plan_id=plan_id, place=place, name=one.name, role=one.role,
            may=list(one.may),
        )  # fmt: skip


def get_day(connection: Connection, *, plan_id: int) -> WorkDay | None:
    """When the work begins; None where nobody said it."""
    return fetch_one(connection, _QUERIES["get_day"], WorkDay, plan_id=plan_id)


def set_day(connection: Connection, day: WorkDay, *, plan_id: int) -> None:
    """Keep when the work begins. Raises RefusedByStore."""
    run(
        connection, _QUERIES["set_day"], plan_id=plan_id, begins_on=day.begins_on, begins_at=day.begins_at,
        day_h=day.day_h, ready_by=day.ready_by, ready_for=day.ready_for,
    )  # fmt: skip


def add_task_event(connection: Connection, event: NewEvent, *, plan_id: int, by_account: int) -> int:
    """Keep what was done at a step; its id. One with a token kept before is that one."""
    made = fetch_one(
        connection, _QUERIES["add_task_event"], _Id, plan_id=plan_id, by_account=by_account, **asdict(event)
    )
    assert made is not None
    return made.id


@dataclass(frozen=True)
class _Kept:
    is_kept: bool


def has_event(connection: Connection, *, plan_id: int, idempotency_key: str) -> bool:
    """Whether what came with a token is kept already."""
    found = fetch_one(connection, _QUERIES["has_event"], _Kept, plan_id=plan_id, idempotency_key=idempotency_key)
    return bool(found and found.is_kept)


def list_task_events(connection: Connection, *, plan_id: int, most: int = 5000) -> tuple[TaskEvent, ...]:
    """What was done on a plan, oldest first."""
    return fetch_all(connection, _QUERIES["list_task_events"], TaskEvent, plan_id=plan_id, most=most)


def list_rates(connection: Connection, *, farm_id: int) -> dict[str, float]:
    """A farm's own minutes by kind of work."""
    return {row.kind: row.minutes for row in fetch_all(connection, _QUERIES["list_rates"], _Rate, farm_id=farm_id)}


def set_rate(connection: Connection, *, farm_id: int, kind: str, minutes: float | None) -> None:
    """A farm's own minutes for a kind of work; None: the usual ones again. Raises RefusedByStore."""
    if minutes is None:
        run(connection, _QUERIES["drop_rate"], farm_id=farm_id, kind=kind)
    else:
        run(connection, _QUERIES["set_rate"], farm_id=farm_id, kind=kind, minutes=minutes)


def keep_forecast(connection: Connection, rows: list[dict[str, Any]], *, farm_id: int) -> None:
    """Keep the hours of a forecast in the place of those before."""
    run(connection, _QUERIES["keep_forecast"], farm_id=farm_id, forecast=Jsonb(rows))


def get_forecast(connection: Connection, *, farm_id: int) -> StoredForecast:
    """The forecast of a farm; nothing where none was ever heard."""
    found = fetch_one(connection, _QUERIES["get_forecast"], StoredForecast, farm_id=farm_id)
    return found or StoredForecast(None, None)


@dataclass(frozen=True, kw_only=True)
class NotedFigure:
    """A figure of a plan as it stands, as typed, by whom and when."""

    key: str
    figure: str
    by_name: str
    noted_at: datetime


def list_as_built(connection: Connection, *, plan_id: int) -> tuple[NotedFigure, ...]:
    """What stands otherwise than drawn."""
    return fetch_all(connection, _QUERIES["list_as_built"], NotedFigure, plan_id=plan_id)


def note_as_built(connection: Connection, *, plan_id: int, key: str, figure: str, noted_by: int) -> None:
    """A figure as it stands; empty: as drawn again. Raises RefusedByStore."""
    if figure:
        run(connection, _QUERIES["note_as_built"], plan_id=plan_id, key=key, figure=figure, noted_by=noted_by)
    else:
        run(connection, _QUERIES["drop_as_built"], plan_id=plan_id, key=key)
