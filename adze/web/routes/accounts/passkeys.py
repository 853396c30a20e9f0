"""Passkeys: made on the account's page, used on the page for signing in."""

from typing import Annotated, Any
from urllib.parse import urlsplit

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, RedirectResponse, Response
from pydantic import Field

from adze.services.accounts import accounts, passkeys
from adze.services.accounts.accounts import SignInError
from adze.services.accounts.passkeys import Answer, RelyingParty
from adze.web.access import (
    COOKIE,
    Db,
    FreshWriter,
    JsonWriter,
    caller_of,
    check_form_token,
    let_in,
    settings_of,
)
from adze.web.workbench import JsonBody, fault

router = APIRouter()


class Begin(JsonBody):
    """The password of whoever adds a passkey."""

    password: Annotated[str, Field(max_length=400)] = ""


class Answered(JsonBody):
    """What the browser answers to a challenge."""

    challenge: Annotated[str, Field(max_length=100)]
    credential: dict[str, Any]

    @property
    def answer(self) -> Answer:
        """As the services take it."""
        return Answer(self.challenge, self.credential)


class Form(JsonBody):
    """The token of the form for signing in."""

    csrf: Annotated[str, Field(max_length=400)] = ""


class AnsweredForm(Answered, Form):
    """An answer, with the form's token."""


def _site(request: Request) -> RelyingParty:
    own = urlsplit(settings_of(request).address or str(request.base_url))
    return RelyingParty(own.hostname or "localhost", f"{own.scheme}://{own.netloc}")


def _refused(error: SignInError) -> Response:
    return fault(((error.field, str(error)),))


@router.post("/api/account/passkeys/begin", name="begin_passkey")
def begin_passkey(request: Request, begin_transaction: Db, who: JsonWriter, body: Begin) -> Response:
    """What the browser makes a passkey by."""
    try:
        return JSONResponse(passkeys.begin_to_add(begin_transaction, who, _site(request), password=body.password))
    except SignInError as error:
        return _refused(error)


@router.post("/api/account/passkeys", name="add_passkey")
def add_passkey(request: Request, begin_transaction: Db, who: JsonWriter, body: Answered) -> Response:
    """A passkey kept."""
    try:
        passkeys.add(begin_transaction, who, _site(request), body.answer, caller_of(request))
    except SignInError as error:
        return _refused(error)
    return JSONResponse({"next": "/account"})


@router.post("/account/passkeys/{passkey_id}/take-off", name="take_passkey_off")
def take_passkey_off(request: Request, begin_transaction: Db, who: FreshWriter, passkey_id: int) -> Response:
    """A passkey that lets nobody in any more."""
    passkeys.take_off(begin_transaction, who, passkey_id=passkey_id, caller=caller_of(request))
    return RedirectResponse("/account", 303)


@router.post("/api/sign-in/begin", name="begin_sign_in")
def begin_sign_in(request: Request, begin_transaction: Db, body: Form) -> Response:
    """What the browser signs in by."""
    check_form_token(request, body.csrf)
    return JSONResponse(passkeys.begin_to_sign_in(begin_transaction, _site(request)))


@router.post("/api/sign-in", name="sign_in_by_passkey")
def sign_in_by_passkey(request: Request, begin_transaction: Db, body: AnsweredForm) -> Response:
    """A browser let in by its passkey; the session it had before ends."""
    check_form_token(request, body.csrf)
    days = settings_of(request).session_days
    try:
        key = passkeys.sign_in(begin_transaction, _site(request), body.answer, days=days, caller=caller_of(request))
    except SignInError as error:
        return _refused(error)
    with begin_transaction() as connection:
        accounts.sign_out(connection, request.cookies.get(COOKIE, ""))
    answer = JSONResponse({"next": "/"})
    let_in(request, answer, key)
    return answer
