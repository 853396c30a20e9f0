"""What changes a plan from the workbench: typed operations, undo, redo, a clash settled, a whole document."""

from typing import Annotated, Any

from fastapi import APIRouter, Request
from fastapi.responses import Response
from pydantic import Field, ValidationError

from adze.formats.errors import FormatError, fault_path, fault_words, first_fault
from adze.formats.plan.plan_file import PlanFault, read_plan_document
from adze.services.operations.registry import read_operation
from adze.services.plans import plans
from adze.services.plans.plans import NothingThere
from adze.web.access import Db, EditPlan
from adze.web.workbench import EditionBody, Faults, RawBody, fault, saved

router = APIRouter()


class Operate(EditionBody):
    """One operation."""

    operation: dict[str, Any]


class Settle(EditionBody):
    """One's own version, set aside by a clash."""

    mine: int


class Save(EditionBody):
    """A whole changed plan, as programs write it."""

    document: dict[str, Any]
    summary: Annotated[str, Field(max_length=200)] = "Changed"


def _faults(error: ValidationError) -> Faults:
    return tuple((fault_path(f), fault_words(f)) for f in error.errors()[:20])


@router.post("/api/plans/{plan_id}/operations", name="operate")
def operate(request: Request, begin_transaction: Db, opened: EditPlan, body: Operate) -> Response:
    """Do an operation and save it."""
    try:
        operation = read_operation(body.operation)
    except ValidationError as error:
        return fault(_faults(error))
    name = body.operation.get("do", "")
    try:
        return saved(
            request,
            begin_transaction,
            body,
            lambda: plans.change_plan(begin_transaction, opened, base=body.base, operation=operation),
        )
    except ValidationError as error:
        return fault(_faults(error))
    except ValueError as error:
        return fault(((f"{name}.{operation.blames}" if operation.blames else "", str(error)),))


@router.post("/api/plans/{plan_id}/undo", name="undo")
def undo(request: Request, begin_transaction: Db, opened: EditPlan, body: EditionBody) -> Response:
    """One change back."""
    return _stepped(request, begin_transaction, opened, body, back=True)


@router.post("/api/plans/{plan_id}/redo", name="redo")
def redo(request: Request, begin_transaction: Db, opened: EditPlan, body: EditionBody) -> Response:
    """One change forward again."""
    return _stepped(request, begin_transaction, opened, body, back=False)


def _stepped(request: Request, begin_transaction: Db, opened: EditPlan, body: EditionBody, *, back: bool) -> Response:
    try:
        return saved(
            request,
            begin_transaction,
            body,
            lambda: (plans.step(begin_transaction, opened, base=body.base, back=back), ""),
        )
    except NothingThere as nothing:
        return fault((("", str(nothing)),))


@router.post("/api/plans/{plan_id}/settle", name="settle")
def settle(request: Request, begin_transaction: Db, opened: EditPlan, body: Settle) -> Response:
    """Put one's own version, set aside by a clash, together with what stands."""
    return saved(
        request,
        begin_transaction,
        body,
        lambda: (plans.settle(begin_transaction, opened, base=body.base, mine=body.mine), ""),
    )


@router.put("/api/plans/{plan_id}", name="save")
def save(request: Request, begin_transaction: Db, opened: EditPlan, raw: RawBody) -> Response:
    """Save a whole document, as a program or a plan file brings it."""
    try:
        body = Save.model_validate_json(raw)
        plan = read_plan_document(body.document)
    except PlanFault as found:
        return fault(found.faults)
    except (ValidationError, FormatError) as error:
        return fault((("", first_fault(error) if isinstance(error, ValidationError) else str(error)),))
    return saved(
        request,
        begin_transaction,
        body,
        lambda: (plans.save_plan(begin_transaction, opened, base=body.base, plan=plan, summary=body.summary), ""),
    )
