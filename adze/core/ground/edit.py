"""Changes of the ground as a whole: move, split, join, reverse, remove. Each gives a new plan.

What hangs on a run goes with it: fixtures keep their spot on the ground, the profile its heights,
ends of other runs their joins.
"""

import math
from collections.abc import Callable, Iterable
from typing import Any

import numpy as np
from shapely import LineString, Point

from adze.core.basics.units import parse_length_m
from adze.core.ground.lines import distances_m, length_m, line_of, point_at
from adze.core.ground.places import Place
from adze.core.ground.relief import height_at
from adze.core.ground.survey import JOIN_M
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, Growth, Run
from adze.core.plan.scalars import LEAST_GROWTH_M, SPOT_M, Part, Position

_OTHER_SIDE = {"start": "end", "end": "start", "both": "both"}


class Refused(ValueError):
    """A change that cannot be made; the message says why and the mend."""


def fresh_id(taken: Iterable[str], stem: str) -> str:
    """An id that is not taken: stem1, stem2, ..."""
    known = set(taken)
    number = 1
    while f"{stem}{number}" in known:
        number += 1
    return f"{stem}{number}"


def run_by_id(plan: Plan, run_id: str) -> Run:
    """A run of a plan. Raises Refused."""
    for run in plan.runs:
        if run.id == run_id:
            return run
    raise Refused("That line is no longer in the plan.")


def _new_run(plan: Plan, points: Iterable[Position], name: str, use: str = "fence") -> Run:
    row = {"id": fresh_id((r.id for r in plan.runs), "line"), "name": name, "points": tuple(points), "use": use}
    return Run.model_validate(row)


def add_runs(plan: Plan, lines: Iterable[tuple[str, Iterable[Position]]], use: str = "fence") -> Plan:
    """The plan with lines added, each by its name and points."""
    for name, points in lines:
        run = _new_run(plan, points, name, use)
        plan = replaced(plan, runs=(*plan.runs, run))
    return changed(plan, {})


def _turned(fixture: Fixture, size_m: float) -> Fixture:
    """A fixture on its run walked from the other end."""
    turned = replaced(fixture, at_m=round(max(0.0, size_m - fixture.at_m), 3))
    if not isinstance(turned, Gate):
        return turned
    return replaced(turned, feeds=_OTHER_SIDE[turned.feeds], opens_at=_OTHER_SIDE[turned.opens_at])


def reverse(plan: Plan, run_id: str) -> Plan:
    """A run walked from its other end: its fixtures and heights keep their spots."""
    run = run_by_id(plan, run_id)
    size = length_m(run)
    profile = tuple((max(0.0, size - at), height) for at, height in reversed(run.profile))
    turned = replaced(
        run, points=run.points[::-1], profile=profile, start_end=run.far_end, far_end=run.start_end
    )  # fmt: skip
    fixtures = tuple(_turned(f, size) if f.run == run_id else f for f in plan.fixtures)
    runs = tuple(turned if r.id == run_id else r for r in plan.runs)
    follows = _following(plan, lambda p: Place(p.run, size - p.at_m) if p.run == run_id else p)
    return changed(plan, {"runs": runs, "fixtures": fixtures} | follows)


def _following(plan: Plan, where: Callable[[Place], Place], cut_m: float = 0.0) -> dict[str, tuple[Part, ...]]:
    """Stretches of growth and what-ifs after places have moved; a stretch over a cut at `cut_m` becomes two."""
    growths: list[Growth] = []
    for growth in plan.growths:
        a, b = where(Place(growth.run, growth.from_m)), where(Place(growth.run, growth.to_m))
        pieces = [(a.run, a.at_m, b.at_m)] if a.run == b.run else [(a.run, a.at_m, cut_m), (b.run, 0.0, b.at_m)]
        for run, *ends in pieces:
            low, high = sorted(round(end, 3) for end in ends)
            if high - low < LEAST_GROWTH_M:
                continue
            again = any(g.id == growth.id for g in growths)
            key = fresh_id((g.id for g in (*plan.growths, *growths)), "growth") if again else growth.id
            growths.append(replaced(growth, id=key, run=run, from_m=low, to_m=high))
    trials = []
    for trial in plan.what_ifs:
        place = where(Place(trial.run, trial.at_m))
        trials.append(replaced(trial, run=place.run, at_m=round(max(0.0, place.at_m), 3)))
    return {"growths": tuple(growths), "what_ifs": tuple(trials)}


