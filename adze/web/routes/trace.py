"""A search for faults: begun, done step by step, taken back, ended."""

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response
from pydantic import Field

from adze.core.basics.faults import FieldFault
from adze.core.plan.stages import Incomplete, Stage
from adze.services import trace
from adze.services.trace import SearchBeginning, Typed
from adze.services.views.base import Asked
from adze.web.access import Db, LogOnPlan, Who
from adze.web.workbench import JsonBody, fault, state

router = APIRouter()
Short = Annotated[str, Field(max_length=400)]


class Begun(JsonBody):
    """How a search is begun."""

    season: Short = "usual"
    quick: bool = False
    hidden: Annotated[int, Field(ge=0, le=9)] = 0
    with_log: bool = False


class StepTyped(JsonBody):
    """One step of a search, as typed."""

    what: Short
    run: Short = ""
    at_m: Short = ""
    leg: Short = ""
    kv: Short = ""
    amps: Short = ""
    outward: bool = True
    cause: Short = ""
    note: Short = ""
    once: Annotated[str, Field(max_length=60)] = ""


def _done(request: Request, transaction: Db, opened: LogOnPlan, do: Callable[[], None]) -> Response:
    try:
        do()
    except FieldFault as error:
        return fault(((f"trace.{error.field}", str(error)),))
    except Incomplete as error:
        return fault((("trace.season", str(error)),))
    return JSONResponse(state(request, Asked(opened, transaction), Stage.TRACE))


@router.post("/api/plans/{plan_id}/trace", name="begin_trace")
def begin_trace(request: Request, transaction: Db, who: Who, opened: LogOnPlan, body: Begun) -> Response:
    """Begin a search; where one is going on, it is that one."""

    def do() -> None:
        beginning = SearchBeginning(body.season, not body.quick, body.hidden, body.with_log)
        trace.start(transaction, opened, beginning, who.account_id)

    return _done(request, transaction, opened, do)


@router.post("/api/plans/{plan_id}/trace/steps", name="trace_step")
def trace_step(request: Request, transaction: Db, who: Who, opened: LogOnPlan, body: StepTyped) -> Response:
    """One step of the search that is going on."""

    def do() -> None:
        trace.do(transaction, opened, Typed(**body.model_dump()), who.account_id)

    return _done(request, transaction, opened, do)


@router.post("/api/plans/{plan_id}/trace/undo", name="undo_trace_step")
def undo_trace_step(request: Request, transaction: Db, opened: LogOnPlan) -> Response:
    """Take the last step back."""
    return _done(request, transaction, opened, lambda: trace.undo(transaction, opened))


@router.post("/api/plans/{plan_id}/trace/end", name="end_trace")
def end_trace(request: Request, transaction: Db, opened: LogOnPlan) -> Response:
    """End the search."""
    return _done(request, transaction, opened, lambda: trace.end(transaction, opened))
