"""Farms and their plans."""

from typing import Annotated, Literal
from zoneinfo import available_timezones

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from adze.services.judging.verdicts import farms_view
from adze.services.plans.plans import begin_plan
from adze.services.sharing.people import PlanRole, farm_for
from adze.services.transfer.account_export import everything
from adze.store.errors import NameTaken, RefusedByStore, StoreError
from adze.store.plans import farms
from adze.web.access import Db, FreshWriter, Who, Writer, jobs_of
from adze.web.pages import page

router = APIRouter()
_TakenOff = Literal["take-off", "take-back"]


def _list(
    request: Request, begin_transaction: Db, account_id: int, message: str = "", typed: str = "", number: int = 1
) -> Response:
    context = farms_view(begin_transaction, account_id, number) | {"message": message, "typed": typed}
    jobs_of(request).judge(context["unjudged"])
    return page(request, "farms/list.html", context, status=422 if message else 200)


@router.get("/", name="farm_list")
def farm_list(
    request: Request, begin_transaction: Db, who: Who, p: Annotated[int, Query(ge=1, le=100_000)] = 1
) -> Response:
    """Farms with their plans, what needs a hand first."""
    return _list(request, begin_transaction, who.account_id, number=p)


@router.post("/farms", name="add_farm")
def add_farm(request: Request, begin_transaction: Db, who: Writer, name: Annotated[str, Form()] = "") -> Response:
    """A new farm with a blank plan."""
    said = name.strip()
    try:
        with begin_transaction() as connection:
            farm = farms.add_farm(connection, account_id=who.account_id, name=said)
            plan = begin_plan(connection, farm_id=farm.id, name="First line", made_by=who.account_id)
    except StoreError as error:
        return _list(request, begin_transaction, who.account_id, str(error), said)
    return RedirectResponse(request.url_for("start", plan_id=plan).path, 303)


@router.post("/farms/{farm_id}/rename", name="rename_farm")
def rename_farm(
    request: Request,
    begin_transaction: Db,
    who: Writer,
    farm_id: int,
    name: Annotated[str, Form()] = "",
    currency: Annotated[str | None, Form()] = None,
    time_zone: Annotated[str | None, Form()] = None,
) -> Response:
    """Another name for a farm, the money in which it counts and the zone of its times."""
    farm = farm_for(begin_transaction, farm_id=farm_id, account_id=who.account_id, role=PlanRole.OWNER)
    if time_zone is not None and time_zone not in available_timezones():
        why = "Time zone: choose one of the list, such as Europe/Dublin."
        return _list(request, begin_transaction, who.account_id, why, name)
    said = {"currency": currency and currency.strip(), "time_zone": time_zone}
    try:
        with begin_transaction() as connection:
            farms.rename_farm(connection, farm_id=farm.id, name=name.strip(), **said)
    except (NameTaken, RefusedByStore) as error:
        return _list(request, begin_transaction, who.account_id, str(error), name)
    return RedirectResponse("/", 303)


@router.post("/farms/{farm_id}/removal/{what}", name="remove_farm")
def remove_farm(request: Request, begin_transaction: Db, who: FreshWriter, farm_id: int, what: _TakenOff) -> Response:
    """A farm taken off with all its plans, or taken back within a day."""
    try:
        with begin_transaction() as connection:
            farms.remove_farm(connection, farm_id=farm_id, account_id=who.account_id, is_removed=what == "take-off")
    except NameTaken as error:
        return _list(request, begin_transaction, who.account_id, str(error))
    return RedirectResponse("/", 303)


@router.post("/plans/{plan_id}/removal/{what}", name="remove_plan")
def remove_plan(begin_transaction: Db, who: FreshWriter, plan_id: int, what: _TakenOff) -> Response:
    """A plan taken off, or taken back within a day."""
    with begin_transaction() as connection:
        farms.remove_plan(connection, plan_id=plan_id, account_id=who.account_id, is_removed=what == "take-off")
    return RedirectResponse("/", 303)


@router.get("/everything.zip", name="everything")
def take_everything_out(begin_transaction: Db, who: Who) -> Response:
    """All that one owns, in one file."""
    headers = {"Content-Disposition": 'attachment; filename="adze.zip"'}
    return Response(everything(begin_transaction, who.account_id), media_type="application/zip", headers=headers)


@router.post("/farms/{farm_id}/plans", name="add_plan")
def add_plan(request: Request, begin_transaction: Db, who: Writer, farm_id: int) -> Response:
    """A blank plan on a farm."""
    farm = farm_for(begin_transaction, farm_id=farm_id, account_id=who.account_id, role=PlanRole.EDITOR)
    with begin_transaction() as connection:
        plan = begin_plan(connection, farm_id=farm.id, name="New line", made_by=who.account_id)
    return RedirectResponse(request.url_for("start", plan_id=plan).path, 303)
