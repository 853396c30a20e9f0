"""What the workbench's addresses share: the state that a page is drawn from, saving, clashes, faults."""

import logging
import secrets
from collections.abc import Callable
from typing import Annotated, Any
from urllib.parse import unquote

from fastapi import Depends, Request
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, ConfigDict, Field

from adze.core.basics.deadline import DeadlineExceeded
from adze.core.plan.stages import Stage
from adze.formats.plan.plan_file import dump_plan
from adze.services.answers.forecasts import forecast_json
from adze.services.judging.verdicts import keep_known_verdict
from adze.services.plans import plans
from adze.services.plans.plans import Clash, Conflict, OpenPlan
from adze.services.views.base import Pane, ViewRequest, common
from adze.store.connection import BeginTransaction
from adze.web.pages import render
from adze.web.stages import STAGE_PAGES

_LOG = logging.getLogger("adze")
Faults = tuple[tuple[str, str], ...]


async def _raw_body(request: Request) -> bytes:
    return await request.body()


RawBody = Annotated[bytes, Depends(_raw_body)]


def file_name(request: Request, instead: str) -> str:
    """The name that a file came with, or another in its stead."""
    return unquote(request.headers.get("X-File-Name", instead))[:400]


class JsonBody(BaseModel):
    """A body that takes no unknown keys."""

    model_config = ConfigDict(extra="forbid")


class EditionBody(JsonBody):
    """What every write says: the edition it saw, the revision it began from, what is on screen, and its own token,
    so that it is kept once however often it is sent."""

    edition: int
    based_on: int
    idempotency_key: Annotated[str, Field(max_length=60, alias="once")] = ""
    stage: Stage = Stage.GROUND
    pane: Pane = Pane.FINDINGS
    fence: Annotated[str, Field(max_length=40)] = ""

    @property
    def base(self) -> plans.Base:
        """What the change began from."""
        return plans.Base(self.edition, self.based_on, self.idempotency_key)


def fault(faults: Faults) -> JSONResponse:
    """What is wrong, with the paths of the inputs it belongs to."""
    shown = [{"path": path, "message": message} for path, message in faults]
    return JSONResponse({"message": "; ".join(m for _, m in faults), "faults": shown}, 422)


def bare_state(opened: OpenPlan) -> dict[str, Any]:
    """A plan's state before anything is computed."""
    stored = opened.stored
    return {
        "edition": stored.edition,
        "revision": stored.current,
        "document": dump_plan(opened.plan),
        "can_undo": stored.parent is not None,
        "can_redo": stored.child is not None,
        "forecast": None,
        "panel": "",
    }


def state(request: Request, asked: ViewRequest, stage: Stage) -> dict[str, Any]:
    """A plan's state with forecast, verdicts and a stage's panel."""
    page = STAGE_PAGES[stage]
    context = common(asked, stage) | page.view(asked)
    return bare_state(asked.opened) | {
        "forecast": forecast_json(asked.plan),
        "panel": render(request, page.template, context),
    }


def clash_json(clash: Clash) -> JSONResponse:
    """A clash for the browser to settle."""
    return JSONResponse({"message": f"{clash.changed_by} changed this plan meanwhile.", "clash": vars(clash)}, 409)


def saved(
    request: Request, begin_transaction: BeginTransaction, body: EditionBody, save: Callable[[], tuple[OpenPlan, str]]
) -> Response:
    """Save a change by `save`, which also gives the key of what it made; the new state, or the clash.

    What is saved stays saved: where its forecast cannot be computed, the state says so and holds the document.
    """
    try:
        opened, made = save()
    except Conflict as conflict:
        return clash_json(conflict.clash)
    asked = ViewRequest(opened, begin_transaction, body.pane, body.fence or None)
    try:
        told = state(request, asked, body.stage)
        keep_known_verdict(begin_transaction, opened)
    except Exception as error:
        if isinstance(error, DeadlineExceeded):
            why = "it takes too long on so large a plan"
        else:
            reference = secrets.token_hex(4)
            _LOG.error("reference %s", reference, exc_info=error)
            why = f"our mistake, reference {reference}"
        note = f"Saved, but what it does could not be computed: {why}. Undo brings it back."
        told = bare_state(opened) | {"panel": render(request, "plan/_uncomputed.html", {"note": note})}
    return JSONResponse(told | {"made": made})


def file(content: str | bytes, media_type: str, name: str) -> Response:
    """A download."""
    return Response(content, media_type=media_type, headers={"Content-Disposition": f'attachment; filename="{name}"'})
