"""Who does what when: steps laid over a crew and its days, with the bound that no plan of the day can beat.

List scheduling by longest remaining path, people moved at each end of a step; a step that several can share takes all
who are free. Source: R. L. Graham, Bounds on multiprocessing timing anomalies, 1969 (the heuristic and the bound).
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from adze.core.tasks.steps import MACHINES, Step

LONGEST_DAY_H = 16.0
MOST_PEOPLE = 12


class CrewError(ValueError):
    """A crew or a day with which nothing can be planned; says what to give."""


@dataclass(frozen=True)
class Hand:
    """Somebody of the crew: a name, what they do, which machines they may use."""

    name: str
    role: str = "any"
    may: frozenset[str] = frozenset(MACHINES)


@dataclass(frozen=True)
class Shift:
    """A person at a step, minutes of work from the start of the job."""

    step: str
    person: int
    start: float
    end: float


@dataclass(frozen=True)
class Schedule:
    """Shifts in order, when each step ends, how long the whole takes and the bound, minutes; minutes of a day."""

    shifts: tuple[Shift, ...]
    ends: Mapping[str, float]
    length: float
    bound: float
    day: float

    @property
    def worked(self) -> float:
        """All work that is left, minutes for one person."""
        return sum(shift.end - shift.start for shift in self.shifts)

    @property
    def days(self) -> int:
        """Days that the work takes."""
        return max(1, math.ceil(self.length / self.day - 1e-9))

    def day_of(self, minute: float) -> int:
        """The day of a minute of work, from 0."""
        return int(minute / self.day + 1e-9)


def _checked(crew: Sequence[Hand], day_h: float, steps: Sequence[Step]) -> None:
    if not crew:
        raise CrewError("Crew: nobody is named; name one person or more.")
    if len(crew) > MOST_PEOPLE:
        raise CrewError(f"Crew: {len(crew)} people; at most {MOST_PEOPLE} are planned, make two jobs of it.")
    if not 1 <= day_h <= LONGEST_DAY_H:
        raise CrewError(f"Hours of a day: {day_h:g}; give 1 to {LONGEST_DAY_H:g}.")
    known = frozenset[str]().union(*(person.may for person in crew))
    unmanned = [words for key, words in MACHINES.items() if key not in known and any(s.machine == key for s in steps)]
    if unmanned:
        raise CrewError(f"Crew: nobody may use the {' or the '.join(unmanned)}; name who may.")
    if not any(p.role == "leader" for p in crew):
        raise CrewError("Crew: nobody leads; name one who knows all the jobs as leader.")


def _next_day(minute: float, day: float) -> float:
    return (math.floor(minute / day + 1e-9) + 1) * day if minute % day > 1e-9 else minute


def _over_nights(step: Step, end: float, day: float) -> float:
    """When what follows a step that ends at a minute may begin: after its nights of rest."""
    return _next_day(end, day) + (step.rests_days - 1) * day if step.rests_days else end


def schedule(
    steps: Sequence[Step], crew: Sequence[Hand], day_h: float = 8.0, done: frozenset[str] = frozenset()
) -> Schedule:
    """The steps that are left, laid over the crew. Raises CrewError; ValueError for steps that wait for each other."""
    left = {step.key: step for step in steps if step.key not in done}
    _checked(crew, day_h, tuple(left.values()))
    day, order = 60.0 * day_h, _ordered(left)
    tail = _tails(left, order, day)
    # What follows a step decides where many wait for one machine; the whole way where they wait for hands.
    behind = {key: tail[key] - left[key].minutes / left[key].most for key in left}
    tries = (_run(left, order, ways, crew, day) for ways in (tail, behind))
    ends, shifts = min(tries, key=lambda found: max(found[0].values(), default=0.0))
    length = max(ends.values(), default=0.0)
    return Schedule(tuple(shifts), ends, length, _bound(left, order, crew, day), day)


def _ordered(left: Mapping[str, Step]) -> list[str]:
    waits = {key: {k for k in step.after if k in left} for key, step in left.items()}
    order: list[str] = []
    ready = [key for key in left if not waits[key]]
    followers: dict[str, list[str]] = {key: [] for key in left}
    for key, before in waits.items():
        for one in before:
            followers[one].append(key)
    while ready:
        key = ready.pop(0)
        order.append(key)
        for nxt in followers[key]:
            waits[nxt].discard(key)
            if not waits[nxt]:
                ready.append(nxt)
    if len(order) < len(left):
        stuck = ", ".join(sorted(set(left) - set(order))[:3])
        raise ValueError(f"steps wait for each other in a ring: {stuck}")
    return order


def _shortest(step: Step, people: int) -> float:
    return step.minutes / max(1, min(step.most, people)) if step.minutes else 0.0


def _tails(left: Mapping[str, Step], order: list[str], day: float) -> dict[str, float]:
    """Longest path from each step to the end, minutes; a night's rest counts as a day."""
    tail = dict.fromkeys(left, 0.0)
    for key in reversed(order):
        tail[key] += left[key].minutes / left[key].most
        for before in left[key].after:
            if before in left:
                tail[before] = max(tail[before], tail[key] + left[before].rests_days * day)
    return tail


def _bound(left: Mapping[str, Step], order: list[str], crew: Sequence[Hand], day: float) -> float:
    """The shortest possible: chains with their nights, and the work that cannot begin before some minute, by people.

    Steps that all pass part the job: nothing behind such a hold overlaps what is before it. Work with a machine is
    shared by those who may use it.
    """
    ends: dict[str, float] = {}
    floor, passed = 0.0, set[str]()
    part: list[tuple[float, Step]] = []
    for key in order:
        step = left[key]
        begins = floor
        for before in step.after:
            if before in left:
                begins = max(begins, _over_nights(left[before], ends[before], day))
        passed.add(key)
        part.append((begins, step))
        ends[key] = begins + _shortest(step, len(crew))
        if step.is_hold and _all_before(step, left, passed):
            ends[key] = floor = max(ends[key], _crowded(part, crew))
            part = []
    return max([_crowded(part, crew), *ends.values()])


