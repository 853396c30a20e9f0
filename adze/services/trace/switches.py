"""Switches in a search: opened for a reading, shut again, and one whose state was told wrongly."""

from collections.abc import Sequence

import numpy as np

from adze.core.basics.faults import FieldFault
from adze.core.basics.units import kv_words
from adze.core.ground.lines import run_of
from adze.core.ground.wiring import can_part
from adze.core.plan.document import Plan
from adze.core.plan.ground import Switch
from adze.core.trace.explanation import open_switch
from adze.core.trace.plan_farm import spot_of
from adze.core.trace.search import FaultSearch
from adze.services.trace import sentences
from adze.services.trace.events import KeptEvent, Read, SwitchWorked


def switches_of(plan: Plan) -> tuple[Switch, ...]:
    """The switches that part a search's fence when they are opened: of whole lines, and shut in the plan."""
    return tuple(f for f in plan.fixtures if isinstance(f, Switch) and can_part(f) and not f.is_open)


def switch_name(plan: Plan, switch: str) -> str:
    """What a switch is called; of one that is gone from the plan, that it is."""
    return next((f.name for f in switches_of(plan) if f.id == switch), sentences.SWITCH_GONE)


def switch_event(plan: Plan, switch: str, *, opens: bool, all_along: bool) -> SwitchWorked:
    """A switch that was opened or shut, or that stood so `all_along`. Raises FieldFault."""
    if switch not in {own.id for own in switches_of(plan)}:
        raise FieldFault("switch", "Switch: choose one that the plan has shut and that parts its whole line.")
    return SwitchWorked(switch=switch, opens=opens, all_along=all_along)


def as_it_was(events: Sequence[KeptEvent]) -> tuple[tuple[KeptEvent, ...], frozenset[str]]:
    """Events with what was told wrongly of switches left out, and the switches that stood open from the beginning.

    That a switch was so from the start overrules what was told of it before.
    """
    told = {k: event.did for k, event in enumerate(events) if isinstance(event.did, SwitchWorked)}
    overruled = {did.switch: k for k, did in told.items() if did.all_along}
    opened = frozenset(switch for switch, k in overruled.items() if told[k].opens)
    kept = (event for k, event in enumerate(events) if k not in told or k > overruled.get(told[k].switch, -1))
    return tuple(kept), opened


_LIVE_KV = 0.5  # what leaks across an open switch stays under it


def doubt_words(plan: Plan, search: FaultSearch, events: Sequence[KeptEvent]) -> str:
    """That the last reading fits a switch the other way about; empty where none does."""
    off = _on_a_dead_line(plan, search, events)
    if off is not None:
        name = run_of(plan, off.run).name
        switches = ", ".join(f.name for f in plan.fixtures if isinstance(f, Switch) and f.is_open) or "a gate"
        if (off.kv or 0.0) < _LIVE_KV:
            return f"{name} is off in the plan ({switches}) and reads so. This reading tells the search nothing new."
        return (
            f"{name} is off in the plan ({switches}), yet it reads {kv_words(off.kv or 0.0)} kV: a switch is shut, or "
            "something bridges it. Look at it first. Set it shut at Ground, and the reading counts."
        )
    likely = open_switch(search)
    if not search.doubtful and likely is not None:
        return sentences.MAY_STAND_OPEN.format(name=switch_name(plan, likely.id), share=f"{likely.share:.0%}")
    if not search.doubtful:
        return ""
    told, fits = ("open", "shut") if search.doubtful in search.opened else ("shut", "open")
    name = switch_name(plan, search.doubtful)
    return sentences.TOLD_OTHERWISE.format(name=name, told=told, fits=fits)


def _on_a_dead_line(plan: Plan, search: FaultSearch, events: Sequence[KeptEvent]) -> Read | None:
    """The last step where it is a reading on a line that the pulse does not reach."""
    last = events[-1].did if events else None
    if not isinstance(last, Read) or last.run not in {run.id for run in plan.runs}:
        return None
    spot = spot_of(plan, last.place)
    if spot.span not in search.grid.span_number:
        return last
    _, well = search.suspects.single.kv_at(search.grid.place(spot), np.arange(1))
    return last if well < _LIVE_KV else None