def split(plan: Plan, place: Place) -> Plan:
    """A run made two at a place; they stay joined there."""
    run = run_by_id(plan, place.run)
    size = length_m(run)
    if not 2 * JOIN_M < place.at_m < size - 2 * JOIN_M:
        raise Refused(f"{run.name} can be split between {2 * JOIN_M:g} m and {size - 2 * JOIN_M:.0f} m of its start.")
    at, spot = place.at_m, point_at(run, place.at_m)
    middle = round(spot[0], 3), round(spot[1], 3)
    along = distances_m(run)
    before = [p for p, d in zip(run.points, along, strict=True) if d < at - SPOT_M]
    after = [p for p, d in zip(run.points, along, strict=True) if d > at + SPOT_M]
    height = height_at(run, at)
    low = [row for row in run.profile if row[0] < at]
    high = [(d - at, h) for d, h in run.profile if d > at]
    if height is not None:
        low, high = [*low, (at, height)], [(0.0, height), *high]
    first = replaced(run, points=(*before, middle), profile=tuple(low), far_end="")
    second_id = fresh_id((r.id for r in plan.runs), "line")
    name = f"{run.name[:70]}, far part"
    # Strands that are joined where the pulse comes in go on into the far part as they are, not joined again.
    apart = "none" if run.joined == "near" else run.joined
    own = {"id": second_id, "name": name, "joined": apart, "start_end": "", "note": ""}
    second = replaced(run, points=(middle, *after), profile=tuple(high), **own)
    fixtures = tuple(
        replaced(f, run=second_id, at_m=round(f.at_m - at, 3)) if f.run == run.id and f.at_m > at else f
        for f in plan.fixtures
    )
    runs: list[Run] = []
    for r in plan.runs:
        runs += [first, second] if r.id == run.id else [r]
    follows = _following(plan, lambda p: Place(second_id, p.at_m - at) if p.run == run.id and p.at_m > at else p, at)
    return changed(plan, {"runs": tuple(runs), "fixtures": fixtures} | follows)


def join(plan: Plan, first_id: str, second_id: str) -> Plan:
    """Two runs that meet end to end made one, in the direction of the first."""
    if first_id == second_id:
        raise Refused("Choose two different lines to join.")
    first, second = run_by_id(plan, first_id), run_by_id(plan, second_id)
    meets = {
        (a, b): math.dist(first.points[-1 if a else 0], second.points[-1 if b else 0]) for a in (0, 1) for b in (0, 1)
    }
    (a, b), gap = min(meets.items(), key=lambda row: row[1])
    if gap > JOIN_M:
        raise Refused(
            f"The nearest ends of {first.name} and {second.name} lie {gap:.1f} m apart; drag one onto the other first."
        )
    if a == 0:
        return join(reverse(plan, first_id), first_id, second_id)
    if b == 1:
        return join(reverse(plan, second_id), first_id, second_id)
    size = length_m(first)
    rest = second.points[1:] if gap < SPOT_M * 2 else second.points
    shift = size if gap < SPOT_M * 2 else size + gap
    profile = [*first.profile, *((at + shift, h) for at, h in second.profile)]
    rising = [row for i, row in enumerate(profile) if i == 0 or row[0] > profile[i - 1][0]]
    whole = replaced(first, points=(*first.points, *rest), profile=tuple(rising), far_end=second.far_end)
    fixtures = tuple(
        replaced(f, run=first_id, at_m=round(f.at_m + shift, 3)) if f.run == second_id else f for f in plan.fixtures
    )
    runs = tuple(whole if r.id == first_id else r for r in plan.runs if r.id != second_id)
    meetings = tuple(m for m in plan.meetings if second_id not in (m.first, m.second))
    follows = _following(plan, lambda p: Place(first_id, p.at_m + shift) if p.run == second_id else p)
    return changed(plan, {"runs": runs, "fixtures": fixtures, "meetings": meetings} | follows)


