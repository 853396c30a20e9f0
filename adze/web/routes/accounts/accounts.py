"""Sign in, sign up, sign out, the demo, and the page of one's own account."""

from typing import Annotated, Any

from fastapi import APIRouter, File, Form, HTTPException, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from pydantic import BaseModel, Field

from adze.core.basics.faults import FieldFault
from adze.demo.load import open_demo, open_trial
from adze.formats.errors import FormatError
from adze.services.accounts import account_mail, accounts
from adze.services.accounts.accounts import NewAccount, SignInError, SignUpLimits
from adze.services.limits.concurrency import Busy
from adze.services.limits.quotas import usage_view
from adze.services.plans.plans import UnstorablePlan
from adze.services.transfer.account_import import bring_in
from adze.store.accounts.sessions import Session
from adze.store.errors import StoreError
from adze.web.access import (
    COOKIE,
    Db,
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
)
from adze.web.pages import page

router = APIRouter()
Text = Annotated[str, Form(max_length=400)]
_Error = tuple[str, str, int]
_Typed = Annotated[str, Field(max_length=400)]


class SignUpForm(BaseModel):
    """What is typed for a new account."""

    login: _Typed = ""
    name: _Typed = ""
    password: _Typed = ""
    csrf: _Typed = ""
    next: _Typed = "/"


def _error(error: Exception, field: str = "password") -> _Error:
    """What a form says of a refusal: the field, the words, the status."""
    if isinstance(error, FieldFault):
        return error.field, str(error), 422
    return field, str(error), 429 if isinstance(error, Busy) else 422


def _form(
    request: Request, template: str, values: dict[str, str], error: _Error | None, visitor: Session | None = None
) -> Response:
    field, message, status = error or ("", "", 200)
    context = {
        "visitor": visitor,
        "values": values,
        "field": field,
        "message": message,
        "next": _inside(values.get("next", "")),
        "demo": settings_of(request).demo,
    }
    return form_page(request, template, context, status)


def _with_retry(answer: Response, error: Exception | None) -> Response:
    if isinstance(error, Busy):
        answer.headers["Retry-After"] = str(error.retry_after_s)
    return answer


def _inside(address: str) -> str:
    """Only ways inside this application are followed after signing in."""
    return address if address.startswith("/") and not address.startswith(("//", "/\\")) else "/"


def _enter(request: Request, begin_transaction: Db, key: accounts.Key, address: str) -> Response:
    """Let the browser in; the session it had before ends."""
    with begin_transaction() as connection:
        accounts.sign_out(connection, request.cookies.get(COOKIE, ""))
    answer = RedirectResponse(address, 303)
    let_in(request, answer, key)
    return answer


@router.get("/sign-in", name="sign_in_page")
def sign_in_page(request: Request, next: str = "/") -> Response:
    """The sign-in page, with the demo offered."""
    return _form(request, "account/sign_in.html", {"login": "", "next": next}, None)


@router.post("/sign-in", name="sign_in")
def sign_in(
    request: Request, begin_transaction: Db, login: Text = "", password: Text = "", csrf: Text = "", next: Text = "/"
) -> Response:
    """Let a browser in."""
    check_form_token(request, csrf)
    days = settings_of(request).session_days
    try:
        key = accounts.sign_in(begin_transaction, login=login, password=password, days=days, caller=caller_of(request))
    except (SignInError, Busy) as error:
        values = {"login": login, "next": next}
        return _with_retry(_form(request, "account/sign_in.html", values, _error(error)), error)
    return _enter(request, begin_transaction, key, _inside(next))


@router.post("/demo", name="demo")
def demo(request: Request, begin_transaction: Db, csrf: Text = "", next: Text = "/") -> Response:
    """The demo farms, a copy of one's own for a day."""
    check_form_token(request, csrf)
    if not settings_of(request).demo:
        raise HTTPException(404)
    key = open_demo(begin_transaction, caller_of(request), settings_of(request).demos_an_hour)
    return _enter(request, begin_transaction, key, _inside(next))


@router.post("/try", name="try_out")
def try_out(request: Request, begin_transaction: Db, csrf: Text = "") -> Response:
    """A farm of one's own for a day, without an account: it begins with the five questions."""
    check_form_token(request, csrf)
    if not settings_of(request).demo:
        raise HTTPException(404)
    key, plan_id = open_trial(begin_transaction, caller_of(request), settings_of(request).demos_an_hour)
    return _enter(request, begin_transaction, key, request.url_for("start", plan_id=plan_id).path)


