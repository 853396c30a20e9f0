"""What goes wrong, as a page or as JSON: the status, a title, words that say the mend; never a trace."""

import logging
import secrets
from urllib.parse import urlsplit

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, RedirectResponse, Response
from starlette.exceptions import HTTPException

from adze.core.basics.deadline import DeadlineExceeded
from adze.core.plan.stages import Incomplete
from adze.formats.errors import FormatError, fault_words
from adze.services.limits.concurrency import Busy
from adze.services.plans.plans import BrokenPlan, UnstorablePlan
from adze.store.errors import Missing, NotAllowed, StoreAway, StoreError, StoreFull
from adze.web.access import NotFresh, SignInNeeded
from adze.web.pages import page, wants_json
from adze.web.workbench import fault

_LOG = logging.getLogger("adze")
# Handlers are found by the nearest class: Missing and StoreAway before StoreError.
_KNOWN: dict[type[Exception], tuple[int, str]] = {
    Incomplete: (422, "Not known yet"),
    FormatError: (422, "That cannot be read"),
    UnstorablePlan: (422, "That cannot be kept"),
    Missing: (404, "Not here"),
    NotAllowed: (403, "Not yours to change"),
    StoreError: (422, "That cannot be kept"),
    DeadlineExceeded: (503, "That takes too long"),
    StoreFull: (503, "The disk is full"),
    StoreAway: (503, "The database does not answer"),
    Busy: (429, "Too busy just now"),
}
_OF_AN_INPUT = (Incomplete, FormatError, UnstorablePlan)


def _answer(request: Request, status: int, title: str, message: str) -> Response:
    if wants_json(request):
        return JSONResponse({"message": message}, status)
    return page(request, "error.html", {"title": title, "message": message}, status=status)


def _known(request: Request, error: Exception) -> Response:
    status, title = next(_KNOWN[kind] for kind in type(error).__mro__ if kind in _KNOWN)
    if wants_json(request) and isinstance(error, _OF_AN_INPUT):
        return fault((("", str(error)),))
    answer = _answer(request, status, title, str(error))
    if status in (429, 503):
        answer.headers["Retry-After"] = str(error.retry_after_s if isinstance(error, Busy) else 5)
    return answer


def _sign_in_first(request: Request, _: Exception) -> Response:
    if wants_json(request):
        return JSONResponse({"message": "You are signed out. Sign in again; what you typed is still here."}, 401)
    return RedirectResponse(request.url_for("sign_in_page").include_query_params(next=request.url.path), 303)


def _password_again(request: Request, _: Exception) -> Response:
    came_from = urlsplit(request.headers.get("referer", "")).path or "/"
    return RedirectResponse(request.url_for("confirm_page").include_query_params(next=came_from), 303)


def _broken(request: Request, error: Exception) -> Response:
    assert isinstance(error, BrokenPlan)
    if wants_json(request):
        return JSONResponse({"message": f"This plan cannot be opened as it stands: {error}"}, 409)
    context = {"stored": error.stored, "revisions": error.revisions, "why": str(error)}
    return page(request, "plan/broken.html", context, status=409)


def _not_understood(request: Request, error: Exception) -> Response:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    if first["loc"][0] == "path" and not wants_json(request):
        return _answer(request, 404, "Not here", "There is no such page.")
    where = ".".join(str(part) for part in first["loc"][1:])
    return _answer(request, 422, "Not understood", f"{where}: {fault_words(first)}")


def _by_status(request: Request, error: Exception) -> Response:
    assert isinstance(error, HTTPException)
    title = "Not here" if error.status_code == 404 else "That did not work"
    message = "There is no such page." if error.status_code == 404 else str(error.detail)
    return _answer(request, error.status_code, title, message)


def _unknown(request: Request, error: Exception) -> Response:
    reference = secrets.token_hex(4)
    _LOG.error("reference %s", reference, exc_info=error)
    message = f"Something went wrong on our side; nothing was changed. Reference {reference}."
    return _answer(request, 500, "Our mistake", message)


def add_error_pages(app: FastAPI) -> None:
    """Answer every error in words."""
    for kind in _KNOWN:
        app.add_exception_handler(kind, _known)
    app.add_exception_handler(SignInNeeded, _sign_in_first)
    app.add_exception_handler(NotFresh, _password_again)
    app.add_exception_handler(BrokenPlan, _broken)
    app.add_exception_handler(RequestValidationError, _not_understood)
    app.add_exception_handler(HTTPException, _by_status)
    app.add_exception_handler(Exception, _unknown)
