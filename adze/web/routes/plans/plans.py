"""The workbench of a plan: its stages, and what its scripts ask."""

import json
from typing import Annotated, Any

from fastapi import APIRouter, HTTPException, Query, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response
from pydantic import FiniteFloat

from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete, Stage
from adze.formats.plan.plan_file import dump_plan
from adze.services.answers import forecasts
from adze.services.answers.pulse import wave_at
from adze.services.judging.verdicts import computed_anew
from adze.services.log.log_book import log_book
from adze.services.papers.papers import parts_book, parts_file, price_book, price_list
from adze.services.plans import plans
from adze.services.plans.plans import Conflict
from adze.services.sharing.people import PlanRole
from adze.services.trace.open_search import rail_words, where_it_stands
from adze.services.views.base import Pane, ViewRequest
from adze.services.views.comparison import comparison_view
from adze.services.views.ground import signs_and_looks
from adze.services.views.log import readings_view
from adze.web.access import Db, EditPlanByForm, ReadPlan, Writer
from adze.web.pages import page, render
from adze.web.stages import STAGE_PAGES
from adze.web.workbench import bare_state, fault, file, state

router = APIRouter()
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
PageNumber = Annotated[int, Query(ge=1, le=100_000)]


@router.get("/plans/{plan_id}", name="plan_page")
def plan_page(request: Request, opened: ReadPlan) -> Response:
    """A plan opens at its overview once it has a line, at the five questions before."""
    asks = not opened.plan.runs and opened.stored.role >= PlanRole.EDITOR
    return RedirectResponse(request.url_for("start" if asks else "overview", plan_id=opened.id).path, 303)


