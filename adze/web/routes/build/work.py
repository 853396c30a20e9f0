"""The work on a plan's fence: ticks, crew, day, rates, the weather, sheets and a calendar to take along."""

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Annotated, Any, Literal
from zoneinfo import ZoneInfo

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response
from pydantic import AwareDatetime, Field

from adze.core.plan.stages import Stage
from adze.formats.errors import FormatError
from adze.services.build import as_built, work
from adze.services.build import work_settings as settings
from adze.services.build.work import BadWork
from adze.services.log import weather
from adze.services.log.weather import NoFeed
from adze.services.views.base import ViewRequest
from adze.services.views.build import calendar_of, crew_sheets_view, end_sheets_view
from adze.store.build.work import NewEvent
from adze.store.errors import RefusedByStore
from adze.web.access import Db, EditPlan, LogOnPlan, ReadPlan, Who, settings_of
from adze.web.pages import page
from adze.web.workbench import JsonBody, fault, file, state

router = APIRouter()


class Tick(JsonBody):
    """What was done at a step; `idempotency_key` makes it one, however often it is sent."""

    step: Annotated[str, Field(min_length=1, max_length=80)]
    what: Literal["start", "pause", "done", "undone", "note"]
    note: Annotated[str, Field(max_length=600)] = ""
    idempotency_key: Annotated[str, Field(max_length=40, alias="once")] = ""
    at: AwareDatetime | None = None


class Crew(JsonBody):
    """The crew as it was typed."""

    crew: Annotated[list[dict[str, Any]], Field(max_length=20)]


class Day(JsonBody):
    """When the work begins, as typed."""

    begins_on: Annotated[str, Field(max_length=20)]
    begins_at: Annotated[str, Field(max_length=10)]
    day_h: Annotated[str, Field(max_length=10)]
    ready_by: Annotated[str, Field(max_length=40)] = ""
    ready_for: Annotated[str, Field(max_length=10)] = ""


class RateTyped(JsonBody):
    """A farm's own minutes, as typed; `learned` takes what the minutes of a phase taught."""

    kind: Annotated[str, Field(max_length=40)] = ""
    minutes: Annotated[str, Field(max_length=20)] = ""
    learned: Annotated[str, Field(max_length=20)] = ""


class FigureNoted(JsonBody):
    """A figure as it stands, as typed; nothing: as drawn."""

    key: Annotated[str, Field(min_length=1, max_length=100)]
    figure: Annotated[str, Field(max_length=300)] = ""


class Forecast(JsonBody):
    """A pasted forecast; empty: the feed is asked."""

    text: Annotated[str, Field(max_length=200_000)] = ""


def _done(request: Request, begin_transaction: Db, opened: ReadPlan, do: Callable[[], object], field: str) -> Response:
    """The fresh state after something was done, or what is wrong with it."""
    try:
        do()
    except (BadWork, NoFeed, FormatError, RefusedByStore) as error:
        return fault(((field, str(error)),))
    return JSONResponse(state(request, ViewRequest(opened, begin_transaction), Stage.BUILD))


@router.post("/api/plans/{plan_id}/work/tick", name="tick")
def tick(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: Tick) -> Response:
    """Start, pause, tick, take back or note a step."""
    ticked = NewEvent(**body.model_dump(include={"step", "what", "note", "idempotency_key", "at"}))

    def keep() -> object:
        return work.tick(begin_transaction, opened, ticked, by_account=who.account_id)

    return _done(request, begin_transaction, opened, keep, "")


@router.post("/api/plans/{plan_id}/work/crew", name="set_crew")
def set_crew(request: Request, begin_transaction: Db, opened: EditPlan, body: Crew) -> Response:
    """Who is on the crew."""
    return _done(
        request, begin_transaction, opened, lambda: settings.set_crew(begin_transaction, opened, body.crew), "work.crew"
    )


@router.post("/api/plans/{plan_id}/work/day", name="set_day")
def set_day(request: Request, begin_transaction: Db, opened: EditPlan, body: Day) -> Response:
    """When the work begins."""
    typed, ready = (body.begins_on, body.begins_at, body.day_h), (body.ready_by, body.ready_for)
    return _done(
        request,
        begin_transaction,
        opened,
        lambda: settings.set_day(begin_transaction, opened, *typed, ready),
        "work.day",
    )


@router.post("/api/plans/{plan_id}/work/rates", name="set_rate")
def set_rate(request: Request, begin_transaction: Db, opened: EditPlan, body: RateTyped) -> Response:
    """A farm's own minutes for a kind of work."""
    if body.learned:
        return _done(
            request,
            begin_transaction,
            opened,
            lambda: settings.take_learned(begin_transaction, opened, body.learned),
            "work.learned",
        )
    typed = (body.kind, body.minutes)
    return _done(
        request,
        begin_transaction,
        opened,
        lambda: settings.set_rate(begin_transaction, opened, *typed),
        f"work.rate.{body.kind}",
    )


@router.post("/api/plans/{plan_id}/work/built", name="note_figure")
def note_figure(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: FigureNoted) -> Response:
    """Note a figure as it stands."""

    def keep() -> None:
        as_built.note_figure(begin_transaction, opened, body.key, body.figure, noted_by=who.account_id)

    return _done(request, begin_transaction, opened, keep, f"built.{body.key}")


@router.post("/api/plans/{plan_id}/work/forecast", name="bring_forecast")
def bring_forecast(request: Request, begin_transaction: Db, opened: EditPlan, body: Forecast) -> Response:
    """A forecast, pasted or asked of the feed."""
    zone = ZoneInfo(opened.stored.time_zone)
    farm = weather.FarmPlace(opened.stored.farm_id, opened.plan.origin, zone)

    def bring() -> object:
        if body.text.strip():
            return weather.paste_forecast(begin_transaction, farm, body.text)
        today = datetime.now(UTC).astimezone(zone).date()
        return weather.ask_feed(begin_transaction, farm, settings_of(request).weather_url, today)

    return _done(request, begin_transaction, opened, bring, "work.forecast")


@router.get("/plans/{plan_id}/work.ics", name="work_calendar")
def work_calendar(begin_transaction: Db, opened: ReadPlan) -> Response:
    """Days of work, moves and rounds for a calendar."""
    return file(calendar_of(begin_transaction, opened), "text/calendar; charset=utf-8", "work.ics")


@router.get("/plans/{plan_id}/paper/work", name="work_paper")
def work_paper(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """Sheets for the crew: the steps in their order, one sheet for each end, gate and joint."""
    return page(request, "plan/paper_work.html", crew_sheets_view(begin_transaction, opened))


@router.get("/plans/{plan_id}/paper/ends", name="ends_paper")
def ends_paper(request: Request, opened: ReadPlan) -> Response:
    """A sheet for each single end and gate."""
    return page(request, "plan/paper_ends.html", end_sheets_view(opened))
