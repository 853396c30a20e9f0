"""What Log shows."""

import contextlib
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from adze.core.basics.cache import cached
from adze.core.ground.places import Place, place_words
from adze.core.log.commissioned import baselines
from adze.core.log.level import DayAnswer
from adze.core.log.round import ALONE, stops
from adze.core.log.weather_day import DayState
from adze.core.log.years import SAME_POINT_M, is_one_point
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.core.tables.animals import animal_kinds
from adze.formats.drawings.trend_svg import TrendDay, TrendPoint, days_svg, trend_svg
from adze.services.build.work import commissioning
from adze.services.log.breaches import WAY_WORDS, breaches_told
from adze.services.log.devices import DeviceView, device_views
from adze.services.log.levels import Learned, answer_words, levels_at, seen_by
from adze.services.log.log_book import years_of
from adze.services.log.log_reads import LogReads, log_reads
from adze.services.log.readings import alone_expected, reading_words
from adze.services.log.upkeep import DueView, due_view, expected_row, suspects
from adze.services.log.weather_days import FarmWeather, farm_weather, spell_words, state_words
from adze.services.parts.shed_use import shed_for_mends
from adze.services.pictures.photos import photos_by_thing
from adze.services.plans.plans import OpenPlan
from adze.services.views.base import ViewRequest
from adze.store.connection import BeginTransaction
from adze.store.log.breaches import list_passages
from adze.store.log.readings import Reading, list_between, list_readings

NEWEST = 50
_A_PAGE = 100
_MOST_TRENDS, _YEARS = 12, 4
LEAST_BEFORE = 2  # readings of a point before its own level is worth telling


def log_view(asked: ViewRequest) -> dict[str, Any]:
    """The newest readings against their forecast, what is due, the round, trends, where amps are lost."""
    plan = asked.plan
    with asked.begin_transaction() as connection:
        rows = list_readings(connection, plan_id=asked.opened.id, most=NEWEST + 1, withdrawn=True)
        weather = farm_weather(connection, asked.opened)
        reads = log_reads(connection, plan, asked.opened.id, weather)
        sent = device_views(connection, asked.opened.id)
        through = list_passages(connection, plan_id=asked.opened.id)
    view = due_view(asked.begin_transaction, asked.opened)
    count, learned = reads.rows, reads.learned
    zone = asked.opened.stored.time_zone
    events = tuple((done.done_on, view.titles.get(done.kind, done.kind)) for done in view.done)
    return {
        "readings": [reading_words(plan, row, zone) for row in rows[:NEWEST]],
        "has_older": len(rows) > NEWEST,
        "due": view,
        "photos": photos_by_thing(asked.begin_transaction, asked.opened),
        "shed_rows": shed_for_mends(asked.begin_transaction, asked.opened),
        "farm_id": asked.opened.stored.farm_id,
        "devices": [device_row(plan, row, view, zone) for row in sent],
        "round": round_rows(plan, count, zone, learned, weather.today()),
        "weather": weather_row(weather),
        "learned": learned_words(plan, learned, count, frozenset(row.id for row in rows[:NEWEST])),
        "news": news(plan, learned, count),
        "trends": trends(plan, reads, events, zone),
        "suspects": suspects(plan, count[:NEWEST]),
        "baseline": baseline_rows(plan, count, asked, zone),
        "years": year_rows(plan, reads, zone),
        "through": breaches_told(plan, through),
        "kinds_here": {herd.kind: animal_kinds()[herd.kind].label for herd in plan.stock},
        "ways": WAY_WORDS,
        "run_names": {run.id: run.name for run in plan.runs},
    }


def point_of(rows: list[list[Reading]], row: Reading) -> list[Reading] | None:
    """The point that a reading belongs to: the same line and strand, nearer than 15 m."""
    return next((own for own in rows if is_one_point(own[0], row)), None)


