"""Pieces of the stages' pages that take longer to compute, and trials."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from pydantic import Field, FiniteFloat, ValidationError

from adze.core.plan.construction import PlannedStrand
from adze.core.plan.season import Season
from adze.formats.errors import fault_words
from adze.services.answers.earth import sites_json
from adze.services.answers.trials import preview_strands
from adze.services.log.earth_tests import StrayEntry, log_stray
from adze.services.log.readings import ReadingError
from adze.services.papers.ask import ask_view
from adze.services.papers.papers import parts_paper_view, pole_paper_view
from adze.services.views import pieces
from adze.services.views.parts import kit_view, parts_otherwise_view
from adze.services.views.volts import grass_labels
from adze.web.access import Db, EditPlan, LogOnPlan, ReadPlan
from adze.web.pages import page, render
from adze.web.workbench import JsonBody, fault

router = APIRouter()


class Trial(JsonBody):
    """Strands as they are being dragged."""

    strands: Annotated[tuple[PlannedStrand, ...], Field(min_length=1, max_length=12)]
    fence: str = ""


class StrayVolts(JsonBody):
    """Volts read where animals drink."""

    landmark: Annotated[str, Field(max_length=40)]
    volts: Annotated[str, Field(max_length=40)]
    season: Season = Season.USUAL
    note: Annotated[str, Field(max_length=400)] = ""


def _piece(request: Request, template: str, view: dict[str, Any]) -> JSONResponse:
    return JSONResponse({"html": render(request, f"plan/{template}.html", view)})


@router.post("/api/plans/{plan_id}/try", name="try_strands")
def try_strands(opened: EditPlan, body: Trial) -> Response:
    """What other strands would do; nothing is saved."""
    try:
        return JSONResponse(preview_strands(opened.plan, body.strands, body.fence or None))
    except ValidationError as error:
        return fault((("strands", fault_words(error.errors()[0])),))


@router.get("/api/plans/{plan_id}/ways", name="ways")
def both_ways(request: Request, opened: ReadPlan, fence: str = "") -> Response:
    """All live and in turn, computed side by side."""
    return _piece(request, "_ways", pieces.ways_view(opened.plan, fence or None))


@router.get("/api/plans/{plan_id}/conductors", name="conductors_here")
def every_conductor(request: Request, opened: ReadPlan, fence: str = "") -> Response:
    """What each conductor would do on this fence."""
    return _piece(request, "_conductors", pieces.conductors_view(opened.plan, fence or None))


@router.get("/plans/{plan_id}/paper/parts", name="parts_paper")
def parts_paper(request: Request, opened: ReadPlan, prices: bool = True) -> Response:
    """The parts list on paper, with boxes to tick."""
    return page(request, "plan/paper_parts.html", parts_paper_view(opened, prices=prices))


@router.get("/plans/{plan_id}/paper/ask", name="ask_paper")
def ask_paper(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """The facts of a fence and what to ask about it, on one sheet."""
    return page(request, "plan/ask.html", ask_view(begin_transaction, opened))


@router.get("/plans/{plan_id}/paper/pole", name="pole_paper")
def pole_paper(request: Request, opened: ReadPlan, paper: str = "A4", fence: str = "") -> Response:
    """The story pole in true millimetres, and a sheet of the strands for every line."""
    return page(request, "plan/paper_pole.html", pole_paper_view(opened, paper, fence or None))


@router.get("/api/plans/{plan_id}/other-fences", name="other_fences")
def beside_other_fences(request: Request, opened: ReadPlan) -> Response:
    """This fence per metre beside fences without electricity."""
    return _piece(request, "_other_fences", pieces.other_fences_view(opened.plan))


@router.get("/api/plans/{plan_id}/parts-otherwise", name="parts_otherwise")
def parts_chosen_otherwise(request: Request, opened: ReadPlan) -> Response:
    """The parts list with one thing chosen otherwise."""
    return _piece(request, "_parts_otherwise", parts_otherwise_view(opened.plan))


@router.get("/api/plans/{plan_id}/kit", name="beside_a_kit")
def beside_a_kit(request: Request, opened: ReadPlan, kit: Annotated[str, Query(max_length=40)] = "hives") -> Response:
    """The parts list beside a kit's."""
    try:
        return _piece(request, "_kit", kit_view(opened.plan, kit))
    except ReadingError as error:
        return fault(((error.field, str(error)),))


