"""Photos of steps, defects and what got through: added and taken off by whoever logs."""

from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, Field

from adze.core.plan.stages import Stage
from adze.services.pictures import photos
from adze.services.pictures.picture_worker import Unreadable
from adze.services.views.base import ViewRequest
from adze.web.access import Db, LogOnPlan, Who
from adze.web.workbench import JsonBody, RawBody, fault, file_name, state

router = APIRouter()
Shown = Literal["build", "log", "trace"]


class PhotoOf(BaseModel):
    """What a photo shows, and the stage on which it is looked at."""

    thing: Annotated[str, Field(max_length=100)] = ""
    stage: Shown = "build"


@router.post("/api/plans/{plan_id}/photos", name="add_photo")
def add_photo(
    request: Request,
    begin_transaction: Db,
    who: Who,
    opened: LogOnPlan,
    content: RawBody,
    shown: Annotated[PhotoOf, Query()],
) -> Response:
    """A photo of a step, a defect or what got through."""
    thing, stage = shown.thing, shown.stage
    name = file_name(request, "photo")
    try:
        photos.add_photo(begin_transaction, opened, thing=thing, name=name, content=content, by_account=who.account_id)
    except Unreadable as error:
        return fault((("", str(error)),))
    return JSONResponse(state(request, ViewRequest(opened, begin_transaction), Stage(stage)))


class PhotoDropped(JsonBody):
    """A photo taken off."""

    photo: int
    stage: Shown = "build"


@router.post("/api/plans/{plan_id}/photos/drop", name="drop_photo")
def drop_photo(request: Request, begin_transaction: Db, opened: LogOnPlan, body: PhotoDropped) -> Response:
    """A photo off its thing."""
    photos.drop_photo(begin_transaction, opened, body.photo)
    return JSONResponse(state(request, ViewRequest(opened, begin_transaction), Stage(body.stage)))
