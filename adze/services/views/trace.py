"""What Trace shows: the step of elimination or the next step, where it probably lies, how it stands, what was done."""

import json
from dataclasses import dataclass
from typing import Any

from adze.core.basics.units import M_PER_FT, Units, format_length
from adze.core.ground.lines import length_m, run_of
from adze.core.log.look_for import mend_words
from adze.core.log.round import ALONE_SHARE
from adze.core.log.symptoms import symptoms
from adze.core.log.unit_first import UnitFirst, unit_first
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import SEASON_WORDS, Season
from adze.core.plan.stages import Incomplete
from adze.core.plan.tester import TesterKind
from adze.core.practice.lessons import LESSONS
from adze.core.practice.record import practice_record
from adze.core.pulse.network import NetworkError
from adze.core.tables.causes import causes
from adze.core.trace.explanation import stretches
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import fence_place
from adze.core.trace.prior import LEAD_SHARE
from adze.core.trace.search import FaultSearch
from adze.services.log.deferred_defects import LaterView, later_view, noted
from adze.services.parts.shed_use import shed_for_mends
from adze.services.pictures.photos import photos_by_thing
from adze.services.trace import sentences
from adze.services.trace.events import GROWTH_LEG, RODS_LEG
from adze.services.trace.from_log import from_log
from adze.services.trace.history import event_words, gain_words
from adze.services.trace.open_search import NO_SEARCH, rail_words, stands_at
from adze.services.trace.searches import SearchState, alone_of, search_state
from adze.services.trace.spurs import spur_words
from adze.services.trace.strands import strand_lines, strand_verdict
from adze.services.trace.switches import doubt_words, switches_of
from adze.services.trace.words import StepWords, how_likely, left_words, stands, step_words, surprise_words
from adze.services.views.base import ViewRequest
from adze.services.views.trace_drawn import drawn
from adze.store.trace.searches import TraceSearch, list_ended_searches


@dataclass(frozen=True)
class AloneView:
    """A reading of elimination: what is expected, and the least that is well, kV."""

    open_kv: float
    least_kv: float


@dataclass(frozen=True)
class TraceView:
    """A search as it is shown. `at` is where the next step is: line, m along it, its leg."""

    told: SearchState
    season: str
    words: StepWords | None
    at: dict[str, Any]
    drawn: str
    stands: tuple[tuple[str, str], ...]
    stretches: tuple[tuple[str, str, str], ...]
    surprise: str
    minutes: int
    so_far: tuple[tuple[str, str, str], ...]
    clear: str
    practice: bool = False
    gain: str = ""
    doubtful: str = ""
    opened: frozenset[str] = frozenset()
    strands: str = ""
    spurs: str = ""
    early: str = ""
    unit_first: UnitFirst | None = None


def trace_view(asked: ViewRequest) -> dict[str, Any]:
    """The search that is going on, or how to begin one."""
    plan = asked.plan
    unit = unit_of(plan)
    alone = AloneView(unit.open_kv, ALONE_SHARE * unit.open_kv) if unit else None
    found, blocked = None, ""
    with asked.begin_transaction() as connection:
        ended = list_ended_searches(connection, plan_id=asked.opened.id, most=24)
    try:
        found = search_state(asked.opened, asked.begin_transaction)
    except (Incomplete, NetworkError) as error:
        blocked = str(error)
    if not blocked and asked.judged.blocked:
        blocked = asked.judged.blocked
    stands = stands_at(found.row, found.events) if found else NO_SEARCH
    return {
        "trace": _shown(plan, found) if found else None,
        "stands_at": stands,
        "rail": rail_words(stands),
        "blocked": blocked,
        "alone": alone,
        "season_words": SEASON_WORDS,
        "causes": causes(),
        "mends": {key: mend_words(plan, cause) for key, cause in causes().items()},
        "run_rows": [(run.id, run.name, format_length(length_m(run), plan.units)) for run in plan.runs],
        "strand_lines": strand_lines(plan, found.row.season) if found and found.search else (),
        "switch_rows": [(switch.id, switch.name) for switch in switches_of(plan)],
        "kv_alone": plan.tester.kind is TesterKind.LAMPS,
        "lessons": LESSONS,
        "record": practice_record([row.result or {} for row in ended]),
        "ended": [_ended(row, plan.units) for row in ended],
        "shed_rows": shed_for_mends(asked.begin_transaction, asked.opened),
        "photos": photos_by_thing(asked.begin_transaction, asked.opened),
        "farm_id": asked.opened.stored.farm_id,
        "symptoms": () if found or blocked else symptoms(plan, asked.judged),
        "later": _later(asked, found),
        "from_log": "" if found else from_log(asked.begin_transaction, asked.opened).words,
    }


