"""Who is asking, and what they may do: the cookie, the CSRF token of every write, the role on a plan."""

import re
import secrets
from collections.abc import Callable
from typing import Annotated, Any

from fastapi import Depends, Header, HTTPException, Request, Response

from adze.services.accounts.accounts import Caller, Key, who
from adze.services.jobs.queue import Jobs
from adze.services.plans.plans import OpenPlan, open_plan
from adze.services.sharing.people import PlanRole
from adze.settings import Settings
from adze.store.accounts.sessions import Session
from adze.store.connection import BeginTransaction
from adze.store.errors import NotAllowed
from adze.web.pages import page

COOKIE = "adze_session"
FORM_COOKIE = "adze_form"
BROWSER_COOKIE = "adze_browser"  # a browser that has signed in before
_TOO_OLD = "This page is too old to save from. Reload it and try again."


class SignInNeeded(Exception):
    """Nobody is signed in."""


class NotFresh(Exception):
    """Whoever is signed in must give their password once more."""


def get_begin_transaction(request: Request) -> BeginTransaction:
    """What opens a short transaction on the application's database: no request holds a connection throughout."""
    begin_transaction: BeginTransaction = request.app.state.store.begin_transaction
    return begin_transaction


Db = Annotated[BeginTransaction, Depends(get_begin_transaction)]


def settings_of(request: Request) -> Settings:
    """The application's settings."""
    found: Settings = request.app.state.settings
    return found


def jobs_of(request: Request) -> Jobs:
    """The application's queue of jobs."""
    found: Jobs = request.app.state.jobs
    return found


def perhaps_signed_in(request: Request, begin_transaction: Db) -> Session | None:
    """Who is signed in, if anybody is."""
    with begin_transaction() as connection:
        return who(connection, request.cookies.get(COOKIE, ""), idle_days=settings_of(request).idle_days)


def signed_in(request: Request, begin_transaction: Db) -> Session:
    """Who is signed in. Raises SignInNeeded."""
    session = perhaps_signed_in(request, begin_transaction)
    if session is None:
        raise SignInNeeded
    if session.is_guest and "plan_id" not in request.path_params and request.url.path != "/sign-out":
        raise NotAllowed("A link lets you look at one plan: open the link again. Sign up to have farms of your own.")
    request.state.session = session
    return session


Who = Annotated[Session, Depends(signed_in)]
MaybeWho = Annotated[Session | None, Depends(perhaps_signed_in)]


_ANOTHERS = "This was typed by another account on this device. Sign in as that account to send it."


def _checked(session: Session, token: str, typed_by: str) -> Session:
    if typed_by not in ("", str(session.account_id)):
        raise HTTPException(409, _ANOTHERS)
    if not secrets.compare_digest(token.encode(), session.csrf.encode()):
        raise HTTPException(403, _TOO_OLD)
    return session


async def _form_csrf(request: Request) -> str:
    """The CSRF token in a form; read here, so that a form's own model may stand alone."""
    found = (await request.form()).get("csrf", "")
    return found if isinstance(found, str) else ""


_Head = Annotated[str, Header(max_length=400)]


def writes(
    session: Who, csrf: Annotated[str, Depends(_form_csrf)], x_csrf_token: _Head = "", x_typed_by: _Head = ""
) -> Session:
    """Who writes, by form: the session's CSRF token comes in the form or in a header.

    What is sent later than it was typed says by whom, and is refused to any other account.
    """
    return _checked(session, x_csrf_token or csrf, x_typed_by)


def writes_json(session: Who, x_csrf_token: _Head = "", x_typed_by: _Head = "") -> Session:
    """Who writes, by script: the session's CSRF token comes in a header, as does who typed it."""
    return _checked(session, x_csrf_token, x_typed_by)


Writer = Annotated[Session, Depends(writes)]


def writes_fresh(session: Writer) -> Session:
    """Who writes what only its owner should: they have given their password lately. Raises NotFresh."""
    if not session.is_fresh:
        raise NotFresh
    return session


FreshWriter = Annotated[Session, Depends(writes_fresh)]
JsonWriter = Annotated[Session, Depends(writes_json)]


def plan_for(role: PlanRole, session: Callable[..., Session]) -> Callable[..., OpenPlan]:
    """A dependency: the plan of the address, for whoever `session` lets in, if they have the role on it."""

    def opened(
        request: Request, begin_transaction: Db, found: Annotated[Session, Depends(session)], plan_id: int
    ) -> OpenPlan:
        one = open_plan(begin_transaction, plan_id=plan_id, account_id=found.account_id, role=role)
        request.state.currency = one.stored.currency
        return one

    return opened


ReadPlan = Annotated[OpenPlan, Depends(plan_for(PlanRole.READER, signed_in))]
EditPlan = Annotated[OpenPlan, Depends(plan_for(PlanRole.EDITOR, writes_json))]
LogOnPlan = Annotated[OpenPlan, Depends(plan_for(PlanRole.CREW, writes_json))]
LogOnPlanByForm = Annotated[OpenPlan, Depends(plan_for(PlanRole.CREW, writes))]
EditPlanByForm = Annotated[OpenPlan, Depends(plan_for(PlanRole.EDITOR, writes))]


def caller_of(request: Request) -> Caller:
    """Where a request comes from. Behind a proxy that is trusted (settings) the address is the one it gives."""
    agent = request.headers.get("user-agent", "")
    kind = (
        "Phone or tablet"
        if re.search("Mobile|Android|iPad", agent)
        else "Computer"
        if "Mozilla" in agent
        else "Program"
    )
    return Caller(request.client.host if request.client else "", kind, request.cookies.get(BROWSER_COOKIE, "")[:80])


def let_in(request: Request, response: Response, key: Key) -> None:
    """Give the browser its cookies: of the session, and the one by which it is known again."""
    days, is_secure = settings_of(request).session_days, request.url.scheme == "https"
    response.set_cookie(COOKIE, key.token, max_age=days * 86400, httponly=True, samesite="lax", secure=is_secure)
    if key.browser:
        response.set_cookie(
            BROWSER_COOKIE, key.browser, max_age=365 * 86400, httponly=True, samesite="strict", secure=is_secure
        )


def link_to(request: Request, name: str, token: str) -> str:
    """An address to be mailed: at the address that the settings give, where they do."""
    own = settings_of(request).address.rstrip("/")
    path = request.url_for(name, token=token)
    return f"{own}{path.path}" if own else str(path)


def form_token(request: Request, response: Response) -> str:
    """The token that a form carries while nobody is signed in: it must match a cookie that only we can set."""
    token = request.cookies.get(FORM_COOKIE) or secrets.token_urlsafe(24)
    response.set_cookie(FORM_COOKIE, token, httponly=True, samesite="strict", secure=request.url.scheme == "https")
    return token


def form_page(request: Request, template: str, context: dict[str, Any], status: int = 200) -> Response:
    """A page with a form for whoever is not signed in: `csrf` is the form's token."""
    keep = Response()
    answer = page(request, template, {"csrf": form_token(request, keep), **context}, status=status)
    answer.headers.append("set-cookie", keep.headers["set-cookie"])
    return answer


def check_form_token(request: Request, token: str) -> None:
    """Refuse a form whose token is not the cookie's."""
    cookie = request.cookies.get(FORM_COOKIE, "")
    if not cookie or not secrets.compare_digest(cookie.encode(), token.encode()):
        raise HTTPException(403, _TOO_OLD)
