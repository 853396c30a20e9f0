"""Sign in, sign up, sign out."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from adze.services import accounts
from adze.services.accounts import DEMO_LOGIN, DEMO_PASSWORD, SignInError
from adze.store.errors import StoreError
from adze.web.access import COOKIE, Db, Writer, check_form_token, form_token, let_in, settings_of
from adze.web.pages import page

router = APIRouter()
Text = Annotated[str, Form(max_length=400)]


def _form(request: Request, template: str, values: dict[str, str], error: tuple[str, str] | None) -> Response:
    keep = Response()
    token = form_token(request, keep)
    field, message = error or ("", "")
    context = {
        "csrf": token,
        "values": values,
        "field": field,
        "message": message,
        "next": _inside(values.get("next", "")),
        "demo_login": DEMO_LOGIN,
        "demo_password": DEMO_PASSWORD,
    }
    answer = page(request, template, context, status=422 if error else 200)
    answer.headers.append("set-cookie", keep.headers["set-cookie"])
    return answer


def _inside(address: str) -> str:
    """Only ways inside this application are followed after signing in."""
    return address if address.startswith("/") and not address.startswith(("//", "/\\")) else "/"


@router.get("/sign-in", name="sign_in_page")
def sign_in_page(request: Request, next: str = "/") -> Response:
    """The sign-in page, with the demo account offered."""
    return _form(request, "account/sign_in.html", {"login": "", "next": next}, None)


@router.post("/sign-in", name="sign_in")
def sign_in(
    request: Request, transaction: Db, login: Text = "", password: Text = "", csrf: Text = "", next: Text = "/"
) -> Response:
    """Let a browser in."""
    check_form_token(request, csrf)
    try:
        key = accounts.sign_in(transaction, login=login, password=password, days=settings_of(request).session_days)
    except SignInError as error:
        return _form(request, "account/sign_in.html", {"login": login, "next": next}, (error.field, str(error)))
    answer = RedirectResponse(_inside(next), 303)
    let_in(request, answer, key)
    return answer


@router.get("/sign-up", name="sign_up_page")
def sign_up_page(request: Request) -> Response:
    """A new account."""
    return _form(request, "account/sign_up.html", {"login": "", "name": ""}, None)


@router.post("/sign-up", name="sign_up")
def sign_up(
    request: Request, transaction: Db, login: Text = "", name: Text = "", password: Text = "", csrf: Text = ""
) -> Response:
    """Make an account and let its browser in."""
    check_form_token(request, csrf)
    days = settings_of(request).session_days
    try:
        key = accounts.sign_up(transaction, login=login, name=name, password=password, days=days)
    except SignInError as error:
        return _form(request, "account/sign_up.html", {"login": login, "name": name}, (error.field, str(error)))
    except StoreError as error:
        return _form(request, "account/sign_up.html", {"login": login, "name": name}, ("login", str(error)))
    answer = RedirectResponse("/", 303)
    let_in(request, answer, key)
    return answer


@router.post("/sign-out", name="sign_out")
def sign_out(request: Request, transaction: Db, _: Writer) -> Response:
    """End the session."""
    with transaction() as connection:
        accounts.sign_out(connection, request.cookies.get(COOKIE, ""))
    answer = RedirectResponse("/sign-in", 303)
    answer.delete_cookie(COOKIE)
    return answer
