"""What was done in a search, in words: each step, and what the last mend brought."""

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from adze.core.basics.units import kv_words
from adze.core.log.round import ALONE_SHARE
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.tables.causes import causes
from adze.core.trace.search import FaultSearch
from adze.services.trace import sentences
from adze.services.trace.events import (
    RODS_LEG,
    WHOLE_KINDS,
    Checked,
    Found,
    KeptEvent,
    LeadRead,
    Looked,
    Read,
    RodsRead,
    Skipped,
    SpurTold,
    StrandsRead,
    Swept,
    SwitchWorked,
    UnitRead,
)
from adze.services.trace.strands import strand_event_words
from adze.services.trace.switches import switch_name
from adze.services.trace.words import spot_words

_WITHIN = 0.08  # of a well reading: the tester's error and the day's, twice
_NEAR_M = 60.0


def event_words(plan: Plan, event: KeptEvent) -> tuple[str, str]:
    """What was done, and what it showed."""
    match event.did:
        case Checked():
            return sentences.CHECKED_FIRST, "well"
        case UnitRead() | LeadRead() as did:
            return _alone_words(plan, sentences.UNIT_ALONE if did.what == "unit" else sentences.LEAD_ALONE, did.kv)
        case RodsRead(kv=kv):
            return f"Rods {kv_words(kv)} kV", ""
        case SwitchWorked() as did:
            state, name = "open" if did.opens else "shut", switch_name(plan, did.switch)
            return (
                (sentences.STOOD_ALL_ALONG.format(name=name, state=state), "")
                if did.all_along
                else (f"{name} {state}", "")
            )
        case Swept():
            return sentences.WALKED, sentences.NOTHING_SEEN
        case did if did.run and did.run not in {run.id for run in plan.runs}:
            return "A line since removed", "not counted"
        case StrandsRead() as did:
            return strand_event_words(plan, did)
        case did:
            return _place_words(did, spot_words(plan, did.place if did.run else None))


def _alone_words(plan: Plan, name: str, kv: float | None) -> tuple[str, str]:
    if kv is None:
        return name, sentences.NOT_READ
    unit = unit_of(plan)
    well = unit is None or kv >= ALONE_SHARE * unit.open_kv
    return f"{name} {kv_words(kv)} kV", "well" if well else "low"


def _place_words(did: SpurTold | Looked | Skipped | Found | Read, where: str) -> tuple[str, str]:
    """What was done at a place that has its words."""
    match did:
        case SpurTold():
            return f"Fence on no plan joins at {where}", ""
        case Looked():
            return sentences.LOOKED_AT.format(where=where), "nothing"
        case Skipped(leg="growth"):
            return sentences.GROWTH_ALONG, sentences.NONE_MATTERS
        case Skipped(leg=leg):
            return "Rods" if leg == RODS_LEG else where, sentences.NOT_REACHED
        case Found():
            label = causes()[did.cause].label
            if did.kind in WHOLE_KINDS:
                return label, "stays so" if did.stays else "mended"
            return f"{label}, {where}", "mended"
        case Read():
            shown = [] if did.kv is None else [f"{kv_words(did.kv)} kV"]
            if did.amps is not None:
                shown.append(f"{abs(did.amps):g} A {'outward' if did.amps >= 0 else 'back'}")
            by = f" by {did.device}" if did.device else ""
            return where, ", ".join(shown) + by


def gain_words(plan: Plan, search: FaultSearch, events: Sequence[KeptEvent]) -> str:
    """What the last mend brought where it was read again, beside what a well fence shows there; else nothing.

    The reading before it is the last one nearer than 60 m: on so short a way kV hardly change.
    """
    mends = [(number, event.did) for number, event in enumerate(events) if isinstance(event.did, Found)]
    if not mends or mends[-1][1].stays:
        return ""
    last = mends[-1][0]
    again = next(_with_kv(plan, events[last:]), None)
    if again is None:
        return ""
    number = search.grid.place(again[0].spot(search, plan))
    _, well = search.suspects.single.kv_at(number, np.arange(1))
    left = well - again[1]
    missing = (
        sentences.STILL_MISSING.format(left_kv=kv_words(left)) if left > _WITHIN * well else sentences.NONE_MISSING
    )
    here = sentences.WELL_WOULD_BE.format(well_kv=kv_words(well), missing=missing)
    before = next((kv for read, kv in _with_kv(plan, reversed(events[:last])) if _is_near(read, again[0])), None)
    if before is None:
        return here
    gain, cost = again[1] - before, well - before
    if gain <= 0 or cost <= 0:
        return sentences.NO_GAIN.format(before_kv=kv_words(before), here=here)
    share = "" if left <= _WITHIN * well else sentences.OF_MISSING.format(cost_kv=kv_words(cost))
    return sentences.GAIN.format(gain_kv=kv_words(gain), share=share, here=here)


def _with_kv(plan: Plan, events: Iterable[KeptEvent]) -> Iterator[tuple[Read, float]]:
    """Readings of kV on lines that the plan still has."""
    known = {"", *(run.id for run in plan.runs)}
    for event in events:
        if isinstance(event.did, Read) and event.did.run in known and event.did.kv is not None:
            yield event.did, event.did.kv


def _is_near(one: Read, other: Read) -> bool:
    return one.run == other.run and (not one.run or abs(one.at_m - other.at_m) <= _NEAR_M)
