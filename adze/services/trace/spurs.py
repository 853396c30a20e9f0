"""Fence that joins this one and is on no plan, such as a neighbour's spur: where, and what a search says of it."""

from collections.abc import Sequence

from adze.core.plan.document import Plan
from adze.core.trace.grid import Spot
from adze.core.trace.plan_farm import spot_of
from adze.core.trace.search import FaultSearch
from adze.services.trace import sentences
from adze.services.trace.events import KeptEvent, SpurTold
from adze.services.trace.words import spot_words

_LIKELY = 0.2


def spurs_of(plan: Plan, events: Sequence[KeptEvent]) -> tuple[Spot, ...]:
    """Where fence that is on no plan joins, as spots of the search; of lines that are gone, none."""
    runs = {run.id for run in plan.runs}
    told = [event.did for event in events if isinstance(event.did, SpurTold)]
    return tuple(spot_of(plan, spur.place) for spur in told if spur.run in runs)


def spur_words(plan: Plan, search: FaultSearch, events: Sequence[KeptEvent]) -> str:
    """What is not known of fence on no plan, and how likely the fault lies there; empty without any."""
    runs, rows = {run.id for run in plan.runs}, []
    for event in events:
        if not isinstance(event.did, SpurTold) or event.did.run not in runs:
            continue
        share = float(search.candidates.cells[search.grid.place(spot_of(plan, event.did.place))])
        where = spot_words(plan, event.did.place)
        if share >= _LIKELY:
            rows.append(
                f"About {share:.0%} lies on or past the fence that joins at {where} and is on no plan: unhook it there "
                "and read again; what comes back is its own."
            )
        else:
            rows.append(sentences.SPUR_NOTED.format(where=where))
    return " ".join(rows)