Chosen = frozenset[tuple[str, str]]  # (what, id): run, fixture, landmark, note; also energizer and rods


def remove(plan: Plan, chosen: Chosen) -> Plan:
    """The plan without what is chosen; what hangs on a removed run goes with it."""
    runs = {i for what, i in chosen if what == "run"}
    left: dict[str, tuple[Part, ...]] = {
        "runs": tuple(r for r in plan.runs if r.id not in runs),
        "fixtures": tuple(f for f in plan.fixtures if ("fixture", f.id) not in chosen and f.run not in runs),
        "landmarks": tuple(m for m in plan.landmarks if ("landmark", m.id) not in chosen),
        "meetings": tuple(m for m in plan.meetings if m.first not in runs and m.second not in runs),
        "growths": tuple(g for g in plan.growths if g.run not in runs),
        "what_ifs": tuple(w for w in plan.what_ifs if w.run not in runs),
        "notes": tuple(n for n in plan.notes if ("note", n.id) not in chosen),
        "moves": tuple(m for m in plan.moves if ("moves", m.id) not in chosen),
    }
    return changed(plan, left)


def moved(plan: Plan, chosen: Chosen, east_m: float, north_m: float) -> Plan:
    """What is chosen moved over the ground; ends of other runs that stood on it come along."""
    if not (math.isfinite(east_m) and math.isfinite(north_m)):
        raise Refused("The way to move is not a number of metres.")

    def shifted(points: Iterable[Position]) -> tuple[Position, ...]:
        return tuple((round(x + east_m, 3), round(y + north_m, 3)) for x, y in points)

    ids = {i for what, i in chosen if what == "run"}
    old = {run.id: run for run in plan.runs if run.id in ids}
    runs = tuple(
        replaced(run, points=shifted(run.points)) if run.id in ids else _carried(run, old, shifted) for run in plan.runs
    )
    update: dict[str, Any] = {
        "runs": runs,
        "landmarks": tuple(
            replaced(m, points=shifted(m.points)) if ("landmark", m.id) in chosen else m for m in plan.landmarks
        ),
        "notes": tuple(replaced(n, at=shifted([n.at])[0]) if ("note", n.id) in chosen else n for n in plan.notes),
        "fixtures": tuple(
            _slid(plan, f, east_m, north_m) if ("fixture", f.id) in chosen and f.run not in ids else f
            for f in plan.fixtures
        ),
    }
    if any(what == "energizer" for what, _ in chosen) and plan.energizer_at:
        update["energizer_at"] = shifted([plan.energizer_at])[0]
    if any(what == "rods" for what, _ in chosen) and plan.rods.position:
        there = {"position": shifted([plan.rods.position])[0], "places": shifted(plan.rods.places)}
        update["rods"] = replaced(plan.rods, **there)
    return changed(plan, update)


def _carried(run: Run, old: dict[str, Run], shifted: Callable[[Iterable[Position]], tuple[Position, ...]]) -> Run:
    """A run whose ends stood on moved runs: those ends go along."""
    points = list(run.points)
    for end in (0, -1):
        if any(line_of(other).distance(Point(points[end])) <= JOIN_M for other in old.values()):
            points[end] = shifted([points[end]])[0]
    return replaced(run, points=tuple(points)) if tuple(points) != run.points else run


