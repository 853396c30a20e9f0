"""A search for faults on a plan's fence: begun, done step by step by anybody, taken back, ended, and what it taught."""

import contextlib
import secrets
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from adze.core.basics.cache import Cache
from adze.core.ground.places import Place as FencePlace
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.practice.lessons import LESSONS, prepared
from adze.core.pulse.network import NetworkError
from adze.core.trace.grid import Spot
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import LEAD_OUT, farm_of, spot_of
from adze.core.trace.prior import doubts_before, is_lead_well
from adze.core.trace.search import FaultSearch, begin
from adze.services.log.deferred_defects import DeferredDefectTyped, note_defect
from adze.services.plans.plans import OpenPlan
from adze.services.trace.events import Checked, KeptEvent, LeadRead, SearchEvent, UnitRead, body_of
from adze.services.trace.from_log import from_log
from adze.services.trace.known import LogKnown
from adze.services.trace.open_search import open_search
from adze.services.trace.practice import MOST_FAULTS, PracticeStep, answered, hide, score, simulated_farm_of, unit_kv
from adze.services.trace.spurs import spurs_of
from adze.services.trace.switches import as_it_was
from adze.services.trace.typed import TraceError, Typed, event_of, switch_of, where_of
from adze.store.connection import BeginTransaction, Connection
from adze.store.trace import searches
from adze.store.trace.searches import TraceSearch

_KEPT = 12
LATER = "later"  # no step of the search: it goes into the log's list
ELIMINATION = ("checked", "unit", "lead")
_MOST_EVENTS = 300


@dataclass(frozen=True)
class SearchState:
    """A search as it stands: the row, what was done, what is believed (None before elimination), and what is next.

    `known` is what the log's good readings taught before it began.
    """

    row: TraceSearch
    events: tuple[KeptEvent, ...]
    search: FaultSearch | None
    step: NextStep | None
    known: LogKnown | None = None

    @property
    def waits_for(self) -> str:
        """The step of elimination that is still to come; empty once the fence itself is searched."""
        done = {event.what for event in self.events}
        return next((step for step in ELIMINATION if step not in done), "")


_steps: Cache[tuple[FaultSearch, NextStep | None]] = Cache("steps of searches", _KEPT)


def search_state(opened: OpenPlan, begin_transaction: BeginTransaction) -> SearchState | None:
    """The search of a plan that is going on, computed to where it stands. Raises Incomplete, NetworkError."""
    found = open_search(opened, begin_transaction)
    return computed(opened.plan, found.row, found.events, found.before, found.known) if found else None


def computed(
    plan: Plan, row: TraceSearch, events: Sequence[KeptEvent], before: dict[str, int], known: LogKnown | None = None
) -> SearchState:
    """A search computed to where it stands; steps that were computed already are kept."""
    pending = any(step not in {event.what for event in events} for step in ELIMINATION)
    if pending:
        return SearchState(row, tuple(events), None, None, known)
    alone = alone_of(events)
    counted, opened = as_it_was(events)
    spurs = spurs_of(plan, events)
    key: tuple[Any, ...] = (
        id(plan),
        row.season,
        row.is_thorough,
        row.shows_amps,
        alone,
        tuple(sorted(opened)),
        spurs,
        tuple(sorted(before.items())),
        known.mark if known else b"",
    )
    steps = [event for event in counted if event.did.narrows]
    names = [f"{event.id}" for event in steps]
    done = len(steps)
    while done and _steps.peek((*key, *names[:done])) is None:
        done -= 1
    kept = _steps.peek((*key, *names[:done]))
    search = kept[0] if kept else _with_open(begun(plan, row, before, known, alone, spurs), opened)
    for count in range(done, len(steps)):
        with contextlib.suppress(KeyError):  # a line that is no longer there: the page says so
            search = steps[count].did.apply(search, plan)
        _steps.put((*key, *names[: count + 1]), (search, None), plan)
    whole = (*key, *names)
    kept = _steps.peek(whole)
    step = kept[1] if kept and kept[1] else search.next_step()
    _steps.put(whole, (search, step), plan)
    return SearchState(row, tuple(events), search, step, known)


