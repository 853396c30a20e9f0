"""What stands too near what: supply earths, pipes, other fences, neighbours, things to climb, ways.

The distances are those of common practice (docs/physics.md, "Distances"); local codes come first.
"""

import math
from collections.abc import Iterator
from itertools import pairwise

from shapely import MultiPoint, Point
from shapely.geometry.base import BaseGeometry

from adze.core.basics.cache import cached_by_fields
from adze.core.basics.status import Status
from adze.core.build.count import PATH_NEAR_M, SIGN_EVERY_M
from adze.core.build.rods import places_of
from adze.core.ground.lines import line_of, point_at, shape_of
from adze.core.ground.nearby import name_of, nearest_on, short_words
from adze.core.ground.places import Place, place_words
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_kinds
from adze.core.tables.ground import landmark_kinds
from adze.core.verdict.actions import Action, ActionKind, place_action
from adze.core.verdict.findings import Finding
from adze.core.verdict.surroundings.guarded import is_ringed, judge_clearance
from adze.core.verdict.surroundings.lead_out import judge_lead_out
from adze.core.verdict.surroundings.overhead import judge_overhead
from adze.core.verdict.surroundings.passing import judge_narrow_corners, judge_passing
from adze.core.verdict.surroundings.unit_site import judge_unit_site
from adze.core.verdict.surroundings.water import WATERS, judge_water

NEIGHBOUR_M = 0.5  # a strip that a mower takes and that nobody reaches over
OTHER_FENCE_M = 2.5  # nobody touches strands of two energizers at once
CLIMB_M = 1.5  # a jump from what stands beside the fence
TREE_M = 3.0  # branches fall on the strands
_WAYS = ("road", "track", "path")
SIGNS_WITHIN_M = {"path": PATH_NEAR_M, "road": 10.0}  # of what the public uses
_CROSSED_WITHIN_M = 12.0
_CABLE_SHARE = 0.5  # of the usual distance to a cable in the ground: nearer fails
_CLIMBABLE = ("step", "building", "hutch", "rock", "yard")


def judge_siting(plan: Plan) -> Iterator[Finding]:
    """Every finding about the fence and what lies beside it."""
    yield from _findings_beside(plan)
    for mark in plan.landmarks:
        if mark.kind == "overhead":
            yield from judge_overhead(plan, mark, shape_of(mark))


@cached_by_fields(
    "siting findings",
    16,
    identity_args=("runs", "fixtures", "landmarks", "meetings", "stock"),
    equal=(
        "energizer_at",
        "feed_at",
        "lead_out",
        "units",
        "energizer",
        "own_energizers",
        "own_prices",
        "origin",
        "blocks",
        "half_power",
    ),
)
def _findings_beside(plan: Plan) -> tuple[Finding, ...]:
    return tuple(_beside(plan))


def _beside(plan: Plan) -> Iterator[Finding]:
    for mark in plan.landmarks:
        shape = shape_of(mark)
        if mark.kind == "boundary":
            yield from _neighbour(plan, mark, shape)
        elif mark.kind == "other_fence":
            yield from _near(plan, mark, shape, OTHER_FENCE_M, Status.FAILS, "Another fence's energizer", _OTHER)
        elif mark.kind == "other_unit":
            yield Finding(
                Stage.GROUND,
                "Two energizers on one fence",
                Status.FAILS,
                f"{name_of(mark)} feeds it too. Two pulses in a second leave nobody the time to let go, and each "
                "unit loads the other.",
                where=name_of(mark),
                mend="Disconnect one, or split the fence: leave a dead, insulated gap of 2.5 m between the two.",
            )
        elif mark.kind in _CLIMBABLE or (mark.kind == "old_fence" and mark.condition == "climbable"):
            yield from _climbable(plan, mark, shape)
        elif mark.kind == "soil" and mark.soil is None:
            yield Finding(
                Stage.GROUND,
                "Soil area without a soil",
                Status.MARGINAL,
                f"{name_of(mark)} changes nothing until you say its soil.",
                where=name_of(mark),
                mend="Choose it and say its soil.",
            )
        elif mark.kind == "tree" and not is_ringed(plan, mark):
            yield from _near(plan, mark, shape, TREE_M, Status.MARGINAL, "Branches over the line", _TREE)
        if mark.kind in WATERS:
            yield from judge_water(plan, mark, shape)
        if mark.kind in _WAYS:
            yield from _crossed_way(plan, mark, shape)
        if mark.kind in SIGNS_WITHIN_M and len(mark.points) > 1:
            yield from _signs(plan, mark, shape)
        yield from judge_clearance(plan, mark)
        yield from judge_passing(plan, mark)
    yield from judge_narrow_corners(plan)
    yield from judge_lead_out(plan)
    yield from judge_unit_site(plan)


