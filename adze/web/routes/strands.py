"""The strands of a plan: what dragged ones would do, both ways people build, the story pole on paper."""

from typing import Annotated

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response
from pydantic import Field, ValidationError

from adze.core.ground import length_m
from adze.core.plan import PlannedStrand
from adze.core.story_pole import story_pole
from adze.core.tables import conductors, post_kinds
from adze.formats.errors import fault_words
from adze.formats.pole_svg import PORTRAIT_MM, pole_sheets
from adze.services.plans import open_plan
from adze.services.trials import tried
from adze.web.pages import page
from adze.web.session import Db, JsonWriter, Who
from adze.web.workbench import Body, fault

router = APIRouter()


class Trial(Body):
    """Strands as they are being dragged."""

    strands: Annotated[tuple[PlannedStrand, ...], Field(min_length=1, max_length=12)]


@router.post("/api/plans/{plan_id}/try", name="try_strands")
def try_strands(connection: Db, who: JsonWriter, plan_id: int, body: Trial) -> Response:
    """What other strands would do; nothing is saved."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        return JSONResponse(tried(plan, body.strands))
    except ValidationError as error:
        return fault((("strands", fault_words(error.errors()[0])),))


@router.get("/plans/{plan_id}/paper/pole", name="pole_paper")
def pole_paper(request: Request, connection: Db, who: Who, plan_id: int, paper: str = "A4") -> Response:
    """The story pole in true millimetres, and a sheet of the strands for every line."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    message = ""
    if paper not in PORTRAIT_MM:
        paper, message = "A4", f"{paper[:20]} is no paper that is known here; A4 is shown."
    pole = story_pole(plan)
    context = {
        "stored": stored,
        "plan": plan,
        "plan_id": plan_id,
        "units": plan.units,
        "pole": pole,
        "sheets": pole_sheets(pole, plan.name, paper, plan.units),
        "papers": PORTRAIT_MM,
        "message": message,
        "lengths": {run.id: length_m(run) for run in plan.runs},
        "conductor": conductors()[plan.conductor],
        "post": post_kinds()[plan.post],
    }
    return page(request, "plan/paper_pole.html", context)
