"""The ground of a plan: edits, what is chosen, zones, files in and out, pictures, paper."""

import json
import logging
import queue
import threading
from collections.abc import Iterator
from typing import Annotated, Any, Literal
from urllib.parse import quote, unquote

from fastapi import APIRouter, Depends, Header, Query, Request
from fastapi.responses import JSONResponse, Response, StreamingResponse
from pydantic import Field, FiniteFloat, ValidationError

from adze.core.basics.units import Units
from adze.core.ground.places import nearest_place
from adze.core.ground.set_out import parse_legs, walked
from adze.core.ground.zones import zones
from adze.core.plan.document import Plan
from adze.formats.brought import Choice, Swapped, plain_name
from adze.formats.errors import FormatError, fault_words, first_fault
from adze.formats.ground_files import MEDIA_TYPES, write_ground
from adze.formats.ground_svg import PAPERS_MM, SCALES, TooMany, ground_sheets
from adze.formats.projection import to_metres
from adze.services.edits import edited, input_of, read_edit
from adze.services.imports import Preview, keep_file, preview, preview_json, read_file
from adze.services.pictures import Unreadable, keep_picture
from adze.services.plans import open_plan
from adze.store import ground_imports, pictures
from adze.web.ground_panel import Pane, inspector_context, pane_context, read_chosen
from adze.web.pages import page, render
from adze.web.session import Db, JsonWriter, Who
from adze.web.workbench import Base, fault, file, saved

router = APIRouter()
_LOG = logging.getLogger("adze")


async def _raw(request: Request) -> bytes:
    return await request.body()


Raw = Annotated[bytes, Depends(_raw)]


Metres = Annotated[FiniteFloat, Query(ge=-200_000, le=200_000)]


class DoEdit(Base):
    """One edit of the ground."""

    edit: dict[str, Any]


@router.post("/api/plans/{plan_id}/edit", name="edit_ground")
def edit_ground(request: Request, connection: Db, who: JsonWriter, plan_id: int, body: DoEdit) -> Response:
    """Do an edit of the ground."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        wish = read_edit(body.edit)
    except ValidationError as error:
        first = error.errors()[0]
        path = ".".join(str(p) for p in first["loc"])
        return fault(((f"edit.{path}", fault_words(first)),))
    try:
        changed, summary = edited(plan, wish)
    except ValidationError as error:
        return fault((("", first_fault(error)),))
    except ValueError as error:
        own = input_of(wish)
        return fault(((f"edit.{own}" if own else "", str(error)),))
    return saved(request, connection, who, plan_id, body, changed, summary)


@router.get("/api/plans/{plan_id}/inspect", name="inspect_ground")
def inspect_ground(request: Request, connection: Db, who: Who, plan_id: int, chosen: str = "") -> Response:
    """What is chosen on the ground, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    context = inspector_context(plan, read_chosen(chosen)) | {"plan_id": plan_id}
    return JSONResponse({"html": render(request, "plan/_inspector.html", context)})


@router.get("/api/plans/{plan_id}/pane/{pane}", name="ground_pane")
def ground_pane(
    request: Request, connection: Db, who: Who, plan_id: int, pane: Literal["lines", "feed", "blocks"]
) -> Response:
    """One list of the ground's panel, as a piece of page."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    context = pane_context(plan, Pane(pane)) | {"plan_id": plan_id}
    return JSONResponse({"html": render(request, f"plan/panels/ground_{pane}.html", context)})


@router.get("/api/plans/{plan_id}/zone", name="zone")
def zone(connection: Db, who: Who, plan_id: int, switch: str) -> Response:
    """What dies with a switch."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    found = zones(plan)
    rows = found.killed(switch) if found else ()
    return JSONResponse({"stretches": [[s.run, s.from_m, s.to_m] for s in rows]})