def _with_open(search: FaultSearch, opened: frozenset[str]) -> FaultSearch:
    """A search at its beginning with switches that stood open; those that are gone from the plan do not count."""
    return replace(search, opened=opened & {switch.id for switch in search.farm.switches})


@dataclass(frozen=True)
class AloneRead:
    """What unit and lead-out showed alone, kV; None where they were not read."""

    unit_kv: float | None = None
    lead_kv: float | None = None


def begun(
    plan: Plan,
    row: TraceSearch,
    before: dict[str, int],
    known: LogKnown | None,
    alone: AloneRead = AloneRead(),
    spurs: tuple[Spot, ...] = (),
) -> FaultSearch:
    """A search at its beginning, with what the log knows of unit, rods and growth, and what the unit showed alone.

    `spurs` are where fence joins that is on no plan.
    """
    farm = farm_of(plan, Season(row.season), before, shows_amps=row.shows_amps)
    farm = replace(farm, spurs=tuple((spot.span, spot.at_m) for spot in spurs))
    unit = unit_of(plan)
    open_kv = unit.open_kv if unit else None
    prior = doubts_before(farm, (known.mean, known.cov) if known else None, alone.unit_kv, open_kv)
    search = replace(begin(farm, is_thorough=row.is_thorough, known=prior), in_earnest=row.hidden is None)
    known_kv = alone.unit_kv or open_kv or 0.0
    return search.cleared(LEAD_OUT) if is_lead_well(alone.lead_kv, known_kv) else search


def alone_of(events: Sequence[KeptEvent]) -> AloneRead:
    """What unit and lead-out showed alone, by what was done last."""
    units = [event.did.kv for event in events if isinstance(event.did, UnitRead)]
    leads = [event.did.kv for event in events if isinstance(event.did, LeadRead)]
    return AloneRead(units[-1] if units else None, leads[-1] if leads else None)


@dataclass(frozen=True)
class SearchBeginning:
    """How a search begins: the weather of these days, what is hidden for practice, what the log has, the tester."""

    season: str
    is_thorough: bool = True
    hidden_faults: int = 0
    with_log: bool = False
    lesson: str = ""
    shows_amps: bool = True


def start(begin_transaction: BeginTransaction, opened: OpenPlan, beginning: SearchBeginning, by: int) -> None:
    """Begin a search. Raises TraceError, Incomplete where nothing can be computed."""
    season = beginning.season
    if season not in {s.value for s in Season}:
        raise TraceError("season", f"Season: {season[:20]!r} is not known; choose dry, usual or wet.")
    if not 0 <= beginning.hidden_faults <= MOST_FAULTS:
        raise TraceError("hidden", f"Hidden faults: 1 to {MOST_FAULTS}.")
    hidden = None
    try:
        farm_of(opened.plan, Season(season))
        if beginning.hidden_faults:
            hidden = hide(opened.plan, Season(season), beginning.hidden_faults, secrets.randbelow(2**31))
        elif beginning.lesson:
            hidden = _lesson(opened.plan, Season(season), beginning.lesson)
    except NetworkError as error:
        raise TraceError("season", f"Trace: {error}.") from None
    first: Sequence[SearchEvent] = _elimination(opened.plan, hidden) if hidden else ()
    if beginning.with_log and not hidden:
        first = from_log(begin_transaction, opened).steps
    with begin_transaction() as connection:
        row = searches.begin_search(
            connection,
            plan_id=opened.id,
            season=season,
            is_thorough=beginning.is_thorough,
            shows_amps=beginning.shows_amps,
            hidden=hidden,
            started_by=by,
        )
        if searches.list_trace_events(connection, search_id=row.id):
            return  # somebody else has begun it already
        for event in first:
            _keep(connection, row.id, event, "", by)


def _keep(connection: Connection, search_id: int, event: SearchEvent, idempotency_key: str, by: int) -> None:
    searches.add_trace_event(
        connection,
        search_id=search_id,
        what=event.what,
        body=body_of(event),
        idempotency_key=idempotency_key,
        by_account=by,
    )


