"""Overhead power lines: what runs beside them, what passes under them."""

import math
from collections.abc import Iterator
from itertools import pairwise

from shapely import LineString
from shapely.geometry.base import BaseGeometry

from adze.core.basics.status import Status
from adze.core.build.construction import fence_of
from adze.core.ground.lines import line_of
from adze.core.ground.nearby import name_of, short_words
from adze.core.ground.places import Place, place_words
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Finding

ALONGSIDE_M = 15.0  # nearer, the line couples into strands that run beside it
_ALONGSIDE_LEAST_M = 30.0  # a shorter stretch beside it takes up little
_ALONGSIDE_DEGREES = 30.0  # strands that turn off by more do not run beside it
_SQUARE_DEGREES = 60.0  # a crossing nearer to the line's own direction lies under it for long
_UNDER_LINE_CM = 200.0  # a higher strand is lifted into reach of a sagging conductor


def _headings(shape: BaseGeometry) -> Iterator[tuple[LineString, float]]:
    for part in getattr(shape, "geoms", [shape]):
        for a, b in pairwise(getattr(part, "coords", ())):
            if math.dist(a, b) > 1e-6:
                yield LineString([a, b]), math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) % 180


def _between_degrees(a: float, b: float) -> float:
    turn = abs(a - b) % 180
    return min(turn, 180 - turn)


def line_clear_m(line_kv: float | None) -> float:
    """Usual distance to keep from an overhead line's conductors, m: to 1 kV, to 33 kV, above."""
    if line_kv is None:
        return 8.0
    return 3.0 if line_kv <= 1 else 4.0 if line_kv <= 33 else 8.0


def judge_overhead(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    """Runs alongside an overhead line, and runs that cross it aslant or too high."""
    clear = line_clear_m(mark.line_kv)
    safety = (
        f"Keep every strand and tool {short_words(plan, clear)} from its conductors"
        f"{'' if mark.line_kv else ' (its kV is not given: the widest distance)'}; check your local code."
    )
    for run in plan.runs:
        line = line_of(run)
        if line.distance(shape) > ALONGSIDE_M:
            continue
        corridor = shape.buffer(ALONGSIDE_M, cap_style="flat")
        beside, place = 0.0, None
        for step, heading in _headings(line):
            other = min(_headings(shape), key=lambda row: row[0].distance(step), default=None)
            if other and _between_degrees(heading, other[1]) < _ALONGSIDE_DEGREES:
                inside = step.intersection(corridor)
                beside += inside.length
                if inside.length and place is None:
                    place = Place(run.id, float(line.project(inside.representative_point())))
        if beside >= _ALONGSIDE_LEAST_M and place:
            yield Finding(
                Stage.GROUND,
                "Beside an overhead line",
                Status.MARGINAL,
                f"{run.name} runs {short_words(plan, beside)} alongside {name_of(mark)}, nearer than "
                f"{short_words(plan, ALONGSIDE_M)}. The power line induces voltage in long strands, and a fallen "
                f"conductor makes them live. {safety}",
                figure=short_words(plan, beside),
                limit=f"at most {short_words(plan, _ALONGSIDE_LEAST_M)}",
                place=place,
                where=place_words(plan, place),
                mend=f"Move this part more than {short_words(plan, ALONGSIDE_M)} away.",
            )
        yield from _under_line(plan, run, mark, shape, safety)


def _under_line(plan: Plan, run: Run, mark: Landmark, shape: BaseGeometry, safety: str) -> Iterator[Finding]:
    line = line_of(run)
    top = max(s.cm for s in fence_of(fence_at(plan, run.id).view))
    for step, heading in _headings(line):
        for other, direction in _headings(shape):
            if not step.crosses(other):
                continue
            place = Place(run.id, float(line.project(step.intersection(other).centroid)))
            angle = _between_degrees(heading, direction)
            high = top > _UNDER_LINE_CM
            aslant = angle < _SQUARE_DEGREES
            if aslant or high:
                yield Finding(
                    Stage.GROUND,
                    "Crosses an overhead line at a slant" if aslant else "Too high under an overhead line",
                    Status.FAILS if high else Status.MARGINAL,
                    f"{run.name} passes under {name_of(mark)} at {angle:.0f}°. {safety}",
                    figure=f"{angle:.0f}°" if aslant else f"{top:g} cm",
                    limit="near 90°" if aslant else f"{_UNDER_LINE_CM:g} cm",
                    place=place,
                    where=place_words(plan, place),
                    mend="Turn the line to cross it at a right angle." if aslant else "Lower the top strand there.",
                )
