"""Devices that send readings by themselves: what they send, and where they are made and taken off."""

from collections.abc import Callable
from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Header, HTTPException, Request
from fastapi.responses import JSONResponse, Response
from pydantic import AwareDatetime, Field

from adze.core.basics.faults import FieldFault
from adze.core.plan.stages import Stage
from adze.services.jobs.queue import Jobs
from adze.services.log import devices
from adze.services.log.devices import MOST_IN_A_BATCH, SentRow, TypedDevice
from adze.services.views.base import ViewRequest
from adze.web.access import Db, EditPlan, Who, jobs_of
from adze.web.workbench import JsonBody, fault, state

router = APIRouter()
Short = Annotated[str, Field(max_length=80)]
Queue = Annotated[Jobs, Depends(jobs_of)]


class SentBody(JsonBody):
    """One reading: when by the device's own clock, kV, A, and the battery's V where it reads them."""

    at: AwareDatetime
    kv: float
    amps: float | None = None
    battery_v: float | None = None


class Batch(JsonBody):
    """What a device sends at once; `sent_at` is its own clock as it sends, by which a wrong one is set right."""

    readings: Annotated[list[SentBody], Field(min_length=1, max_length=MOST_IN_A_BATCH)]
    sent_at: AwareDatetime | None = None


class DeviceBody(JsonBody):
    """A device as it was typed."""

    name: Short
    run: Short = ""
    at_m: Short = "0"
    alarm_kv: Short = "2.5"
    silent_min: Short = "120"
    quiet_from: Short = ""
    quiet_to: Short = ""


class DeviceRemoved(JsonBody):
    """Which device is taken off."""

    device: int


def _token(authorization: Annotated[str, Header()] = "") -> str:
    kind, _, token = authorization.partition(" ")
    if kind.lower() != "bearer" or not token.strip():
        raise HTTPException(401, "Send the device's token: Authorization: Bearer TOKEN.")
    return token.strip()


@router.post("/api/devices/readings", name="device_readings")
def device_readings(
    begin_transaction: Db, jobs: Queue, token: Annotated[str, Depends(_token)], body: Batch
) -> Response:
    """What a device sends: kept once however often it is sent."""
    rows = [SentRow(**row.model_dump()) for row in body.readings]
    sent_at: datetime | None = body.sent_at
    taken = devices.take(begin_transaction, jobs, token, rows, sent_at)
    if taken is None:
        raise HTTPException(401, "That token is of no device; it may have been taken off.")
    refused = [{"row": row, "why": why} for row, why in taken.refused]
    answer: dict[str, Any] = {"kept": taken.kept, "known": taken.known, "refused": refused}
    return JSONResponse(answer | {"clock_off_s": round(taken.clock_off_s)})


def _done(request: Request, begin_transaction: Db, opened: EditPlan, do: Callable[[], str | None]) -> Response:
    try:
        token = do()
    except FieldFault as error:
        return fault(((f"device.{error.field}", str(error)),))
    told = state(request, ViewRequest(opened, begin_transaction), Stage.LOG)
    return JSONResponse(told | ({"token": token} if token else {}))


@router.post("/api/plans/{plan_id}/devices", name="add_device")
def add_device(request: Request, begin_transaction: Db, who: Who, opened: EditPlan, body: DeviceBody) -> Response:
    """Make a device; its token is in this one answer."""
    typed = TypedDevice(**body.model_dump())
    return _done(
        request, begin_transaction, opened, lambda: devices.make(begin_transaction, opened, typed, who.account_id)
    )


@router.post("/api/plans/{plan_id}/devices/remove", name="remove_device")
def remove_device(request: Request, begin_transaction: Db, opened: EditPlan, body: DeviceRemoved) -> Response:
    """Take a device off."""
    return _done(request, begin_transaction, opened, lambda: devices.remove(begin_transaction, opened, body.device))
