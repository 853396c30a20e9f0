"""What was done in a search, in words: each step, and what the last mend brought."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from adze.core.basics.units import kv_words
from adze.core.ground.places import Place as FencePlace
from adze.core.log.round import ALONE_SHARE
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.tables.causes import causes
from adze.core.trace.plan_farm import spot_of
from adze.core.trace.search import FaultSearch
from adze.services.trace.strands import strand_event_words
from adze.services.trace.switches import switch_name
from adze.services.trace.typed import GROWTH_LEG, RODS_LEG, WHOLE_KINDS
from adze.services.trace.words import spot_words
from adze.store.trace.searches import TraceEvent

_WITHIN = 0.08  # of a well reading: the tester's error and the day's, twice
_NEAR_M = 60.0


def event_words(plan: Plan, event: TraceEvent) -> tuple[str, str]:
    """What was done, and what it showed."""
    body = event.body
    unit = unit_of(plan)
    if event.what == "checked":
        return "Gates shut, switches as they should be, full terminal, tester tried", "well"
    if event.what in ("unit", "lead"):
        name = "Unit alone" if event.what == "unit" else "Lead-out alone"
        if body["kv"] is None:
            return name, "not read"
        well = unit is None or body["kv"] >= ALONE_SHARE * unit.open_kv
        return f"{name} {kv_words(body['kv'])} kV", "well" if well else "low"
    if event.what == "rods":
        return f"Rods {kv_words(body['kv'])} kV", ""
    if event.what == "switch":
        state = "open" if body["opens"] else "shut"
        name = switch_name(plan, body["switch"])
        return (f"{name} stood {state} all along", "") if body["all_along"] else (f"{name} {state}", "")
    if event.what == "sweep":
        return "Walked all of it", "nothing seen"
    runs = {run.id for run in plan.runs}
    if body["run"] and body["run"] not in runs:
        return "A line since removed", "not counted"
    if event.what == "strands":
        return strand_event_words(plan, body)
    where = spot_words(plan, FencePlace(body["run"], body["at_m"]) if body["run"] else None)
    if event.what == "spur":
        return f"Fence on no plan joins at {where}", ""
    if event.what == "look":
        return f"Looked at {where}", "nothing"
    if event.what == "skip":
        if body["leg"] == GROWTH_LEG:
            return "Growth along the fence", "none that matters"
        return "Rods" if body["leg"] == RODS_LEG else where, "could not be read"
    if event.what == "found":
        label = causes()[body["cause"]].label
        if body["kind"] in WHOLE_KINDS:
            return label, "mended" if WHOLE_KINDS[body["kind"]][1] else "stays so"
        return f"{label}, {where}", "mended"
    shown = [] if body.get("kv") is None else [f"{kv_words(body['kv'])} kV"]
    if body.get("amps") is not None:
        shown.append(f"{abs(body['amps']):g} A {'outward' if body['amps'] >= 0 else 'back'}")
    by = f" by {body['device']}" if body.get("device") else ""
    return where, ", ".join(shown) + by


def gain_words(plan: Plan, search: FaultSearch, events: Sequence[TraceEvent]) -> str:
    """What the last mend brought where it was read again, beside what a well fence shows there; else nothing.

    The reading before it is the last one nearer than 60 m: on so short a way kV hardly change.
    """
    mends = [number for number, event in enumerate(events) if event.what == "found"]
    if not mends or WHOLE_KINDS.get(events[mends[-1]].body["kind"], ("", True))[1] is False:
        return ""
    again = next((event.body for event in events[mends[-1] :] if _has_kv(plan, event)), None)
    if again is None:
        return ""
    place = FencePlace(again["run"], again["at_m"]) if again["run"] else None
    number = search.grid.place(spot_of(plan, place)) if place else search.grid.start
    _, well = search.suspects.single.kv_at(number, np.arange(1))
    left = well - again["kv"]
    missing = f"{kv_words(left)} kV are still missing" if left > _WITHIN * well else "nothing is missing"
    here = f"Well would be {kv_words(well)} kV: {missing}."
    before = next((e.body for e in reversed(events[: mends[-1]]) if _has_kv(plan, e) and _is_near(e.body, again)), None)
    if before is None:
        return here
    gain, cost = again["kv"] - before["kv"], well - before["kv"]
    if gain <= 0 or cost <= 0:
        return f"The mend brought nothing here: {kv_words(before['kv'])} kV before it. {here}"
    share = "" if left <= _WITHIN * well else f" of the {kv_words(cost)} kV that were missing"
    return f"The mend brought {kv_words(gain)} kV here{share}. {here}"


def _has_kv(plan: Plan, event: TraceEvent) -> bool:
    body = event.body
    known = body.get("run") in {"", *(run.id for run in plan.runs)}
    return event.what == "read" and known and body.get("kv") is not None


def _is_near(one: dict[str, Any], other: dict[str, Any]) -> bool:
    is_same = one["run"] == other["run"]
    return bool(is_same and (not one["run"] or abs(one["at_m"] - other["at_m"]) <= _NEAR_M))
