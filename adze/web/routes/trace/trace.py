"""A search for faults: begun, done step by step, taken back, ended."""

import secrets
from collections.abc import Callable, Iterable
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, Field

from adze.core.basics.faults import FieldFault
from adze.core.plan.season import SEASON_WORDS
from adze.core.plan.stages import Incomplete, Stage
from adze.services.pictures.picture_worker import Unreadable
from adze.services.trace import field, searches
from adze.services.trace.field import FieldPhoto, FieldStep
from adze.services.trace.open_search import where_it_stands
from adze.services.trace.practice_field import Practised, field_round
from adze.services.trace.searches import SearchBeginning
from adze.services.trace.typed import Typed
from adze.services.views.base import ViewRequest
from adze.web.access import Db, LogOnPlan, ReadPlan, Who
from adze.web.pages import page
from adze.web.workbench import JsonBody, RawBody, fault, file_name, state

router = APIRouter()
Short = Annotated[str, Field(max_length=400)]


class Begun(JsonBody):
    """How a search is begun."""

    season: Short = "usual"
    quick: bool = False
    hidden: Annotated[int, Field(ge=0, le=9)] = 0
    with_log: bool = False
    lesson: Short = ""
    kv_alone: bool = False


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
    idempotency_key: Annotated[str, Field(max_length=60, alias="once")] = ""
    switch: Short = ""
    opens: bool = True
    all_along: bool = False
    strand_kv: Annotated[list[Short], Field(max_length=12)] = []


Count = Annotated[int, Field(ge=0, le=100_000_000)]


class PractisedTold(JsonBody):
    """How a round of practice went that a phone had for itself."""

    season: Short
    seed: Annotated[int, Field(ge=0, lt=2**31)]
    faults: Annotated[int, Field(ge=0, le=9)]
    left: Annotated[int, Field(ge=0, le=9)]
    restored: bool
    minutes: Count
    metres: Count
    readings: Count
    steps: Count
    causes: Annotated[tuple[Short, ...], Field(max_length=9)]
    advice_minutes: Count
    advice_restored: bool
    halving_minutes: Count
    walking_minutes: Count
    walking_restored: bool


class FieldStepTyped(StepTyped):
    """A step as a phone kept it; `begin`, `undo` of a step, `used` of a part, and `end` are steps too."""

    season: Short = "usual"
    quick: bool = False
    kv_alone: bool = False
    search: int = 0
    of: Annotated[str, Field(max_length=60)] = ""
    part: Short = ""
    quantity: Short = ""
    what_for: Short = ""
    practised: PractisedTold | None = None


class FieldSteps(JsonBody):
    """What a phone did without signal, in its order."""

    steps: Annotated[list[FieldStepTyped], Field(max_length=100)]


def _typed(step: StepTyped, more: Iterable[str] = ()) -> Typed:
    return Typed(**step.model_dump(exclude={*more, "strand_kv"}), strand_kv=tuple(step.strand_kv))


def _done(request: Request, begin_transaction: Db, opened: LogOnPlan, do: Callable[[], None]) -> Response:
    try:
        do()
    except FieldFault as error:
        return fault(((f"trace.{error.field}", str(error)),))
    except Incomplete as error:
        return fault((("trace.season", str(error)),))
    return JSONResponse(state(request, ViewRequest(opened, begin_transaction), Stage.TRACE))


@router.post("/api/plans/{plan_id}/trace", name="begin_trace")
def begin_trace(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: Begun) -> Response:
    """Begin a search; where one is going on, it is that one."""

    def do() -> None:
        beginning = SearchBeginning(
            body.season, not body.quick, body.hidden, body.with_log, body.lesson, not body.kv_alone
        )
        searches.start(begin_transaction, opened, beginning, who.account_id)

    return _done(request, begin_transaction, opened, do)


@router.get("/api/plans/{plan_id}/trace/stands", name="trace_stands")
def trace_stands(begin_transaction: Db, opened: ReadPlan) -> Response:
    """Whether others did something in the search meanwhile."""
    return JSONResponse({"stands_at": where_it_stands(opened, begin_transaction)})


