"""The search that is going on at a plan: its row, what was done in it, what earlier ones found, what the log knows."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from adze.core.ground.places import Place as FencePlace
from adze.core.plan.document import Plan
from adze.core.trace.plan_farm import spot_of
from adze.services.plans import OpenPlan
from adze.services.trace_known import LogKnown, log_known
from adze.store import trace
from adze.store.connection import Transaction
from adze.store.trace import TraceEvent, TraceSearch


@dataclass(frozen=True)
class Going:
    """A search: its row, its steps, faults found before by span, what the log's good readings taught."""

    row: TraceSearch
    events: tuple[TraceEvent, ...]
    before: dict[str, int]
    known: LogKnown | None


def going(opened: OpenPlan, transaction: Transaction, instead: TraceSearch | None = None) -> Going | None:
    """The search that is going on, or `instead` as it would begin where there is none."""
    with transaction() as connection:
        row = trace.get_open_search(connection, plan_id=opened.id) or instead
        if row is None:
            return None
        events = trace.list_trace_events(connection, search_id=row.id)
        finds = trace.list_finds(connection, plan_id=opened.id)
        return Going(row, events, finds_by_span(opened.plan, finds), log_known(connection, opened, row))


NO_SEARCH = ""  # where none goes on


def stands_at(row: TraceSearch, events: Sequence[TraceEvent]) -> str:
    """What tells one standing of a search from another: which search, its last step, how many there are."""
    return f"{row.id}:{events[-1].id if events else 0}:{len(events)}"


def where_it_stands(opened: OpenPlan, transaction: Transaction) -> str:
    """How the search that is going on stands, without computing it."""
    with transaction() as connection:
        row = trace.get_open_search(connection, plan_id=opened.id)
        return stands_at(row, trace.list_trace_events(connection, search_id=row.id)) if row else NO_SEARCH


def rail_words(stands: str) -> str:
    """What the rail of stages says of Trace, by how a search stands."""
    return "a search goes on" if stands else "find a fault"


def finds_by_span(plan: Plan, finds: Sequence[TraceEvent]) -> dict[str, int]:
    """How many faults were found in each piece of the fence by the searches so far: the farm's own prior."""
    found: Counter[str] = Counter()
    for event in finds:
        try:
            found[spot_of(plan, FencePlace(event.body["run"], event.body["at_m"])).span] += 1
        except KeyError:
            continue
    return dict(found)
