"""Who is on the crew, when the day begins and how long things take, as the farmer types it."""

import re
from collections.abc import Mapping, Sequence
from datetime import date, datetime, time
from typing import Any
from zoneinfo import ZoneInfo

from adze.core.tables.rates import rates
from adze.core.tasks.deadline import READY_FOR
from adze.core.tasks.schedule import CrewError, Hand, schedule
from adze.core.tasks.steps import MACHINES
from adze.services.build.work import PHASE_RATES, ROLES, BadWork, work_view
from adze.services.plans.plans import OpenPlan
from adze.store.build import work
from adze.store.build.work import CrewMember, WorkDay
from adze.store.connection import BeginTransaction

_EARLIEST, _LATEST = 2000, 2100  # years


def set_crew(begin_transaction: BeginTransaction, opened: OpenPlan, rows: Sequence[Mapping[str, Any]]) -> None:
    """The crew as it was typed. Raises BadWork."""
    crew = []
    for number, row in enumerate(rows, 1):
        name = str(row.get("name", "")).strip()
        if not name:
            raise BadWork(f"Crew, row {number}: give a name, or take the row off.")
        role = str(row.get("role", "any"))
        if role not in ROLES:
            raise BadWork(f"Crew, row {number}, role: {role!r} is not known; one of {', '.join(ROLES)}.")
        crew.append(CrewMember(name=name[:60], role=role, may=_may(row.get("may", ()), number)))
    try:
        schedule((), [Hand(one.name, one.role, frozenset(one.may)) for one in crew])
    except CrewError as error:
        raise BadWork(str(error)) from None
    with begin_transaction() as connection:
        work.set_crew(connection, crew, plan_id=opened.id)


def _may(named: Any, number: int) -> tuple[str, ...]:
    """The machines that a row of the crew names, in their order. Raises BadWork."""
    rows = [str(one) for one in named] if isinstance(named, (list, tuple)) else [str(named)]
    unknown = [one for one in rows if one not in MACHINES]
    if unknown:
        raise BadWork(f"Crew, row {number}, machines: {unknown[0]!r} is not known; one of {', '.join(MACHINES)}.")
    return tuple(key for key in MACHINES if key in rows)


def set_day(
    begin_transaction: BeginTransaction,
    opened: OpenPlan,
    begins_on: str,
    begins_at: str,
    day_h: str,
    ready: tuple[str, str],
) -> None:
    """When the work begins and by when it must stand, for whom, as typed. Raises BadWork naming the field."""
    try:
        on = date.fromisoformat(begins_on)
    except ValueError:
        raise BadWork(f"First day: {begins_on!r} is not a date such as 2027-05-12.") from None
    if not re.fullmatch(r"[0-2]?\d:[0-5]\d", begins_at):
        raise BadWork(f"Begin: {begins_at!r} is not a time such as 08:00.")
    try:
        hours = float(day_h.replace(",", "."))
    except ValueError:
        raise BadWork(f"Hours of a day: {day_h!r} is not a number; write it as 8.") from None
    if not 1 <= hours <= 16:
        raise BadWork(f"Hours of a day: {hours:g} is not from 1 to 16; plan a second day for the rest.")
    hour, minute = (int(part) for part in begins_at.split(":"))
    if hour > 23:
        raise BadWork(f"Begin: {begins_at!r} is not a time such as 08:00.")
    by, why = _ready_by(*ready, ZoneInfo(opened.stored.time_zone))
    with begin_transaction() as connection:
        day = WorkDay(begins_on=on, begins_at=time(hour, minute), day_h=hours, ready_by=by, ready_for=why)
        work.set_day(connection, day, plan_id=opened.id)


def _ready_by(text: str, why: str, zone: ZoneInfo) -> tuple[datetime | None, str]:
    if not text.strip():
        return None, ""
    try:
        by = datetime.fromisoformat(text.strip())
    except ValueError:
        raise BadWork(f"Must be ready by: {text!r} is not a time such as 2027-05-14T08:00.") from None
    if not _EARLIEST <= by.year <= _LATEST:
        raise BadWork(f"Must be ready by: {by.year} is not from {_EARLIEST} to {_LATEST}; look at the year.")
    if why not in READY_FOR:
        raise BadWork(f"Must be ready by: {why!r} is not known; one of {', '.join(READY_FOR)}.")
    return by.replace(tzinfo=by.tzinfo or zone), why


def set_rate(begin_transaction: BeginTransaction, opened: OpenPlan, kind: str, minutes: str) -> None:
    """A farm's own minutes, as typed; nothing typed: the usual ones. Raises BadWork naming the rate."""
    known = rates()
    if kind not in known:
        raise BadWork(f"Rate: {kind!r} is not known.")
    value: float | None = None
    if minutes.strip():
        try:
            value = float(minutes.replace(",", "."))
        except ValueError:
            raise BadWork(f"{known[kind].label}: {minutes!r} is not a number of minutes.") from None
        if not 0 < value <= 1000:
            raise BadWork(f"{known[kind].label}: {value:g} minutes: give more than 0 and at most 1000.")
    with begin_transaction() as connection:
        work.set_rate(connection, farm_id=opened.stored.farm_id, kind=kind, minutes=value)


def take_learned(begin_transaction: BeginTransaction, opened: OpenPlan, phase: str) -> None:
    """Rates of a phase as the minutes taken teach them. Raises BadWork where nothing was learned."""
    view = work_view(begin_transaction, opened)
    ratio = view.learned.get(phase)
    if ratio is None:
        raise BadWork("No minutes were recorded for that yet. Start a step and tick it when it is done.")
    with begin_transaction() as connection:
        own = work.list_rates(connection, farm_id=opened.stored.farm_id)
        for kind in PHASE_RATES[phase]:
            now = own.get(kind, rates()[kind].minutes)
            minutes = min(1000.0, max(0.1, round(now * ratio, 2)))
            work.set_rate(connection, farm_id=opened.stored.farm_id, kind=kind, minutes=minutes)