@router.post("/api/plans/{plan_id}/trace/steps", name="trace_step")
def trace_step(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: StepTyped) -> Response:
    """One step of the search that is going on."""

    def do() -> None:
        searches.do(begin_transaction, opened, _typed(body), who.account_id)

    return _done(request, begin_transaction, opened, do)


@router.post("/api/plans/{plan_id}/trace/undo", name="undo_trace_step")
def undo_trace_step(request: Request, begin_transaction: Db, opened: LogOnPlan) -> Response:
    """Take the last step back."""
    return _done(request, begin_transaction, opened, lambda: searches.undo(begin_transaction, opened))


@router.post("/api/plans/{plan_id}/trace/end", name="end_trace")
def end_trace(request: Request, begin_transaction: Db, opened: LogOnPlan) -> Response:
    """End the search."""
    return _done(request, begin_transaction, opened, lambda: searches.end(begin_transaction, opened))


@router.get("/plans/{plan_id}/trace/field", name="trace_field_page")
def trace_field_page(request: Request, opened: ReadPlan) -> Response:
    """The search for a phone, which computes it by itself."""
    context = {
        "stored": opened.stored,
        "units": opened.plan.units.value,
        "season_words": SEASON_WORDS,
        "causes": field.cause_rows(opened.plan),
    }
    return page(request, "trace/field.html", context)


@router.get("/api/plans/{plan_id}/trace/field", name="trace_field_steps")
def trace_field_steps(begin_transaction: Db, opened: ReadPlan, season: str = "usual") -> Response:
    """What was done in the search so far."""
    return _told(lambda: JSONResponse(field.field_steps(opened, begin_transaction, season)))


@router.get("/api/plans/{plan_id}/trace/kit", name="trace_field_kit")
def trace_field_kit(begin_transaction: Db, opened: ReadPlan, season: str = "usual") -> Response:
    """The search packed for a phone."""
    kind = "application/octet-stream"
    return _told(lambda: Response(field.field_kit(opened, begin_transaction, season), media_type=kind))


def _told(tell: Callable[[], Response]) -> Response:
    try:
        return tell()
    except FieldFault as error:
        return fault(((f"trace.{error.field}", str(error)),))
    except Incomplete as error:
        return fault((("trace.season", str(error)),))


@router.post("/api/plans/{plan_id}/trace/field", name="trace_field_take")
def trace_field_take(begin_transaction: Db, who: Who, opened: LogOnPlan, body: FieldSteps) -> Response:
    """Take in what a phone did; what is refused stays with it."""
    more = ("season", "quick", "kv_alone", "search", "of", "part", "quantity", "what_for")
    steps = [
        FieldStep(_typed(step, (*more, "practised")), **step.model_dump(include=set(more)), practised=_practised(step))
        for step in body.steps
    ]
    refused = field.take_steps(begin_transaction, opened, steps, who.account_id)
    return JSONResponse({"refused": refused})


def _practised(step: FieldStepTyped) -> Practised | None:
    return None if step.practised is None else Practised(step.idempotency_key, **step.practised.model_dump())


@router.get("/api/plans/{plan_id}/trace/practice", name="trace_field_practice")
def trace_field_practice(opened: ReadPlan, season: str = "usual", hidden: int = 1) -> Response:
    """A round of practice for a phone, drawn anew at each asking."""
    drawn = secrets.randbelow(2**31)
    return _told(lambda: JSONResponse(field_round(opened.plan, season, hidden, drawn)))


class FieldPhotoTold(BaseModel):
    """Which search a photo from a phone is of, by one of its steps, and its own token."""

    of: Annotated[str, Field(max_length=60)] = ""
    idempotency_key: Annotated[str, Field(max_length=60, alias="once")] = ""


@router.post("/api/plans/{plan_id}/trace/field/photo", name="trace_field_photo")
def trace_field_photo(
    request: Request,
    begin_transaction: Db,
    who: Who,
    opened: LogOnPlan,
    content: RawBody,
    told: Annotated[FieldPhotoTold, Query()],
) -> Response:
    """Take in a photo that a phone kept."""
    photo = FieldPhoto(told.of, told.idempotency_key, file_name(request, "photo"), content)
    try:
        field.take_photo(begin_transaction, opened, photo, who.account_id)
    except Unreadable as error:
        return fault((("", str(error)),))
    return JSONResponse({})
