"""The search that is going on at a plan: its row, what was done in it, what earlier ones found, what the log knows."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from adze.core.plan.document import Plan
from adze.core.trace.plan_farm import spot_of
from adze.services.plans.plans import OpenPlan
from adze.services.trace.events import Found, KeptEvent, read_events
from adze.services.trace.known import LogKnown, log_known
from adze.store.connection import BeginTransaction
from adze.store.trace import searches
from adze.store.trace.searches import TraceEvent, TraceSearch


@dataclass(frozen=True)
class OpenSearch:
    """A search: its row, its steps, faults found before by span, what the log's good readings taught."""

    row: TraceSearch
    events: tuple[KeptEvent, ...]
    before: dict[str, int]
    known: LogKnown | None


def open_search(
    opened: OpenPlan, begin_transaction: BeginTransaction, instead: TraceSearch | None = None
) -> OpenSearch | None:
    """The search that is going on, or `instead` as it would begin where there is none."""
    with begin_transaction() as connection:
        row = searches.get_open_search(connection, plan_id=opened.id) or instead
        if row is None:
            return None
        events = read_events(searches.list_trace_events(connection, search_id=row.id))
        finds = searches.list_finds(connection, plan_id=opened.id)
        return OpenSearch(row, events, finds_by_span(opened.plan, finds), log_known(connection, opened, row))


NO_SEARCH = ""  # where none goes on


def stands_at(row: TraceSearch, events: Sequence[TraceEvent | KeptEvent]) -> str:
    """What tells one standing of a search from another: which search, its last step, how many there are."""
    return f"{row.id}:{events[-1].id if events else 0}:{len(events)}"


def where_it_stands(opened: OpenPlan, begin_transaction: BeginTransaction) -> str:
    """How the search that is going on stands, without computing it."""
    with begin_transaction() as connection:
        row = searches.get_open_search(connection, plan_id=opened.id)
        return stands_at(row, searches.list_trace_events(connection, search_id=row.id)) if row else NO_SEARCH


def rail_words(stands: str) -> str:
    """What the rail of stages says of Trace, by how a search stands."""
    return "a search goes on" if stands else "find a fault"


def finds_by_span(plan: Plan, finds: Sequence[TraceEvent]) -> dict[str, int]:
    """How many faults were found in each piece of the fence by the searches so far: the farm's own prior."""
    found: Counter[str] = Counter()
    for event in read_events(finds):
        try:
            if isinstance(event.did, Found):
                found[spot_of(plan, event.did.place).span] += 1
        except KeyError:
            continue
    return dict(found)