@router.get("/plans/{plan_id}/compare", name="compare")
def compare(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """The newest plans of the same farm beside each other, this one first."""
    return page(request, "farms/compare.html", comparison_view(begin_transaction, opened))


@router.post("/plans/{plan_id}/copy", name="copy_plan")
def copy_plan(request: Request, begin_transaction: Db, opened: EditPlanByForm) -> Response:
    """Start an option of a plan."""
    made = plans.copy_plan(begin_transaction, opened)
    return RedirectResponse(request.url_for("plan_page", plan_id=made).path, 303)


@router.get("/plans/{plan_id}/parts.csv", name="parts_csv")
def parts_list(opened: ReadPlan) -> Response:
    """The parts list as CSV."""
    return file(parts_file(opened.plan), "text/csv; charset=utf-8", "parts.csv")


@router.get("/plans/{plan_id}/prices.csv", name="prices_csv")
def prices_as_file(opened: ReadPlan) -> Response:
    """The prices that are taken now, to be typed over and brought back."""
    return file(price_list(opened.plan), "text/csv; charset=utf-8", "prices.csv")


@router.get("/plans/{plan_id}/prices.xlsx", name="prices_book")
def prices_as_book(opened: ReadPlan) -> Response:
    """The same as a workbook."""
    return file(price_book(opened.plan), _XLSX, "prices.xlsx")


@router.get("/plans/{plan_id}/parts.xlsx", name="parts_book")
def parts_workbook(opened: ReadPlan) -> Response:
    """The parts list as a workbook."""
    return file(parts_book(opened.plan), _XLSX, "parts.xlsx")


@router.get("/plans/{plan_id}/log.xlsx", name="log_book")
def log_workbook(begin_transaction: Db, opened: ReadPlan) -> Response:
    """Readings, year by year, upkeep and what got through as a workbook."""
    return file(log_book(begin_transaction, opened), _XLSX, "log.xlsx")


@router.get("/plans/{plan_id}/plan.json", name="plan_json")
def plan_file(opened: ReadPlan) -> Response:
    """The plan as a file."""
    return file(json.dumps(dump_plan(opened.plan), indent=1), "application/json", "plan.json")


def _history(request: Request, begin_transaction: Db, opened: ReadPlan, number: int = 1, message: str = "") -> Response:
    context = plans.history_view(begin_transaction, opened, number) | {"stored": opened.stored, "message": message}
    return page(request, "plan/history.html", context, status=409 if message else 200)


@router.post("/plans/{plan_id}/restore/{number}", name="restore")
def restore(request: Request, begin_transaction: Db, who: Writer, plan_id: int, number: int) -> Response:
    """An older version of a plan that cannot be opened made the one that stands."""
    plans.restore(begin_transaction, plan_id=plan_id, account_id=who.account_id, number=number)
    return RedirectResponse(request.url_for("plan_page", plan_id=plan_id).path, 303)


@router.get("/plans/{plan_id}/history", name="history")
def history(request: Request, begin_transaction: Db, opened: ReadPlan, p: PageNumber = 1) -> Response:
    """A page of all that was done on a plan."""
    return _history(request, begin_transaction, opened, p)


@router.get("/plans/{plan_id}/readings", name="all_readings")
def all_readings(request: Request, begin_transaction: Db, opened: ReadPlan, p: PageNumber = 1) -> Response:
    """A page of a plan's readings, back to the first."""
    return page(request, "plan/readings.html", readings_view(begin_transaction, opened, p) | {"stored": opened.stored})


@router.post("/plans/{plan_id}/history/{number}", name="bring_back")
def bring_back(request: Request, begin_transaction: Db, opened: EditPlanByForm, number: int) -> Response:
    """Make an older revision the newest."""
    try:
        plans.bring_back(begin_transaction, opened, number=number)
    except Conflict as conflict:
        who = conflict.clash.changed_by
        message = f"{who} changed this plan meanwhile: look at what stands now, then bring the version back again."
        return _history(request, begin_transaction, opened, message=message)
    return RedirectResponse(request.url_for("plan_page", plan_id=opened.id).path, 303)


@router.get("/plans/{plan_id}/{stage}", name="stage_page")
def stage_page(request: Request, begin_transaction: Db, opened: ReadPlan, stage: Stage) -> Response:
    """A stage of a plan."""
    if stage not in STAGE_PAGES:
        raise HTTPException(404)
    own = STAGE_PAGES[stage]
    # A verdict that must first be computed comes after the page: the page itself is never late.
    judged = forecasts.known_judgement(opened.plan)
    context: dict[str, Any] = {
        "plan_id": opened.id,
        "plan": opened.plan,
        "stage": stage,
        "page": own,
        "stored": opened.stored,
        "state": state(request, ViewRequest(opened, begin_transaction), stage) if judged else bare_state(opened),
        "stages": tuple(STAGE_PAGES),
        "shared": signs_and_looks() | own.shared() | {"currency": opened.stored.currency},
        "verdicts": judged.verdicts if judged else {},
        "anew": computed_anew(begin_transaction, opened) if judged else "",
        "searching": rail_words(where_it_stands(opened, begin_transaction)),
    }
    return page(request, "plan/workbench.html", context)


@router.get("/api/plans/{plan_id}/panel/{stage}", name="panel")
def panel(
    request: Request, begin_transaction: Db, opened: ReadPlan, stage: Stage, pane: Pane = Pane.FINDINGS, fence: str = ""
) -> Response:
    """The whole state of a plan with a stage's panel."""
    return JSONResponse(state(request, ViewRequest(opened, begin_transaction, pane, fence or None), stage))


@router.get("/api/plans/{plan_id}/band", name="band")
def band(opened: ReadPlan, season: Season) -> Response:
    """The band of a season's forecast."""
    try:
        return JSONResponse(forecasts.band_json(opened.plan, season))
    except Incomplete as missing:
        return JSONResponse({"message": str(missing), "traces": []})


@router.get("/api/plans/{plan_id}/route", name="route")
def route(opened: ReadPlan, index: int) -> Response:
    """What stands along one way from the energizer."""
    return JSONResponse(forecasts.route_json(opened.plan, index))


@router.get("/api/plans/{plan_id}/stand", name="stand")
def stand(opened: ReadPlan, run: str, at_m: FiniteFloat, season: Season, strand: int = 0) -> Response:
    """The stand card at a place."""
    if run not in {r.id for r in opened.plan.runs}:
        return JSONResponse({"message": "That line is no longer in the plan."}, 404)
    return JSONResponse(forecasts.stand_json(opened.plan, season, run, at_m, strand))


@router.get("/api/plans/{plan_id}/wave", name="wave")
def wave_here(
    request: Request, opened: ReadPlan, run: str, at_m: FiniteFloat, season: Season = Season.USUAL
) -> Response:
    """The wave itself at a place: volts in time, its peak, and what a slow tester would show."""
    if run not in {r.id for r in opened.plan.runs}:
        return fault((("", "That line is no longer in the plan."),))
    wave = wave_at(opened.plan, season, run, at_m)
    return JSONResponse({"html": render(request, "plan/_wave.html", {"wave": wave})})
