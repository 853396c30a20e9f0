"""Files in and out of a plan's ground: tracks with a preview, pictures, paper."""

import json
from collections.abc import Iterator
from typing import Annotated, Literal
from urllib.parse import quote, unquote

from fastapi import APIRouter, Header, Query, Request
from fastapi import Path as PathValue
from fastapi.responses import JSONResponse, Response, StreamingResponse
from pydantic import AfterValidator, Field, FiniteFloat

from adze.formats.errors import FormatError
from adze.formats.ground.ground_files import GROUND_FORMATS, write_ground
from adze.formats.ground.imported import ImportChoice, Swapped, plain_name
from adze.services.papers.papers import ground_paper_view, price_text
from adze.services.pictures.picture_worker import Unreadable
from adze.services.pictures.pictures import keep_picture
from adze.services.transfer.ground_import import OfferSwap, preview, preview_json, stream_file, take_import
from adze.store.pictures import pictures
from adze.web.access import Db, EditPlan, ReadPlan
from adze.web.pages import page
from adze.web.workbench import EditionBody, RawBody, fault, file, saved

router = APIRouter()


def _is_written(kind: str) -> str:
    if kind not in GROUND_FORMATS:
        raise ValueError(f"{kind!r} is not written; one of {', '.join(GROUND_FORMATS)}")
    return kind


_GroundFormat = Annotated[str, AfterValidator(_is_written)]


FileName = Annotated[str, Header(max_length=400)]
Tolerance = Annotated[FiniteFloat, Query(ge=0, le=1000)]


def _file_name(header: str) -> str:
    return plain_name(unquote(header), "file")


@router.post("/api/plans/{plan_id}/imports", name="bring_file")
def bring_file(begin_transaction: Db, opened: EditPlan, content: RawBody, x_file_name: FileName = "file") -> Response:
    """Read a file, telling how far it has come, one JSON a line; the last line says what was kept, or the fault."""

    def lines() -> Iterator[bytes]:
        for step in stream_file(begin_transaction, opened, content, _file_name(x_file_name)):
            yield (json.dumps(step) + "\n").encode()

    return StreamingResponse(lines(), media_type="application/x-ndjson")


@router.get("/api/plans/{plan_id}/imports/{import_id}", name="preview_file")
def preview_file(
    begin_transaction: Db,
    opened: ReadPlan,
    import_id: int,
    thin: Tolerance | None = None,
    swap: bool = False,
    part: bool = False,
) -> Response:
    """A file as it would be taken."""
    choice = ImportChoice(swap=swap, part_jumps=part)
    try:
        found = preview(
            begin_transaction, plan_id=opened.id, import_id=import_id, plan=opened.plan, choice=choice, thin_m=thin
        )
    except FormatError as error:
        return JSONResponse({"message": str(error), "offer_swap": isinstance(error, Swapped)}, 422)
    return JSONResponse(preview_json(opened.plan, found))


class TakeFile(EditionBody):
    """How a previewed file is taken."""

    thin_m: Annotated[FiniteFloat, Field(ge=0, le=1000)] = 0.0
    swap: bool = False
    part: bool = False
    lines: Annotated[tuple[int, ...], Field(max_length=2000)] | None = None


@router.post("/api/plans/{plan_id}/imports/{import_id}/take", name="take_file")
def take_file(request: Request, begin_transaction: Db, opened: EditPlan, import_id: int, body: TakeFile) -> Response:
    """Take a previewed file into the plan."""
    chosen = None if body.lines is None else frozenset(body.lines)
    choice = ImportChoice(swap=body.swap, part_jumps=body.part, lines=chosen)
    try:
        return saved(
            request,
            begin_transaction,
            body,
            lambda: (take_import(begin_transaction, opened, body.base, import_id, choice, body.thin_m), ""),
        )
    except (FormatError, OfferSwap) as error:
        return fault((("", str(error)),))


@router.post("/api/plans/{plan_id}/price-text", name="price_text")
def read_price_file(_opened: EditPlan, content: RawBody) -> Response:
    """A shop's price list as text, to be looked at before it is brought in; nothing is kept."""
    try:
        return JSONResponse({"text": price_text(content)})
    except FormatError as error:
        return fault((("bring_prices.text", str(error)),))


@router.get("/plans/{plan_id}/fence.{kind}", name="fence_file")
def fence_file(opened: ReadPlan, kind: _GroundFormat) -> Response:
    """The ground as a file."""
    return file(write_ground(opened.plan, kind), GROUND_FORMATS[kind].media_type, f"fence.{kind}")


@router.post("/api/plans/{plan_id}/pictures", name="keep_picture")
def take_picture(
    begin_transaction: Db,
    opened: EditPlan,
    content: RawBody,
    purpose: Literal["photo", "underlay"] = "photo",
    x_file_name: FileName = "photo",
) -> Response:
    """Keep a picture of the plan."""
    try:
        kept, _ = keep_picture(
            begin_transaction,
            plan_id=opened.id,
            account_id=opened.account_id,
            name=_file_name(x_file_name),
            content=content,
            purpose=purpose,
        )
    except Unreadable as error:
        return fault((("picture", str(error)),))
    return JSONResponse({"id": kept.id, "width_px": kept.width_px, "height_px": kept.height_px, "name": kept.name})


@router.get("/plans/{plan_id}/pictures/{picture_id}", name="picture")
def show_picture(begin_transaction: Db, opened: ReadPlan, picture_id: int) -> Response:
    """A picture of the plan."""
    with begin_transaction() as connection:
        found = pictures.get_picture(connection, plan_id=opened.id, picture_id=picture_id, account_id=opened.account_id)
    headers = {"Content-Disposition": f"inline; filename*=UTF-8''{quote(found.name)}.jpg"}
    return Response(found.content, media_type=found.media_type, headers=headers)


Side = Annotated[FiniteFloat, PathValue(ge=50, le=2000)]


@router.get("/paper/{width_mm}x{height_mm}.css", name="paper_css")
def paper_css(width_mm: Side, height_mm: Side) -> Response:
    """The size of a sheet for the printer and the page: a style of its own, since pages carry none."""
    size = f"{width_mm:g}mm {height_mm:g}mm"
    body = f"@page{{size:{size};margin:0}}.whole-sheet{{width:{width_mm:g}mm;min-height:{height_mm:g}mm}}"
    return Response(body, media_type="text/css")


@router.get("/plans/{plan_id}/paper/ground", name="ground_paper")
def ground_paper(request: Request, opened: ReadPlan, paper: str = "A4", scale: int | None = None) -> Response:
    """The ground on paper, true to scale."""
    return page(request, "plan/paper_ground.html", ground_paper_view(opened, paper, scale))