_OTHER = (
    "whoever reaches the strands of both gets two pulses at once.",
    "Move it, or leave a dead, insulated gap between them.",
)
_TREE = (
    "each leaf on the strand drains power, and storms drop limbs.",
    "Cut it back, or move the line.",
)


def _near(
    plan: Plan,
    mark: Landmark,
    shape: BaseGeometry,
    limit_m: float,
    status: Status,
    title: str,
    words: tuple[str, str],
) -> Iterator[Finding]:
    for run in plan.runs:
        place, away = nearest_on(run, shape)
        if away < limit_m:
            yield Finding(
                Stage.GROUND,
                title,
                status,
                f"{run.name} comes within {short_words(plan, away)} of {name_of(mark)}: {words[0]}",
                figure=short_words(plan, away),
                limit=short_words(plan, limit_m),
                place=place,
                where=place_words(plan, place),
                mend=words[1],
            )


def _neighbour(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    for run in plan.runs:
        place, away = nearest_on(run, shape)
        if away < NEIGHBOUR_M - 0.005:
            over = line_of(run).crosses(shape)
            yield Finding(
                Stage.GROUND,
                "Neighbour's strip too narrow",
                Status.FAILS,
                f"{run.name} {'crosses' if over else 'stands nearer than half a metre to'} {name_of(mark)}: "
                "their stock and their people reach it.",
                figure=short_words(plan, away),
                limit=short_words(plan, NEIGHBOUR_M),
                place=place,
                where=place_words(plan, place),
                mend="Set it out again at a fixed distance from the neighbour's line.",
            )


def _climbable(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    climbers = [k.plural for k in (animal_kinds()[h.kind] for h in plan.stock) if k.climbs or k.spring_cm > 0]
    low = mark.kind in ("building", "yard") and not climbers
    for run in plan.runs:
        place, away = nearest_on(run, shape)
        if away < CLIMB_M and not low:
            who = f"{climbers[0].lower()} use it" if climbers else "an animal can use it"
            yield Finding(
                Stage.GROUND,
                "Something to climb beside the fence",
                Status.FAILS if climbers else Status.MARGINAL,
                f"{name_of(mark)} stands {short_words(plan, away)} from {run.name}: {who} as a step over.",
                figure=short_words(plan, away),
                limit=short_words(plan, CLIMB_M),
                place=place,
                where=place_words(plan, place),
                mend="Move it, lead the line round it, or raise the line beside it by its height.",
            )


def _crossed_way(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    for run in plan.runs:
        line = line_of(run)
        met = line.intersection(shape)
        spots = [p for p in getattr(met, "geoms", [met]) if isinstance(p, Point) and not p.is_empty]
        for spot in spots:
            at = float(line.project(spot))
            passed = any(
                f.run == run.id and f.kind in ("gate", "crossing") and abs(f.at_m - at) <= _CROSSED_WITHIN_M
                for f in plan.fixtures
            )
            if not passed:
                place = Place(run.id, at)
                public = "a gate or stile that is safe to use" if mark.kind == "path" else "a gate, or cable under"
                yield Finding(
                    Stage.GROUND,
                    "A way is fenced off",
                    Status.MARGINAL,
                    f"{run.name} crosses {name_of(mark)} without a gate or a crossing.",
                    place=place,
                    where=place_words(plan, place),
                    mend=f"Place {public}.",
                    action=place_action(ActionKind.GATE if mark.kind == "path" else ActionKind.CROSSING, run.id, at),
                )


def sign_places(plan: Plan, path: Landmark) -> list[Place]:
    """Where a public path or a road wants signs: both ends of each stretch beside it, and at most 100 m apart."""
    near = shape_of(path).buffer(SIGNS_WITHIN_M[path.kind])
    found = []
    for run in plan.runs:
        for low, high in _inside(run, near):
            steps = max(1, math.ceil((high - low) / SIGN_EVERY_M))
            found += [Place(run.id, round(low + (high - low) * i / steps, 1)) for i in range(steps + 1)]
    return found


def _inside(run: Run, area: BaseGeometry) -> list[tuple[float, float]]:
    """The stretches of a run inside an area, m along."""
    line = line_of(run)
    met = line.intersection(area)
    rows = []
    for part in getattr(met, "geoms", [met]):
        if part.length > 1:
            # A ring's start lies at both ends of it: the middle tells which.
            middle = float(line.project(part.interpolate(0.5, normalized=True)))
            rows.append((max(0.0, middle - part.length / 2), min(line.length, middle + part.length / 2)))
    merged: list[tuple[float, float]] = []
    for low, high in sorted(rows):
        if merged and low - merged[-1][1] < 1:
            merged[-1] = (merged[-1][0], max(high, merged[-1][1]))
        else:
            merged.append((low, high))
    return merged


def _signs(plan: Plan, path: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    near = shape.buffer(SIGNS_WITHIN_M[path.kind])
    for run in plan.runs:
        for low, high in _inside(run, near):
            signs = sorted(
                f.at_m
                for f in plan.fixtures
                if f.kind == "sign" and f.run == run.id and low - 10 <= f.at_m <= high + 10
            )
            gap = max(b - a for a, b in pairwise([low, *signs, high])) if signs else high - low
            if signs and gap <= SIGN_EVERY_M + 1:
                continue
            count = f"{len(signs)} sign{'s' * (len(signs) != 1)}" if signs else "no sign"
            place = Place(run.id, (low + high) / 2)
            yield Finding(
                Stage.GROUND,
                "Public path without signs" if path.kind == "path" else "Road without signs",
                Status.MARGINAL,
                f"{run.name} stands beside {name_of(path)} for {short_words(plan, high - low)} with "
                f"{count}: people must be "
                "warned from both sides. Check your local code.",
                figure=count,
                limit=f"one each {short_words(plan, SIGN_EVERY_M)}",
                place=place,
                where=place_words(plan, place),
                mend=f"Set signs along the {path.kind}.",
                action=Action(ActionKind.SIGNS, (path.id,)),
            )


def rods_shape(plan: Plan) -> BaseGeometry | None:
    """The rods near the energizer as they stand; None while they are not placed."""
    at = places_of(plan.rods) if plan.rods.position or plan.rods.places else ()
    return MultiPoint(at) if at else None


def _is_too_near(kind: str, away_m: float, clear_m: float) -> bool:
    """Whether rods are so near that people on a supply or a telephone would feel the pulse."""
    return kind == "supply_earth" or (kind == "buried" and away_m < _CABLE_SHARE * clear_m)


def judge_rod_siting(plan: Plan) -> Iterator[Finding]:
    """Rods near supply earths, pipes, buildings, water; those at the energizer and those along the line."""
    fields: list[tuple[str, BaseGeometry, Place | None]] = []
    if (shape := rods_shape(plan)) is not None:
        fields.append(("The rods", shape, None))
    runs = {run.id: run for run in plan.runs}
    for f in plan.fixtures:
        if f.kind == "rods":
            fields.append((f.name, Point(point_at(runs[f.run], f.at_m)), Place(f.run, f.at_m)))
    for name, shape, place in fields:
        for mark in plan.landmarks:
            clear = landmark_kinds()[mark.kind].rods_clear_m
            away = shape_of(mark).distance(shape) if clear else math.inf
            if away < clear:
                yield Finding(
                    Stage.EARTH,
                    f"Rods near {landmark_kinds()[mark.kind].label.lower()}",
                    Status.FAILS if _is_too_near(mark.kind, away, clear) else Status.MARGINAL,
                    f"{name} stand{'s' * (place is not None)} {short_words(plan, away)} from "
                    f"{name_of(mark)}: its earth and "
                    "pipes would carry the pulse.",
                    figure=short_words(plan, away),
                    limit=short_words(plan, clear),
                    place=place,
                    where=name_of(mark),
                    mend="Move the rods away. Check your local code.",
                    action=None if place else Action(ActionKind.ROD_SITE, ()),
                )
