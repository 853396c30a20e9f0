"""The pages beside the fence: a reading logged by thumb, and the earth test."""

from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response

from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.services.log.calibrations import calibration_of, fit_words
from adze.services.log.earth_tests import TestEntry, default_entry, log_test, remedy_of_test
from adze.services.log.readings import ReadingError, log_reading
from adze.services.papers.field_pages import TypedReading, earth_test_view, reading_view, with_peg
from adze.services.plans.plans import Base, Conflict, save_plan
from adze.web.access import Db, EditPlanByForm, LogOnPlanByForm, ReadPlan
from adze.web.pages import page, render
from adze.web.workbench import JsonBody, fault

router = APIRouter()
Text = Annotated[str, Form(max_length=400)]


class ReadingForm(JsonBody):
    """The form of a reading, with the CSRF token that came along."""

    run: Annotated[str, Form(max_length=400)] = ""
    at_m: Annotated[str, Form(max_length=400)] = "0"
    strand: Annotated[str, Form(max_length=400)] = "1"
    kv: Annotated[str, Form(max_length=400)] = ""
    amps: Annotated[str, Form(max_length=400)] = ""
    way: Annotated[str, Form(max_length=400)] = "outward"
    season: Annotated[str, Form(max_length=400)] = "usual"
    note: Annotated[str, Form(max_length=400)] = ""
    idempotency_key: Annotated[str, Form(max_length=60, alias="once")] = ""
    over: Annotated[str, Form(max_length=10)] = ""
    at: Annotated[str, Form(max_length=60)] = ""
    csrf: str = ""

    def typed(self) -> TypedReading:
        """What was typed."""
        return TypedReading(**self.model_dump(exclude={"csrf"}))


class EarthTestForm(JsonBody):
    """The form of an earth test, with the CSRF token that came along."""

    run: Text = ""
    at_m: Text = "0"
    season: Text = "dry"
    rods_kv: Text = ""
    fence_kv: Text = ""
    before_kv: Text = ""
    peg: Text = "10"
    tester: Text = "own_probe"
    note: Text = ""
    read_on: Text = ""
    csrf: str = ""

    def typed(self) -> TestEntry:
        """What was typed."""
        season = Season(self.season) if self.season in set(Season) else Season.DRY
        return TestEntry(**self.model_dump(exclude={"csrf", "season"}), season=season)


@router.get("/api/plans/{plan_id}/calibration", name="calibration")
def calibration(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """What the logged readings teach, as a piece of page."""
    try:
        fit = calibration_of(begin_transaction, plan_id=opened.id, plan=opened.plan)
    except ValueError as missing:
        return fault((("", str(missing)),))
    context = {"plan": opened.plan, "fit": fit_words(opened.plan, fit)}
    return JSONResponse({"html": render(request, "plan/_calibration.html", context)})


def _reading(
    request: Request, begin_transaction: Db, opened: ReadPlan, typed: TypedReading, error: ReadingError | None = None
) -> Response:
    view = reading_view(begin_transaction, opened, typed, error)
    return page(request, "readings/log.html", view, status=422 if error else 200)


@router.get("/plans/{plan_id}/log/reading", name="reading_page")
def reading_page(
    request: Request, begin_transaction: Db, opened: ReadPlan, query: Annotated[ReadingForm, Query()]
) -> Response:
    """Log a reading where you stand."""
    return _reading(request, begin_transaction, opened, query.typed().standing())


@router.post("/plans/{plan_id}/log/reading", name="add_reading")
def add_reading(
    request: Request, begin_transaction: Db, opened: LogOnPlanByForm, form: Annotated[ReadingForm, Form()]
) -> Response:
    """Keep a reading."""
    typed = form.typed()
    try:
        log_reading(
            begin_transaction, plan_id=opened.id, plan=opened.plan, entry=typed.entry(), read_by=opened.account_id
        )
    except ReadingError as error:
        return _reading(request, begin_transaction, opened, typed, error)
    if request.headers.get("Accept") == "application/json":
        return Response(status_code=204)  # a device that sends what waited asks for no page
    return RedirectResponse(request.url_for("stage_page", plan_id=opened.id, stage="log").path, 303)


def _earth_test(request: Request, begin_transaction: Db, opened: ReadPlan, typed: TestEntry, **said: Any) -> Response:
    view = earth_test_view(begin_transaction, opened, typed, **said)
    status = 422 if view["message"] else 409 if view["notice"] else 200
    return page(request, "plan/earth_test.html", view, status=status)


@router.get("/plans/{plan_id}/earth-test", name="earth_test")
def earth_test_page(
    request: Request,
    begin_transaction: Db,
    opened: ReadPlan,
    season: Season = Season.DRY,
    peg: Annotated[str, Query(max_length=20)] = "",
) -> Response:
    """The earth test's sheet: what to do, what to type, what it says; on paper and by thumb."""
    return _earth_test(request, begin_transaction, opened, with_peg(default_entry(opened.plan, season), peg))


@router.post("/plans/{plan_id}/earth-test", name="add_earth_test")
def add_earth_test(
    request: Request, begin_transaction: Db, opened: LogOnPlanByForm, form: Annotated[EarthTestForm, Form()]
) -> Response:
    """Keep an earth test, with what it says."""
    typed = form.typed()
    try:
        log_test(begin_transaction, plan_id=opened.id, plan=opened.plan, entry=typed, read_by=opened.account_id)
    except ReadingError as error:
        return _earth_test(request, begin_transaction, opened, typed, error=error)
    except Incomplete as missing:
        return _earth_test(request, begin_transaction, opened, typed, error=ReadingError("rods_kv", str(missing)))
    address = request.url_for("earth_test", plan_id=opened.id).path
    return RedirectResponse(f"{address}?season={typed.season}#verdict", 303)


@router.post("/plans/{plan_id}/earth-test/mend", name="earth_test_mend")
def earth_test_mend(
    request: Request, begin_transaction: Db, opened: EditPlanByForm, rods: Text = "", learn: Text = ""
) -> Response:
    """Put on the plan what a test asks for: more rods, or its soil."""
    remedy = remedy_of_test(begin_transaction, opened.id, opened.plan, rods, learn)
    if remedy is None:
        return RedirectResponse(request.url_for("earth_test", plan_id=opened.id).path, 303)
    made, words = remedy
    base = Base(opened.stored.edition, opened.stored.current)
    try:
        save_plan(begin_transaction, opened, base=base, plan=made, summary=words)
    except Conflict as conflict:
        notice = (
            f"{conflict.clash.changed_by} changed this plan meanwhile, so this was not put on it: {words.lower()}. "
            "Look at the plan as it stands, then press again."
        )
        return _earth_test(request, begin_transaction, opened, default_entry(opened.plan, Season.DRY), notice=notice)
    return RedirectResponse(request.url_for("stage_page", plan_id=opened.id, stage="earth").path, 303)
