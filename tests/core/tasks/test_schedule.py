"""Schedules of random plans: nothing before what it needs, nobody in two places, near the bound."""

import itertools
import random

import pytest

from adze.core.tasks.job import Job, job_of
from adze.core.tasks.schedule import CrewError, Hand, Schedule, schedule
from adze.core.tasks.steps import MACHINES, Step
from tests.core.build.test_parts import drawn

LEADER = Hand("Ann", "leader")


def crew(rng: random.Random, many: int) -> list[Hand]:
    roles = ("any", "posts", "strands", "insulators")
    return [LEADER, *(Hand(f"P{n}", rng.choice(roles), some(rng)) for n in range(many - 1))]


def some(rng: random.Random) -> frozenset[str]:
    return frozenset(machine for machine in MACHINES if rng.random() < 0.5)


def check(job: Job, found: Schedule, people: list[Hand]) -> None:
    steps = {step.key: step for step in job.steps}
    begins = dict(found.ends.items())
    for shift in found.shifts:
        begins[shift.step] = min(begins[shift.step], shift.start)
    for step in job.steps:
        for before in step.after:
            end = found.ends[before]
            assert begins[step.key] >= end - 1e-6, (step.key, before)
            nights = steps[before].rests_days
            if nights and step.minutes:
                assert found.day_of(begins[step.key]) >= found.day_of(end - 1e-6) + nights, (step.key, before)
    for person in range(len(people)):
        own = sorted((s.start, s.end) for s in found.shifts if s.person == person)
        assert all(a[1] <= b[0] + 1e-6 for a, b in itertools.pairwise(own))
    for step in job.steps:
        own_shifts = [s for s in found.shifts if s.step == step.key]
        assert sum(s.end - s.start for s in own_shifts) == pytest.approx(step.minutes, abs=0.01)
        if step.machine and step.minutes:
            assert any(step.machine in people[s.person].may for s in own_shifts)


@pytest.mark.parametrize("seed", range(300))
def test_a_random_plan_s_schedule_holds_and_comes_near_the_bound(seed: int) -> None:
    rng = random.Random(seed)
    plan = drawn(rng)
    kind = rng.choice(["", "", "concreted", "block"])
    plan = plan.model_copy(update={"end_kind": kind}) if kind else plan
    job, people = job_of(plan), crew(rng, rng.randint(1, 4))
    found = schedule(job.steps, people, rng.choice([6.0, 8.0, 10.0]))
    check(job, found, people)
    assert found.bound <= found.length + 1e-6
    assert found.length <= 1.15 * found.bound


def test_what_is_done_is_not_planned_again() -> None:
    job = job_of(drawn(random.Random(1)))
    done = frozenset(step.key for step in job.steps if step.phase in ("mark", "services"))
    found = schedule(job.steps, [LEADER], done=done)
    assert not done & set(found.ends)
    assert found.length == pytest.approx(sum(s.minutes for s in job.steps if s.key not in done), abs=0.01)


@pytest.mark.parametrize(
    ("people", "hours", "words"),
    [
        ([], 8.0, "nobody is named"),
        ([Hand("Bo")], 8.0, "nobody leads"),
        ([LEADER], 30.0, "30; give 1 to 16"),
        ([LEADER], 0.5, "give 1 to 16"),
        ([Hand("Ann", "leader", frozenset())], 8.0, "nobody may use the driver"),
        ([Hand("Ann", "leader", frozenset({"auger", "digger", "hammer"}))], 8.0, "may use the driver; name who"),
        ([LEADER] * 13, 8.0, "at most 12"),
    ],
)
def test_a_crew_that_cannot_work_is_told_what_is_missing(people: list[Hand], hours: float, words: str) -> None:
    with pytest.raises(CrewError, match=words):
        schedule(job_of(drawn(random.Random(1))).steps, people, hours)


def test_steps_that_wait_for_each_other_are_refused() -> None:
    ring = [Step("a", "ends", "A", "", (), 5, ("b",)), Step("b", "ends", "B", "", (), 5, ("a",))]
    with pytest.raises(ValueError, match="in a ring: a, b"):
        schedule(ring, [LEADER])


def test_concrete_stands_overnight() -> None:
    steps = [
        Step("hole", "ends", "Hole", "", (), 60, rests_days=1),
        Step("wire", "strands", "Wire", "", (), 60, ("hole",)),
    ]
    found = schedule(steps, [LEADER], 8)
    assert (found.ends["hole"], found.ends["wire"], found.days) == (60, 480 + 60, 2)
    assert found.length == found.bound


def test_two_share_what_has_room() -> None:
    steps = [Step("posts", "posts", "Posts", "", (), 100, most=4)]
    found = schedule(steps, [LEADER, Hand("Bo")])
    assert found.length == found.bound == 50
