"""Readings: the field page for a thumb, and what it saves."""

import math
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response
from pydantic import FiniteFloat

from adze.core.build.construction import fence_of
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place, place_words
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.services.calibrations import calibration_of, fit_words
from adze.services.forecasts import expected_at
from adze.services.plans import open_plan
from adze.services.readings import Entry, ReadingError, log_reading
from adze.store.plans import StoredPlan
from adze.web.pages import page, render
from adze.web.session import Db, Who, Writer
from adze.web.workbench import fault

router = APIRouter()
Text = Annotated[str, Form(max_length=400)]


def _number(text: str, usual: float) -> float:
    try:
        value = float(text)
    except ValueError:
        return usual
    return value if math.isfinite(value) else usual


def _page(
    request: Request, stored: StoredPlan, plan: Plan, typed: dict[str, str], error: ReadingError | None = None
) -> Response:
    run = next((r for r in plan.runs if r.id == typed["run"]), plan.runs[0] if plan.runs else None)
    place = run and Place(run.id, min(max(_number(typed["at_m"], 0.0), 0.0), length_m(run)))
    expected = None
    if place:
        try:
            expected = expected_at(plan, Season(typed["season"]), place)
        except (Incomplete, KeyError):
            expected = None
    context = {
        "stored": stored,
        "plan": plan,
        "place": place,
        "where": place and place_words(plan, place),
        "typed": typed,
        "expected": expected,
        "strands": len(fence_of(fence_at(plan, run.id).view if run else plan)),
        "units": plan.units,
        "field": error.field if error else "",
        "message": str(error) if error else "",
    }
    return page(request, "readings/log.html", context, status=422 if error else 200)


@router.get("/api/plans/{plan_id}/calibration", name="calibration")
def calibration(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """What the logged readings teach, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        fit = calibration_of(connection, plan_id=plan_id, plan=plan)
    except ValueError as missing:
        return fault((("", str(missing)),))
    return JSONResponse(
        {"html": render(request, "plan/_calibration.html", {"plan": plan, "fit": fit_words(plan, fit)})}
    )


@router.get("/plans/{plan_id}/log/reading", name="reading_page")
def reading_page(
    request: Request,
    connection: Db,
    who: Who,
    plan_id: int,
    run: str = "",
    at_m: FiniteFloat = 0.0,
    strand: int = 1,
    season: Season = Season.USUAL,
    kv: str = "",
    amps: str = "",
    way: str = "outward",
    note: str = "",
) -> Response:
    """Log a reading where you stand."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    typed = {
        "run": run,
        "at_m": f"{at_m:.1f}",
        "strand": str(strand),
        "kv": kv,
        "amps": amps,
        "way": way,
        "season": season.value,
        "note": note,
    }
    return _page(request, stored, plan, typed)


@router.post("/plans/{plan_id}/log/reading", name="add_reading")
def add_reading(
    request: Request,
    connection: Db,
    who: Writer,
    plan_id: int,
    run: Text = "",
    at_m: Text = "0",
    strand: Text = "1",
    kv: Text = "",
    amps: Text = "",
    way: Text = "outward",
    season: Text = "usual",
    note: Text = "",
) -> Response:
    """Keep a reading."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    season = season if season in set(Season) else Season.USUAL.value
    typed = {
        "run": run,
        "at_m": at_m,
        "strand": strand,
        "kv": kv,
        "amps": amps,
        "way": way,
        "season": season,
        "note": note,
    }
    try:
        entry = _entry(typed)
        with connection.transaction():
            log_reading(connection, plan_id=plan_id, plan=plan, entry=entry, read_by=who.account_id)
    except ReadingError as error:
        return _page(request, stored, plan, typed, error)
    return RedirectResponse(request.url_for("stage_page", plan_id=plan_id, stage="log").path, 303)


def _entry(typed: dict[str, str]) -> Entry:
    try:
        at_m, strand = float(typed["at_m"]), int(typed["strand"])
    except ValueError:
        raise ReadingError("at_m", "Distance and strand: write numbers.") from None
    outward = typed["way"] == "outward"
    return Entry(
        typed["run"], at_m, strand, typed["kv"], typed["amps"], outward, Season(typed["season"]), typed["note"]
    )
