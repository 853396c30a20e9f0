"""The workbench of a plan: its stages, and what its scripts ask and save."""

import json
from typing import Annotated, Any

from fastapi import APIRouter, Depends, HTTPException, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response
from pydantic import Field, FiniteFloat, ValidationError

from adze.core.advice.ground_remedies import DEED_WORDS
from adze.core.advice.remedies import apply_mend
from adze.core.build.parts import bill
from adze.core.ground.places import Place
from adze.core.plan.changes import alike
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.ground import grasses, landmark_kinds
from adze.core.verdict.compare import option, part_rows
from adze.formats.errors import FormatError, first_fault
from adze.formats.parts_csv import parts_csv
from adze.formats.plan_file import PlanFault, dump_plan, read_plan_document
from adze.services import forecasts
from adze.services import plans as plan_service
from adze.services.plans import Conflict, NothingThere, open_plan, step
from adze.store.connection import Connection
from adze.store.plans import list_revisions
from adze.web.ground_panel import Pane
from adze.web.pages import page, render
from adze.web.panels import STAGES, drawn_kinds
from adze.web.session import Db, JsonWriter, Who, Writer
from adze.web.workbench import Base, bare_state, clash_json, fault, file, saved, state

router = APIRouter()
_SIDE_BY_SIDE = 5


class Save(Base):
    """A whole changed plan."""

    document: dict[str, Any]
    summary: Annotated[str, Field(max_length=200)] = "Changed"


class ApplyMend(Base):
    """A mend by its key."""

    key: Annotated[str, Field(max_length=200)]


async def _raw(request: Request) -> bytes:
    return await request.body()


Raw = Annotated[bytes, Depends(_raw)]