@cached("trends of the log", 24, identity_args=2)
def trends(plan: Plan, reads: LogReads, events: tuple[tuple[date, str], ...], zone: str) -> list[dict[str, str]]:
    """A picture for each point that was read twice or more, the newest first; `events` stand in each."""
    points: list[list[Reading]] = []
    for row in reads.rows:
        own = point_of(points, row)
        if own is None:
            points.append([row])
        else:
            own.append(row)
    runs = {run.id for run in plan.runs}
    found: list[dict[str, str]] = []
    for own in points:
        if len(own) < 2 or own[0].run not in runs or len(found) == _MOST_TRENDS:
            continue
        title = f"{place_words(plan, Place(own[0].run, own[0].at_m))}, strand {own[0].strand}"
        marks = [_mark(plan, row, zone) for row in own]
        found.append({"title": title, "svg": trend_svg(title, marks, events)})
    return found


@cached("years of the log", 24, identity_args=2)
def year_rows(plan: Plan, reads: LogReads, zone: str) -> dict[str, Any] | None:
    """A row for each point that was read in more than one year, and the years; None where there is none."""
    runs = {run.id for run in plan.runs}
    own = [point for point in years_of(reads.rows, zone) if point.change_kv is not None and point.run in runs]
    years = sorted({year for point in own for year, _ in point.years})[-_YEARS:]
    rows = [
        {"where": place_words(plan, Place(p.run, p.at_m)), "strand": p.strand, "by": dict(p.years), "more": p.change_kv}
        for p in own
    ]
    return {"years": years, "rows": rows} if rows else None


def baseline_rows(plan: Plan, read: tuple[Reading, ...], asked: ViewRequest, zone: str) -> list[dict[str, Any]]:
    """Each point as it was commissioned and as it was read last; nothing before the unit was switched on."""
    span = commissioning(asked.begin_transaction, asked.opened.id)
    if span is None:
        return []
    with asked.begin_transaction() as connection:
        then = list_between(connection, plan_id=asked.opened.id, begun=span[0], ended=span[1])
    # The newest readings may not reach back so far.
    every = sorted({row.id: row for row in (*read, *then)}.values(), key=lambda row: row.read_at, reverse=True)
    runs, local = {run.id for run in plan.runs}, ZoneInfo(zone)
    found = []
    for row in baselines(every, *span):
        if row.run not in runs and row.run not in ALONE:
            continue
        place = ALONE.get(row.run) or f"{place_words(plan, Place(row.run, row.at_m))}, strand {row.strand}"
        now_at = row.now_at.astimezone(local) if row.now_at else None
        found.append({"where": place, "row": row, "at": row.at.astimezone(local), "now_at": now_at})
    return found


def _mark(plan: Plan, row: Reading, zone: str) -> TrendPoint:
    is_well = reading_words(plan, row, zone).status in ("holds", "unknown")
    return TrendPoint(row.read_at, row.kv, row.forecast_low_kv, row.forecast_high_kv, is_well)


def learned_words(
    plan: Plan, learned: Learned | None, read: tuple[Reading, ...], shown: frozenset[int]
) -> dict[int, str]:
    """What a reading that is shown says beside what its point has shown: enough, or something new."""
    if learned is None:
        return {}
    rows = {row.id: row for row in read}
    return {
        key: answer_words(plan, row, rows)
        for key, row in learned.rows.items()
        if key in shown and (row.before >= LEAST_BEFORE or row.answer in (DayAnswer.NEW, DayAnswer.GROWTH))
    }


def news(plan: Plan, learned: Learned | None, read: tuple[Reading, ...]) -> dict[str, Any] | None:
    """What the newest walk brings that is new: words, and whether a search is worth it; None where all is as before."""
    if learned is None:
        return None
    rows = {row.id: row for row in read}
    for answer in (DayAnswer.NEW, DayAnswer.GROWTH):
        own = [learned.rows[r.key] for r in learned.walk if learned.rows[r.key].answer is answer]
        if own:
            worst = min(own, key=lambda row: row.spreads_off)
            return {"words": answer_words(plan, worst, rows), "trace": answer is DayAnswer.NEW}
    if learned.is_alarm:
        return {
            "words": "The whole of the newest walk differs from earlier readings of its points. Read them again.",
            "trace": True,
        }
    return None


