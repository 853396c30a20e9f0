"""A place on the fence: a run and a distance along it, and how people say it."""

from dataclasses import dataclass

from shapely import Point

from adze.core.basics.cache import cached
from adze.core.basics.units import format_length
from adze.core.ground.lines import line_of, run_of
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run
from adze.core.plan.scalars import Position


@dataclass(frozen=True)
class Place:
    """A distance along a run, m from its start."""

    run: str
    at_m: float


@cached("nearest place", 16, identity_args=1)
def nearest_place(runs: tuple[Run, ...], point: Position) -> tuple[Place, float] | None:
    """The place on any run nearest to a point and its distance, m; None without runs."""
    best: tuple[Place, float] | None = None
    for run in runs:
        line, at = line_of(run), Point(point)
        away = float(line.distance(at))
        if best is None or away < best[1] - 1e-9:
            best = Place(run.id, float(line.project(at))), away
    return best


def place_words(plan: Plan, place: Place) -> str:
    """A place as people say it: the run's name and how far along it."""
    return f"{run_of(plan, place.run).name}, {format_length(place.at_m, plan.units)} along"
