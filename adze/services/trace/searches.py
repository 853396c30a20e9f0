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
from adze.core.trace.belief import RODS_PLACE, TraceReading
from adze.core.trace.grid import Spot
from adze.core.trace.mended import KINDS, Find
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import LEAD_OUT, farm_of, spot_of
from adze.core.trace.predicted import ReadAt
from adze.core.trace.prior import doubts_before, is_lead_well
from adze.core.trace.search import FaultSearch, begin
from adze.services.log.deferred_defects import DeferredDefectTyped, note_defect
from adze.services.plans.plans import OpenPlan
from adze.services.trace.from_log import from_log
from adze.services.trace.known import LogKnown
from adze.services.trace.open_search import open_search
from adze.services.trace.practice import MOST_FAULTS, answered, hide, score, simulated_farm_of, unit_kv
from adze.services.trace.spurs import spurs_of
from adze.services.trace.switches import after_switch, as_it_was
from adze.services.trace.typed import GROWTH_LEG, RODS_LEG, WHOLE_KINDS, TraceError, Typed, body_of, switch_of, where_of
from adze.store.connection import BeginTransaction
from adze.store.trace import searches
from adze.store.trace.searches import TraceEvent, TraceSearch

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
    events: tuple[TraceEvent, ...]
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
    plan: Plan, row: TraceSearch, events: Sequence[TraceEvent], before: dict[str, int], known: LogKnown | None = None
) -> SearchState:
    """A search computed to where it stands; steps that were computed already are kept."""
    pending = any(step not in {event.what for event in events} for step in ELIMINATION)
    if pending:
        return SearchState(row, tuple(events), None, None, known)
    alone = _alone_of(events)
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
    steps = [event for event in counted if event.what not in (*ELIMINATION, "spur")]
    names = [f"{event.id}" for event in steps]
    done = len(steps)
    while done and _steps.peek((*key, *names[:done])) is None:
        done -= 1
    kept = _steps.peek((*key, *names[:done]))
    search = kept[0] if kept else _with_open(begun(plan, row, before, known, alone, spurs), opened)
    for count in range(done, len(steps)):
        with contextlib.suppress(KeyError):  # a line that is no longer there: the page says so
            search = after(search, plan, steps[count])
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


def _alone_of(events: Sequence[TraceEvent]) -> AloneRead:
    last = {event.what: event.body.get("kv") for event in events if event.what in ("unit", "lead")}
    return AloneRead(last.get("unit"), last.get("lead"))


def after(search: FaultSearch, plan: Plan, event: TraceEvent) -> FaultSearch:
    """A search after one more event. Raises KeyError for a line that is no longer there."""
    body = event.body
    pace = search.farm.pace_m_per_min
    if event.what == "switch":
        return after_switch(search, body)
    if event.what == "sweep":
        return search.swept_all(tuple(span.id for span in search.grid.spans), body.get("minutes", 0.0))
    if event.what == "rods":
        walk = float(search.grid.walk_m[search.here, search.grid.start]) / pace
        reached = search.walked(search.grid.start, walk + search.farm.minutes.rods)
        return reached.read(TraceReading(RODS_PLACE, body["kv"]))
    if event.what == "skip" and body.get("leg") == RODS_LEG:
        return search.skipped_at(RODS_PLACE)
    if event.what == "skip" and body.get("leg") == GROWTH_LEG:
        return search.growth_denied()
    if event.what == "found" and body["kind"] in WHOLE_KINDS:
        return _whole(search, *WHOLE_KINDS[body["kind"]])
    spot = spot_of(plan, FencePlace(body["run"], body["at_m"])) if body["run"] else _lead_spot(search)
    place = search.grid.place(spot)
    walk = float(search.grid.walk_m[search.here, place]) / pace
    if event.what == "found":
        return search.found(Find(KINDS[body["kind"]], spot), walk + search.farm.minutes.look)
    if event.what == "skip":
        return search.skipped_at(ReadAt(place, body.get("leg") or spot.span))
    if event.what == "look":
        return search.walked(place, walk + search.farm.minutes.look).inspected(place)
    if event.what == "strands" and body["kv"] is None:
        return search.walked(place, walk + search.farm.minutes.reading)
    leg = body.get("leg") or spot.span
    if leg not in search.grid.legs[place]:
        leg = search.grid.legs[place][0]
    # What was read before the search began costs no minutes, and nobody stands there now.
    from_log = body.get("from_log", False)
    reached = search if from_log else search.walked(place, walk + search.farm.minutes.reading)
    return reached.read(TraceReading(ReadAt(place, leg), body.get("kv"), body.get("amps")))