def weather_row(weather: FarmWeather) -> dict[str, Any]:
    """How the day stands by the weather record, and the spell it is."""
    state = weather.today()
    return {"words": state_words(state) if state else "", "spell": spell_words(weather), "days": len(weather.days)}


def round_rows(
    plan: Plan, read: tuple[Reading, ...], zone: str, learned: Learned | None, state: DayState | None
) -> list[dict[str, Any]]:
    """The stops of a round with what is expected in a usual week and on the day, and what was read last."""
    found, walked = [], stops(plan)
    of_run: dict[str, list[Reading]] = {}
    for reading in read:
        of_run.setdefault(reading.run, []).append(reading)
    levels = levels_at(plan, learned, tuple(stop.place for stop in walked if stop.place), state) if learned else {}
    for stop in walked:
        row: dict[str, Any] = {"stop": stop, "expected": None, "last": None, "level": None}
        row["alone"] = next((key for key, name in ALONE.items() if name == stop.name), "")
        if row["alone"]:
            with contextlib.suppress(Incomplete):
                row["expected"] = vars(alone_expected(plan))
            last = next(iter(of_run.get(row["alone"], ())), None)
            row["last"] = reading_words(plan, last, zone) if last else None
        if stop.place is not None:
            row["expected"] = expected_row(plan, Season.USUAL, stop.place, 1)
            row["level"] = levels.get(stop.place)
            own, at_m = of_run.get(stop.place.run, ()), stop.place.at_m
            last = next((r for r in own if abs(r.at_m - at_m) < SAME_POINT_M), None)
            row["last"] = reading_words(plan, last, zone) if last else None
        found.append(row)
    return found


def readings_view(begin_transaction: BeginTransaction, opened: OpenPlan, page: int) -> dict[str, Any]:
    """A page of a plan's readings, newest first, and whether there are older ones."""
    page = max(1, page)
    with begin_transaction() as connection:
        rows = list_readings(connection, plan_id=opened.id, most=_A_PAGE + 1, skip=_A_PAGE * (page - 1), withdrawn=True)
    words = [reading_words(opened.plan, row, opened.stored.time_zone) for row in rows[:_A_PAGE]]
    return {"readings": words, "page_number": page, "has_more": len(rows) > _A_PAGE}


def device_row(plan: Plan, row: DeviceView, view: DueView, zone: str) -> dict[str, Any]:
    """A device as the page shows it."""
    device, runs = row.device, {run.id for run in plan.runs}
    where = "at the unit"
    if device.run:
        where = place_words(plan, Place(device.run, device.at_m)) if device.run in runs else "a line since removed"
    days = [TrendDay(d.day.date(), d.low_kv, d.kv, d.high_kv) for d in row.days]
    events = [(done.done_on, view.titles.get(done.kind, done.kind)) for done in view.done]
    local = ZoneInfo(zone)
    return {
        "device": device,
        "where": where,
        "last": row.last,
        "last_at": row.last.at.astimezone(local) if row.last else None,
        "going": [(words, since.astimezone(local)) for words, since in row.going],
        "past": [(words, since.astimezone(local)) for words, since in row.past][:6],
        "svg": days_svg(device.name, days, device.alarm_kv, events) if days else "",
    }


def seen_view(plan: Plan) -> dict[str, Any]:
    """What a round of the plan's points tells by itself, by line. Raises Incomplete, NetworkError."""
    points = tuple(stop.place for stop in stops(plan) if stop.place is not None)
    names = {run.id: run.name for run in plan.runs}
    rows = [(names[row.run], row.ohm) for row in seen_by(plan, points)]
    return {"seen": rows, "points": len(points)}