@router.get("/plans/{plan_id}", name="plan_page")
def plan_page(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """A plan opens at its volts once it has a line, at its ground before."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    stage = Stage.VOLTS if plan.runs else Stage.GROUND
    return RedirectResponse(request.url_for("stage_page", plan_id=plan_id, stage=stage).path, 303)


@router.get("/plans/{plan_id}/compare", name="compare")
def compare(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """The newest plans of the same farm beside each other, this one first."""
    stored, _ = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    of_farm = [(row, plan) for row, plan in plan_service.list_plans(connection, account_id=who.account_id)]
    mine = [(row, plan) for row, plan in of_farm if row.farm_id == stored.farm_id]
    mine.sort(key=lambda pair: pair[0].id != plan_id)
    shown = mine[:_SIDE_BY_SIDE]
    options = [option(plan, forecasts.judgement_of(plan)) for _, plan in shown]
    context = {"stored": stored, "plan_id": plan_id, "options": options, "rows": part_rows(options)}
    return page(request, "farms/compare.html", context | {"ids": [row.id for row, _ in shown]})


@router.post("/plans/{plan_id}/copy", name="copy_plan")
def copy_plan(request: Request, connection: Db, who: Writer, plan_id: int) -> Response:
    """Begin an option of a plan."""
    made = plan_service.copy_plan(connection, plan_id=plan_id, account_id=who.account_id, made_by=who.account_id)
    return RedirectResponse(request.url_for("plan_page", plan_id=made).path, 303)


@router.get("/plans/{plan_id}/parts.csv", name="parts_csv")
def parts_list(connection: Db, who: Who, plan_id: int) -> Response:
    """The parts list as CSV."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return file(parts_csv(bill(plan)), "text/csv; charset=utf-8", "parts.csv")


@router.get("/plans/{plan_id}/plan.json", name="plan_json")
def plan_file(connection: Db, who: Who, plan_id: int) -> Response:
    """The plan as a file."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return file(json.dumps(dump_plan(plan), indent=1), "application/json", "plan.json")


@router.get("/plans/{plan_id}/history", name="history")
def history(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """Every revision of a plan."""
    stored, _ = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    revisions = list_revisions(connection, plan_id=plan_id)
    return page(request, "plan/history.html", {"stored": stored, "revisions": revisions})


@router.post("/plans/{plan_id}/history/{number}", name="bring_back")
def bring_back(request: Request, connection: Db, who: Writer, plan_id: int, number: int) -> Response:
    """Make an older revision the newest."""
    plan_service.bring_back(connection, plan_id=plan_id, account_id=who.account_id, number=number)
    return RedirectResponse(request.url_for("plan_page", plan_id=plan_id).path, 303)


@router.get("/plans/{plan_id}/{stage}", name="stage_page")
def stage_page(request: Request, connection: Db, who: Who, plan_id: int, stage: Stage) -> Response:
    """A stage of a plan."""
    if stage not in STAGES:
        raise HTTPException(404)
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    # A verdict that must first be computed comes after the page: the page itself is never late.
    judged = forecasts.known_judgement(plan)
    shown = state(request, connection, stored, plan, stage) if judged else bare_state(stored, plan)
    context: dict[str, Any] = {"plan_id": plan_id, "plan": plan, "stage": stage}
    context |= {
        "stored": stored,
        "state": shown,
        "stages": STAGES,
        "kinds": drawn_kinds(),
        "grasses": grasses(),
        "landmark_kinds": {key: vars(kind) for key, kind in landmark_kinds().items()},
        "verdicts": judged.verdicts if judged else {},
    }
    return page(request, "plan/workbench.html", context)


@router.get("/api/plans/{plan_id}/panel/{stage}", name="panel")
def panel(
    request: Request, connection: Db, who: Who, plan_id: int, stage: Stage, pane: Pane = Pane.FINDINGS, fence: str = ""
) -> Response:
    """The whole state of a plan with a stage's panel."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return JSONResponse(state(request, connection, stored, plan, stage, pane, fence))


@router.get("/api/plans/{plan_id}/band", name="band")
def band(connection: Db, who: Who, plan_id: int, season: Season) -> Response:
    """The band of a season's forecast."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        return JSONResponse(forecasts.band_json(plan, season))
    except Incomplete as missing:
        return JSONResponse({"message": str(missing), "traces": []})


@router.get("/api/plans/{plan_id}/route", name="route")
def route(connection: Db, who: Who, plan_id: int, index: int) -> Response:
    """What stands along one way from the energizer."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return JSONResponse(forecasts.route_json(plan, index))


@router.get("/api/plans/{plan_id}/stand", name="stand")
def stand(
    connection: Db, who: Who, plan_id: int, run: str, at_m: FiniteFloat, season: Season, strand: int = 0
) -> Response:
    """The stand card at a place."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    if run not in {r.id for r in plan.runs}:
        return JSONResponse({"message": "That line is no longer on the plan."}, 404)
    return JSONResponse(forecasts.stand_json(plan, season, Place(run, at_m), strand))


@router.get("/api/plans/{plan_id}/mends", name="mends")
def mends(request: Request, connection: Db, who: Who, plan_id: int) -> dict[str, str]:
    """The computed mends as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return {"html": render(request, "plan/_mends.html", {"mends": forecasts.mends_of(plan)})}


@router.put("/api/plans/{plan_id}", name="save")
def save(request: Request, connection: Db, who: JsonWriter, plan_id: int, raw: Raw) -> Response:
    """Save a changed plan."""
    try:
        body = Save.model_validate_json(raw)
        plan = read_plan_document(body.document)
    except PlanFault as found:
        return fault(found.faults)
    except (ValidationError, FormatError) as error:
        return fault((("", first_fault(error) if isinstance(error, ValidationError) else str(error)),))
    _, before = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return saved(request, connection, who, plan_id, body, alike(plan, before), body.summary)


@router.post("/api/plans/{plan_id}/mend", name="mend")
def mend(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: ApplyMend) -> Response:
    """Do a computed mend."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        changed = apply_mend(plan, body.key)
    except (ValueError, ValidationError) as error:
        return fault((("", str(error)),))
    title = DEED_WORDS.get(body.key.split(":")[0]) or next(
        (m.title for m in forecasts.mends_of(plan) if m.key == body.key), body.key
    )
    return saved(request, connection, who, plan_id, body, changed, f"Mend: {title}")


@router.post("/api/plans/{plan_id}/undo", name="undo")
def undo(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: Base) -> Response:
    """One change back."""
    return _stepped(request, connection, who, plan_id, body, back=True)


@router.post("/api/plans/{plan_id}/redo", name="redo")
def redo(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: Base) -> Response:
    """One change forward again."""
    return _stepped(request, connection, who, plan_id, body, back=False)


def _stepped(
    request: Request, connection: Connection, who: JsonWriter, plan_id: int, body: Base, *, back: bool
) -> Response:
    try:
        stored = step(connection, plan_id=plan_id, account_id=who.account_id, edition=body.edition, back=back)
    except NothingThere as nothing:
        return fault((("", str(nothing)),))
    except Conflict as conflict:
        return clash_json(conflict.clash)
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return JSONResponse(state(request, connection, stored, plan, body.stage, body.pane, body.fence))