def _whole(search: FaultSearch, what: str, is_mended: bool) -> FaultSearch:
    """After something was found that lies at no one place of the fence."""
    look = search.farm.minutes.look
    if what == "growth":
        return search.growth_found(look, is_mended=is_mended)
    walk = float(search.grid.walk_m[search.here, search.grid.start]) / search.farm.pace_m_per_min
    return search.rods_found(walk + look, is_mended=is_mended)


def _lead_spot(search: FaultSearch) -> Any:
    return search.grid.spots[search.grid.start]


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
        raise TraceError("season", f"Season: {season[:20]!r} is none; take dry, usual or wet.")
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
    first = _elimination(opened.plan, hidden) if hidden else ()
    if beginning.with_log and not hidden:
        first = tuple(("read", body) for body in from_log(begin_transaction, opened).steps)
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
        for what, body in first:
            searches.add_trace_event(connection, search_id=row.id, what=what, body=body, once="", by_account=by)


def _lesson(plan: Plan, season: Season, lesson: str) -> dict[str, Any]:
    if lesson not in LESSONS:
        raise TraceError("hidden", f"Lesson: {lesson[:20]!r} is none.")
    hidden = prepared(plan, season, lesson, secrets.randbelow(2**31))
    if hidden is None:
        raise TraceError(
            "hidden", "Lesson: on so small a fence nothing can be hidden for it; draw a branch, or take another."
        )
    return hidden


def _elimination(plan: Plan, hidden: dict[str, Any]) -> tuple[tuple[str, dict[str, Any]], ...]:
    """Practice begins at the fence: what comes before is done, and well."""
    kv = unit_kv(plan, hidden)
    return (("checked", {"note": ""}), ("unit", {"kv": kv}), ("lead", {"kv": kv}))


def do(begin_transaction: BeginTransaction, opened: OpenPlan, typed: Typed, by: int) -> None:
    """Keep one step of the search that is going on, or what is to be mended later. Raises FieldFault."""
    if typed.what == LATER:
        note_defect(begin_transaction, opened, DeferredDefectTyped(typed.run, typed.at_m, typed.note, typed.once), by)
        return
    found = open_search(opened, begin_transaction)
    if found is None:
        raise TraceError("what", "No search is going on; it was ended, perhaps by somebody else. Begin one.")
    row, events = found.row, found.events
    if len(events) >= _MOST_EVENTS:
        raise TraceError("what", f"A search holds {_MOST_EVENTS} steps; end it and begin another.")
    if row.hidden is None:
        what, body = typed.what, body_of(opened.plan, row.season, typed)
    else:
        what, body = _practised(opened.plan, row, events, typed)
    with begin_transaction() as connection:
        searches.add_trace_event(
            connection, search_id=row.id, what=what, body=body, once=typed.once[:60], by_account=by
        )


def _practised(
    plan: Plan, row: TraceSearch, events: tuple[TraceEvent, ...], typed: Typed
) -> tuple[str, dict[str, Any]]:
    """A step of practice: the hidden farm answers. Raises TraceError."""
    if typed.what not in ("read", "look", "rods", "switch", "sweep"):
        raise TraceError("what", "In practice read, look, read the rods, work a switch, or walk all of it.")
    where = {} if typed.what in ("rods", "switch", "sweep") else where_of(plan, typed)
    worked = switch_of(plan, typed) | {"all_along": False} if typed.what == "switch" else {}
    there = simulated_farm_of(plan, row, events)
    spot = None
    if where:
        spot = spot_of(plan, FencePlace(where["run"], where["at_m"])) if where["run"] else there.here
    what, body = answered(plan, there, typed.what, spot, typed.leg, worked)
    if not row.shows_amps and "amps" in body:
        body["amps"] = None
    if what == "found":
        faults = (row.hidden or {})["faults"]
        return what, body | {"hidden": faults.index(body.pop("fault"))}
    return what, where | {"leg": typed.leg} | worked | body


def undo(begin_transaction: BeginTransaction, opened: OpenPlan) -> None:
    """Take the last step back: what is believed is as it was before it. Raises TraceError."""
    with begin_transaction() as connection:
        row = searches.get_open_search(connection, plan_id=opened.id)
        if row is not None and row.hidden is not None:
            raise TraceError("what", "In practice no step is taken back: minutes that were walked are gone.")
        if row is None or not searches.undo_trace_event(connection, search_id=row.id):
            raise TraceError("what", "There is nothing to take back.")


def end(begin_transaction: BeginTransaction, opened: OpenPlan) -> None:
    """End the search, with what is left open. Raises TraceError."""
    found = search_state(opened, begin_transaction)
    if found is None:
        raise TraceError("what", "No search is going on.")
    result: dict[str, Any] = {
        "steps": len(found.events),
        "finds": [event.body for event in found.events if event.what == "found"],
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
