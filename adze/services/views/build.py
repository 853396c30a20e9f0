"""What Build shows: the days, the steps with their drawings, crew and rates, the weather, the hold points."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.core.plan.stages import Incomplete
from adze.core.tables.rates import rates
from adze.core.tasks.deadline import READY_FOR
from adze.core.tasks.end_sheets import end_sheets
from adze.core.tasks.nest import KIT_WAYS, LEAST_BEFORE_DUSK_H, REHEARSED_MIN, ROUND_DAYS, kit_key, kit_of, loads
from adze.core.tasks.schools import WORK_SCHOOLS
from adze.core.tasks.steps import MACHINES, PHASES
from adze.core.tasks.windows import COLD_C, MILD_C, Asks, FieldWindow, Hour, SunDay, stops, sun_day, windows
from adze.formats.drawings.build_drawings import FRAME, Drawing, drawing_of
from adze.formats.errors import FormatError
from adze.formats.work.weather import read_rows
from adze.formats.work.work_calendar import CalendarEntry, work_calendar
from adze.services.build.as_built import built_view
from adze.services.build.work import ROLES, StepView, WorkView, work_view
from adze.services.log.upkeep import DueView, due_view
from adze.services.pictures.photos import photos_by_thing
from adze.services.plans.plans import OpenPlan
from adze.services.views.base import ViewRequest
from adze.store.build import work
from adze.store.connection import BeginTransaction

_LANE_H = 44.0
_WIDE = 670.0
_LONGEST_WINDOW_H = 6.0


@dataclass(frozen=True)
class WeatherView:
    """The forecast as it is kept, hours that suit the job, and what speaks against the day that is set."""

    heard_at: datetime | None
    windows: tuple[FieldWindow, ...]
    against: tuple[str, ...]
    sun: SunDay
    asks: Asks
    hours: int


def weather_view(begin_transaction: BeginTransaction, opened: OpenPlan, view: WorkView) -> WeatherView:
    """Days that fit the job, from the forecast that was heard last."""
    zone = ZoneInfo(opened.stored.time_zone)
    with begin_transaction() as connection:
        kept = work.get_forecast(connection, farm_id=opened.stored.farm_id)
    hours: tuple[Hour, ...] = ()
    if kept.forecast:
        try:
            recent = datetime.now(UTC) - timedelta(hours=1)
            hours = tuple(hour for hour in read_rows(kept.forecast) if hour.at >= recent)
        except FormatError:
            hours = ()
    asks = asked_of(view)
    at = opened.plan.origin
    found = windows(hours, asks, at.lat, at.lon, zone)
    day = view.day.begins_on
    against = stops(hours, asks, day, at.lat, at.lon, zone) if hours else ()
    return WeatherView(kept.forecast_at, tuple(found), against, sun_day(at.lat, at.lon, day, zone), asks, len(hours))


def asked_of(view: WorkView) -> Asks:
    """What the job's next day asks of the weather."""
    if view.job.is_nest:
        return Asks(1.5, dry=True, still=True, mild=True, before_dusk_h=LEAST_BEFORE_DUSK_H)
    left = [one.step for one in view.steps if one.state != "done"]
    hours = min(_LONGEST_WINDOW_H, view.day.day_h, view.plan.length / 60 if view.plan else _LONGEST_WINDOW_H)
    concrete = any(step.rests_days and step.phase == "ends" for step in left)
    return Asks(max(1.0, hours), dry=concrete, still=any(step.still for step in left), no_frost=concrete)


def build_view(asked: ViewRequest) -> dict[str, Any]:
    """Everything of Build; without a line, why there is nothing."""
    try:
        view = work_view(asked.begin_transaction, asked.opened)
    except Incomplete as missing:
        return {"missing": str(missing)}
    zone = ZoneInfo(asked.opened.stored.time_zone)
    with asked.begin_transaction() as connection:
        own = work.list_rates(connection, farm_id=asked.opened.stored.farm_id)
    kit = kit_of(asked.plan) if view.job.is_nest else ()
    return {
        "missing": "",
        "work": view,
        "lengths": {run.id: length_m(run) for run in asked.plan.runs},
        "zone": zone,
        "by_phase": [(words, rows) for key, words in PHASES.items() if (rows := _of_phase(view, key))],
        "drawing_frame": FRAME,
        "drawings": drawings(asked, view),
        "built": built_view(asked.begin_transaction, asked.opened),
        "photos": photos_by_thing(asked.begin_transaction, asked.opened),
        "weather": weather_view(asked.begin_transaction, asked.opened, view),
        "roles": ROLES,
        "machines": MACHINES,
        "ready_for": READY_FOR,
        "phases": PHASES,
        "rates": [(row, own.get(key)) for key, row in rates().items()],
        "schools": WORK_SCHOOLS,
        "mild_c": MILD_C,
        "cold_c": COLD_C,
        "kit": _kit(kit, view),
        "load": loads(kit, len(view.crew)),
        "rehearsed_min": REHEARSED_MIN,
        "pixels": _WIDE / (60 * view.day.day_h),
        "lane_h": _LANE_H,
    }


