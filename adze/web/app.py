"""The application: store, worker, routes, pages for errors, headers."""

import asyncio
import gc
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from threading import Thread

from fastapi import FastAPI
from fastapi.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.types import ASGIApp

from adze.formats.ground.ground_files import LARGEST_BYTES as LARGEST_FILE
from adze.services.answers.forecasts import fit_catalogue
from adze.services.jobs.queue import Jobs
from adze.services.pictures.pictures import LARGEST_BYTES as LARGEST_PICTURE
from adze.services.transfer.account_import import LARGEST_BYTES as LARGEST_BUNDLE
from adze.services.worker import beside
from adze.settings import Settings
from adze.store.connection import Store
from adze.web.assets import PREFIX, Assets
from adze.web.errors import add_error_pages
from adze.web.headers import SecurityHeaders
from adze.web.limits import BodyLimit, TimeLimit
from adze.web.request_log import Watched
from adze.web.routes.accounts import accounts, passkeys, pushes
from adze.web.routes.build import work
from adze.web.routes.log import devices, log, readings
from adze.web.routes.parts import shed
from adze.web.routes.pictures import photos
from adze.web.routes.plans import farms, files, ground, operations, overview, pieces, plans, searches
from adze.web.routes.sharing import people
from adze.web.routes.site import health, offline
from adze.web.routes.trace import trace

# The ground goes before the plans: their last address takes any stage.
_ROUTES = (
    health,
    offline,
    pushes,
    accounts,
    passkeys,
    people,
    farms,
    shed,
    files,
    ground,
    operations,
    pieces,
    searches,
    readings,
    log,
    devices,
    work,
    photos,
    trace,
    overview,
    plans,
)
ROUTERS = tuple(module.router for module in _ROUTES)


class Application(FastAPI):
    """FastAPI with the guarding headers around everything, its own page for the unexpected too."""

    def build_middleware_stack(self) -> ASGIApp:
        """The usual stack, guarded and watched."""
        return Watched(SecurityHeaders(super().build_middleware_stack()))


def create_app(settings: Settings) -> Application:
    """The application on a migrated database."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        url = str(settings.database_url)
        app.state.store = Store(url, settings.pool_size)
        app.state.jobs = Jobs(url)
        app.state.jobs.open()
        Thread(target=fit_catalogue, daemon=True).start()
        worker = asyncio.create_task(beside(url)) if settings.worker else None
        # What is loaded by now stays loaded: collecting it over and over held an answer up for 0.2 s.
        gc.freeze()
        yield
        if worker:
            worker.cancel()
            await asyncio.wait([worker], timeout=10)
        app.state.jobs.close()
        app.state.store.close()

    app = Application(title="Adze", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.settings = settings
    app.state.routers = ROUTERS
    # Only the static folder is compressed: pages hold words of the session, whose length must tell nothing.
    app.mount(PREFIX, GZipMiddleware(Assets(), minimum_size=1000), name="static")
    for router in ROUTERS:
        app.include_router(router)
    app.add_middleware(
        BodyLimit,
        largest_bytes=settings.largest_body_bytes,
        larger={"/imports": LARGEST_FILE + 1000, "/everything": LARGEST_BUNDLE}
        | dict.fromkeys(("/pictures", "/photos", "/photo"), LARGEST_PICTURE + 1000),
    )
    app.add_middleware(TimeLimit, body_s=settings.slowest_body_s, answer_s=settings.longest_answer_s)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=settings.allowed_hosts.split(","))
    add_error_pages(app)
    return app