@router.get("/api/plans/{plan_id}/strand-joins", name="strand_joins")
def joined_strands(
    request: Request,
    opened: ReadPlan,
    season: Season = Season.USUAL,
    line: Annotated[str, Query(max_length=40)] = "",
    strand: Annotated[str, Query(max_length=20)] = "",
    cut_at: Annotated[str, Query(max_length=20)] = "",
) -> Response:
    """What joining the strands of a line at one end or both brings, whole and with one cut."""
    try:
        return _piece(request, "_strand_joins", pieces.strand_joins_view(opened.plan, season, line, (strand, cut_at)))
    except ReadingError as error:
        return fault(((error.field, str(error)),))


@router.get("/api/plans/{plan_id}/next-stock", name="next_stock")
def later_stock(request: Request, opened: ReadPlan, kind: Annotated[str, Query(max_length=40)]) -> Response:
    """What a kind of stock that comes later asks of the fence."""
    try:
        return _piece(request, "_next_stock", pieces.next_stock_view(opened.plan, kind))
    except ReadingError as error:
        return fault(((error.field, str(error)),))


@router.get("/api/plans/{plan_id}/units", name="units_here")
def side_by_side(
    request: Request,
    opened: ReadPlan,
    more_km: Annotated[FiniteFloat, Query(ge=0, le=20)] = 0.0,
    rolls: Annotated[int, Query(ge=0, le=40)] = 0,
    growth: Annotated[int | None, Query(ge=0, lt=len(grass_labels()))] = None,
) -> Response:
    """What every energizer would do on this fence."""
    try:
        found = pieces.units_view(opened.plan, more_km=more_km, rolls=rolls, growth=growth)
        return _piece(request, "_units", found)
    except ValidationError as error:
        return fault((("", f"So much more does not fit this plan: {fault_words(error.errors()[0])}"),))


@router.get("/api/plans/{plan_id}/budget", name="budget")
def where_it_goes(request: Request, opened: ReadPlan, season: Season = Season.USUAL) -> Response:
    """Where the pulse goes in a season."""
    return _piece(request, "_budget", pieces.budget_view(opened.plan, season))


@router.get("/api/plans/{plan_id}/battery", name="battery")
def battery(
    request: Request,
    opened: ReadPlan,
    rest_v: Annotated[str, Query(max_length=20)],
    kind: Literal["lead", "agm"] = "lead",
) -> Response:
    """How full a battery is by its volts at rest, and for how long it still feeds the unit."""
    try:
        return _piece(request, "_battery", pieces.battery_view(opened.plan, rest_v, agm=kind == "agm"))
    except ReadingError as error:
        return fault((("rest_v", str(error)),))


@router.get("/api/plans/{plan_id}/earth", name="earth_here")
def earth_here(request: Request, opened: ReadPlan) -> Response:
    """What the rods cost the fence in each season, and ohms against rods."""
    return _piece(request, "_earth_here", pieces.earth_view(opened.plan))


@router.get("/api/plans/{plan_id}/rod-schools", name="rod_schools")
def rod_schools(request: Request, opened: ReadPlan) -> Response:
    """Every rule for the number of rods beside what it gives here."""
    return _piece(request, "_rod_schools", pieces.rod_schools_view(opened.plan))


@router.get("/api/plans/{plan_id}/earth-options", name="earth_options")
def earth_options(request: Request, opened: ReadPlan) -> Response:
    """What the next rod buys against all else."""
    return _piece(request, "_earth_options", pieces.earth_options_view(opened.plan))


@router.get("/api/plans/{plan_id}/unit-places", name="unit_places")
def other_unit_places(request: Request, opened: ReadPlan) -> Response:
    """Where else the energizer could hang, each place judged."""
    return _piece(request, "_unit_places", pieces.unit_places_view(opened.plan))


@router.get("/api/plans/{plan_id}/rod-sites", name="rod_sites")
def rod_sites(opened: ReadPlan) -> Response:
    """Rows proposed, and what is wrong with where rods stand."""
    return JSONResponse(sites_json(opened.plan))


@router.get("/api/plans/{plan_id}/stray", name="stray")
def stray_volts(request: Request, begin_transaction: Db, opened: ReadPlan) -> Response:
    """Where animals drink: how far the ground rises there, and what was read."""
    return _piece(request, "_stray", pieces.stray_view(begin_transaction, opened))


@router.post("/api/plans/{plan_id}/stray", name="add_stray")
def add_stray(request: Request, begin_transaction: Db, opened: LogOnPlan, body: StrayVolts) -> Response:
    """Keep volts read where animals drink."""
    entry = StrayEntry(body.landmark, body.volts, body.season, body.note, "")
    try:
        log_stray(begin_transaction, plan_id=opened.id, plan=opened.plan, entry=entry, read_by=opened.account_id)
    except ReadingError as error:
        return fault(((f"stray.{error.field}", str(error)),))
    return stray_volts(request, begin_transaction, opened)
