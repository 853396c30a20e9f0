"""What the workbench's addresses share: the state that a page is drawn from, saving, clashes, faults."""

from typing import Annotated, Any

from fastapi import Request
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.formats.plan_file import dump_plan
from adze.services import forecasts
from adze.services.plans import Clash, Conflict, save_plan
from adze.store.connection import Connection
from adze.store.plans import StoredPlan
from adze.web.ground_panel import Pane
from adze.web.pages import render
from adze.web.panels import panel_context
from adze.web.session import JsonWriter


class Body(BaseModel):
    """A body that takes no unknown keys."""

    model_config = ConfigDict(extra="forbid")


class Base(Body):
    """What every write says: the edition it saw, the revision it began from, the stage and list on screen."""

    edition: int
    based_on: int
    stage: Stage = Stage.GROUND
    pane: Pane = Pane.FINDINGS
    fence: Annotated[str, Field(max_length=40)] = ""


def fault(faults: tuple[tuple[str, str], ...]) -> JSONResponse:
    """What is wrong, with the paths of the inputs it belongs to."""
    shown = [{"path": path, "message": message} for path, message in faults]
    return JSONResponse({"message": "; ".join(m for _, m in faults), "faults": shown}, 422)


def bare_state(stored: StoredPlan, plan: Plan) -> dict[str, Any]:
    """A plan's state before anything is computed."""
    return {
        "edition": stored.edition,
        "revision": stored.current,
        "document": dump_plan(plan),
        "can_undo": stored.parent is not None,
        "can_redo": stored.child is not None,
        "forecast": None,
        "panel": "",
    }


def state(
    request: Request,
    connection: Connection,
    stored: StoredPlan,
    plan: Plan,
    stage: Stage,
    pane: Pane = Pane.FINDINGS,
    fence: str = "",
) -> dict[str, Any]:
    """A plan's state with forecast, verdicts and a stage's panel."""
    context = panel_context(connection, stored.id, plan, stage, pane, fence or None)
    return bare_state(stored, plan) | {
        "forecast": forecasts.forecast_json(plan),
        "panel": render(request, f"plan/panels/{stage}.html", context),
    }


def clash_json(clash: Clash) -> JSONResponse:
    """A clash for the browser to settle."""
    return JSONResponse({"message": f"{clash.changed_by} changed this plan meanwhile.", "clash": vars(clash)}, 409)


def saved(
    request: Request, connection: Connection, who: JsonWriter, plan_id: int, base: Base, plan: Plan, summary: str
) -> Response:
    """Save a change; the new state, or the clash."""
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
        return clash_json(conflict.clash)
    return JSONResponse(state(request, connection, stored, plan, base.stage, base.pane, base.fence))


def file(content: str, media_type: str, name: str) -> Response:
    """A download."""
    return Response(content, media_type=media_type, headers={"Content-Disposition": f'attachment; filename="{name}"'})
