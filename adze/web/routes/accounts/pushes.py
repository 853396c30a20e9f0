"""A browser that is told of alarms: the key it asks with, its address, and that it is told no longer."""

from typing import Annotated

from fastapi import APIRouter, Depends
from fastapi.responses import JSONResponse, Response
from pydantic import Field

from adze.services.jobs import pushes
from adze.services.jobs.pushes import PushError
from adze.services.jobs.queue import Jobs
from adze.store.messages.pushes import PushTarget
from adze.web.access import Db, JsonWriter, Who, jobs_of
from adze.web.workbench import JsonBody, fault

router = APIRouter()
Key = Annotated[str, Field(max_length=200)]


class BrowserBody(JsonBody):
    """Where a browser is told, as its push service names it."""

    endpoint: Annotated[str, Field(max_length=1000)]
    p256dh: Key = ""
    auth: Key = ""


@router.get("/api/push", name="push_key")
def push_key(begin_transaction: Db, _: Who) -> Response:
    """The key that a browser asks its push service with."""
    return JSONResponse({"key": pushes.public_key(begin_transaction)})


@router.post("/api/push", name="push_on")
def push_on(
    begin_transaction: Db, jobs: Annotated[Jobs, Depends(jobs_of)], session: JsonWriter, body: BrowserBody
) -> Response:
    """Tell this browser of alarms."""
    try:
        pushes.tell_browser(begin_transaction, jobs, session, PushTarget(body.endpoint, body.p256dh, body.auth))
    except PushError as error:
        return fault((("", str(error)),))
    return JSONResponse({"told": True})


@router.post("/api/push/off", name="push_off")
def push_off(begin_transaction: Db, session: JsonWriter, body: BrowserBody) -> Response:
    """Tell this browser no longer."""
    pushes.tell_no_longer(begin_transaction, session, body.endpoint)
    return JSONResponse({"told": False})
