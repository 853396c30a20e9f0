"""Places asked for on the ground: where a device stands, where lengths and bearings lead, what a switch kills."""

from typing import Any

from adze.core.ground.places import nearest_place
from adze.core.ground.set_out import parse_legs, walked
from adze.core.ground.zones import zones
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position
from adze.formats.ground.projection import to_metres
from adze.services.operations.base import length_unit

_FAR_M = 20_000.0


class TooFar(ValueError):
    """A device that stands nowhere near the farm."""


def locate(plan: Plan, lat: float, lon: float) -> dict[str, Any]:
    """Where a device stands on a plan, in metres, and the nearest place on a line. Raises TooFar."""
    (point,) = to_metres(plan.origin, [(lon, lat)])
    away = max(abs(point[0]), abs(point[1]))
    if away > _FAR_M:
        raise TooFar(f"You are about {away / 1000:,.0f} km from this farm.")
    found = nearest_place(plan.runs, point)
    near = {"run": found[0].run, "at_m": round(found[0].at_m, 1), "away_m": round(found[1], 1)} if found else None
    return {"at": list(point), "near": near}


def walk_legs(plan: Plan, text: str, start: Position) -> tuple[Position, ...]:
    """Where typed lengths and bearings lead from a spot. Raises ValueError."""
    return walked(start, parse_legs(text, length_unit(plan)))


def killed_by(plan: Plan, switch: str) -> list[list[object]]:
    """The stretches that die with a switch: run and both ends, m."""
    found = zones(plan)
    return [[s.run, s.from_m, s.to_m] for s in (found.killed(switch) if found else ())]
