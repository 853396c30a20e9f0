"""Fence that joins this one and is on no plan, such as a neighbour's spur: where, and what a search says of it."""

from collections.abc import Sequence

from adze.core.ground.places import Place as FencePlace
from adze.core.plan.document import Plan
from adze.core.trace.grid import Spot
from adze.core.trace.plan_farm import spot_of
from adze.core.trace.search import FaultSearch
from adze.services.trace.words import spot_words
from adze.store.trace.searches import TraceEvent

_LIKELY = 0.2


def spurs_of(plan: Plan, events: Sequence[TraceEvent]) -> tuple[Spot, ...]:
    """Where fence that is on no plan joins, as spots of the search; of lines that are gone, none."""
    runs = {run.id for run in plan.runs}
    places = [FencePlace(e.body["run"], e.body["at_m"]) for e in events if e.what == "spur" and e.body["run"] in runs]
    return tuple(spot_of(plan, place) for place in places)


def spur_words(plan: Plan, search: FaultSearch, events: Sequence[TraceEvent]) -> str:
    """What is not known of fence on no plan, and how likely the fault lies there; empty without any."""
    bodies = [event.body for event in events if event.what == "spur"]
    rows = []
    for body in bodies:
        if body["run"] not in {run.id for run in plan.runs}:
            continue
        place = FencePlace(body["run"], body["at_m"])
        share = float(search.candidates.cells[search.grid.place(spot_of(plan, place))])
        where = spot_words(plan, place)
        if share >= _LIKELY:
            rows.append(
                f"About {share:.0%} lies on or past the fence that joins at {where} and is on no plan: unhook it there "
                "and read again; what comes back is its own."
            )
        else:
            rows.append(f"The fence that joins at {where} is on no plan: past it nothing is known, the search goes on.")
    return " ".join(rows)
