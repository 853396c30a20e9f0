"""The workbench of a plan: its stages, and what its scripts ask and save."""

import json
from typing import Annotated, Any

from fastapi import APIRouter, Depends, HTTPException, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response
from pydantic import BaseModel, ConfigDict, Field, FiniteFloat, ValidationError

from adze.core.circuit import Incomplete
from adze.core.findings import Stage
from adze.core.ground import Place
from adze.core.mends import apply_mend
from adze.core.parts import bill
from adze.core.plan import Plan
from adze.core.season import Season
from adze.formats.errors import FormatError, first_fault
from adze.formats.geojson import write_geojson
from adze.formats.parts_csv import parts_csv
from adze.formats.plan_file import PlanFault, dump_plan, read_plan_document
from adze.services import forecasts
from adze.services import plans as plan_service
from adze.services.imports import take_geojson
from adze.services.plans import Clash, Conflict, NothingThere, open_plan, save_plan, step
from adze.store.connection import Connection
from adze.store.plans import StoredPlan, list_revisions
from adze.web.pages import page, render
from adze.web.panels import STAGES, drawn_kinds, panel_context
from adze.web.session import Db, JsonWriter, Who, Writer

router = APIRouter()


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Base(_Body):
    """What every write says: the edition it saw, the revision it began from, the stage on screen."""

    edition: int
    based_on: int
    stage: Stage = Stage.GROUND


class Save(Base):
    """A whole changed plan."""

    document: dict[str, Any]
    summary: Annotated[str, Field(max_length=200)] = "Changed"


class ApplyMend(Base):
    """A mend by its key."""

    key: Annotated[str, Field(max_length=200)]


class TakeLines(Base):
    """A GeoJSON file's text."""

    text: str


async def _raw(request: Request) -> bytes:
    return await request.body()


Raw = Annotated[bytes, Depends(_raw)]


def _fault(faults: tuple[tuple[str, str], ...]) -> JSONResponse:
    shown = [{"path": path, "message": message} for path, message in faults]
    return JSONResponse({"message": "; ".join(m for _, m in faults), "faults": shown}, 422)


def _bare_state(stored: StoredPlan, plan: Plan) -> dict[str, Any]:
    return {
        "edition": stored.edition,
        "revision": stored.current,
        "document": dump_plan(plan),
        "can_undo": stored.parent is not None,
        "can_redo": stored.child is not None,
        "forecast": None,
        "panel": "",
    }


def _state(request: Request, connection: Connection, stored: StoredPlan, plan: Plan, stage: Stage) -> dict[str, Any]:
    return _bare_state(stored, plan) | {
        "forecast": forecasts.forecast_json(plan),
        "panel": render(request, f"plan/panels/{stage}.html", panel_context(connection, stored.id, plan, stage)),
    }


def _clash_json(clash: Clash) -> JSONResponse:
    return JSONResponse({"message": f"{clash.changed_by} changed this plan meanwhile.", "clash": vars(clash)}, 409)


@router.get("/plans/{plan_id}", name="plan_page")
def plan_page(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """A plan opens at its volts once it has a line, at its ground before."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    stage = Stage.VOLTS if plan.runs else Stage.GROUND
    return RedirectResponse(request.url_for("stage_page", plan_id=plan_id, stage=stage).path, 303)


@router.get("/plans/{plan_id}/parts.csv", name="parts_csv")
def parts_list(connection: Db, who: Who, plan_id: int) -> Response:
    """The parts list as CSV."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return _file(parts_csv(bill(plan)), "text/csv; charset=utf-8", "parts.csv")


@router.get("/plans/{plan_id}/plan.json", name="plan_json")
def plan_file(connection: Db, who: Who, plan_id: int) -> Response:
    """The plan as a file."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return _file(json.dumps(dump_plan(plan), indent=1), "application/json", "plan.json")


@router.get("/plans/{plan_id}/fence.geojson", name="fence_geojson")
def fence_geojson(connection: Db, who: Who, plan_id: int) -> Response:
    """The lines as GeoJSON."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return _file(write_geojson(plan), "application/geo+json", "fence.geojson")


def _file(content: str, media_type: str, name: str) -> Response:
    return Response(content, media_type=media_type, headers={"Content-Disposition": f'attachment; filename="{name}"'})


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
    state = _state(request, connection, stored, plan, stage) if judged else _bare_state(stored, plan)
    context: dict[str, Any] = {"plan_id": plan_id, "plan": plan, "stage": stage}
    context |= {
        "stored": stored,
        "state": state,
        "stages": STAGES,
        "kinds": drawn_kinds(),
        "verdicts": judged.verdicts if judged else {},
    }
    return page(request, "plan/workbench.html", context)


@router.get("/api/plans/{plan_id}/panel/{stage}", name="panel")
def panel(request: Request, connection: Db, who: Who, plan_id: int, stage: Stage) -> dict[str, Any]:
    """The whole state of a plan with a stage's panel."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return _state(request, connection, stored, plan, stage)


@router.get("/api/plans/{plan_id}/band", name="band")
def band(connection: Db, who: Who, plan_id: int, season: Season) -> Response:
    """The band of a season's forecast."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        return JSONResponse(forecasts.band_json(plan, season))
    except Incomplete as missing:
        return JSONResponse({"message": str(missing), "traces": []})


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


def _saved(
    request: Request, connection: Connection, who: JsonWriter, plan_id: int, base: Base, plan: Plan, summary: str
) -> Response:
    try:
        stored = save_plan(
            connection,
            plan_id=plan_id,
            account_id=who.account_id,
            edition=base.edition,
            based_on=base.based_on,
            plan=plan,
            summary=summary,
        )
    except Conflict as conflict:
        return _clash_json(conflict.clash)
    return JSONResponse(_state(request, connection, stored, plan, base.stage))


@router.put("/api/plans/{plan_id}", name="save")
def save(request: Request, connection: Db, who: JsonWriter, plan_id: int, raw: Raw) -> Response:
    """Save a changed plan."""
    try:
        body = Save.model_validate_json(raw)
        plan = read_plan_document(body.document)
    except PlanFault as fault:
        return _fault(fault.faults)
    except (ValidationError, FormatError) as error:
        return _fault((("", first_fault(error) if isinstance(error, ValidationError) else str(error)),))
    return _saved(request, connection, who, plan_id, body, plan, body.summary)


@router.post("/api/plans/{plan_id}/mend", name="mend")
def mend(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: ApplyMend) -> Response:
    """Do a computed mend."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        changed = apply_mend(plan, body.key)
    except (ValueError, ValidationError) as error:
        return _fault((("", str(error)),))
    title = next((m.title for m in forecasts.mends_of(plan) if m.key == body.key), body.key)
    return _saved(request, connection, who, plan_id, body, changed, f"Mend: {title}")


@router.post("/api/plans/{plan_id}/lines", name="take_lines")
def take_lines(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: TakeLines) -> Response:
    """Add a GeoJSON file's lines to the plan."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        changed, count = take_geojson(plan, body.text)
    except ValidationError as error:
        return _fault((("", f"GeoJSON: {first_fault(error)}"),))
    except FormatError as error:
        return _fault((("", str(error)),))
    return _saved(request, connection, who, plan_id, body, changed, f"Took {count} lines from a file")


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
        return _fault((("", str(nothing)),))
    except Conflict as conflict:
        return _clash_json(conflict.clash)
    return JSONResponse(_state(request, connection, stored, read_plan_document(stored.document), body.stage))
