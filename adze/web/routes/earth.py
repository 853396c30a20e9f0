"""Earth: what the rods cost, what the next one buys, rules beside the answer, laying out, tests, stray volts."""

import contextlib
import re
from typing import Annotated, Literal

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response
from pydantic import Field, ValidationError

from adze.core.advice.earth_here import EarthHere, with_rods
from adze.core.advice.earth_options import options, taken
from adze.core.basics.units import parse_length_m
from adze.core.forecast.earth_reading import ROW_MOST
from adze.core.forecast.earth_test import PEG_M, TEST_SCHOOLS
from adze.core.forecast.stray import NOTICED_V, REFUSED_V, WATERS, monitor_v, strays
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.core.soil.earth import EarthError
from adze.core.soil.soil_tests import one_rod_ohm_m, sounding
from adze.core.tables.ground import soils
from adze.formats.errors import fault_words
from adze.services.earth_tests import (
    TESTERS,
    StrayEntry,
    TestEntry,
    again,
    default_entry,
    learned_soil,
    log_stray,
    log_test,
    sheet,
    test_rows,
)
from adze.services.earth_view import How, curve, laid, sites_json
from adze.services.plans import Conflict, open_plan, save_plan
from adze.services.readings import ReadingError
from adze.store import earth_tests
from adze.store.connection import Connection
from adze.store.plans import StoredPlan
from adze.web.pages import page, render
from adze.web.session import Db, JsonWriter, Who, Writer
from adze.web.workbench import Base, Body, fault, saved

router = APIRouter()
Text = Annotated[str, Form(max_length=400)]


class Lay(Base):
    """Rods to be laid out: how, where, which proposal."""

    how: How
    points: Annotated[tuple[Position, ...], Field(max_length=4)] = ()
    site: Annotated[int, Field(ge=0, le=10)] = 0


class Take(Base):
    """An option of the earth to be done."""

    key: Annotated[str, Field(max_length=40)]


class SoilTest(Base):
    """A soil test as typed: rows of spacing and ohms, or one rod's ohms."""

    kind: Literal["four", "rod"]
    text: Annotated[str, Field(max_length=2000)]


class Drunk(Body):
    """Volts read where animals drink."""

    landmark: Annotated[str, Field(max_length=40)]
    volts: Annotated[str, Field(max_length=40)]
    season: Season = Season.USUAL
    note: Annotated[str, Field(max_length=400)] = ""


def _piece(request: Request, template: str, plan: Plan, context: dict[str, object]) -> JSONResponse:
    return JSONResponse({"html": render(request, template, {"plan": plan, "units": plan.units, **context})})


