"""What the scripts of a plan's ground ask."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from pydantic import FiniteFloat

from adze.services.operations.field_position import TooFar, killed_by, locate, walk_legs
from adze.services.views.base import Pane
from adze.services.views.ground import pane_view
from adze.services.views.inspector import inspector_view, read_chosen
from adze.web.access import ReadPlan
from adze.web.pages import render
from adze.web.workbench import fault

router = APIRouter()
Metres = Annotated[FiniteFloat, Query(ge=-200_000, le=200_000)]


@router.get("/api/plans/{plan_id}/inspect", name="inspect_ground")
def inspect_ground(request: Request, opened: ReadPlan, chosen: str = "") -> Response:
    """What is chosen on the ground, as a piece of page."""
    context = inspector_view(opened.plan, read_chosen(chosen)) | {"plan_id": opened.id}
    return JSONResponse({"html": render(request, "plan/_inspector.html", context)})


@router.get("/api/plans/{plan_id}/pane/{pane}", name="ground_pane")
def ground_pane(request: Request, opened: ReadPlan, pane: Literal["lines", "feed", "blocks"]) -> Response:
    """One list of the ground's panel, as a piece of page."""
    context = pane_view(opened.plan, Pane(pane)) | {"plan_id": opened.id}
    return JSONResponse({"html": render(request, f"plan/panels/ground_{pane}.html", context)})


@router.get("/api/plans/{plan_id}/zone", name="zone")
def zone(opened: ReadPlan, switch: str) -> Response:
    """What dies with a switch."""
    return JSONResponse({"stretches": killed_by(opened.plan, switch)})


@router.get("/api/plans/{plan_id}/here", name="here")
def here(
    opened: ReadPlan,
    lat: Annotated[FiniteFloat, Query(ge=-90, le=90)],
    lon: Annotated[FiniteFloat, Query(ge=-180, le=180)],
) -> Response:
    """Where a device stands on this plan, in metres, and the nearest place on a line."""
    try:
        return JSONResponse(locate(opened.plan, lat, lon))
    except TooFar as far:
        return fault((("", str(far)),))


@router.get("/api/plans/{plan_id}/walked", name="walked")
def walked_points(
    opened: ReadPlan, text: Annotated[str, Query(max_length=2000)], east: Metres, north: Metres
) -> Response:
    """Where lengths and bearings lead from a spot."""
    try:
        return JSONResponse({"points": walk_legs(opened.plan, text, (east, north))})
    except ValueError as error:
        return fault((("", str(error)),))