@router.get("/api/plans/{plan_id}/here", name="here")
def here(
    connection: Db,
    who: Who,
    plan_id: int,
    lat: Annotated[FiniteFloat, Query(ge=-90, le=90)],
    lon: Annotated[FiniteFloat, Query(ge=-180, le=180)],
) -> Response:
    """Where a device stands on this plan, in metres, and the nearest place on a line."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    (point,) = to_metres(plan.origin, [(lon, lat)])
    if max(abs(point[0]), abs(point[1])) > 20_000:
        away = max(abs(point[0]), abs(point[1])) / 1000
        return fault((("", f"You are about {away:,.0f} km from this farm."),))
    found = nearest_place(plan.runs, point)
    near = {"run": found[0].run, "at_m": round(found[0].at_m, 1), "away_m": round(found[1], 1)} if found else None
    return JSONResponse({"at": list(point), "near": near})


@router.get("/api/plans/{plan_id}/walked", name="walked")
def walked_points(
    connection: Db, who: Who, plan_id: int, text: Annotated[str, Query(max_length=2000)], east: Metres, north: Metres
) -> Response:
    """Where lengths and bearings lead from a spot."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        legs = parse_legs(text, "ft" if plan.units is Units.IMPERIAL else "m")
    except ValueError as error:
        return fault((("", str(error)),))
    return JSONResponse({"points": walked((east, north), legs)})


# Files in


def _file_name(header: str) -> str:
    return plain_name(unquote(header), "file")


class _LeftAlone(Exception):
    """Whoever sent the file no longer listens."""


def _line(row: dict[str, Any]) -> bytes:
    return (json.dumps(row) + "\n").encode()


@router.post("/api/plans/{plan_id}/imports", name="bring_file")
def bring_file(
    request: Request,
    connection: Db,
    who: JsonWriter,
    plan_id: int,
    content: Raw,
    x_file_name: Annotated[str, Header(max_length=400)] = "file",
) -> Response:
    """Read a file, telling how far it has come, one JSON a line; the last line says what was kept, or the fault."""
    open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    name = _file_name(x_file_name)
    store, account = request.app.state.store, who.account_id

    def told() -> Iterator[bytes]:
        steps: queue.Queue[dict[str, Any]] = queue.Queue()
        left = threading.Event()

        def tell(share: float, words: str) -> None:
            if left.is_set():
                raise _LeftAlone
            steps.put({"share": share, "words": words})

        def work() -> None:
            try:
                brought = read_file(content, name, tell)
                tell(0.95, "Keeping it for the preview")
                with store.transaction() as own:
                    kept = keep_file(own, plan_id=plan_id, account_id=account, name=name, brought=brought)
                steps.put({"share": 1.0, "words": "Done", "import": kept})
            except FormatError as error:
                steps.put({"fault": str(error)})
            except _LeftAlone:
                return  # a file that nobody waits for must not take the next one's place
            except Exception as error:
                _LOG.error("a file could not be kept", exc_info=error)
                steps.put({"fault": f"{name}: could not be kept; nothing was changed."})

        threading.Thread(target=work, daemon=True).start()
        try:
            while True:
                step = steps.get(timeout=120)
                yield _line(step)
                if "import" in step or "fault" in step:
                    return
        finally:
            left.set()

    return StreamingResponse(told(), media_type="application/x-ndjson")


Tolerance = Annotated[FiniteFloat, Query(ge=0, le=1000)]


def _previewed(connection: Db, plan_id: int, import_id: int, plan: Plan, choice: Choice, thin: float | None) -> Preview:
    return preview(connection, plan_id=plan_id, import_id=import_id, plan=plan, choice=choice, thin_m=thin)


