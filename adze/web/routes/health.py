"""Whether it lives, and whether it can serve: for supervisors and proxies."""

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response

from adze.store.errors import StoreAway
from adze.web.access import Db

router = APIRouter(prefix="/health")


@router.get("/live", name="live")
def live() -> dict[str, str]:
    """The process answers."""
    return {"status": "ok"}


@router.get("/ready", name="ready")
def ready(request: Request, transaction: Db) -> Response:
    """The database answers too."""
    try:
        with transaction() as connection:
            connection.execute("SELECT 1")
    except StoreAway as away:
        return JSONResponse({"status": "no database", "message": str(away)}, 503)
    return JSONResponse({"status": "ok", "worker": request.app.state.settings.worker})