@router.get("/sign-up", name="sign_up_page")
def sign_up_page(request: Request, who: MaybeWho, next: str = "/") -> Response:
    """A new account; what a visitor has planned comes along."""
    return _form(request, "account/sign_up.html", {"login": "", "name": "", "next": next}, None, who)


@router.post("/sign-up", name="sign_up")
def sign_up(request: Request, begin_transaction: Db, who: MaybeWho, form: Annotated[SignUpForm, Form()]) -> Response:
    """Make an account and let its browser in."""
    check_form_token(request, form.csrf)
    limits, values = settings_of(request), {"login": form.login, "name": form.name, "next": form.next}
    try:
        key = accounts.sign_up(
            begin_transaction,
            NewAccount(form.login, form.name, form.password),
            limits=SignUpLimits(limits.session_days, limits.sign_ups_an_hour),
            caller=caller_of(request),
            visitor=who,
        )
    except (SignInError, StoreError, Busy) as error:
        return _with_retry(_form(request, "account/sign_up.html", values, _error(error, "login"), who), error)
    return _enter(request, begin_transaction, key, _inside(form.next))


@router.post("/sign-out", name="sign_out")
def sign_out(request: Request, begin_transaction: Db, _: Writer) -> Response:
    """End the session."""
    with begin_transaction() as connection:
        accounts.sign_out(connection, request.cookies.get(COOKIE, ""))
    return _left()


def _left() -> Response:
    answer = RedirectResponse("/sign-in", 303)
    answer.delete_cookie(COOKIE)
    return answer


def _account(
    request: Request, begin_transaction: Db, who: Session, error: Exception | None = None, done: str = ""
) -> Response:
    field, message, status = _error(error) if error else ("", "", 200)
    context: dict[str, Any] = {
        "view": accounts.account_view(begin_transaction, who),
        "usage": usage_view(begin_transaction, who.account_id),
        "mail": account_mail.address_of(begin_transaction, who),
        "field": field,
        "message": message,
        "done": done,
    }
    return _with_retry(page(request, "account/account.html", context, status=status), error)


@router.get("/account", name="account_page")
def account_page(request: Request, begin_transaction: Db, who: Who) -> Response:
    """Where one is signed in, what happened, the password, the end of the account."""
    return _account(request, begin_transaction, who)


@router.get("/account/confirm", name="confirm_page")
def confirm_page(request: Request, _: Who, next: str = "/") -> Response:
    """The password once more, before something that only the owner should do."""
    return page(request, "account/confirm.html", {"next": _inside(next), "message": ""})


@router.post("/account/confirm", name="confirm")
def confirm(request: Request, begin_transaction: Db, who: Writer, password: Text = "", next: Text = "/") -> Response:
    """The owner is there: back to what was asked."""
    try:
        accounts.confirm_session(begin_transaction, who, password=password)
    except (SignInError, Busy) as error:
        _, message, status = _error(error)
        answer = page(request, "account/confirm.html", {"next": _inside(next), "message": message}, status=status)
        return _with_retry(answer, error)
    return RedirectResponse(_inside(next), 303)


@router.post("/account/password", name="change_password")
def change_password(request: Request, begin_transaction: Db, who: Writer, now: Text = "", new: Text = "") -> Response:
    """Another password."""
    try:
        accounts.change_password(begin_transaction, who, now=now, new=new, caller=caller_of(request))
    except (SignInError, Busy) as error:
        return _account(request, begin_transaction, who, error)
    return _account(request, begin_transaction, who, done="The password is changed. Every other device is signed out.")


@router.post("/account/mail", name="propose_mail")
def propose_mail(
    request: Request, begin_transaction: Db, who: Writer, mail: Text = "", mail_password: Text = ""
) -> Response:
    """A mail address to be confirmed by the link that is sent there."""
    try:
        account_mail.propose(
            begin_transaction,
            jobs_of(request),
            who,
            mail=mail,
            password=mail_password,
            link=lambda token: link_to(request, "mail_page", token),
        )
    except (SignInError, Busy) as error:
        return _account(request, begin_transaction, who, error)
    return _account(
        request, begin_transaction, who, done=f"A link is on its way to {mail.strip()}. Open it within a day."
    )


@router.get("/mail/{token}", name="mail_page")
def mail_page(request: Request, begin_transaction: Db, token: str) -> Response:
    """An address to be confirmed."""
    found = account_mail.waiting(begin_transaction, token, "confirm")
    return form_page(request, "account/mail.html", {"token": token, "found": found})