@router.get("/api/plans/{plan_id}/imports/{import_id}", name="preview_file")
def preview_file(
    connection: Db,
    who: Who,
    plan_id: int,
    import_id: int,
    thin: Tolerance | None = None,
    swap: bool = False,
    part: bool = False,
) -> Response:
    """A file as it would be taken."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        found = _previewed(connection, plan_id, import_id, plan, Choice(swap=swap, part_jumps=part), thin)
    except FormatError as error:
        return JSONResponse({"message": str(error), "offer_swap": isinstance(error, Swapped)}, 422)
    return JSONResponse(preview_json(plan, found))


class TakeFile(Base):
    """How a previewed file is taken."""

    thin_m: Annotated[FiniteFloat, Field(ge=0, le=1000)] = 0.0
    swap: bool = False
    part: bool = False
    lines: Annotated[tuple[int, ...], Field(max_length=2000)] | None = None


@router.post("/api/plans/{plan_id}/imports/{import_id}/take", name="take_file")
def take_file(
    request: Request, connection: Db, who: JsonWriter, plan_id: int, import_id: int, body: TakeFile
) -> Response:
    """Take a previewed file into the plan."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    chosen = None if body.lines is None else frozenset(body.lines)
    choice = Choice(swap=body.swap, part_jumps=body.part, lines=chosen)
    try:
        found = _previewed(connection, plan_id, import_id, plan, choice, body.thin_m)
    except FormatError as error:
        return fault((("", str(error)),))
    if found.offer_swap:
        return fault((("", f"{found.name}: latitude and longitude look swapped; take them the other way round."),))
    count = len(found.plan.runs) - len(plan.runs)
    ground_imports.forget_imports(connection, plan_id=plan_id)
    return saved(request, connection, who, plan_id, body, found.plan, f"Took {count} lines from {found.name}")


@router.get("/plans/{plan_id}/fence.{kind}", name="fence_file")
def fence_file(connection: Db, who: Who, plan_id: int, kind: Literal["geojson", "gpx", "kml", "csv"]) -> Response:
    """The ground as a file."""
    _, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    return file(write_ground(plan, kind), MEDIA_TYPES[kind], f"fence.{kind}")


# Pictures


@router.post("/api/plans/{plan_id}/pictures", name="keep_picture")
def take_picture(
    connection: Db,
    who: JsonWriter,
    plan_id: int,
    content: Raw,
    purpose: Literal["photo", "underlay"] = "photo",
    x_file_name: Annotated[str, Header(max_length=400)] = "photo",
) -> Response:
    """Keep a picture of the plan."""
    open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    try:
        kept = keep_picture(
            connection,
            plan_id=plan_id,
            account_id=who.account_id,
            name=_file_name(x_file_name),
            content=content,
            purpose=purpose,
        )
    except Unreadable as error:
        return fault((("picture", str(error)),))
    return JSONResponse({"id": kept.id, "width_px": kept.width_px, "height_px": kept.height_px, "name": kept.name})


@router.get("/plans/{plan_id}/pictures/{picture_id}", name="picture")
def show_picture(connection: Db, who: Who, plan_id: int, picture_id: int) -> Response:
    """A picture of the plan."""
    found = pictures.get_picture(connection, plan_id=plan_id, picture_id=picture_id, account_id=who.account_id)
    headers = {
        "Content-Disposition": f"inline; filename*=UTF-8''{quote(found.name)}.jpg",
        "Cache-Control": "private, max-age=86400",
    }
    return Response(found.content, media_type=found.media_type, headers=headers)


# Paper


@router.get("/plans/{plan_id}/paper/ground", name="ground_paper")
def ground_paper(
    request: Request, connection: Db, who: Who, plan_id: int, paper: str = "A4", scale: int | None = None
) -> Response:
    """The ground on paper, true to scale."""
    stored, plan = open_plan(connection, plan_id=plan_id, account_id=who.account_id)
    message = ""
    if paper not in PAPERS_MM:
        paper, message = "A4", f"{paper[:20]} is no paper that is known here; A4 is shown."
    if scale is not None and not 50 <= scale <= 100_000:
        scale, message = None, "A scale lies between 1:50 and 1:100,000; the one that fits is shown."
    try:
        sheets = ground_sheets(plan, paper, scale)
    except TooMany as error:
        sheets, message = ground_sheets(plan, paper), str(error)
    context = {"stored": stored, "plan": plan, "plan_id": plan_id, "sheets": sheets, "message": message}
    return page(request, "plan/paper_ground.html", context | {"papers": PAPERS_MM, "scales": SCALES})
