"""The application: store, routes, pages for errors, headers."""

import asyncio
import logging
import secrets
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from threading import Thread

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, RedirectResponse
from starlette.exceptions import HTTPException

from adze.core.plan.stages import Incomplete
from adze.formats.errors import FormatError, fault_words
from adze.formats.ground_files import LARGEST_BYTES as LARGEST_FILE
from adze.services.forecasts import fit_catalogue
from adze.services.jobs import Jobs, work
from adze.services.pictures import LARGEST_BYTES as LARGEST_PICTURE
from adze.services.plans import BrokenPlan, Unkeepable
from adze.services.turnstile import Busy
from adze.settings import Settings
from adze.store.connection import Store
from adze.store.errors import Missing, StoreError
from adze.web.access import SignInNeeded
from adze.web.assets import PREFIX, Assets, kept_for
from adze.web.limits import BodyLimit
from adze.web.pages import page as page_response
from adze.web.pages import wants_json
from adze.web.routes import accounts, farms, files, ground, operations, pieces, plans, readings
from adze.web.workbench import fault

_LOG = logging.getLogger("adze")
_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; "
        "form-action 'self'; base-uri 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}


def create_app(settings: Settings) -> FastAPI:
    """The application on a migrated database."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        url = str(settings.database_url)
        app.state.store = Store(url, settings.pool_size)
        app.state.jobs = Jobs(url)
        app.state.jobs.open()
        Thread(target=fit_catalogue, daemon=True).start()
        worker = asyncio.create_task(work(url, app.state.store.transaction)) if settings.worker else None
        yield
        if worker:
            worker.cancel()
            await asyncio.wait([worker], timeout=10)
        app.state.jobs.close()
        app.state.store.close()

    app = FastAPI(title="Adze", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.settings = settings
    app.mount(PREFIX, Assets(), name="static")
    # The ground goes before the plans: their last address takes any stage.
    for routes in (accounts, farms, files, ground, operations, pieces, readings, plans):
        app.include_router(routes.router)
    app.add_middleware(
        BodyLimit,
        largest_bytes=settings.largest_body_bytes,
        larger={"/imports": LARGEST_FILE + 1000, "/pictures": LARGEST_PICTURE + 1000},
    )
    app.middleware("http")(_with_headers)
    _pages_for_errors(app)
    return app


async def _with_headers(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
    response = await call_next(request)
    for name, value in _HEADERS.items():
        response.headers.setdefault(name, value)
    kept = kept_for(request.url.path)
    if kept:
        response.headers.setdefault("Cache-Control", kept)
    return response


def _error(request: Request, status: int, title: str, message: str) -> Response:
    if wants_json(request):
        return JSONResponse({"message": message}, status)
    return page_response(request, "error.html", {"title": title, "message": message}, status=status)


def _pages_for_errors(app: FastAPI) -> None:
    @app.exception_handler(SignInNeeded)
    def sign_in_first(request: Request, _: SignInNeeded) -> Response:
        if wants_json(request):
            return JSONResponse({"message": "You are signed out. Sign in again; what you typed is still here."}, 401)
        return RedirectResponse(request.url_for("sign_in_page").include_query_params(next=request.url.path), 303)

    @app.exception_handler(Incomplete)
    def not_computed(request: Request, error: Incomplete) -> Response:
        if wants_json(request):
            return fault((("", str(error)),))
        return _error(request, 422, "Not known yet", str(error))

    @app.exception_handler(Missing)
    def not_there(request: Request, error: Missing) -> Response:
        return _error(request, 404, "Not here", str(error))

    @app.exception_handler(StoreError)
    def refused(request: Request, error: StoreError) -> Response:
        return _error(request, 422, "That cannot be kept", str(error))

    @app.exception_handler(Busy)
    def come_again(request: Request, error: Busy) -> Response:
        answer = _error(request, 429, "Too busy just now", str(error))
        answer.headers["Retry-After"] = str(error.retry_after_s)
        return answer

    @app.exception_handler(BrokenPlan)
    def not_readable(request: Request, error: BrokenPlan) -> Response:
        if wants_json(request):
            return JSONResponse({"message": f"This plan cannot be opened as it stands: {error}"}, 409)
        context = {"stored": error.stored, "revisions": error.revisions, "why": str(error)}
        return page_response(request, "plan/broken.html", context, status=409)

    @app.exception_handler(FormatError)
    def not_in_its_form(request: Request, error: FormatError) -> Response:
        if wants_json(request):
            return fault((("", str(error)),))
        return _error(request, 422, "That cannot be read", str(error))

    @app.exception_handler(Unkeepable)
    def not_kept(request: Request, error: Unkeepable) -> Response:
        if wants_json(request):
            return fault((("", str(error)),))
        return _error(request, 422, "That cannot be kept", str(error))

    @app.exception_handler(RequestValidationError)
    def not_understood(request: Request, error: RequestValidationError) -> Response:
        fault = error.errors()[0]
        if fault["loc"][0] == "path" and not wants_json(request):
            return _error(request, 404, "Not here", "There is no such page.")
        where = ".".join(str(part) for part in fault["loc"][1:])
        return _error(request, 422, "Not understood", f"{where}: {fault_words(fault)}")

    @app.exception_handler(HTTPException)
    def by_status(request: Request, error: HTTPException) -> Response:
        title = "Not here" if error.status_code == 404 else "That did not work"
        message = "There is no such page." if error.status_code == 404 else str(error.detail)
        return _error(request, error.status_code, title, message)

    @app.exception_handler(Exception)
    def unknown(request: Request, error: Exception) -> Response:
        reference = secrets.token_hex(4)
        _LOG.error("reference %s", reference, exc_info=error)
        message = f"Something went wrong on our side; nothing was changed. Reference {reference}."
        return _error(request, 500, "Our mistake", message)
