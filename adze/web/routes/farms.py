"""Farms and their plans."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from adze.formats.sketch import sketch
from adze.services.forecasts import judgement_of
from adze.services.plans import begin_plan, list_plans
from adze.store import farms
from adze.store.errors import StoreError
from adze.web.pages import page
from adze.web.session import Db, Who, Writer

router = APIRouter()


def _list(request: Request, connection: Db, account_id: int, message: str = "", typed: str = "") -> Response:
    rows: dict[int, list[dict[str, object]]] = {}
    for row, plan in list_plans(connection, account_id=account_id):
        judged = judgement_of(plan)
        rows.setdefault(row.farm_id, []).append(
            {"row": row, "sketch": sketch(plan), "judged": judged, "units": plan.units}
        )
    context = {
        "farms": farms.list_farms(connection, account_id=account_id),
        "plans": rows,
        "message": message,
        "typed": typed,
    }
    return page(request, "farms/list.html", context, status=422 if message else 200)


@router.get("/", name="farm_list")
def farm_list(request: Request, connection: Db, who: Who) -> Response:
    """All farms with their plans."""
    return _list(request, connection, who.account_id)


@router.post("/farms", name="add_farm")
def add_farm(request: Request, connection: Db, who: Writer, name: Annotated[str, Form()] = "") -> Response:
    """A new farm with a blank plan."""
    said = name.strip()
    try:
        with connection.transaction():
            farm = farms.add_farm(connection, account_id=who.account_id, name=said)
            plan = begin_plan(connection, farm_id=farm.id, name="First line", made_by=who.account_id)
    except StoreError as error:
        return _list(request, connection, who.account_id, str(error), said)
    return RedirectResponse(request.url_for("stage_page", plan_id=plan, stage="ground").path, 303)


@router.post("/farms/{farm_id}/plans", name="add_plan")
def add_plan(request: Request, connection: Db, who: Writer, farm_id: int) -> Response:
    """A blank plan on a farm."""
    farm = farms.get_farm(connection, farm_id=farm_id, account_id=who.account_id)
    plan = begin_plan(connection, farm_id=farm.id, name="New line", made_by=who.account_id)
    return RedirectResponse(request.url_for("stage_page", plan_id=plan, stage="ground").path, 303)
