"""Which soil lies under the fence: what is said of a run, else the soil area there, else the plan's."""

from shapely import Point
from shapely.geometry.base import BaseGeometry

from adze.core.basics.cache import cached
from adze.core.ground.lines import length_m, line_of, point_at, run_of, shape_of
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Run
from adze.core.plan.scalars import Position


def _soil_areas(plan: Plan) -> tuple[tuple[BaseGeometry, str], ...]:
    return _shapes(plan.landmarks)


@cached("soil areas", 16, identity_args=1)
def _shapes(landmarks: tuple[Landmark, ...]) -> tuple[tuple[BaseGeometry, str], ...]:
    return tuple((shape_of(m), m.soil) for m in landmarks if m.kind == "soil" and m.soil and len(m.points) > 2)


def soil_at(plan: Plan, run: Run, at_m: float) -> str | None:
    """Key of the soil at a place; None for the plan's own. The area drawn last lies on top."""
    if run.soil:
        return run.soil
    return soil_under(plan, point_at(run, at_m)) if _soil_areas(plan) else None


def soil_under(plan: Plan, spot: Position) -> str | None:
    """Key of the soil area that a spot lies in; None for the plan's own soil."""
    return next((soil for shape, soil in reversed(_soil_areas(plan)) if shape.intersects(Point(spot))), None)


def is_damp(plan: Plan, spot: Position) -> bool:
    """Whether a spot lies in a wet hollow, which keeps its moisture in the driest week."""
    return any(m.kind == "hollow" and shape_of(m).intersects(Point(spot)) for m in plan.landmarks)


def soil_of(plan: Plan, place: Place) -> str | None:
    """Key of the soil at a place by the run's id; None for the plan's own."""
    return soil_at(plan, run_of(plan, place.run), place.at_m)


def soil_borders_m(plan: Plan, run: Run) -> list[float]:
    """Distances along a run at which a soil area begins or ends."""
    if run.soil:
        return []
    line, found = line_of(run), []
    for shape, _ in _soil_areas(plan):
        met = line.intersection(shape.boundary)
        found += [float(line.project(Point(p.coords[0]))) for p in getattr(met, "geoms", [met]) if not p.is_empty]
    return sorted(at for at in found if 0.05 < at < length_m(run) - 0.05)


def own_soil(plan: Plan, soil: str) -> str | None:
    """The plan's own soil goes by its measured figure, if any."""
    return None if soil == plan.soil else soil