def _kit(kit: Sequence[tuple[str, float]], view: WorkView) -> list[dict[str, Any]]:
    """Each thing of the kit with its weight and whether it is packed and back."""
    return [
        {"thing": thing, "kg": kg, "ways": [(key := kit_key(way, n), key in view.kit) for way in KIT_WAYS]}
        for n, (thing, kg) in enumerate(kit)
    ]


def _of_phase(view: WorkView, phase: str) -> list[StepView]:
    return [one for one in view.steps if one.step.phase == phase]


def drawings(asked: ViewRequest, view: WorkView) -> dict[str, Drawing]:
    """One drawing for each kind of thing and way of building, by the key of the first step that it belongs to."""
    found: dict[str, Drawing] = {}
    seen: set[str] = set()
    for one in view.steps:
        if one.step.drawing:
            made = drawing_of(asked.plan, one.step.drawing, one.step.run)
            if made and made.shapes not in seen:
                seen.add(made.shapes)
                found[one.step.key] = made
    return found


def calendar_of(begin_transaction: BeginTransaction, opened: OpenPlan) -> str:
    """Days of work, moves of strips, rounds and upkeep as a calendar's text."""
    view = work_view(begin_transaction, opened)
    zone = ZoneInfo(opened.stored.time_zone)
    entries = (*entries_of(opened.plan, view, zone), *due_entries(due_view(begin_transaction, opened), opened, zone))
    return work_calendar(opened.plan.name, entries)


def due_entries(view: DueView, opened: OpenPlan, zone: ZoneInfo) -> Iterator[CalendarEntry]:
    """Upkeep on the day on which it falls due; what is late stands on today."""
    for row in view.due:
        begins = datetime.combine(max(row.on, view.today), time(9), zone)
        words = f"{row.upkeep.why}. Where: {row.upkeep.where}."
        key = f"plan{opened.id}-{row.upkeep.key}"
        yield CalendarEntry(key, row.upkeep.title, words, begins, begins + timedelta(hours=1), 24.0)


def entries_of(plan: Plan, view: WorkView, zone: ZoneInfo) -> Iterator[CalendarEntry]:
    """The entries of a plan's calendar; days begin in the farm's own time."""
    for number, day in enumerate(view.days, 1):
        bars = [bar for lane in day.lanes for bar in lane.bars]
        if not bars:
            continue
        begins = datetime.combine(day.date, view.day.begins_at, zone)
        titles = ", ".join(dict.fromkeys(title for title, *_ in bars))
        ends = begins + timedelta(minutes=max(end for *_, end in bars))
        yield CalendarEntry(
            f"{plan.name}-day-{number}", f"{plan.name}: fence, day {number}", titles, begins, ends, 12.0
        )
    built = datetime.combine(view.days[-1].date if view.days else view.day.begins_on, time(8), zone)
    for moves in plan.moves:
        for number in range(moves.strips):
            at = built + timedelta(days=1 + number * moves.days)
            words = (
                "Set up the next strip first, then wind up the old one. Move the water too."
                if number
                else "First strip."
            )
            title = f"{moves.name}: strip {number + 1} of {moves.strips}"
            yield CalendarEntry(f"{moves.id}-move-{number + 1}", title, words, at, at + timedelta(hours=1), 2.0)
    if view.job.is_nest:
        for number in range(1, 5):
            at = built + timedelta(days=ROUND_DAYS[0] * number)
            yield CalendarEntry(
                f"nest-round-{number}", "Check the nest from afar", "", at, at + timedelta(minutes=30), 2.0
            )


def crew_sheets_view(begin_transaction: BeginTransaction, opened: OpenPlan) -> dict[str, Any]:
    """The steps and their drawings on paper, and who is on the crew."""
    view = work_view(begin_transaction, opened)
    asked = ViewRequest(opened, begin_transaction)
    own = {"work": view, "drawings": drawings(asked, view), "zone": ZoneInfo(opened.stored.time_zone)}
    return {"stored": opened.stored, "plan": opened.plan, "plan_id": opened.id} | own


def end_sheets_view(opened: OpenPlan) -> dict[str, Any]:
    """A sheet for each end and gate with its drawings, to tick where it stands otherwise than drawn."""
    plan = opened.plan
    rows = [(sheet, [made for name in sheet.drawings if (made := drawing_of(plan, name, sheet.run))])
            for sheet in end_sheets(plan)]  # fmt: skip
    return {"stored": opened.stored, "plan": plan, "plan_id": opened.id, "sheets": rows}