def _crowded(part: Sequence[tuple[float, Step]], crew: Sequence[Hand]) -> float:
    """The least minute by which steps, each with its earliest begin, can be done by the people there are.

    What must follow the last of some steps comes on top of the work in them.
    """
    able = {key: max(1, sum(key in person.may for person in crew)) for key in MACHINES}
    after = _least_after(part, len(crew))
    least, work, follows = 0.0, 0.0, math.inf
    driven, follows_driven = dict.fromkeys(MACHINES, 0.0), dict.fromkeys(MACHINES, math.inf)
    for begins, step in sorted(part, key=lambda row: -row[0]):
        work, follows = work + step.minutes, min(follows, after[step.key])
        least = max(least, begins + work / len(crew) + follows)
        if step.machine and step.minutes:
            key = step.machine
            driven[key] += _shortest(step, len(crew))
            follows_driven[key] = min(follows_driven[key], after[step.key])
            least = max(least, begins + driven[key] / able[key] + follows_driven[key])
    return least


def _least_after(part: Sequence[tuple[float, Step]], people: int) -> dict[str, float]:
    """The shortest way from each step's end to the end of its part, minutes."""
    after = {step.key: 0.0 for _, step in part}
    for _, step in reversed(part):
        for before in step.after:
            if before in after:
                after[before] = max(after[before], after[step.key] + _shortest(step, people))
    return after


def _all_before(step: Step, left: Mapping[str, Step], passed: set[str]) -> bool:
    """Whether every step so far leads to this one: then nothing of what follows can overlap it."""
    found, open_ = {step.key}, [step.key]
    while open_:
        for before in left[open_.pop()].after:
            if before in left and before not in found:
                found.add(before)
                open_.append(before)
    return found == passed


def _run(
    left: Mapping[str, Step], order: list[str], tail: Mapping[str, float], crew: Sequence[Hand], day: float
) -> tuple[dict[str, float], list[Shift]]:
    """Walk from one end of a step to the next: who is free goes to the step with the longest way still to go."""
    now, ends = 0.0, dict[str, float]()
    rest = {key: left[key].minutes for key in order}
    shifts: list[Shift] = []
    held: dict[int, str] = {}
    while len(ends) < len(left):
        ready, wakes = _ready(left, order, ends, now, day)
        for key in [k for k in ready if rest[k] <= 1e-9]:
            ends[key] = now
        if any(rest[k] <= 1e-9 for k in ready):
            continue
        held = _placed(sorted(ready, key=lambda k: -tail[k]), left, crew, held)
        teams: dict[str, list[int]] = {}
        for person, key in held.items():
            teams.setdefault(key, []).append(person)
        until = min([now + rest[key] / len(team) for key, team in teams.items()] + wakes, default=now)
        for key, team in teams.items():
            for person in team:
                _add(shifts, Shift(key, person, now, until))
            rest[key] -= len(team) * (until - now)
            if rest[key] <= 1e-6:
                rest[key], ends[key] = 0.0, until
        now = until
        held = {person: key for person, key in held.items() if key not in ends}
    return ends, shifts


def _ready(
    left: Mapping[str, Step], order: list[str], ends: Mapping[str, float], now: float, day: float
) -> tuple[list[str], list[float]]:
    """Steps whose time has come, and the minutes at which others wake from a night's rest."""
    ready, wakes = [], []
    for key in order:
        if key in ends:
            continue
        before = [k for k in left[key].after if k in left]
        if all(k in ends for k in before):
            at = max((_over_nights(left[k], ends[k], day) for k in before), default=0.0)
            if at <= now + 1e-9:
                ready.append(key)
            else:
                wakes.append(at)
    return ready, wakes


def _placed(ready: list[str], left: Mapping[str, Step], crew: Sequence[Hand], held: dict[int, str]) -> dict[int, str]:
    """Who goes where: the least that each step needs first, those who are at it stay; then who is free joins."""
    free = set(range(len(crew)))
    placed: dict[int, str] = {}
    begun = []
    for key in ready:
        step = left[key]
        able = sorted(free, key=lambda p: (held.get(p) != key, crew[p].role not in (step.phase, "any"), p))
        if step.machine:
            # One who may use the machine, and for the rest first those who may not: the others are wanted elsewhere.
            may = next((p for p in able if step.machine in crew[p].may), None)
            if may is None:
                continue
            able = [may, *sorted((p for p in able if p != may), key=lambda p: len(crew[p].may))]
        least = min(step.least, len(crew))
        if len(able) >= least:
            for person in able[:least]:
                placed[person] = key
                free.discard(person)
            begun.append(key)
    for key in begun:
        room = left[key].most - sum(k == key for k in placed.values())
        for person in sorted(free, key=lambda p: (held.get(p) != key, p))[: max(0, room)]:
            placed[person] = key
            free.discard(person)
    return placed


def _add(shifts: list[Shift], new: Shift) -> None:
    """A shift, grown onto the one before it where the same person goes on at the same step."""
    for number in range(len(shifts) - 1, max(-1, len(shifts) - 24), -1):
        old = shifts[number]
        if old.person == new.person:
            if old.step == new.step and abs(old.end - new.start) < 1e-6:
                shifts[number] = Shift(old.step, old.person, old.start, new.end)
                return
            break
    shifts.append(new)
