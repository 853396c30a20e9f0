"""Where the fence passes a wood, people, or folds back on itself."""

from collections.abc import Iterator

import numpy as np
import shapely
from shapely import Point
from shapely.geometry.base import BaseGeometry

from adze.core.basics.status import Status
from adze.core.ground.lines import line_of, point_at, run_of, shape_of, turns
from adze.core.ground.nearby import name_of, nearest_on, short_words
from adze.core.ground.places import Place, place_words
from adze.core.ground.survey import joins
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.actions import ActionKind, place_action
from adze.core.verdict.findings import Finding
from adze.core.verdict.surroundings.unit_site import OWN_BUILDING_M

PEOPLE_NEAR_M = 5.0  # children at a house, hands at a yard
SIGN_SERVES_M = 25.0  # a sign is read from so far
_WOOD_M = 2.0  # a line that only touches a wood's edge is not in it
NARROW_DEGREES = 35.0
WALL_GAP_M = 1.0  # a goat's length: it braces itself in what is narrower
_ON_WALL_M = 0.1  # strands on a wall's brackets leave no gap


def judge_wood(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    """Lines that lead through a wood or copse."""
    for run in plan.runs:
        within = line_of(run).intersection(shape)
        if within.length > _WOOD_M:
            middle = within.representative_point()
            place = Place(run.id, float(line_of(run).project(middle)))
            yield Finding(
                Stage.GROUND,
                "Through trees",
                Status.MARGINAL,
                f"{run.name} runs {short_words(plan, within.length)} through {name_of(mark)}: leaves and twigs "
                "drain power all year, and limbs fall on it in storms. Never fix strands to living trees.",
                figure=short_words(plan, within.length),
                place=place,
                where=place_words(plan, place),
                mend="Clear 2 m on each side and keep it clear, or lead the line round.",
            )


def judge_people(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    """Houses and yards beside the line with neither sign nor reduced power."""
    home = plan.energizer_at
    own = mark.kind == "building" and home is not None and shape.distance(Point(home)) < OWN_BUILDING_M
    if plan.half_power or own:
        return
    rows = [nearest_on(run, shape) for run in plan.runs]
    place, away = min(rows, key=lambda row: row[1], default=(None, 0.0))
    if place is None or away >= PEOPLE_NEAR_M:
        return
    spot = Point(point_at(run_of(plan, place.run), place.at_m))
    signs = [Point(point_at(run_of(plan, f.run), f.at_m)) for f in plan.fixtures if f.kind == "sign"]
    if any(sign.distance(spot) <= SIGN_SERVES_M for sign in signs):
        return
    yield Finding(
        Stage.GROUND,
        "No sign where people pass",
        Status.MARGINAL,
        f"The line passes {short_words(plan, away)} from {name_of(mark)}: people must be warned where they can touch "
        "it. Check your local code.",
        figure=short_words(plan, away),
        limit=short_words(plan, PEOPLE_NEAR_M),
        place=place,
        where=place_words(plan, place),
        mend="Set a sign there, or use the reduced terminal where the kV allow it.",
        action=place_action(ActionKind.SIGN, place.run, place.at_m),
    )


def judge_wall_gap(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    """A line that runs close beside a wall, or on to it at a narrow angle: a gap to climb in.

    A line that meets a wall at a wide angle lies within a metre of it for little more than that metre.
    """
    climbers = [animal_kinds()[herd.kind].plural for herd in plan.stock if animal_kinds()[herd.kind].climbs]
    if not climbers:
        return
    beside = shape.buffer(WALL_GAP_M).difference(shape.buffer(_ON_WALL_M))
    for run in plan.runs:
        pieces = shapely.get_parts(line_of(run).intersection(beside))
        long_m = max((float(piece.length) for piece in pieces), default=0.0)
        if long_m <= WALL_GAP_M / np.sin(np.radians(NARROW_DEGREES)):
            continue
        place, away = nearest_on(run, shape)
        yield Finding(
            Stage.GROUND,
            "A gap beside a wall",
            Status.MARGINAL,
            f"{run.name} runs {short_words(plan, long_m)} within {short_words(plan, WALL_GAP_M)} of "
            f"{name_of(mark)}: {climbers[0].lower()} brace themselves between wall and line and climb.",
            figure=short_words(plan, away),
            limit=short_words(plan, WALL_GAP_M),
            place=place,
            where=place_words(plan, place),
            mend="Run the line squarely up to the wall, keep it a metre off, or close the gap with a panel.",
        )


def judge_narrow_corners(plan: Plan) -> Iterator[Finding]:
    """Corners so sharp that a climber braces itself in them and a driven animal cannot turn."""
    kinds = [animal_kinds()[herd.kind] for herd in plan.stock]
    climbers = [kind.plural for kind in kinds if kind.climbs]
    driven = [kind.plural for kind in kinds if kind.bunches]
    if not climbers and not driven:
        return
    for place, degrees in _narrow(plan):
        who = (
            f"{climbers[0].lower()} brace themselves between the two lines and climb"
            if climbers
            else f"{driven[0].lower()} that are driven into it cannot turn and go through"
        )
        yield Finding(
            Stage.GROUND,
            "A corner too narrow",
            Status.MARGINAL,
            f"Two lines meet at {degrees:.0f}°: {who}.",
            figure=f"{degrees:.0f}°",
            limit=f"{NARROW_DEGREES:.0f}°",
            place=place,
            where=place_words(plan, place),
            mend="Cut the corner off with a short side, or open the angle.",
        )


def _narrow(plan: Plan) -> Iterator[tuple[Place, float]]:
    for run in plan.runs:
        for at, turn in turns(run):
            if 180 - turn < NARROW_DEGREES:
                yield Place(run.id, at), 180 - turn
    for join in joins(plan):
        run, onto = run_of(plan, join.run), run_of(plan, join.onto.run)
        away = _way(run, join.at_m, -1 if join.at_m > line_of(run).length / 2 else 1)
        for side in (1, -1):
            along = _way(onto, join.onto.at_m, side)
            if along is None or away is None:
                continue
            degrees = float(np.degrees(np.arccos(np.clip(away @ along, -1, 1))))
            if 0.5 < degrees < NARROW_DEGREES and run.use != "temporary":
                yield join.onto, degrees


def _way(run: Run, at_m: float, side: int) -> np.ndarray[tuple[int], np.dtype[np.float64]] | None:
    """The direction of a run from a place, one metre on, as a unit vector; None where it ends there."""
    here, there = (np.array(point_at(run, at_m + side * step)) for step in (0.0, 1.0))
    length = float(np.hypot(*(there - here)))
    return (there - here) / length if length > 0.5 else None


def judge_passing(plan: Plan, mark: Landmark) -> Iterator[Finding]:
    """What a landmark asks of the lines that pass it."""
    if mark.kind == "wood":
        yield from judge_wood(plan, mark, shape_of(mark))
    elif mark.kind in ("building", "yard", "milk_house"):
        yield from judge_people(plan, mark, shape_of(mark))
        if mark.kind != "yard":
            yield from judge_wall_gap(plan, mark, shape_of(mark))
