"""A step of a search as somebody typed it: checked, with the field that is wrong named, and what is kept of it."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from adze.core.basics.faults import FieldFault
from adze.core.log.strand_compare import comparable
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.tables.causes import causes
from adze.services.log.readings import MOST_A, MOST_KV, along_m, number
from adze.services.trace import sentences
from adze.services.trace.events import (
    WHOLE_KINDS,
    Checked,
    Found,
    LeadRead,
    Looked,
    Read,
    RodsRead,
    SearchEvent,
    Skipped,
    SpurTold,
    StrandsRead,
    Swept,
    SwitchWorked,
    UnitRead,
)
from adze.services.trace.strands import strands_event
from adze.services.trace.switches import switch_event

_OVER_UNIT = 1.25  # times its open kV: testers and units are a tenth off each, no more


class TraceError(FieldFault):
    """What cannot be done in a search; `field` is where to mend it."""


@dataclass(frozen=True)
class Typed:
    """A step as it was typed: what, where (a line and m along it, its leg), kV, amps and whether outward, a cause.

    Of a switch: which, whether it was opened, and whether it was so from the start. `strand_kv` are of strands
    that were read one by one, from the ground.
    """

    what: str
    run: str = ""
    at_m: str = ""
    leg: str = ""
    kv: str = ""
    amps: str = ""
    outward: bool = True
    cause: str = ""
    note: str = ""
    idempotency_key: str = ""
    switch: str = ""
    opens: bool = True
    all_along: bool = False
    strand_kv: tuple[str, ...] = ()


def event_of(plan: Plan, season: str, typed: Typed) -> SearchEvent:
    """Return what was typed as an event of a search in a season. Raises TraceError naming the field."""
    makers: dict[str, Callable[[Plan, Typed], SearchEvent]] = {
        "checked": lambda _, t: Checked(note=t.note.strip()[:300]),
        "unit": lambda _, t: UnitRead(kv=_alone_kv(t)),
        "lead": lambda _, t: LeadRead(kv=_alone_kv(t)),
        "rods": lambda _, t: RodsRead(kv=number(t.kv, "kv", "kV at the rods", MOST_KV)),
        "read": _read,
        "look": lambda p, t: Looked(**where_of(p, t), note=t.note.strip()[:300]),
        "skip": lambda p, t: Skipped(**where_of(p, t), leg=t.leg),
        "spur": _spur,
        "strands": lambda p, t: _strands(p, season, t),
        "switch": switch_of,
        "sweep": lambda _, __: Swept(),
        "found": _found,
    }
    if typed.what not in makers:
        raise TraceError("what", f"Step: {typed.what[:20]!r} is not a step of a search.")
    return makers[typed.what](plan, typed)


def switch_of(plan: Plan, typed: Typed) -> SwitchWorked:
    """Which switch was worked, and how. Raises TraceError."""
    try:
        return switch_event(plan, typed.switch, opens=typed.opens, all_along=typed.all_along)
    except FieldFault as error:
        raise TraceError(error.field, str(error)) from None


def _spur(plan: Plan, typed: Typed) -> SpurTold:
    where = where_of(plan, typed)
    if not where["run"]:
        raise TraceError("run", sentences.SPUR_LINE_WANTED)
    return SpurTold(**where)


def _strands(plan: Plan, season: str, typed: Typed) -> StrandsRead:
    where = where_of(plan, typed)
    if not where["run"] or not comparable(plan, where["run"]):
        raise TraceError("run", sentences.NO_STRANDS_APART)
    event = strands_event(plan, season, where, typed.strand_kv)
    if all(kv is None for kv in event.strand_kv):
        raise TraceError("strand_kv", sentences.ONE_STRAND_WANTED)
    return event


def _alone_kv(typed: Typed) -> float | None:
    """Unit or lead-out alone: a reading, or gone on without one."""
    return number(typed.kv, "kv", "kV", MOST_KV) if typed.kv.strip() else None


def where_of(plan: Plan, typed: Typed) -> dict[str, Any]:
    """Where a step was done: a line and m along it; no line is the lead-out. Raises FieldFault."""
    if not typed.run:
        return {"run": "", "at_m": 0.0}
    if typed.run not in {run.id for run in plan.runs}:
        raise TraceError("run", "Line: choose a line of this plan.")
    return {"run": typed.run, "at_m": along_m(plan, typed.run, typed.at_m)}


def _read(plan: Plan, typed: Typed) -> Read:
    if not typed.kv.strip() and not typed.amps.strip():
        raise TraceError("kv", sentences.KV_WANTED)
    kv = number(typed.kv, "kv", "kV", MOST_KV) if typed.kv.strip() else None
    unit = unit_of(plan)
    if kv is not None and unit is not None and kv > _OVER_UNIT * unit.open_kv:
        raise TraceError("kv", sentences.KV_TOO_HIGH.format(kv=f"{kv:g}", open_kv=f"{unit.open_kv:g}"))
    amps = number(typed.amps, "amps", "Amps", MOST_A) if typed.amps.strip() else None
    signed = None if amps is None else amps if typed.outward else -amps
    return Read(**where_of(plan, typed), leg=typed.leg, kv=kv, amps=signed)


def _found(plan: Plan, typed: Typed) -> Found:
    if typed.cause not in causes():
        raise TraceError("cause", "What it was: choose one from the list. The next step depends on it.")
    kind = causes()[typed.cause].kind
    if not typed.run and kind not in WHOLE_KINDS:
        raise TraceError("run", sentences.FOUND_LINE_WANTED)
    if WHOLE_KINDS.get(kind, ("", True))[0] == "rods" and not plan.rods.count:
        raise TraceError("cause", sentences.NO_RODS)
    where = {"run": "", "at_m": 0.0} if kind in WHOLE_KINDS else where_of(plan, typed)
    return Found(**where, cause=typed.cause, kind=kind, note=typed.note.strip()[:300])
