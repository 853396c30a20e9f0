"""Existing fences beside the lines: which one a line runs along, how far off, for how much of it."""

from dataclasses import dataclass

from adze.core.ground.lines import line_of, shape_of
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run

ALONG_M = 1.0  # farther off, a line stands for itself
METAL = frozenset({"woven", "barbed", "mesh", "panel"})


@dataclass(frozen=True)
class Alongside:
    """An existing fence that a line runs along: the metres beside it, the share of the line, the nearest distance."""

    mark: Landmark
    along_m: float
    share: float
    away_m: float


def is_metal(mark: Landmark) -> bool:
    """Whether an existing fence can carry the pulse off."""
    return mark.made in METAL


def alongside(plan: Plan, run: Run) -> Alongside | None:
    """The existing fence that a line runs along for the longest way; None beside none."""
    line, found = line_of(run), []
    for mark in plan.landmarks:
        if mark.kind == "old_fence" and len(mark.points) > 1:
            shape = shape_of(mark)
            metres = float(line.intersection(shape.buffer(ALONG_M)).length)
            found.append(Alongside(mark, metres, metres / line.length, float(line.distance(shape))))
    best = max(found, key=lambda row: row.along_m, default=None)
    return best if best is not None and best.along_m > 2 * ALONG_M else None