def _slid(plan: Plan, fixture: Fixture, east_m: float, north_m: float) -> Fixture:
    """A fixture moved along its own run to the place nearest to where it was dragged."""
    run = run_by_id(plan, fixture.run)
    x, y = point_at(run, fixture.at_m)
    at = float(line_of(run).project(Point(x + east_m, y + north_m)))
    return replaced(fixture, at_m=round(at, 2))


def reshaped(plan: Plan, run_id: str, points: tuple[Position, ...]) -> Plan:
    """A run given new points: ends of other runs that stood on it, its fixtures and heights follow their stretch."""
    old = run_by_id(plan, run_id)
    new = replaced(old, points=points)
    Run.model_validate(new.model_dump())
    follow = _follower(old, new)
    runs = []
    for run in plan.runs:
        if run.id == run_id:
            runs.append(replaced(new, profile=_profile_after(old, follow)))
            continue
        course = list(run.points)
        for end in (0, -1):
            here = Point(course[end])
            if line_of(old).distance(here) <= JOIN_M:
                course[end] = point_at(new, follow(float(line_of(old).project(here))))
                course[end] = (round(course[end][0], 3), round(course[end][1], 3))
        runs.append(run if tuple(course) == run.points else replaced(run, points=tuple(course)))
    fixtures = tuple(replaced(f, at_m=round(follow(f.at_m), 2)) if f.run == run_id else f for f in plan.fixtures)
    follows = _following(plan, lambda p: Place(p.run, follow(p.at_m)) if p.run == run_id else p)
    return changed(plan, {"runs": tuple(runs), "fixtures": fixtures} | follows)


def _profile_after(old: Run, follow: Callable[[float], float]) -> tuple[tuple[float, float], ...]:
    rows: list[tuple[float, float]] = []
    for at, height in old.profile:
        here = round(follow(at), 2)
        if not rows or here > rows[-1][0]:
            rows.append((here, height))
    return tuple(rows)


def _follower(old: Run, new: Run) -> Callable[[float], float]:
    """Where a distance along the old course lies along the new: points that both have keep their place."""
    along = distances_m(new).tolist()
    known = dict(zip(new.points, along, strict=True))
    pairs = [(0.0, 0.0)]
    same = len(old.points) == len(new.points)
    for i, (point, at) in enumerate(zip(old.points, distances_m(old).tolist(), strict=True)):
        there = along[i] if same else known.get(point)
        if there is not None and at > pairs[-1][0] and there > pairs[-1][1]:
            pairs.append((float(at), float(there)))
    end = (length_m(old), length_m(new))
    if pairs[-1][0] < end[0]:
        pairs.append(end)

    before, after = np.array(pairs).T
    return lambda at: float(np.interp(at, before, after))


def thinned(points: tuple[Position, ...], tolerance_m: float) -> tuple[Position, ...]:
    """Fewer points, none of the old farther than the tolerance from the new line; corners stay.

    Source: D. Douglas and T. Peucker, Cartographica 10 (1973).
    """
    if tolerance_m <= 0 or len(points) < 3:
        return points
    kept = LineString(points).simplify(tolerance_m, preserve_topology=False).coords
    return tuple((float(x), float(y)) for x, y in kept)


def parse_heights(text: str, unit: str = "m") -> tuple[tuple[float, float], ...]:
    """Distance and height of each line of text, such as `120 m, 3.5`, in order of distance, m.

    Raises ValueError naming the line.
    """
    rows = []
    for number, row in enumerate((r for r in text.splitlines() if r.strip()), 1):
        cells = [c for c in row.replace(";", ",").split(",") if c.strip()]
        if len(cells) != 2:
            cells = row.split()
        if len(cells) != 2:
            raise ValueError(f"line {number}: {row.strip()!r} is not a distance and a height, such as 120, 3.5")
        try:
            rows.append((round(parse_length_m(cells[0], unit), 3), round(parse_length_m(cells[1], unit), 3)))
        except ValueError as fault:
            raise ValueError(f"line {number}: {fault}") from fault
    return tuple(sorted(rows))
