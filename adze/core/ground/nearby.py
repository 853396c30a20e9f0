"""Things on the ground as findings speak of them: their names, distances, and the nearest place of a line."""

from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points

from adze.core.basics.units import format_length
from adze.core.ground.lines import line_of
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.tables.ground import landmark_kinds


def name_of(mark: Landmark) -> str:
    """A landmark's name, or what it is."""
    return mark.name or landmark_kinds()[mark.kind].label


def nearest_on(run: Run, shape: BaseGeometry) -> tuple[Place, float]:
    """The place of a run nearest to a shape, and how far, m."""
    line = line_of(run)
    here, _ = nearest_points(line, shape)
    return Place(run.id, float(line.project(here))), float(line.distance(shape))


def short_words(plan: Plan, metres: float) -> str:
    """A distance on the ground for people, to the decimetre where it is short."""
    return f"{metres:.1f} m" if plan.units == "metric" and metres < 10 else format_length(metres, plan.units)
