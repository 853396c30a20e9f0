"""The worker of a device that keeps pages of the field: it must be served from the root to see them."""

from fastapi import APIRouter
from fastapi.responses import FileResponse, Response

from adze.web.assets import FOLDER

router = APIRouter()


@router.get("/sw.js", name="field_worker")
def field_worker() -> Response:
    """The script, asked for anew each time."""
    headers = {"Cache-Control": "no-cache"}
    return FileResponse(FOLDER / "js" / "log" / "field_worker.js", media_type="text/javascript", headers=headers)
