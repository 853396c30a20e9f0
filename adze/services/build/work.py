"""The work on a plan's fence as it goes: who is there, what is ticked, what may follow, what has changed since."""

import statistics
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from adze.core.ground.lines import length_m, run_of
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.stock import wanted_of
from adze.core.tasks.deadline import InTime, in_time
from adze.core.tasks.job import Job, job_of
from adze.core.tasks.nest import BirdClock, bird_clock, is_kit_key, kit_key, kit_of
from adze.core.tasks.schedule import CrewError, Hand, Schedule, schedule
from adze.core.tasks.steps import MACHINES, Step
from adze.services.answers.forecasts import judgement_of
from adze.services.plans.plans import OpenPlan
from adze.store.build import work
from adze.store.build.work import CrewMember, NewEvent, TaskEvent, WorkDay
from adze.store.connection import BeginTransaction
from adze.store.log.readings import Reading, list_readings

ROLES = {"leader": "leads", "any": "anything", "posts": "driver", "strands": "wire", "insulators": "insulators"}
USUAL_CREW = (
    CrewMember(name="Leader", role="leader", may=tuple(MACHINES)),
    CrewMember(name="Second", role="any", may=tuple(MACHINES)),
)
_USUAL_BEGIN, _USUAL_H = time(8), 8.0
_OLDEST, _AHEAD = timedelta(days=30), timedelta(minutes=5)
WHAT = ("start", "pause", "done", "undone", "note")
_END_NEAR_M = 30.0  # a reading this near the end of a line is its end's
# What rates a phase's minutes come from: taught by the minutes that were taken.
PHASE_RATES = {
    "mark": ("mark_100m", "trim_100m"),
    "ends": ("end_braced", "end_block", "end_concreted", "end_prop", "end_stiff"),
    "posts": ("driven_post", "step_in", "screw_bracket", "tie_down"),
    "insulators": ("insulator",),
    "strands": ("strand_100m", "tie", "netting_roll"),
    "tension": ("strainer",),
    "joints": ("joint",),
    "gates": ("gate", "trench_m", "switch"),
    "earth": ("rod",),
    "signs": ("sign",),
}


class BadWork(ValueError):
    """What cannot be ticked or set; names the field, the limit and the mend."""


@dataclass(frozen=True)
class StepView:
    """A step as it stands: done, running, ready or waiting; by whom and when; what has changed since it was ticked."""

    step: Step
    state: str
    by: str
    at: datetime | None
    waits_for: tuple[str, ...]
    changed: str
    notes: tuple[TaskEvent, ...]
    begins: datetime | None
    ends: datetime | None
    who: tuple[str, ...]
    taken_min: float | None


@dataclass(frozen=True)
class PersonLane:
    """One person's steps of a day, each with its title, phase, and minutes from the day's begin."""

    name: str
    bars: tuple[tuple[str, str, float, float], ...]


@dataclass(frozen=True)
class DayView:
    """A day of the work: its date and lanes, and the holds that end in it, minutes from its begin."""

    date: date
    lanes: tuple[PersonLane, ...]
    holds: tuple[tuple[str, float], ...]


@dataclass(frozen=True)
class WorkView:
    """Everything that Build shows."""

    job: Job
    steps: tuple[StepView, ...]
    plan: Schedule | None
    crew: tuple[CrewMember, ...]
    day: WorkDay
    days: tuple[DayView, ...]
    gone: tuple[TaskEvent, ...]
    fault: str
    clock: BirdClock | None
    learned: Mapping[str, float]
    low: tuple[str, ...]
    ready: InTime | None = None
    kit: frozenset[str] = frozenset()

    @property
    def done(self) -> int:
        """Steps that are ticked."""
        return sum(view.state == "done" for view in self.steps)

    @property
    def next(self) -> tuple[StepView, ...]:
        """What can be done now, what runs first."""
        order = {"running": 0, "ready": 1}
        return tuple(sorted((v for v in self.steps if v.state in order), key=lambda v: order[v.state]))