@router.get("/api/plans/{plan_id}/earth", name="earth_here")
def earth_here(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """What the rods cost the fence in each season, and ohms against rods."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        here = EarthHere(plan)
        context = {"rows": here.seasons(), "curve": curve(here), "watch": monitor_v(plan, Season.DRY)}
        context |= {"returns": here.returns}
    except (Incomplete, EarthError) as missing:
        return fault((("", str(missing)),))
    return _piece(request, "plan/_earth_here.html", plan, context)


@router.get("/api/plans/{plan_id}/rod-schools", name="rod_schools")
def rod_schools(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """Every rule for the number of rods beside what it gives here."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        here = EarthHere(plan)
        context = {"rows": here.schools(), "curve": curve(here), "limit": TEST_SCHOOLS[plan.earth_school]}
        context |= {"returns": here.returns}
    except (Incomplete, EarthError) as missing:
        return fault((("", str(missing)),))
    return _piece(request, "plan/_rod_schools.html", plan, context)


@router.get("/api/plans/{plan_id}/earth-options", name="earth_options")
def earth_options(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """What the next rod buys against all else."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        rows = options(plan, EarthHere(plan))
    except (Incomplete, EarthError) as missing:
        return fault((("", str(missing)),))
    return _piece(request, "plan/_earth_options.html", plan, {"rows": rows})


@router.get("/api/plans/{plan_id}/stray", name="stray")
def stray_volts(request: Request, connection: Db, who: Who, plan_id: int) -> Response:
    """Where animals drink: how far the ground rises there, and what was read."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        rows = strays(plan)
    except (Incomplete, EarthError) as missing:
        return fault((("", str(missing)),))
    context = {
        "rows": rows,
        "placed": bool(plan.rods.position or plan.rods.places),
        "marked": any(m.kind in WATERS for m in plan.landmarks),
        "read": earth_tests.list_stray_readings(connection, plan_id=plan_id, most=12),
        "noticed_v": NOTICED_V,
        "refused_v": REFUSED_V,
        "plan_id": plan_id,
    }
    return _piece(request, "plan/_stray.html", plan, context)


@router.get("/api/plans/{plan_id}/rod-sites", name="rod_sites")
def rod_sites(connection: Db, who: Who, plan_id: int) -> Response:
    """Rows proposed, and what is wrong with where rods stand."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return JSONResponse(sites_json(plan))


@router.post("/api/plans/{plan_id}/rods", name="lay_rods")
def lay_rods(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: Lay) -> Response:
    """Lay rods out on the ground."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        made, words = laid(plan, body.how, body.points, body.site)
    except ValidationError as error:
        return fault((("", fault_words(error.errors()[0])),))
    except ValueError as error:
        return fault((("", str(error)),))
    return saved(request, connection, who, plan_id, body, made, words)


@router.post("/api/plans/{plan_id}/earth-take", name="take_earth")
def take_earth(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: Take) -> Response:
    """Do one of the earth's options."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        made = taken(plan, body.key)
    except ValueError as error:
        return fault((("", str(error)),))
    return saved(request, connection, who, plan_id, body, made, "Changed the earth")


@router.post("/api/plans/{plan_id}/soil-test", name="soil_test")
def soil_test(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: SoilTest) -> Response:
    """Take the soil from a test with pins."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        made, words = _with_soil(plan, body)
    except ValidationError as error:
        return fault((("soil_test", fault_words(error.errors()[0])),))
    except (EarthError, ValueError) as error:
        return fault((("soil_test", str(error)),))
    return saved(request, connection, who, plan_id, body, made, words)


def _with_soil(plan: Plan, body: SoilTest) -> tuple[Plan, str]:
    rows = [row for row in body.text.splitlines() if row.strip()]
    if body.kind == "rod":
        rods = plan.rods
        ohm = one_rod_ohm_m(rods.length_m, rods.diameter_mm / 1000, _figure(rows[0] if rows else "", "ohms"))
        return changed(plan, {"soil_ohm_m": round(ohm, 1), "subsoil": None}), "Soil from a test of one rod"
    unit = "ft" if plan.units == "imperial" else "m"
    pairs = []
    for number, row in enumerate(rows, 1):
        cells = [c for c in re.split(r"\s*[;,]\s*" if re.search("[;,]", row) else r"\s+", row.strip()) if c]
        if len(cells) != 2:
            raise ValueError(f"line {number}: {row.strip()!r} is not a spacing and ohms, such as 2 31.5")
        pairs.append((parse_length_m(cells[0], unit), _figure(cells[1], f"line {number}")))
    found = sounding(pairs)
    update: dict[str, object] = {"soil_ohm_m": round(found.upper_ohm_m, 1), "subsoil": None}
    if found.depth_m is not None and found.lower_ohm_m is not None:
        near = min(soils().values(), key=lambda s: abs(s.ohm_m / (found.lower_ohm_m or 1) - 1))
        update["subsoil"] = {"soil": near.key, "depth_m": round(found.depth_m, 2), "ohm_m": round(found.lower_ohm_m, 1)}
    return changed(plan, update), "Soil from a test with four pins"


def _figure(text: str, what: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise ValueError(f"{what}: {text!r} is no number; write it such as 31.5") from None


def _sheet_page(
    request: Request,
    connection: Connection,
    stored: StoredPlan,
    plan: Plan,
    typed: TestEntry,
    error: ReadingError | None = None,
) -> Response:
    peg = PEG_M
    # The form says what is wrong with it; the sheet goes on with the usual distance.
    with contextlib.suppress(ValueError):
        peg = min(200.0, max(0.3, parse_length_m(typed.peg, "ft" if plan.units == "imperial" else "m")))
    found, blocked = None, ""
    try:
        found = sheet(plan, typed.season, peg)
    except (Incomplete, EarthError) as missing:
        blocked = str(missing)
    tests = earth_tests.list_earth_tests(connection, plan_id=stored.id)
    latest = tests[0] if tests else None
    context = {
        "stored": stored,
        "plan": plan,
        "units": plan.units,
        "sheet": found,
        "blocked": blocked,
        "typed": typed,
        "testers": TESTERS,
        "schools": TEST_SCHOOLS,
        "rows": test_rows(tests, plan.earth_school),
        "latest": latest,
        "says": again(plan, latest) if latest else None,
        "learned": learned_soil(plan, latest) if latest else None,
        "field": error.field if error else "",
        "message": str(error) if error else "",
    }
    return page(request, "plan/earth_test.html", context, status=422 if error else 200)


@router.get("/plans/{plan_id}/earth-test", name="earth_test")
def earth_test_page(
    request: Request,
    connection: Db,
    who: Who,
    plan_id: int,
    season: Season = Season.DRY,
    peg: Annotated[str, Query(max_length=20)] = "",
) -> Response:
    """The earth test's sheet: what to do, what to type, what it says; on paper and by thumb."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    typed = default_entry(plan, season)
    if peg:
        typed = TestEntry(**{**vars(typed), "peg": peg})
    return _sheet_page(request, connection, stored, plan, typed)


@router.post("/plans/{plan_id}/earth-test", name="add_earth_test")
def add_earth_test(
    request: Request,
    connection: Db,
    who: Writer,
    plan_id: int,
    run: Text = "",
    at_m: Text = "0",
    season: Text = "dry",
    rods_kv: Text = "",
    fence_kv: Text = "",
    before_kv: Text = "",
    peg: Text = "10",
    tester: Text = "own_probe",
    note: Text = "",
    read_on: Text = "",
) -> Response:
    """Keep an earth test, with what it says."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    when = Season(season) if season in set(Season) else Season.DRY
    typed = TestEntry(run, at_m, when, rods_kv, fence_kv, before_kv, peg, tester, note, read_on)
    try:
        with connection.transaction():
            log_test(connection, plan_id=plan_id, plan=plan, entry=typed, read_by=who.account_id)
    except ReadingError as error:
        return _sheet_page(request, connection, stored, plan, typed, error)
    except (Incomplete, EarthError) as missing:
        return _sheet_page(request, connection, stored, plan, typed, ReadingError("rods_kv", str(missing)))
    return RedirectResponse(request.url_for("earth_test", plan_id=plan_id).path + f"?season={when}#verdict", 303)


@router.post("/plans/{plan_id}/earth-test/mend", name="earth_test_mend")
def earth_test_mend(
    request: Request, connection: Db, who: Writer, plan_id: int, rods: Text = "", learn: Text = ""
) -> Response:
    """Put on the plan what a test asks for: more rods, or its soil."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    tests = earth_tests.list_earth_tests(connection, plan_id=plan_id)
    test = next((t for t in tests if str(t.id) == learn), None)
    if rods.isdigit() and 1 <= int(rods) <= ROW_MOST:
        made, words = with_rods(plan, count=int(rods)), f"{rods} rods after an earth test"
    elif test and (soil := learned_soil(plan, test)):
        made, words = changed(plan, {"calibration": soil}), "Soil as the earth test found it"
    else:
        return RedirectResponse(request.url_for("earth_test", plan_id=plan_id).path, 303)
    with contextlib.suppress(Conflict):  # somebody changed it meanwhile: the page shows the plan as it is
        save_plan(
            connection,
            plan_id=plan_id,
            account_id=who.account_id,
            edition=stored.edition,
            based_on=stored.current,
            plan=made,
            summary=words,
        )
    return RedirectResponse(request.url_for("stage_page", plan_id=plan_id, stage="earth").path, 303)


@router.post("/api/plans/{plan_id}/stray", name="add_stray")
def add_stray(
    request: Request,
    connection: Db,
    who: JsonWriter,
    plan_id: int,
    body: Drunk,
) -> Response:
    """Keep volts read where animals drink."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        with connection.transaction():
            entry = StrayEntry(body.landmark, body.volts, body.season, body.note, "")
            log_stray(connection, plan_id=plan_id, plan=plan, entry=entry, read_by=who.account_id)
    except ReadingError as error:
        return fault(((f"stray.{error.field}", str(error)),))
    return stray_volts(request, connection, who, plan_id)
