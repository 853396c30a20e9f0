"""The overview of a plan, and the five questions from which a fence is designed."""

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Form, HTTPException, Query, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response

from adze.core.basics.faults import FieldFault
from adze.core.plan.stages import Stage
from adze.formats.errors import FormatError
from adze.formats.plan.brief_file import brief_word, read_brief_word
from adze.services.answers import forecasts
from adze.services.answers.design import first_at, proposals_of
from adze.services.plans.briefs import brief_of, start_view, take_proposal, usual_answers
from adze.services.plans.plans import Base, Conflict, OpenPlan
from adze.services.trace.open_search import rail_words, where_it_stands
from adze.services.views.base import ViewRequest
from adze.services.views.overview import fix_view, mended_view, other_fixes_view, overview_view
from adze.store.connection import BeginTransaction
from adze.web.access import Db, EditPlanByForm, ReadPlan, Who
from adze.web.pages import page, render
from adze.web.stages import STAGE_PAGES


async def _typed(request: Request) -> dict[str, str]:
    return {name: str(value) for name, value in (await request.form()).items()}


Typed = Annotated[dict[str, str], Depends(_typed)]
router = APIRouter()


@router.get("/plans/{plan_id}/overview", name="overview")
def overview(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """The whole fence on one page; its body comes later where it must first be computed."""
    judged = forecasts.known_judgement(opened.plan)
    context = _rail(opened, begin_transaction) | {
        "plan": opened.plan,
        "verdicts": judged.verdicts if judged else {},
        "body": overview_view(ViewRequest(opened, begin_transaction)) if judged else None,
    }
    return page(request, "plan/overview.html", context)


def _rail(opened: OpenPlan, begin_transaction: BeginTransaction) -> dict[str, Any]:
    return {
        "plan_id": opened.id,
        "stored": opened.stored,
        "stage": "overview",
        "stages": tuple(STAGE_PAGES),
        "searching": rail_words(where_it_stands(opened, begin_transaction)),
    }


@router.get("/api/plans/{plan_id}/overview", name="overview_body")
def overview_body(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """The overview's body, computed now."""
    view = overview_view(ViewRequest(opened, begin_transaction))
    rail = _rail(opened, begin_transaction) | {"verdicts": view["judged"].verdicts}
    return JSONResponse(
        {
            "html": render(request, "plan/_overview.html", {"body": view}),
            "rail": render(request, "plan/_rail.html", rail),
        }
    )


@router.get("/api/plans/{plan_id}/fix/{number}", name="fix")
def fix(request: Request, begin_transaction: Db, opened: ReadPlan, number: int) -> Response:
    """What mends one of the open findings."""
    try:
        view = fix_view(ViewRequest(opened, begin_transaction), number)
    except IndexError as error:
        raise HTTPException(404) from error
    return JSONResponse({"html": render(request, "plan/_fix.html", view)})


@router.get("/api/plans/{plan_id}/fix/{number}/others", name="other_fixes")
def other_fixes(request: Request, begin_transaction: Db, opened: ReadPlan, number: int) -> Response:
    """What else would mend one of the open findings."""
    try:
        view = other_fixes_view(ViewRequest(opened, begin_transaction), number)
    except IndexError as error:
        raise HTTPException(404) from error
    return JSONResponse({"html": render(request, "plan/_other_fixes.html", view)})


@router.get("/api/plans/{plan_id}/stages/{stage}/fix", name="stage_fix")
def stage_fix(request: Request, begin_transaction: Db, opened: ReadPlan, stage: Stage) -> Response:
    """What mends the worst finding of a stage; nothing where all hold."""
    number = first_at(opened.plan, stage)
    if number is None:
        return JSONResponse({"html": ""})
    view = fix_view(ViewRequest(opened, begin_transaction), number) | {"number": number}
    return JSONResponse({"html": render(request, "plan/_stage_fix.html", view)})


@router.get("/api/plans/{plan_id}/mended", name="mended")
def mended(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """Everything mended, before and after, to be looked at before it is done."""
    view = mended_view(ViewRequest(opened, begin_transaction))
    return JSONResponse({"html": render(request, "plan/_mended.html", view)})


@router.get("/plans/{plan_id}/start", name="start")
def start(request: Request, opened: ReadPlan, usual: str = "") -> Response:
    """Five questions; with the answers of a usual fence to begin with."""
    try:
        typed = usual_answers(usual) if usual else {"shape": "map"} if opened.plan.runs else {}
    except KeyError as error:
        raise HTTPException(404) from error
    return page(request, "plan/start.html", start_view(opened, typed))


@router.post("/plans/{plan_id}/start", name="answer")
def answer(request: Request, opened: EditPlanByForm, form: Typed) -> Response:
    """What was answered, on to its proposals; what was typed stays where something is wrong."""
    try:
        brief = brief_of(form, opened.plan)
    except FieldFault as fault:
        return page(request, "plan/start.html", start_view(opened, form, fault), status=422)
    address = request.url_for("proposals", plan_id=opened.id).path
    return RedirectResponse(f"{address}?brief={brief_word(brief)}", 303)


Word = Annotated[str, Query(max_length=60_000)]


@router.get("/plans/{plan_id}/proposals", name="proposals")
def proposals(request: Request, opened: ReadPlan, brief: Word, now: bool = False) -> Response:
    """The page on which proposals are computed; a reload begins where it was. `now`: without a script."""
    context = {"plan_id": opened.id, "plan": opened.plan, "stored": opened.stored, "brief": brief}
    return page(request, "plan/proposals.html", context | {"body": _designed(opened, brief) if now else None})


@router.get("/api/plans/{plan_id}/proposals", name="proposals_body")
def proposals_body(request: Request, opened: ReadPlan, who: Who, brief: Word) -> Response:
    """The proposals of a brief."""
    context = {"body": _designed(opened, brief), "who": who}
    return JSONResponse({"html": render(request, "plan/_proposals.html", context)})


def _designed(opened: OpenPlan, word: str) -> dict[str, Any]:
    """The proposals with what they assume, or why there are none."""
    view = {"plan_id": opened.id, "brief": word, "proposals": (), "assumed": (), "message": ""}
    try:
        brief = read_brief_word(word)
        return view | {"proposals": proposals_of(brief), "assumed": brief.assumed}
    except ValueError as error:
        return view | {"message": str(error)}


@router.post("/plans/{plan_id}/design", name="take_proposal")
def take(
    request: Request,
    begin_transaction: Db,
    opened: EditPlanByForm,
    brief: Annotated[str, Form(max_length=60_000)],
    proposal: Annotated[str, Form(max_length=40)],
) -> Response:
    """One proposal made the plan."""
    base = Base(opened.stored.edition, opened.stored.current, "")
    try:
        take_proposal(begin_transaction, opened, base, read_brief_word(brief), proposal)
    except (FormatError, Conflict) as error:
        words = "Somebody changed this plan meanwhile. Design it again." if isinstance(error, Conflict) else str(error)
        return page(request, "plan/start.html", start_view(opened, {}, FieldFault("", words)), status=409)
    return RedirectResponse(request.url_for("overview", plan_id=opened.id).path, 303)
