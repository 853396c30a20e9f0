"""The farm's shed: what is there, put in, taken out, and what comes back from a fence taken down."""

from typing import Annotated

from fastapi import APIRouter, Depends, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from adze.services.parts import shed
from adze.services.parts.shed import BadShed
from adze.services.sharing import people
from adze.services.sharing.people import PlanRole
from adze.store.accounts.sessions import Session
from adze.store.errors import RefusedByStore
from adze.store.sharing.people import SharedFarm
from adze.web.access import Db, EditPlanByForm, signed_in, writes
from adze.web.pages import page

router = APIRouter()


def _seen(begin_transaction: Db, session: Annotated[Session, Depends(signed_in)], farm_id: int) -> SharedFarm:
    return people.farm_for(begin_transaction, farm_id=farm_id, account_id=session.account_id, role=PlanRole.READER)


def _changed(begin_transaction: Db, session: Annotated[Session, Depends(writes)], farm_id: int) -> SharedFarm:
    return people.farm_for(begin_transaction, farm_id=farm_id, account_id=session.account_id, role=PlanRole.EDITOR)


def _shed(
    request: Request, begin_transaction: Db, farm: SharedFarm, message: str = "", typed: dict[str, str] | None = None
) -> Response:
    context = {
        "farm": farm,
        "rows": shed.shed_rows(begin_transaction, farm.id),
        "known": shed.part_labels(),
        "unit_labels": frozenset(shed.unit_labels()),
        "may_change": farm.role >= PlanRole.EDITOR,
        "message": message,
        "typed": {"part": "", "quantity": "", "note": ""} | (typed or {}),
    }
    return page(request, "farms/shed.html", context, status=422 if message else 200)


@router.get("/farms/{farm_id}/shed", name="shed")
def shed_page(request: Request, begin_transaction: Db, farm: Annotated[SharedFarm, Depends(_seen)]) -> Response:
    """What is in the shed."""
    return _shed(request, begin_transaction, farm)


@router.get("/farms/{farm_id}/shed/unit", name="unit_elsewhere")
def unit_elsewhere(
    request: Request,
    begin_transaction: Db,
    session: Annotated[Session, Depends(signed_in)],
    farm: Annotated[SharedFarm, Depends(_seen)],
    part: Annotated[str, Query(max_length=80)] = "",
) -> Response:
    """On which of the farm's fences a unit of the shed would be enough."""
    try:
        rows = shed.unit_elsewhere(begin_transaction, farm_id=farm.id, account_id=session.account_id, label=part)
    except BadShed as error:
        return _shed(request, begin_transaction, farm, str(error))
    return page(request, "farms/shed_unit.html", {"farm": farm, "label": part, "rows": rows})


@router.post("/farms/{farm_id}/shed", name="put_in_shed")
def put_in_shed(
    request: Request,
    begin_transaction: Db,
    farm: Annotated[SharedFarm, Depends(_changed)],
    part: Annotated[str, Form()] = "",
    quantity: Annotated[str, Form()] = "",
    note: Annotated[str, Form()] = "",
) -> Response:
    """Have so much of a part; 0 removes it."""
    try:
        shed.put_in_shed(begin_transaction, farm.id, part=part.strip(), quantity=quantity, note=note)
    except (BadShed, RefusedByStore) as error:
        return _shed(request, begin_transaction, farm, str(error), {"part": part, "quantity": quantity, "note": note})
    return RedirectResponse(request.url_for("shed", farm_id=farm.id).path, 303)


@router.post("/plans/{plan_id}/taken-down", name="take_down")
def take_down(request: Request, begin_transaction: Db, opened: EditPlanByForm) -> Response:
    """A fence was taken down: its parts are counted into the shed."""
    shed.take_down(begin_transaction, opened)
    return RedirectResponse(request.url_for("shed", farm_id=opened.stored.farm_id).path, 303)