def _lesson(plan: Plan, season: Season, lesson: str) -> dict[str, Any]:
    if lesson not in LESSONS:
        raise TraceError("hidden", f"Lesson: {lesson[:20]!r} is none.")
    hidden = prepared(plan, season, lesson, secrets.randbelow(2**31))
    if hidden is None:
        raise TraceError("hidden", "Lesson: this fence is too small for it. Draw a branch, or choose another lesson.")
    return hidden


def _elimination(plan: Plan, hidden: dict[str, Any]) -> tuple[SearchEvent, ...]:
    """Practice begins at the fence: what comes before is done, and well."""
    kv = unit_kv(plan, hidden)
    return Checked(note=""), UnitRead(kv=kv), LeadRead(kv=kv)


def do(begin_transaction: BeginTransaction, opened: OpenPlan, typed: Typed, by: int) -> None:
    """Keep one step of the search that is going on, or what is to be mended later. Raises FieldFault."""
    if typed.what == LATER:
        note_defect(
            begin_transaction, opened, DeferredDefectTyped(typed.run, typed.at_m, typed.note, typed.idempotency_key), by
        )
        return
    found = open_search(opened, begin_transaction)
    if found is None:
        raise TraceError("what", "No search is going on. Perhaps somebody else ended it. Begin one.")
    row, events = found.row, found.events
    if len(events) >= _MOST_EVENTS:
        raise TraceError("what", f"A search holds {_MOST_EVENTS} steps. End it and begin another.")
    if row.hidden is None:
        event = event_of(opened.plan, row.season, typed)
    else:
        event = _practised(opened.plan, row, events, typed)
    with begin_transaction() as connection:
        _keep(connection, row.id, event, typed.idempotency_key[:60], by)


def _practised(plan: Plan, row: TraceSearch, events: tuple[KeptEvent, ...], typed: Typed) -> SearchEvent:
    """A step of practice: the hidden farm answers. Raises TraceError."""
    if typed.what not in ("read", "look", "rods", "switch", "sweep"):
        raise TraceError("what", "In practice you can read, look, read the rods, switch a switch, or walk all of it.")
    where = {} if typed.what in ("rods", "switch", "sweep") else where_of(plan, typed)
    worked = switch_of(plan, replace(typed, all_along=False)) if typed.what == "switch" else None
    there = simulated_farm_of(plan, row, events)
    spot = None
    if where:
        spot = spot_of(plan, FencePlace(where["run"], where["at_m"])) if where["run"] else there.here
    return answered(plan, row, there, PracticeStep(typed.what, where, typed.leg, worked), spot)


def undo(begin_transaction: BeginTransaction, opened: OpenPlan) -> None:
    """Take the last step back: what is believed is as it was before it. Raises TraceError."""
    with begin_transaction() as connection:
        row = searches.get_open_search(connection, plan_id=opened.id)
        if row is not None and row.hidden is not None:
            raise TraceError("what", "In practice you cannot take a step back: the minutes are already walked.")
        if row is None or not searches.undo_trace_event(connection, search_id=row.id):
            raise TraceError("what", "There is nothing to take back.")


def end(begin_transaction: BeginTransaction, opened: OpenPlan) -> None:
    """End the search, with what is left open. Raises TraceError."""
    found = search_state(opened, begin_transaction)
    if found is None:
        raise TraceError("what", "No search is going on.")
    result: dict[str, Any] = {
        "steps": len(found.events),
        "finds": [body_of(event.did) for event in found.events if event.what == "found"],
    }
    if found.search is not None:
        result |= {
            "clear": round(1 - found.search.candidates.p_material, 3) if found.search.finds else None,
            "minutes": round(found.search.minutes),
        }
    if found.row.hidden is not None:
        result |= score(opened.plan, found.row, found.events)
    with begin_transaction() as connection:
        searches.end_search(connection, plan_id=opened.id, search_id=found.row.id, result=result)
