"""What is due on a plan's fence, what was done and noted, and readings put right."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime
from typing import Any
from zoneinfo import ZoneInfo

from adze.core.ground.places import Place, place_words
from adze.core.log.between import AmpsRead, Between, between
from adze.core.log.due import Due, due, upkeep_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.services.answers.forecasts import amps_at
from adze.services.log.readings import Entry, ReadingError, expected_of, number
from adze.services.log.weather_days import farm_weather, last_storm
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log import earth_tests, readings, upkeep
from adze.store.log.readings import NewReading, Reading

STORM = "storm_passed"
_TITLES = {STORM: "A storm passed"}


@dataclass(frozen=True)
class DueView:
    """What falls due, what was done, what is to be mended later."""

    due: tuple[Due, ...]
    done: tuple[upkeep.UpkeepDone, ...]
    defects: tuple[tuple[upkeep.Defect, str], ...]
    titles: dict[str, str]
    today: date


def due_view(begin_transaction: BeginTransaction, opened: OpenPlan, today: date | None = None) -> DueView:
    """The due list of a plan, in the farm's own day."""
    zone = ZoneInfo(opened.stored.time_zone)
    today = today or datetime.now(UTC).astimezone(zone).date()
    with begin_transaction() as connection:
        last = upkeep.list_last(connection, plan_id=opened.id)
        done = upkeep.list_upkeep(connection, plan_id=opened.id)
        open_ = upkeep.list_defects(connection, plan_id=opened.id)
        read = readings.list_readings(connection, plan_id=opened.id, most=1)
        weather = farm_weather(connection, opened)
        tested = earth_tests.list_earth_tests(connection, plan_id=opened.id)
    if read:
        last["kv"] = max(last.get("kv", date.min), read[0].read_at.astimezone(zone).date())
    for test in tested:
        key = f"earth_{test.season}"
        last[key] = max(last.get(key, date.min), test.read_on)
    plan = opened.plan
    rows = due(plan, last, today, storm=max(filter(None, (last.get(STORM), last_storm(weather))), default=None))
    runs = {run.id for run in plan.runs}
    named = tuple(
        (row, place_words(plan, Place(row.run, row.at_m)) if row.run in runs else "a line since removed")
        for row in open_
    )
    titles = {row.key: row.title for row in upkeep_of(plan)} | _TITLES
    return DueView(rows, done, named, titles, today)


def mark_done(begin_transaction: BeginTransaction, opened: OpenPlan, kind: str, on: str, note: str, by: int) -> None:
    """Upkeep done on a day, as typed. Raises ReadingError naming the field."""
    if kind not in {row.key for row in upkeep_of(opened.plan)} | {STORM}:
        raise ReadingError("kind", f"Upkeep: {kind[:40]!r} is not needed for this fence.")
    today = datetime.now(UTC).astimezone(ZoneInfo(opened.stored.time_zone)).date()
    try:
        day = date.fromisoformat(on) if on.strip() else today
    except ValueError:
        raise ReadingError("on", f"Day: {on[:20]!r} is not a date such as 2027-05-12.") from None
    if day > today:
        raise ReadingError("on", f"Day: {day} is in the future; give the day on which it was done.")
    if len(note) > 300:
        raise ReadingError("note", "Note: at most 300 characters.")
    with begin_transaction() as connection:
        upkeep.add_upkeep(connection, plan_id=opened.id, kind=kind, done_on=day, note=note.strip(), by_account=by)


def withdraw(begin_transaction: BeginTransaction, opened: OpenPlan, reading_id: int, why: str) -> None:
    """A reading that was wrong counts no more, with the reason. Raises ReadingError."""
    if not 0 < len(why.strip()) <= 200:
        raise ReadingError("why", "Why: describe in up to 200 characters what was wrong.")
    with begin_transaction() as connection:
        gone = readings.withdraw_reading(connection, plan_id=opened.id, reading_id=reading_id, why=why.strip())
    if not gone:
        raise ReadingError("why", "That reading was set aside already. Check the list as it is now.")


def correct(
    begin_transaction: BeginTransaction, opened: OpenPlan, reading_id: int, kv: str, amps: str, by: int
) -> None:
    """A reading put right: the old one is kept, struck out, and the new one stands at its time. Raises ReadingError."""
    with begin_transaction() as connection:
        old = readings.get_reading(connection, plan_id=opened.id, reading_id=reading_id)
        if old is None:
            raise ReadingError("kv", "That reading was set aside already. Check the list as it is now.")
        typed = Entry(old.run, old.at_m, old.strand, kv, amps, old.outward, Season(old.season), old.note)
        value, is_over = typed.read_kv()
        new = NewReading(**{name: getattr(old, name) for name in NewReading.__dataclass_fields__})
        read_a = number(amps, "amps", "Amps", 500) if amps.strip() else None
        new = replace(new, kv=value, is_over=is_over, amps=read_a, corrects=old.id)
        if read_a is not None and new.outward is None:
            new = replace(new, outward=True)
        readings.withdraw_reading(connection, plan_id=opened.id, reading_id=reading_id, why="corrected")
        readings.add_reading(connection, new, plan_id=opened.id, read_by=by, read_at=old.read_at)


def suspects(plan: Plan, read: Sequence[Reading]) -> list[tuple[Between, str]]:
    """Stretches between readings of one walk on which amps are lost, in words."""
    rows = []
    runs = {run.id: run.name for run in plan.runs}
    for row in read:
        if row.amps is None or not row.outward or row.run not in runs:
            continue
        try:
            forecast = amps_at(plan, Season(row.season), Place(row.run, row.at_m))
        except (Incomplete, ValueError, KeyError):
            continue
        rows.append(AmpsRead(row.run, row.at_m, row.amps, forecast, row.read_at))
    return [(found, runs[found.run]) for found in between(rows)]


def expected_row(plan: Plan, season: Season, place: Place, strand: int) -> dict[str, Any] | None:
    """What a tester should show at a stop of a round; None where nothing can be computed."""
    try:
        found = expected_of(plan, season, place, strand)
    except (Incomplete, KeyError):
        return None
    return {"low": found.low, "likely": found.likely, "high": found.high}
