"""Take a file's ground into a plan: read it once, look at it, then take it as chosen."""

import logging
import queue
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.ground.ground_files import read_ground
from adze.formats.ground.imported import (
    ImportChoice,
    ImportedFeatures,
    ImportedSpot,
    Line,
    Progress,
    Swapped,
    into_plan,
    quiet,
)
from adze.services.plans.plans import Base, OpenPlan, save_plan
from adze.store.connection import BeginTransaction
from adze.store.plans import ground_imports

_LOG = logging.getLogger("adze")
_TRACK_POINTS = 50  # a line with more points was walked or traced, not clicked
_TRACK_THIN_M = 1.5


def plan_from_file(
    content: bytes, name: str, *, thin_m: float = 0.0, swap: bool = False
) -> tuple[Plan, tuple[str, ...]]:
    """A plan of its own from a file, and what is to be said about it. Raises FormatError."""
    return into_plan(read_ground(content), None, ImportChoice(thin_m=thin_m, swap=swap), name)


def read_file(content: bytes, name: str, progress: Progress = quiet) -> dict[str, Any]:
    """What a file brings, ready to be kept. Raises FormatError."""
    try:
        brought = read_ground(content, progress)
    except FormatError as error:
        raise FormatError(f"{name}: {error}") from error
    # By hand: a copy in depth of a long track would take longer than reading it.
    return {
        "lines": [vars(line) for line in brought.lines],
        "spots": [vars(spot) for spot in brought.spots],
        "notes": brought.notes,
        "plan": brought.plan,
    }


def keep_file(
    begin_transaction: BeginTransaction, *, plan_id: int, account_id: int, name: str, brought: dict[str, Any]
) -> int:
    """Keep what a file brought until it is taken; its id."""
    with begin_transaction() as connection:
        return ground_imports.add_import(
            connection, plan_id=plan_id, name=name[:120] or "file", brought=brought, made_by=account_id
        )


def _brought(row: dict[str, Any]) -> ImportedFeatures:
    lines = tuple(
        Line(x["name"], tuple(map(tuple, x["points"])), tuple(x["heights"]), x["closed"], x["part"])
        for x in row["lines"]
    )
    spots = tuple(ImportedSpot(x["name"], (x["point"][0], x["point"][1]), x["part"]) for x in row["spots"])
    return ImportedFeatures(lines, spots, tuple(row["notes"]), row["plan"])


@dataclass(frozen=True)
class Preview:
    """A file as it would be taken: the plan with it, and what it says about itself."""

    name: str
    plan: Plan
    notes: tuple[str, ...]
    came: int
    offer_swap: bool
    thin_m: float


def preview(
    begin_transaction: BeginTransaction,
    *,
    plan_id: int,
    import_id: int,
    plan: Plan,
    choice: ImportChoice,
    thin_m: float | None,
) -> Preview:
    """A kept file taken into a plan, without saving it; without a wish it is thinned as its points ask for.

    Raises Missing, FormatError; Swapped when degrees must be changed over.
    """
    with begin_transaction() as connection:
        kept = ground_imports.get_import(connection, plan_id=plan_id, import_id=import_id)
    brought = _brought(kept.brought)
    came = sum(len(line.points) for line in brought.lines)
    walked = max((len(line.points) for line in brought.lines), default=0) > _TRACK_POINTS
    tolerance = (_TRACK_THIN_M if walked else 0.0) if thin_m is None else thin_m
    wish = ImportChoice(thin_m=tolerance, swap=choice.swap, part_jumps=choice.part_jumps, lines=choice.lines)
    try:
        try:
            taken, notes = into_plan(brought, plan, wish, kept.name)
        except Swapped:
            if choice.swap:
                raise
            again = ImportChoice(thin_m=tolerance, swap=True, part_jumps=choice.part_jumps)
            taken, notes = into_plan(brought, plan, again, kept.name)
            return Preview(kept.name, taken, notes, came, offer_swap=True, thin_m=tolerance)
    except FormatError as error:
        raise type(error)(f"{kept.name}: {error}") from error
    return Preview(kept.name, taken, notes, came, offer_swap=False, thin_m=tolerance)


def preview_json(before: Plan, found: Preview) -> dict[str, Any]:
    """A preview for the browser: the new lines and spots, their lengths and points."""
    runs = found.plan.runs[len(before.runs) :]
    marks = found.plan.landmarks[len(before.landmarks) :]
    return {
        "name": found.name,
        "notes": list(found.notes),
        "came": found.came,
        "thin_m": found.thin_m,
        "offer_swap": found.offer_swap,
        "moves_origin": found.plan.origin != before.origin,
        "lines": [
            {
                "name": r.name,
                "points": [list(p) for p in r.points],
                "length_m": round(length_m(r), 1),
                "heights": len(r.profile),
            }
            for r in runs
        ],
        "marks": [{"kind": m.kind, "name": m.name, "points": [list(p) for p in m.points]} for m in marks],
        "fixtures": len(found.plan.fixtures) - len(before.fixtures),
    }


class OfferSwap(ValueError):
    """A file whose latitude and longitude look swapped, asked for as it came."""


def take_import(
    begin_transaction: BeginTransaction,
    opened: OpenPlan,
    base: Base,
    import_id: int,
    choice: ImportChoice,
    thin_m: float,
) -> OpenPlan:
    """Take a previewed file into a plan and save it. Raises FormatError, OfferSwap, Missing, Conflict."""
    plan = opened.plan
    found = preview(begin_transaction, plan_id=opened.id, import_id=import_id, plan=plan, choice=choice, thin_m=thin_m)
    if found.offer_swap:
        raise OfferSwap(f"{found.name}: latitude and longitude look swapped. Swap them.")
    count = len(found.plan.runs) - len(plan.runs)
    words = f"Took {count} lines from {found.name}"
    saved = save_plan(begin_transaction, opened, base=base, plan=found.plan, summary=words)
    with begin_transaction() as connection:
        ground_imports.forget_imports(connection, plan_id=opened.id)
    return saved


class _LeftAlone(Exception):
    """Whoever sent the file no longer listens."""


def stream_file(
    begin_transaction: BeginTransaction, opened: OpenPlan, content: bytes, name: str
) -> Iterator[dict[str, Any]]:
    """Read and keep a file in a thread of its own: how far it has come, and last what was kept, or the fault."""
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
            kept = keep_file(
                begin_transaction, plan_id=opened.id, account_id=opened.account_id, name=name, brought=brought
            )
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
            yield step
            if "import" in step or "fault" in step:
                return
    finally:
        left.set()