def work_view(begin_transaction: BeginTransaction, opened: OpenPlan, now: datetime | None = None) -> WorkView:
    """The job of a plan with its crew, days and ticks. Raises Incomplete without a line."""
    now = now or datetime.now(UTC)
    with begin_transaction() as connection:
        own_rates = work.list_rates(connection, farm_id=opened.stored.farm_id)
        crew = work.list_crew(connection, plan_id=opened.id) or USUAL_CREW
        zone = ZoneInfo(opened.stored.time_zone)
        today = now.astimezone(zone).date()
        day = work.get_day(connection, plan_id=opened.id) or WorkDay(
            begins_on=today + timedelta(days=1), begins_at=_USUAL_BEGIN, day_h=_USUAL_H
        )
        events = work.list_task_events(connection, plan_id=opened.id)
        read = list_readings(connection, plan_id=opened.id, most=200)
    job = job_of(opened.plan, own_rates, judgement_of(opened.plan).keeps_out)
    done = {key: event for key, event in latest(events).items() if event.what == "done"}
    people = [Hand(one.name, one.role, frozenset(one.may)) for one in crew]
    try:
        found, fault = schedule(job.steps, people, day.day_h, frozenset(done)), ""
    except CrewError as error:
        found, fault = None, str(error)
    begins = datetime.combine(max(day.begins_on, today), day.begins_at, zone)
    steps = tuple(_seen(job, step, events, done, found, crew, begins) for step in job.steps)
    known = {step.key for step in job.steps}
    things = len(kit_of(opened.plan)) if job.is_nest else 0
    kit = frozenset(key for key in done if is_kit_key(key, things))
    return WorkView(
        job=job,
        steps=steps,
        plan=found,
        crew=crew,
        day=day,
        days=tuple(_days(job, found, crew, begins)) if found else (),
        gone=tuple(event for key, event in done.items() if key not in known | kit),
        fault=fault,
        clock=_clock(events, now) if job.is_nest else None,
        learned=learned(job, events),
        low=low_ends(opened.plan, read, done.get("on")),
        ready=_ready(job, people, day, frozenset(done), begins) if found else None,
        kit=kit if job.is_nest else frozenset(),
    )


def _ready(job: Job, people: Sequence[Hand], day: WorkDay, done: frozenset[str], begins: datetime) -> InTime | None:
    """Whether it stands by when it must, from now or from the day that is set; None where nobody said when."""
    if day.ready_by is None:
        return None
    return in_time(job.steps, tuple(people), day.day_h, done, (begins, day.ready_by.astimezone(begins.tzinfo)))


def latest(events: Iterable[TaskEvent]) -> dict[str, TaskEvent]:
    """The last that counts of each step: notes change nothing."""
    found: dict[str, TaskEvent] = {}
    for event in events:
        if event.what != "note":
            found[event.step] = event
    return {key: event for key, event in found.items() if event.what != "undone"}


_COMMISSIONING = timedelta(hours=36)  # after switching on, where nobody ticked that stock went in


def commissioning(begin_transaction: BeginTransaction, plan_id: int) -> tuple[datetime, datetime] | None:
    """From switching on until stock went in: readings between are the healthy baseline; None before that."""
    with begin_transaction() as connection:
        done = latest(work.list_task_events(connection, plan_id=plan_id))
    on = done.get("on")
    if on is None or on.what != "done":
        return None
    ended = [done[key].at for key in ("wanted", "stock") if key in done and done[key].what == "done"]
    return on.at, max(ended, default=on.at + _COMMISSIONING)


def taken_minutes(events: Sequence[TaskEvent]) -> float | None:
    """Minutes at a step from its starts to its pauses and its end; None where it was ticked without a start."""
    total, since = 0.0, None
    for event in events:
        if event.what == "start":
            since = event.at
        elif event.what in ("pause", "done") and since is not None:
            total += (event.at - since) / timedelta(minutes=1)
            since = None
    return total or None


def learned(job: Job, events: Sequence[TaskEvent]) -> dict[str, float]:
    """How many times as long as planned each phase took, where minutes were taken: the middle one of its steps."""
    by_step: dict[str, list[TaskEvent]] = {}
    for event in events:
        by_step.setdefault(event.step, []).append(event)
    ratios: dict[str, list[float]] = {}
    for step in job.steps:
        own = by_step.get(step.key, [])
        taken = taken_minutes(own) if own and own[-1].what == "done" else None
        if taken and step.minutes and step.phase in PHASE_RATES:
            ratios.setdefault(step.phase, []).append(taken * step.least / step.minutes)
    return {phase: round(statistics.median(rows), 2) for phase, rows in ratios.items()}


