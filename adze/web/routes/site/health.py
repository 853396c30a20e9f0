"""For programs: whether it lives, whether it can serve, its figures, and what its addresses take."""

from fastapi import APIRouter, FastAPI, HTTPException, Request
from fastapi.responses import JSONResponse, Response

from adze.store.errors import StoreAway
from adze.web.access import Db, Who, settings_of
from adze.web.request_log import figures

router = APIRouter()


@router.get("/health/live", name="live")
def live() -> dict[str, str]:
    """The process answers."""
    return {"status": "ok"}


@router.get("/health/ready", name="ready")
def ready(request: Request, begin_transaction: Db) -> Response:
    """The database answers too."""
    try:
        with begin_transaction() as connection:
            connection.execute("SELECT 1")
    except StoreAway as away:
        return JSONResponse({"status": "no database", "message": str(away)}, 503)
    return JSONResponse({"status": "ok", "worker": request.app.state.settings.worker})


@router.get("/health/metrics", name="metrics")
def metrics(request: Request) -> Response:
    """Figures for a collector, where the settings allow it."""
    if not settings_of(request).metrics:
        raise HTTPException(404)
    return Response(figures(), media_type="text/plain; version=0.0.4")


@router.get("/api/openapi.json", name="openapi")
def openapi(request: Request, _: Who) -> Response:
    """What every address takes and gives, as OpenAPI."""
    application: FastAPI = request.app
    return JSONResponse(application.openapi())
