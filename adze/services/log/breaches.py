"""What got through the fence: noted as typed, told with what speaks for it."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from adze.core.animals.strand_rules import Role
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place, place_words
from adze.core.log.breaches import READ_WITHIN_DAYS, Breach, BreachCause, BreachWay, ReadThen, causes_of
from adze.core.plan.document import Plan
from adze.core.tables.animals import animal_kinds
from adze.services.log.readings import ReadingError, number, role_of
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log import breaches
from adze.store.log.breaches import BreachRow, NewBreach
from adze.store.log.readings import list_readings

WAY_WORDS = {
    BreachWay.THROUGH: "between strands",
    BreachWay.UNDER: "under",
    BreachWay.OVER: "over the top",
    BreachWay.GATE: "by a gate",
    BreachWay.UNSEEN: "nobody saw how",
}
_MOST_READINGS = 1000


@dataclass(frozen=True)
class BreachTold:
    """One of them in words: who, how, where, when, the note and who noted it."""

    id: int
    who: str
    way: str
    where: str
    on_day: date
    note: str
    by_name: str
    is_placed: bool


def note_passage(begin_transaction: BeginTransaction, opened: OpenPlan, typed: dict[str, str], by: int) -> None:
    """Something got through, as typed: kind, count, way, run, at_m, on, note. Raises ReadingError naming the field."""
    plan, today = opened.plan, datetime.now(UTC).astimezone(ZoneInfo(opened.stored.time_zone)).date()
    if typed["kind"] not in {herd.kind for herd in plan.stock}:
        raise ReadingError("kind", "Who: choose an animal of this plan; add it at Animals if it is missing.")
    runs = {run.id: run for run in plan.runs}
    if typed["run"] not in runs:
        raise ReadingError("run", "Line: choose a line of this plan.")
    at_m = number(typed["at_m"], "at_m", "Metres out", length_m(runs[typed["run"]]))
    count = number(typed["count"], "count", "How many", 10_000)
    if count < 1 or count != int(count):
        raise ReadingError("count", f"How many: {typed['count'][:20]!r}; a whole number from 1 to 10,000.")
    if typed["way"] not in set(BreachWay):
        raise ReadingError("way", "How: choose one of the list.")
    try:
        day = date.fromisoformat(typed["on"]) if typed["on"].strip() else today
    except ValueError:
        raise ReadingError("on", f"Day: {typed['on'][:20]!r} is not a date such as 2027-05-12.") from None
    if day > today:
        raise ReadingError("on", f"Day: {day} is in the future; give the day on which it happened.")
    note = typed["note"].strip()
    if len(note) > 300:
        raise ReadingError("note", "Note: at most 300 characters.")
    row = NewBreach(
        kind=typed["kind"], count=int(count), way=typed["way"], run=typed["run"], at_m=at_m, on_day=day, note=note
    )
    with begin_transaction() as connection:
        breaches.add_passage(connection, plan_id=opened.id, passage=row, by_account=by)


def breaches_told(plan: Plan, rows: tuple[BreachRow, ...]) -> tuple[BreachTold, ...]:
    """All of them in words, newest first."""
    runs = {run.id for run in plan.runs}
    found = []
    for row in rows:
        kind = animal_kinds().get(row.kind)
        who = row.kind if kind is None else f"{row.count} {kind.plural}" if row.count > 1 else kind.label
        is_placed = row.run in runs
        where = place_words(plan, Place(row.run, row.at_m)) if is_placed else "a line since removed"
        way = WAY_WORDS[BreachWay(row.way)]
        found.append(BreachTold(row.id, who, way, where, row.on_day, row.note, row.by_name, is_placed))
    return tuple(found)


def why_through(begin_transaction: BeginTransaction, opened: OpenPlan, passage_id: int) -> tuple[BreachCause, ...]:
    """What speaks for one of them, as the plan is now. Raises LookupError where there is none of that number."""
    with begin_transaction() as connection:
        row = breaches.get_passage(connection, plan_id=opened.id, passage_id=passage_id)
        read = list_readings(connection, plan_id=opened.id, most=_MOST_READINGS) if row else ()
    if row is None or row.run not in {run.id for run in opened.plan.runs}:
        raise LookupError("That is no longer in the log, or its line is no longer in the plan.")
    zone, first = ZoneInfo(opened.stored.time_zone), row.on_day - timedelta(days=READ_WITHIN_DAYS)
    own = [one for one in read if one.run == row.run and role_of(opened.plan, one) is Role.LIVE]
    days = [(one, one.read_at.astimezone(zone).date()) for one in own]
    then = [ReadThen(one.kv, one.at_m, day, one.is_over) for one, day in days if first <= day <= row.on_day]
    return causes_of(opened.plan, Breach(row.kind, BreachWay(row.way), Place(row.run, row.at_m), row.on_day), then)