def _later(asked: ViewRequest, found: SearchState | None) -> LaterView:
    rows = noted(asked.begin_transaction, asked.opened)
    if not found or not found.search or not found.step:
        return later_view(asked.plan, rows)
    return later_view(asked.plan, rows, found.search, found.step.place)


def _unit_first(plan: Plan, found: SearchState) -> UnitFirst | None:
    """Why the search stops at the unit, in earnest; in practice nothing is wrong there."""
    alone = alone_of(found.events)
    return None if found.row.hidden is not None else unit_first(plan, alone.unit_kv, alone.lead_kv, LEAD_SHARE)


def _shown(plan: Plan, found: SearchState) -> TraceView:
    search, step = found.search, found.step
    so_far = [(*event_words(plan, event), event.by_name) for event in reversed(found.events)]
    season = SEASON_WORDS[Season(found.row.season)]
    if search is None or step is None:
        first = _unit_first(plan, found)
        return TraceView(found, season, None, {}, "", (), (), "", 0, tuple(so_far), "", unit_first=first)
    p_left = search.candidates.p_material
    return TraceView(
        found,
        season,
        step_words(plan, search, step),
        _at(plan, search, step),
        json.dumps(drawn(plan, search, step)),
        stands(search),
        _stretch_words(plan, search),
        surprise_words(search),
        round(search.minutes),
        tuple(so_far),
        how_likely(1 - p_left) if search.finds else "",
        found.row.hidden is not None,
        gain_words(plan, search, found.events),
        doubt_words(plan, search, found.events),
        search.opened,
        strand_verdict(plan, found.row.season, found.events),
        spur_words(plan, search, found.events),
        left_words(search) if search.is_closing and step.do != "stop" else "",
        _unit_first(plan, found),
    )


def _at(plan: Plan, search: FaultSearch, step: NextStep) -> dict[str, Any]:
    if step.do == "read_rods":
        return {"run": "", "at_m": 0, "leg": RODS_LEG}
    if step.do == "look_growth":
        return {"run": "", "at_m": 0, "leg": GROWTH_LEG}
    if step.place < 0 or step.do in ("stop", "sweep"):
        return {"run": "", "at_m": 0, "leg": ""}
    place = fence_place(plan, search.grid, step.place, step.leg)
    if place is None:
        return {"run": "", "at_m": 0, "leg": step.leg}
    bare = place.at_m / M_PER_FT if plan.units is Units.IMPERIAL else place.at_m
    return {"run": place.run, "at_m": f"{place.at_m:.2f} m", "leg": step.leg, "bare": f"{bare:.0f}"}


def _stretch_words(plan: Plan, search: FaultSearch) -> tuple[tuple[str, str, str], ...]:
    """The stretches that hold half of it: the line, from where to where, and its share."""
    rows = []
    for row in stretches(search, half=True)[:4]:
        first = int(search.grid.first_piece[search.grid.span_number[row.span]])
        place = fence_place(plan, search.grid, int(search.grid.a[first]), row.span)
        share = f"{row.share:.0%}"
        if place is None:
            rows.append(("The lead-out", "", share))
            continue
        low, high = (format_length(place.at_m + x, plan.units) for x in (row.from_m, row.to_m))
        rows.append((run_of(plan, place.run).name, f"{low} to {high}", share))
    return tuple(rows)


def _ended(row: TraceSearch, units: Units) -> dict[str, Any]:
    result = row.result or {}
    finds = [causes()[find["cause"]].label for find in result.get("finds", []) if find.get("cause") in causes()]
    clear = result.get("clear")
    return {
        "at": row.started_at,
        "finds": ", ".join(finds) or "nothing found",
        "clear": "" if clear is None else f"{clear:.0%} clear",
        "minutes": result.get("minutes"),
        "steps": result.get("steps", 0),
        "practice": _practice_words(result, units) if result.get("practice") else "",
    }


def _practice_words(result: dict[str, Any], units: Units) -> str:
    """How practice went, beside every advice and walking."""
    total = result["faults"]
    found = sentences.FOUND_OF.format(found=total - result["left"], hidden=total) if total else sentences.NOTHING_HIDDEN
    restored = "the fence restored" if result["restored"] else "the fence not restored"
    halving = f"halving by amps {result['halving_minutes']} min, " if "halving_minutes" in result else ""
    words = (
        f"{found}, {restored}; {result['readings']} readings, {format_length(result['metres'], units)}; "
        f"by every advice {result['advice_minutes']} min, {halving}walking all {result['walking_minutes']} min"
    )
    taught = LESSONS.get(result.get("lesson", ""))
    return f"{taught.title}: {words}. {taught.teaches}" if taught else words