def low_ends(plan: Plan, read: Sequence[Reading], on: TaskEvent | None) -> tuple[str, ...]:
    """Why stock may not go in yet: ends of lines that were not read since the unit is on, or that read too little."""
    found = []
    for run in plan.runs:
        wanted = wanted_of(fence_at(plan, run.id).view)
        own = [r for r in read if r.run == run.id and r.at_m >= length_m(run_of(plan, run.id)) - _END_NEAR_M]
        own = [r for r in own if on is not None and r.read_at >= on.at]
        if not own:
            found.append(f"the end of {run.name} is not measured yet")
        elif own[0].kv < wanted:
            found.append(f"the end of {run.name} reads {own[0].kv:.1f} kV, {wanted:.1f} are wanted")
    return tuple(found)


def _clock(events: Sequence[TaskEvent], now: datetime) -> BirdClock | None:
    done = {key: event.at for key, event in latest(events).items() if event.what == "done"}
    return bird_clock(done.get("scan"), done.get("cover"), done.get("uncover"), done.get("watch"), now)


def _seen(
    job: Job,
    step: Step,
    events: Sequence[TaskEvent],
    done: Mapping[str, TaskEvent],
    found: Schedule | None,
    crew: Sequence[CrewMember],
    begins: datetime,
) -> StepView:
    own = [event for event in events if event.step == step.key]
    last = latest(own).get(step.key)
    waits = tuple(title for title in _waits_for(job, step, done))
    state = (
        "done" if step.key in done else "running" if last and last.what == "start" else "waits" if waits else "ready"
    )
    shifts = [shift for shift in found.shifts if shift.step == step.key] if found else []
    ticked = done.get(step.key)
    changed = f"was: {ticked.said}" if ticked and ticked.said and ticked.said != step.said else ""
    return StepView(
        step=step,
        state=state,
        by=last.by_name if last else "",
        at=last.at if last else None,
        waits_for=waits,
        changed=changed,
        notes=tuple(event for event in own if event.note),
        begins=_moment(found, begins, min(s.start for s in shifts)) if found and shifts else None,
        ends=_moment(found, begins, max(s.end for s in shifts), end=True) if found and shifts else None,
        who=tuple(dict.fromkeys(crew[shift.person].name for shift in shifts)),
        taken_min=taken_minutes(own) if ticked else None,
    )


def _waits_for(job: Job, step: Step, done: Mapping[str, TaskEvent]) -> list[str]:
    titles = {one.key: one.title for one in job.steps}
    return [titles[key] for key in step.after if key in titles and key not in done]


def _moment(found: Schedule, begins: datetime, minute: float, *, end: bool = False) -> datetime:
    """A minute of work as a time: the work stops at the end of each day."""
    day = found.day_of(minute - (1e-6 if end and minute else 0))
    return begins + timedelta(days=day, minutes=minute - day * found.day)


def _days(job: Job, found: Schedule, crew: Sequence[CrewMember], begins: datetime) -> Iterable[DayView]:
    steps = {step.key: step for step in job.steps}
    for number in range(found.days):
        low, high = number * found.day, (number + 1) * found.day
        lanes = []
        for person, one in enumerate(crew):
            own = [s for s in found.shifts if s.person == person and s.end > low + 1e-6 and s.start < high - 1e-6]
            bars = tuple(
                (steps[s.step].title, steps[s.step].phase, max(s.start, low) - low, min(s.end, high) - low) for s in own
            )
            lanes.append(PersonLane(one.name, bars))
        ends = ((steps[key].title, end - low) for key, end in found.ends.items() if steps[key].is_hold)
        holds = tuple((title, at) for title, at in ends if 0 < at <= found.day)
        yield DayView((begins + timedelta(days=number)).date(), tuple(lanes), holds)


