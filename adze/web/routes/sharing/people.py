"""The people of a farm: invited by a link, in a role, taken off again."""

from typing import Annotated

from fastapi import APIRouter, Depends, Form, Request
from fastapi.responses import RedirectResponse, Response

from adze.services.accounts import account_mail
from adze.services.sharing import look_links, people
from adze.services.sharing.people import ROLE_WORDS, PlanRole
from adze.store.accounts.sessions import Session
from adze.store.sharing.people import SharedFarm
from adze.web.access import (
    Db,
    FreshWriter,
    MaybeWho,
    Who,
    Writer,
    caller_of,
    check_form_token,
    form_page,
    jobs_of,
    let_in,
    link_to,
    settings_of,
    signed_in,
)
from adze.web.pages import page

router = APIRouter()


def _owned(begin_transaction: Db, session: Annotated[Session, Depends(signed_in)], farm_id: int) -> SharedFarm:
    return people.farm_for(begin_transaction, farm_id=farm_id, account_id=session.account_id, role=PlanRole.OWNER)


def _owned_by_writer(begin_transaction: Db, session: FreshWriter, farm_id: int) -> SharedFarm:
    return people.farm_for(begin_transaction, farm_id=farm_id, account_id=session.account_id, role=PlanRole.OWNER)


OwnedFarm = Annotated[SharedFarm, Depends(_owned)]
OwnedFarmToWrite = Annotated[SharedFarm, Depends(_owned_by_writer)]


def _people(request: Request, begin_transaction: Db, farm: SharedFarm, message: str = "", link: str = "") -> Response:
    context = {
        "view": people.people_view(begin_transaction, farm),
        "roles": {role.value: (role.name.capitalize(), words) for role, words in ROLE_WORDS.items()},
        "message": message,
        "link": link,
    }
    return page(request, "farms/people.html", context, status=422 if message else 200)


def _back(request: Request, farm: SharedFarm) -> Response:
    return RedirectResponse(request.url_for("people", farm_id=farm.id).path, 303)


@router.get("/farms/{farm_id}/people", name="people")
def people_page(request: Request, begin_transaction: Db, farm: OwnedFarm) -> Response:
    """Who may do what with a farm."""
    return _people(request, begin_transaction, farm)


@router.post("/farms/{farm_id}/people/invite", name="invite")
def invite(
    request: Request,
    begin_transaction: Db,
    who: FreshWriter,
    farm: OwnedFarmToWrite,
    role: Annotated[PlanRole, Form()],
    days: Annotated[int, Form()] = 7,
    mail: Annotated[str, Form(max_length=400)] = "",
) -> Response:
    """A link that lets one person in, shown once, and mailed where an address is given."""
    try:
        to = account_mail.checked_address(mail) if mail.strip() else ""
        token = people.invite(begin_transaction, farm, made_by=who.account_id, role=role, days=days)
    except ValueError as error:
        return _people(request, begin_transaction, farm, str(error))
    link, message = link_to(request, "join_page", token), ""
    if to:
        try:
            account_mail.send_invitation(begin_transaction, jobs_of(request), who, mail=to, farm=farm.name, link=link)
        except ValueError as error:
            message = str(error)
    return _people(request, begin_transaction, farm, message, link)


@router.post("/farms/{farm_id}/people/withdraw/{invitation_id}", name="withdraw")
def withdraw(request: Request, begin_transaction: Db, farm: OwnedFarmToWrite, invitation_id: int) -> Response:
    """A link taken back."""
    people.withdraw(begin_transaction, farm, invitation_id=invitation_id)
    return _back(request, farm)


@router.post("/farms/{farm_id}/people/{account_id}/role", name="change_role")
def change_role(
    request: Request,
    begin_transaction: Db,
    farm: OwnedFarmToWrite,
    account_id: int,
    role: Annotated[PlanRole, Form()],
) -> Response:
    """Another role for somebody."""
    try:
        people.change_role(begin_transaction, farm, account_id=account_id, role=role)
    except ValueError as error:
        return _people(request, begin_transaction, farm, str(error))
    return _back(request, farm)


@router.post("/farms/{farm_id}/people/{account_id}/take-off", name="take_person_off")
def take_person_off(request: Request, begin_transaction: Db, farm: OwnedFarmToWrite, account_id: int) -> Response:
    """Somebody taken off, at once."""
    try:
        people.take_off(begin_transaction, farm, account_id=account_id)
    except ValueError as error:
        return _people(request, begin_transaction, farm, str(error))
    return _back(request, farm)


@router.post("/farms/{farm_id}/people/show", name="show_plan")
def show_plan(
    request: Request,
    begin_transaction: Db,
    who: FreshWriter,
    farm: OwnedFarmToWrite,
    plan: Annotated[int, Form()] = 0,
    days: Annotated[int, Form()] = 30,
) -> Response:
    """A link that shows one plan to whoever holds it, shown once."""
    try:
        token = look_links.show(begin_transaction, farm, made_by=who.account_id, plan_id=plan, days=days)
    except ValueError as error:
        return _people(request, begin_transaction, farm, str(error))
    return _people(request, begin_transaction, farm, link=link_to(request, "look_page", token))


@router.post("/farms/{farm_id}/people/hide/{link_id}", name="hide_plan")
def hide_plan(request: Request, begin_transaction: Db, farm: OwnedFarmToWrite, link_id: int) -> Response:
    """A link that shows nothing any more."""
    look_links.hide(begin_transaction, farm, link_id=link_id)
    return _back(request, farm)


@router.get("/look/{token}", name="look_page")
def look_page(request: Request, begin_transaction: Db, who: MaybeWho, token: str) -> Response:
    """What a link shows, before it is opened."""
    found = look_links.shown(begin_transaction, token)
    return form_page(request, "farms/look.html", {"found": found, "token": token, "visitor": who})


@router.post("/look/{token}", name="look")
def look(
    request: Request, begin_transaction: Db, who: MaybeWho, token: str, csrf: Annotated[str, Form()] = ""
) -> Response:
    """Look at the plan of a link."""
    check_form_token(request, csrf)
    found = look_links.shown(begin_transaction, token)
    days = settings_of(request).session_days
    key = look_links.look(begin_transaction, token, session=who, days=days, caller=caller_of(request))
    answer = RedirectResponse(request.url_for("plan_page", plan_id=found.plan_id).path, 303)
    if key:
        let_in(request, answer, key)
    return answer


@router.get("/join/{token}", name="join_page")
def join_page(request: Request, begin_transaction: Db, _: Who, token: str) -> Response:
    """What an invitation lets one do, before it is taken."""
    found = people.invitation_of(begin_transaction, token)
    words = ROLE_WORDS[PlanRole(found.role)]
    return page(request, "farms/join.html", {"found": found, "token": token, "words": words})


@router.post("/join/{token}", name="join")
def join(begin_transaction: Db, who: Writer, token: str) -> Response:
    """Come in."""
    people.join(begin_transaction, token, account_id=who.account_id)
    return RedirectResponse("/", 303)
