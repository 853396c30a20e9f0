"""Energizers side by side, and the search for the cheapest design that holds."""

import json
from collections.abc import Iterator
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response, StreamingResponse
from pydantic import Field, FiniteFloat, ValidationError

from adze.core.advice.search import Choice, Wishes, chosen
from adze.core.energizer.supply import charge_left, days_left
from adze.core.forecast.budget import budget
from adze.core.forecast.compare_units import grown, units_here
from adze.core.forecast.volts import solved
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.changes import changed
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.formats.errors import FormatError, fault_words
from adze.formats.units_csv import read_units
from adze.services.plans import open_plan
from adze.services.pulse_view import budget_rows, wave_at
from adze.services.readings import ReadingError, number
from adze.services.searches import told
from adze.web.pages import render
from adze.web.session import Db, JsonWriter, Who
from adze.web.workbench import Base, Body, fault, saved

router = APIRouter()
Kilometres = Annotated[FiniteFloat, Query(ge=0, le=20)]
Rolls = Annotated[int, Query(ge=0, le=40)]


class Search(Body):
    """What is fixed while Adze looks for the rest."""

    wishes: Wishes = Wishes()


class OwnUnits(Base):
    """Rows of energizers."""

    text: Annotated[str, Field(max_length=20_000)]


class Take(Base):
    """A design that was found."""

    choice: Choice


@router.get("/api/plans/{plan_id}/units", name="units_here")
def side_by_side(
    request: Request, connection: Db, who: Who, plan_id: int, more_km: Kilometres = 0.0, rolls: Rolls = 0
) -> Response:
    """What every energizer would do on this fence, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        rows = units_here(grown(plan, 1000 * more_km, rolls), catalogue(plan).values())
    except ValidationError as error:
        return fault((("", f"So much more does not fit this plan: {fault_words(error.errors()[0])}"),))
    except Incomplete as missing:
        return fault((("", str(missing)),))
    return JSONResponse({"html": render(request, "plan/_units.html", {"plan": plan, "rows": rows})})


@router.post("/api/plans/{plan_id}/own-units", name="own_units")
def own_units(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: OwnUnits) -> Response:
    """Energizers typed or pasted as rows, added to the plan's own."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        made = read_units(body.text)
        keys = {unit.key for unit in made}
        kept = [unit for unit in plan.own_energizers if unit.key not in keys]
        changed_plan = changed(plan, {"own_energizers": (*kept, *(unit.model_dump() for unit in made))})
    except FormatError as error:
        return fault((("units_csv", str(error)),))
    except ValidationError as error:
        return fault((("units_csv", fault_words(error.errors()[0])),))
    return saved(request, connection, who, plan_id, body, changed_plan, f"Brought in {len(made)} energizers")


@router.get("/api/plans/{plan_id}/budget", name="budget")
def where_it_goes(request: Request, connection: Db, who: Who, plan_id: int, season: Season = Season.USUAL) -> Response:
    """Where the pulse goes in a season, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        found = budget(solved(plan, Weather(season)))
    except Incomplete as missing:
        return fault((("", str(missing)),))
    context = {"rows": budget_rows(plan, found), "found": found, "season": season}
    return JSONResponse({"html": render(request, "plan/_budget.html", context)})


@router.get("/api/plans/{plan_id}/wave", name="wave")
def wave_here(
    request: Request, connection: Db, who: Who, plan_id: int, run: str, at_m: FiniteFloat, season: Season = Season.USUAL
) -> Response:
    """The wave itself at a place: volts in time, its peak, and what a slow tester would show."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    if run not in {r.id for r in plan.runs}:
        return fault((("", "That line is no longer on the plan."),))
    try:
        return JSONResponse({"html": render(request, "plan/_wave.html", {"wave": wave_at(plan, season, run, at_m)})})
    except Incomplete as missing:
        return fault((("", str(missing)),))


@router.get("/api/plans/{plan_id}/battery", name="battery")
def battery(
    request: Request,
    connection: Db,
    who: Who,
    plan_id: int,
    rest_v: Annotated[str, Query(max_length=20)],
    kind: Literal["lead", "agm"] = "lead",
) -> Response:
    """How full a battery is by its volts at rest, and for how long it still feeds the unit."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    unit, own = unit_of(plan), plan.supply
    if unit is None:
        return fault((("", "Choose an energizer first: what it draws decides."),))
    try:
        charge = charge_left(number(rest_v, "rest_v", "Volts at rest", 20), agm=kind == "agm")
    except (ReadingError, ValueError) as error:
        return fault((("rest_v", str(error)),))
    left = days_left(unit, own.rate, own.battery_ah, charge, deep_cycle=own.deep_cycle)
    context = {"charge": charge, "days": left, "own": own}
    return JSONResponse({"html": render(request, "plan/_battery.html", context)})


@router.post("/api/plans/{plan_id}/search", name="search_designs")
def search_designs(connection: Db, who: JsonWriter, plan_id: int, body: Search) -> Response:
    """Search the cheapest design that holds: line by line how far it is and the best so far."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)

    def lines() -> Iterator[str]:
        for step in told(plan, body.wishes):
            yield json.dumps(step) + "\n"

    return StreamingResponse(lines(), media_type="application/x-ndjson")


@router.post("/api/plans/{plan_id}/take", name="take_design")
def take_design(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: Take) -> Response:
    """Build the plan as a design that was found."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        built = chosen(plan, body.choice)
    except ValidationError as error:
        return fault((("", fault_words(error.errors()[0])),))
    return saved(request, connection, who, plan_id, body, built, "Took a design that was found")
