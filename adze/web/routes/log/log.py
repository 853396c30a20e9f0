"""The log: upkeep that is done, what is to be mended later, readings withdrawn or put right."""

from collections.abc import Callable
from typing import Annotated, Literal

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response
from pydantic import Field

from adze.core.plan.stages import Stage
from adze.services.log import breaches, deferred_defects, upkeep, weather_days
from adze.services.log.deferred_defects import DeferredDefectTyped
from adze.services.log.readings import ReadingError
from adze.services.parts import shed_use
from adze.services.views.base import ViewRequest
from adze.services.views.log import seen_view
from adze.web.access import Db, LogOnPlan, ReadPlan, Who
from adze.web.pages import render
from adze.web.workbench import JsonBody, fault, state

router = APIRouter()
Short = Annotated[str, Field(max_length=400)]


class UpkeepTyped(JsonBody):
    """Upkeep that was done, as typed."""

    kind: Short
    on: Short = ""
    note: Short = ""


class DefectTyped(JsonBody):
    """Something to be mended later, as typed; `mended` names one that is mended; the stage that is looked at."""

    run: Short = ""
    at_m: Short = "0"
    words: Short = ""
    mended: int | None = None
    stage: Literal["log", "trace"] = "log"


class BreachTyped(JsonBody):
    """Something that got through, as typed."""

    kind: Short = ""
    count: Short = "1"
    way: Short = ""
    run: Short = ""
    at_m: Short = ""
    on: Short = ""
    note: Short = ""


class RainTyped(JsonBody):
    """What a rain gauge showed, as typed."""

    mm: Short = ""
    on: Short = ""


class PartUsed(JsonBody):
    """A part that a mend took from the shed, as typed, and the stage on which it is looked at."""

    part: Short = ""
    quantity: Short = ""
    what_for: Short = ""
    stage: Literal["log", "trace"] = "log"


class ReadingRighted(JsonBody):
    """A reading withdrawn with a reason, or put right."""

    reading: int
    why: Short = ""
    kv: Short = ""
    amps: Short = ""


def _kept(
    request: Request,
    begin_transaction: Db,
    opened: ReadPlan,
    do: Callable[[], None],
    form: str,
    stage: Stage = Stage.LOG,
) -> Response:
    try:
        do()
    except ReadingError as error:
        return fault(((f"{form}.{error.field}", str(error)),))
    return JSONResponse(state(request, ViewRequest(opened, begin_transaction), stage))


@router.get("/api/plans/{plan_id}/seen", name="seen")
def seen(request: Request, opened: ReadPlan) -> Response:
    """What a round tells by itself, as a piece of page."""
    try:
        context = seen_view(opened.plan)
    except ValueError as missing:
        return fault((("", str(missing)),))
    return JSONResponse({"html": render(request, "plan/_seen.html", context)})


@router.post("/api/plans/{plan_id}/log/upkeep", name="mark_upkeep")
def mark_upkeep(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: UpkeepTyped) -> Response:
    """Upkeep done on a day."""

    def do() -> None:
        upkeep.mark_done(begin_transaction, opened, body.kind, body.on, body.note, who.account_id)

    return _kept(request, begin_transaction, opened, do, "upkeep")


@router.post("/api/plans/{plan_id}/log/defects", name="note_defect")
def note_defect(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: DefectTyped) -> Response:
    """Something to be mended later, or mended."""

    def do() -> None:
        if body.mended is not None:
            deferred_defects.mend_defect(begin_transaction, opened, body.mended)
        else:
            deferred_defects.note_defect(
                begin_transaction,
                opened,
                DeferredDefectTyped(body.run, body.at_m, body.words, way="out"),
                who.account_id,
            )

    return _kept(request, begin_transaction, opened, do, "defect", Stage(body.stage))


@router.post("/api/plans/{plan_id}/log/rain", name="keep_rain")
def keep_rain(request: Request, begin_transaction: Db, opened: LogOnPlan, body: RainTyped) -> Response:
    """What a rain gauge showed on a day."""

    def do() -> None:
        weather_days.keep_gauge(begin_transaction, opened, body.mm, body.on)

    return _kept(request, begin_transaction, opened, do, "rain")


@router.post("/api/plans/{plan_id}/log/used", name="use_part")
def use_part(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: PartUsed) -> Response:
    """A part taken from the shed for a mend."""

    def do() -> None:
        typed = shed_use.UseTyped(body.part, body.quantity, body.what_for)
        shed_use.use_part(begin_transaction, opened, typed, who.account_id)

    return _kept(request, begin_transaction, opened, do, "used", Stage(body.stage))


@router.post("/api/plans/{plan_id}/log/readings", name="right_reading")
def right_reading(
    request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: ReadingRighted
) -> Response:
    """A reading withdrawn, or put right."""

    def do() -> None:
        if body.kv.strip():
            upkeep.correct(begin_transaction, opened, body.reading, body.kv, body.amps, who.account_id)
        else:
            upkeep.withdraw(begin_transaction, opened, body.reading, body.why)

    return _kept(request, begin_transaction, opened, do, f"reading.{body.reading}")


@router.post("/api/plans/{plan_id}/log/through", name="note_passage")
def note_passage(request: Request, begin_transaction: Db, who: Who, opened: LogOnPlan, body: BreachTyped) -> Response:
    """Something got through the fence."""

    def do() -> None:
        breaches.note_passage(begin_transaction, opened, body.model_dump(), who.account_id)

    return _kept(request, begin_transaction, opened, do, "through")


@router.get("/api/plans/{plan_id}/through/{passage_id}", name="why_through")
def why_through(request: Request, begin_transaction: Db, opened: ReadPlan, passage_id: int) -> Response:
    """What may explain it, as a piece of page."""
    try:
        causes = breaches.why_through(begin_transaction, opened, passage_id)
    except LookupError as gone:
        return fault((("", str(gone.args[0])),))
    return JSONResponse({"html": render(request, "plan/_through.html", {"causes": causes})})