@router.post("/mail/{token}", name="confirm_mail")
def confirm_mail(request: Request, begin_transaction: Db, token: str, csrf: Text = "") -> Response:
    """An address confirmed."""
    check_form_token(request, csrf)
    account_mail.confirm(begin_transaction, token, caller_of(request))
    return RedirectResponse("/account", 303)


@router.get("/forgot", name="forgot_page")
def forgot_page(request: Request) -> Response:
    """Ask for another password by mail."""
    return form_page(request, "account/forgot.html", {"message": "", "done": False})


@router.post("/forgot", name="forgot")
def forgot(request: Request, begin_transaction: Db, login: Text = "", csrf: Text = "") -> Response:
    """A link for another password, sent to the address of a name, if it has one: the answer does not tell."""
    check_form_token(request, csrf)
    try:
        account_mail.forget(
            begin_transaction,
            jobs_of(request),
            login=login,
            link=lambda token: link_to(request, "reset_page", token),
            caller=caller_of(request),
        )
    except Busy as busy:
        answer = form_page(request, "account/forgot.html", {"message": str(busy), "done": False}, 429)
        return _with_retry(answer, busy)
    return form_page(request, "account/forgot.html", {"message": "", "done": True})


@router.get("/reset/{token}", name="reset_page")
def reset_page(request: Request, begin_transaction: Db, token: str) -> Response:
    """Another password by a link."""
    account_mail.waiting(begin_transaction, token, "reset")
    return form_page(request, "account/reset.html", {"token": token, "message": ""})


@router.post("/reset/{token}", name="reset_password")
def reset_password(request: Request, begin_transaction: Db, token: str, new: Text = "", csrf: Text = "") -> Response:
    """Another password kept; sign in with it."""
    check_form_token(request, csrf)
    try:
        account_mail.reset(begin_transaction, token, new=new, caller=caller_of(request))
    except (SignInError, Busy) as error:
        _, message, status = _error(error)
        answer = form_page(request, "account/reset.html", {"token": token, "message": message}, status)
        return _with_retry(answer, error)
    return RedirectResponse("/sign-in", 303)


@router.post("/account/everything", name="bring_everything_in")
def bring_everything_in(
    request: Request, begin_transaction: Db, who: Writer, file: Annotated[UploadFile | None, File()] = None
) -> Response:
    """A file of all that somebody owned, brought in beside what is here."""
    try:
        if file is None or not file.filename:
            raise FormatError("Choose the file that “Everything as one file” gave.")
        brought = bring_in(begin_transaction, who.account_id, file.file)
    except (FormatError, StoreError, UnstorablePlan, Busy) as error:
        found = error if isinstance(error, Busy) else FieldFault("file", str(error))
        return _account(request, begin_transaction, who, found)
    counts = f"{brought.farms} farms, {brought.plans} plans, {brought.readings} readings, {brought.pictures} pictures"
    return _account(request, begin_transaction, who, done=f"Brought in: {counts}.")


@router.post("/account/devices/{device_id}/sign-out", name="sign_device_out")
def sign_device_out(request: Request, begin_transaction: Db, who: Writer, device_id: int) -> Response:
    """One browser signed out; this one too, if it is that."""
    accounts.sign_device_out(begin_transaction, who, device=device_id, caller=caller_of(request))
    return _left() if device_id == who.id else RedirectResponse("/account", 303)


@router.post("/account/devices/sign-out", name="sign_others_out")
def sign_others_out(request: Request, begin_transaction: Db, who: Writer) -> Response:
    """Every browser but this one signed out."""
    accounts.sign_others_out(begin_transaction, who, caller_of(request))
    return RedirectResponse("/account", 303)


@router.post("/account/end", name="end_account")
def end_account(request: Request, begin_transaction: Db, who: Writer, password: Text = "") -> Response:
    """The account taken off, with all that it owns."""
    try:
        accounts.end_account(begin_transaction, who, password=password)
    except (SignInError, Busy) as error:
        found = SignInError("end", str(error)) if isinstance(error, SignInError) else error
        return _account(request, begin_transaction, who, found)
    answer = _left()
    # The browser throws away what it keeps of the account; nobody else's page can say so.
    answer.set_cookie(
        "adze_ended", str(who.account_id), max_age=60, samesite="strict", secure=request.url.scheme == "https"
    )
    return answer
