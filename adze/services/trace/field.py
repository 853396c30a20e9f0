"""A search in the field, without signal: what a phone keeps of it, and taking in later what it did there."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from adze.core.basics.faults import FieldFault
from adze.core.ground.lines import point_at, run_of
from adze.core.ground.places import Place as FencePlace
from adze.core.ground.places import place_words
from adze.core.log.look_for import look_for, mend_words
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.core.pulse.network import NetworkError
from adze.core.tables.causes import causes
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import LEAD_OUT, fence_place
from adze.core.trace.search import FaultSearch
from adze.formats.trace.trace_kit import pack, search_arrays, search_head
from adze.services.log.deferred_defects import noted
from adze.services.parts.shed_use import UseTyped, shed_for_mends, use_part
from adze.services.pictures.photos import add_photo
from adze.services.pictures.picture_worker import Unreadable
from adze.services.plans.plans import OpenPlan
from adze.services.trace.events import KeptEvent
from adze.services.trace.history import event_words
from adze.services.trace.open_search import OpenSearch, open_search
from adze.services.trace.practice_field import Practised, keep_practised
from adze.services.trace.searches import SearchBeginning, begun, computed, do, end, start
from adze.services.trace.spurs import spurs_of
from adze.services.trace.strands import strands_packed
from adze.services.trace.switches import as_it_was, switches_of
from adze.services.trace.typed import TraceError, Typed
from adze.services.trace.words import LEAD_CAUSES, leg_words, spot_words
from adze.store.connection import BeginTransaction
from adze.store.log.upkeep import Defect
from adze.store.pictures.photos import count_photos
from adze.store.trace import searches
from adze.store.trace.searches import TraceSearch

_OF_A_STEP = {"run", "at_m", "leg", "kv", "amps", "kind", "switch", "opens", "all_along", "strand_kv", "from_log"}
_NOTHING_YET = 0  # the number of a search that has not begun
_PACKED = 2  # what a packed search holds; one more when that changes, so that phones fetch theirs anew


@dataclass(frozen=True)
class FieldStep:
    """A step as a phone kept it: a step as typed, or begin, undo, end and used (a part from the shed).

    `season`, `quick` and `kv_alone` say how it begins; `part`, `quantity` and `what_for` are of what a mend used,
    `practised` of a round of practice that ended on the phone.

    `search` is the one that it ends, 0 where it began without signal; `of` is the token of the step that is taken back.
    """

    typed: Typed
    season: str = "usual"
    quick: bool = False
    search: int = _NOTHING_YET
    of: str = ""
    kv_alone: bool = False
    part: str = ""
    quantity: str = ""
    what_for: str = ""
    practised: Practised | None = None


def _stands(opened: OpenPlan, begin_transaction: BeginTransaction, season: str) -> OpenSearch:
    """The search that is going on, or one as it would begin in a season. Raises TraceError for practice."""
    found = open_search(opened, begin_transaction)
    if found is not None and found.row.hidden is not None:
        raise TraceError("what", "Practice is going on. Continue it on the page of Trace.")
    if found is not None:
        return found
    if season not in {s.value for s in Season}:
        raise TraceError("season", f"Season: {season[:20]!r} is not known; choose dry, usual or wet.")
    row = TraceSearch(
        id=_NOTHING_YET,
        season=season,
        is_thorough=True,
        hidden=None,
        started_at=datetime.now(UTC),
        ended_at=None,
        result=None,
    )
    found = open_search(opened, begin_transaction, row)
    if found is None:
        raise TraceError("what", "No search is going on.")
    return found


def _mended(events: Sequence[KeptEvent]) -> int:
    """How many steps there are up to the last mend."""
    return max((k + 1 for k, event in enumerate(events) if event.what == "found"), default=0)


def _mark(opened: OpenPlan, stands: OpenSearch) -> str:
    """What tells one packed search from another: the plan, its season, what was known before, what was mended."""
    count = _mended(stands.events)
    told = (
        _PACKED,
        opened.stored.current,
        stands.row.season,
        stands.row.shows_amps,
        sorted(as_it_was(stands.events)[1]),
        [e.id for e in stands.events if e.what == "spur"],
        sorted(stands.before.items()),
        [e.id for e in stands.events[:count]],
    )
    whole = repr(told).encode() + (stands.known.mark if stands.known else b"")
    return hashlib.sha256(whole).hexdigest()[:16]


def field_steps(opened: OpenPlan, begin_transaction: BeginTransaction, season: str) -> dict[str, Any]:
    """What was done so far, and the mark of the packed search that it goes with. Raises TraceError."""
    stands = _stands(opened, begin_transaction, season)
    return {
        "mark": _mark(opened, stands),
        "search": stands.row.id,
        "season": stands.row.season,
        "quick": not stands.row.is_thorough,
        "kv_alone": not stands.row.shows_amps,
        "steps": [_step(opened.plan, event) for event in stands.events],
        "shed": [vars(row) for row in shed_for_mends(begin_transaction, opened).there],
        "later": [_noted(opened.plan, row) for row in noted(begin_transaction, opened)],
        "photos": _photos(begin_transaction, opened, stands.row.id),
    }


def _noted(plan: Plan, row: Defect) -> dict[str, Any]:
    where = place_words(plan, FencePlace(row.run, row.at_m))
    return {"run": row.run, "at_m": row.at_m, "words": f"{row.words}, {where}"}


def _photos(begin_transaction: BeginTransaction, opened: OpenPlan, search: int) -> int:
    with begin_transaction() as connection:
        return count_photos(connection, plan_id=opened.id, thing=photo_thing(search))


def photo_thing(search: int) -> str:
    """What the photos of a search are kept under."""
    return f"trace:{search}"


def _step(plan: Plan, event: KeptEvent) -> dict[str, Any]:
    what, showed = event_words(plan, event)
    kept = event.did.model_dump(mode="json", include=_OF_A_STEP, exclude_unset=True)
    return {"what": event.what, "once": event.token, "words": [what, showed], **kept}


def field_kit(opened: OpenPlan, begin_transaction: BeginTransaction, season: str) -> bytes:
    """The search packed as it was after its last mend, or as it began. Raises TraceError, Incomplete."""
    stands = _stands(opened, begin_transaction, season)
    try:
        search = _as_packed(opened.plan, stands)
        head = search_head(search)
        head["field"] = {
            "mark": _mark(opened, stands),
            **_field_words(opened.plan, search),
            "strands": strands_packed(opened.plan, stands.row.season),
            "spurs": [event.token for event in stands.events if event.what == "spur"],
        }
        return pack(head, search_arrays(search))
    except NetworkError as error:
        raise TraceError("season", f"Trace: {error}.") from None


def _as_packed(plan: Plan, stands: OpenSearch) -> FaultSearch:
    count = _mended(stands.events)
    if count:
        found = computed(plan, stands.row, stands.events[:count], stands.before, stands.known).search
        if found is not None:
            return found
    return begun(plan, stands.row, stands.before, stands.known, spurs=spurs_of(plan, stands.events))


def _field_words(plan: Plan, search: FaultSearch) -> dict[str, Any]:
    """How places, legs and stretches are called and where they lie, so that the phone needs no plan."""
    grid, unit = search.grid, unit_of(plan)
    places = []
    for number, legs in enumerate(grid.legs):
        place = fence_place(plan, grid, number)
        names = {leg: leg_words(plan, search, NextStep("read", number, leg)) for leg in legs}
        # Where lines meet, a place is called by the line whose leg is read.
        by_leg = {leg: _named(plan, fence_place(plan, grid, number, leg)) for leg in legs if len(legs) > 1}
        seen = look_for(plan, place) if place else LEAD_CAUSES
        places.append({**_named(plan, place), "xy": _xy(plan, place), "legs": names, "by_leg": by_leg, "look": seen})
    lines = {}
    for number, span in enumerate(grid.spans):
        first = int(grid.first_piece[number])
        place = fence_place(plan, grid, int(grid.a[first]), span.id)
        if place is None or span.id == LEAD_OUT:
            continue
        name = run_of(plan, place.run).name
        lines[span.id] = {"run": place.run, "name": name, "from_m": place.at_m, "length_m": span.length_m}
    return {
        "units": plan.units.value,
        "open_kv": unit.open_kv if unit else None,
        "has_rods": plan.rods.count > 0,
        "lead": LEAD_OUT if LEAD_OUT in grid.span_number else "",
        "places": places,
        "lines": lines,
        "switches": {switch.id: switch.name for switch in switches_of(plan)},
        "causes": {key: [cause.label, cause.shows, cause.kind] for key, cause in causes().items()},
        "runs": [{"id": run.id, "name": run.name, "points": run.points} for run in plan.runs],
    }


def _named(plan: Plan, place: FencePlace | None) -> dict[str, Any]:
    at = None if place is None else {"run": place.run, "at_m": round(place.at_m, 2)}
    return {"words": spot_words(plan, place), "at": at}


def _xy(plan: Plan, place: Any) -> Sequence[float]:
    if place is None:
        at = plan.energizer_at or plan.runs[0].points[0]
        return [round(at[0], 1), round(at[1], 1)]
    return [round(x, 1) for x in point_at(run_of(plan, place.run), place.at_m)]


def cause_rows(plan: Plan) -> list[tuple[str, str, str, str]]:
    """The causes of faults to choose from: key, label, the kind that the search takes it for, how it is mended."""
    return [(key, cause.label, cause.kind, mend_words(plan, cause)) for key, cause in causes().items()]


def take_steps(
    begin_transaction: BeginTransaction, opened: OpenPlan, steps: Sequence[FieldStep], by: int
) -> dict[str, str]:
    """Take in what a phone did, in its order; what is refused, by its token, with why. Each counts once."""
    refused: dict[str, str] = {}
    for step in steps:
        try:
            _take(begin_transaction, opened, step, by)
        except (FieldFault, Incomplete) as error:
            refused[step.typed.idempotency_key] = str(error)
    return refused


@dataclass(frozen=True)
class FieldPhoto:
    """A photo as a phone kept it: of the search that a step is of, with a token of its own."""

    of: str
    idempotency_key: str
    name: str
    content: bytes


def take_photo(begin_transaction: BeginTransaction, opened: OpenPlan, photo: FieldPhoto, by: int) -> None:
    """Keep a photo of a search, once. Raises Unreadable, OverQuota, Busy."""
    with begin_transaction() as connection:
        row = searches.get_search_of_step(connection, plan_id=opened.id, token=photo.of)
    if row is None:
        raise Unreadable("The search that it belongs to is not known here: was its first step refused?")
    add_photo(
        begin_transaction,
        opened,
        thing=photo_thing(row.id),
        name=photo.name,
        content=photo.content,
        by_account=by,
        idempotency_key=photo.idempotency_key,
    )


def _take(begin_transaction: BeginTransaction, opened: OpenPlan, step: FieldStep, by: int) -> None:
    what = step.typed.what
    if what == "begin":
        start(begin_transaction, opened, SearchBeginning(step.season, not step.quick, shows_amps=not step.kv_alone), by)
    elif what == "undo":
        with begin_transaction() as connection:
            row = searches.get_open_search(connection, plan_id=opened.id)
            if row is not None and row.hidden is None:
                searches.undo_trace_event_of(connection, search_id=row.id, token=step.of)
    elif what == "used":
        used = UseTyped(step.part, step.quantity, step.what_for, step.typed.idempotency_key)
        use_part(begin_transaction, opened, used, by)
    elif what == "practised" and step.practised:
        keep_practised(begin_transaction, opened, step.practised, by)
    elif what == "end":
        found = open_search(opened, begin_transaction)
        # What was ended already, by this phone or somebody else, stays so.
        if found is not None and step.search in (_NOTHING_YET, found.row.id):
            end(begin_transaction, opened)
    else:
        do(begin_transaction, opened, step.typed, by)
