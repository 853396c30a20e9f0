"""The strands of a plan: what dragged ones would do, both ways people build, the story pole on paper."""

from typing import Annotated

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response
from pydantic import Field, ValidationError

from adze.core.advice.ways import chosen_way, conductors_here, ways
from adze.core.animals.touch import PATH_WORDS
from adze.core.build.construction import conductors_of
from adze.core.build.materials import insulators_for
from adze.core.build.story_pole import story_pole
from adze.core.ground.lines import length_m
from adze.core.plan.construction import PlannedStrand
from adze.core.plan.constructions import built_as, every_fence
from adze.core.plan.stages import Incomplete
from adze.core.tables.construction import conductors, post_kinds
from adze.formats.errors import fault_words
from adze.formats.pole_svg import PORTRAIT_MM, pole_sheets
from adze.services.plans import open_plan
from adze.services.trials import tried
from adze.web.pages import page, render
from adze.web.session import Db, JsonWriter, Who
from adze.web.workbench import Body, fault

router = APIRouter()


class Trial(Body):
    """Strands as they are being dragged."""

    strands: Annotated[tuple[PlannedStrand, ...], Field(min_length=1, max_length=12)]
    fence: str = ""


@router.post("/api/plans/{plan_id}/try", name="try_strands")
def try_strands(connection: Db, who: JsonWriter, plan_id: int, body: Trial) -> Response:
    """What other strands would do; nothing is saved."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        return JSONResponse(tried(plan, body.strands, body.fence or None))
    except ValidationError as error:
        return fault((("strands", fault_words(error.errors()[0])),))


@router.get("/api/plans/{plan_id}/ways", name="ways")
def both_ways(request: Request, connection: Db, who: Who, plan_id: int, fence: str = "") -> Response:
    """All live and in turn, computed side by side, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    found = ways(plan, fence or None)
    context = {"plan": plan, "units": plan.units, "ways": found, "chosen": chosen_way(found), "path_words": PATH_WORDS}
    context["patterns"] = {w.kind: [{"cm": s.cm, "role": s.role.value} for s in w.strands] for w in found}
    return JSONResponse({"html": render(request, "plan/_ways.html", context)})


@router.get("/api/plans/{plan_id}/conductors", name="conductors_here")
def every_conductor(request: Request, connection: Db, who: Who, plan_id: int, fence: str = "") -> Response:
    """What each conductor would do on this fence, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        rows = conductors_here(plan, fence or None)
    except Incomplete as missing:
        return fault((("", str(missing)),))
    context = {"plan": built_as(plan, fence or None).view, "rows": rows, "conductors": conductors()}
    return JSONResponse({"html": render(request, "plan/_conductors.html", context)})


@router.get("/plans/{plan_id}/paper/pole", name="pole_paper")
def pole_paper(
    request: Request, connection: Db, who: Who, plan_id: int, paper: str = "A4", fence: str = ""
) -> Response:
    """The story pole in true millimetres, and a sheet of the strands for every line."""
    stored, whole = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    built = built_as(whole, fence or None)
    plan = built.view
    message = ""
    if paper not in PORTRAIT_MM:
        paper, message = "A4", f"{paper[:20]} is no paper that is known here; A4 is shown."
    pole = story_pole(plan)
    name = f"{plan.name}, {built.name}" if whole.fences else plan.name
    context = {
        "stored": stored,
        "plan": plan,
        "built": built,
        "fences": every_fence(whole),
        "name": name,
        "plan_id": plan_id,
        "units": plan.units,
        "pole": pole,
        "sheets": pole_sheets(pole, name, paper, plan.units),
        "papers": PORTRAIT_MM,
        "message": message,
        "lengths": {run.id: length_m(run) for run in plan.runs if run.id in built.runs},
        "made": conductors_of(plan),
        "fitting": dict(insulators_for(plan)),
        "post": post_kinds()[plan.post],
    }
    return page(request, "plan/paper_pole.html", context)