def tick(begin_transaction: BeginTransaction, opened: OpenPlan, ticked: NewEvent, *, by_account: int) -> WorkView:
    """Start, pause, tick, take back or note a step, of now or of when a phone without signal did it.

    Raises BadWork in words; nothing is kept then.
    """
    step, what, at, now = ticked.step, ticked.what, ticked.at, datetime.now(UTC)
    if at is not None and not now - _OLDEST <= at <= now + _AHEAD:
        raise BadWork(f"Time: {at:%Y-%m-%d %H:%M} is not within the last 30 days; set the phone's clock.")
    view = work_view(begin_transaction, opened)
    own = next((one for one in view.steps if one.step.key == step), None)
    if view.job.is_nest and is_kit_key(step, len(kit_of(opened.plan))) and what in ("done", "undone"):
        with begin_transaction() as connection:
            work.add_task_event(connection, replace(ticked, note=""), plan_id=opened.id, by_account=by_account)
        return work_view(begin_transaction, opened)
    if own is None:
        raise BadWork("The plan was changed meanwhile and no longer has that step. Check the list as it is now.")
    if what not in WHAT:
        raise BadWork(f"what: {what!r} is not known; one of {', '.join(WHAT)}")
    with begin_transaction() as connection:
        if ticked.idempotency_key and work.has_event(
            connection, plan_id=opened.id, idempotency_key=ticked.idempotency_key
        ):
            return view  # sent again, because its answer was lost
        if what in ("done", "start") and own.state == "done":
            when = f"{own.at.astimezone(ZoneInfo(opened.stored.time_zone)):%H:%M}" if own.at else ""
            raise BadWork(f"{own.by} already ticked it at {when}. You can still keep a note.")
        _may(view, own, what)
        if what == "done":
            _kit_is_ticked(view, opened.plan, step)
        kept = replace(ticked, said=own.step.said[:200], note=ticked.note.strip()[:600])
        work.add_task_event(connection, kept, plan_id=opened.id, by_account=by_account)
    return work_view(begin_transaction, opened)


def _may(view: WorkView, own: StepView, what: str) -> None:
    """A step is not done, and not begun, before the holds that stand before it; stock waits for kV. Raises BadWork."""
    if what not in ("done", "start"):
        return
    done = {one.step.key for one in view.steps if one.state == "done"}
    steps = {step.key: step for step in view.job.steps}
    stands = [steps[key].title for key in _before(steps, own.step) if steps[key].is_hold and key not in done]
    if stands:
        raise BadWork(f"{own.step.title} must wait for a hold point: {', '.join(stands[:3])}. Tick that first.")
    if own.step.is_hold and what == "done":
        open_ = [steps[key].title for key in own.step.after if key in steps and key not in done]
        if open_:
            more = f" and {len(open_) - 3} more" if len(open_) > 3 else ""
            raise BadWork(f"{own.step.title}: {', '.join(open_[:3])}{more} come before it.")
        if own.step.key == "wanted" and view.low:
            raise BadWork(f"Not yet: {'; '.join(view.low[:3])}.")


# The steps of a nest's job that need every thing of the kit ticked: which way, and in words.
_TICKED = {"kit": ("out", "packed"), "remove": ("in", "back")}


def _kit_is_ticked(view: WorkView, plan: Plan, key: str) -> None:
    """The kit is packed when all of it is ticked, and the fence is gone when all of it is back. Raises BadWork."""
    if not view.job.is_nest or key not in _TICKED:
        return
    way, words = _TICKED[key]
    left = [thing for n, (thing, _) in enumerate(kit_of(plan)) if kit_key(way, n) not in view.kit]
    if left:
        more = f" and {len(left) - 3} more" if len(left) > 3 else ""
        raise BadWork(f"Not ticked as {words}: {', '.join(left[:3])}{more}. Tick them in the kit's list first.")


def _before(steps: Mapping[str, Step], step: Step) -> list[str]:
    """All steps that lead to one."""
    found, open_ = [], [key for key in step.after if key in steps]
    seen = set(open_)
    while open_:
        key = open_.pop()
        found.append(key)
        for before in steps[key].after:
            if before in steps and before not in seen:
                seen.add(before)
                open_.append(before)
    return found
