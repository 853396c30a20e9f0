"""A plan's work as JSON and as a calendar, for a crew that is a number of people."""

import json
from datetime import date, datetime, time, timedelta

from adze.core.plan.document import Plan
from adze.core.tasks.job import job_of
from adze.core.tasks.schedule import CrewError, Hand, Schedule, schedule
from adze.core.tasks.steps import Step
from adze.core.verdict.judge import judge
from adze.formats.work.work_calendar import CalendarEntry, work_calendar

_BEGINS = time(8)


def _planned(plan: Plan, people: int, hours: float) -> tuple[tuple[Step, ...], Schedule]:
    if people < 1:
        raise CrewError(f"--people {people}: give one or more.")
    crew = [Hand("Leader", "leader"), *(Hand(f"Person {n}") for n in range(2, people + 1))]
    steps = job_of(plan, to_fix=judge(plan).keeps_out).steps
    return steps, schedule(steps, crew, hours)


def _at(found: Schedule, on: date, minute: float, *, end: bool = False) -> datetime:
    day = found.day_of(minute - (1e-6 if end and minute else 0))
    return datetime.combine(on, _BEGINS) + timedelta(days=day, minutes=minute - day * found.day)


def work_plan_json(plan: Plan, people: int, on: date, hours: float) -> str:
    """Steps with what they take, who is at them and when. Raises CrewError, Incomplete."""
    steps, found = _planned(plan, people, hours)
    rows = []
    for step in steps:
        own = [shift for shift in found.shifts if shift.step == step.key]
        begins = min((shift.start for shift in own), default=found.ends[step.key])
        rows.append(
            {
                "step": step.key,
                "phase": step.phase,
                "title": step.title,
                "amount": step.amount,
                "how": list(step.how),
                "minutes": step.minutes,
                "people": sorted({shift.person + 1 for shift in own}),
                "after": list(step.after),
                "hold": step.is_hold,
                "begins": _at(found, on, begins).strftime("%Y-%m-%dT%H:%M"),
                "ends": _at(found, on, found.ends[step.key], end=True).strftime("%Y-%m-%dT%H:%M"),
                "parts": [{"part": label, "need": need, "unit": unit} for label, need, unit in step.parts],
            }
        )
    summary = {
        "days": found.days,
        "minutes": round(found.length, 1),
        "bound_minutes": round(found.bound, 1),
        "work_minutes": round(sum(step.minutes for step in steps), 1),
    }
    return json.dumps(summary | {"steps": rows}, indent=1)


def work_plan_ics(plan: Plan, people: int, on: date, hours: float) -> str:
    """The days of the work as a calendar. Raises CrewError, Incomplete."""
    steps, found = _planned(plan, people, hours)
    titles = {step.key: step.title for step in steps}
    entries = []
    for number in range(found.days):
        low, high = number * found.day, (number + 1) * found.day
        own = [s for s in found.shifts if s.end > low + 1e-6 and s.start < high - 1e-6]
        if own:
            begins = datetime.combine(on, _BEGINS) + timedelta(days=number)
            ends = begins + timedelta(minutes=min(max(s.end for s in own), high) - low)
            words = ", ".join(dict.fromkeys(titles[shift.step] for shift in own))
            entries.append(
                CalendarEntry(f"{plan.name}-day-{number + 1}", f"Fence, day {number + 1}", words, begins, ends)
            )
    return work_calendar(plan.name, entries)
