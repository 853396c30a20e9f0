"""A plan's lines as a small picture for lists."""

from dataclasses import dataclass

from adze.core.plan.document import Plan

_WIDTH, _HEIGHT, _MARGIN = 220.0, 120.0, 10.0


@dataclass(frozen=True)
class Sketch:
    """Paths for an SVG of 220 by 120."""

    paths: tuple[str, ...]


def sketch(plan: Plan) -> Sketch:
    """The runs scaled into the picture."""
    points = [p for run in plan.runs for p in run.points]
    if not points:
        return Sketch(())
    left, right = min(p[0] for p in points), max(p[0] for p in points)
    low, high = min(p[1] for p in points), max(p[1] for p in points)
    scale = min((_WIDTH - 2 * _MARGIN) / max(right - left, 1), (_HEIGHT - 2 * _MARGIN) / max(high - low, 1))
    x0, y0 = (_WIDTH - (right - left) * scale) / 2, (_HEIGHT - (high - low) * scale) / 2

    def path(run_points: tuple[tuple[float, float], ...]) -> str:
        return "M" + "L".join(f"{x0 + (x - left) * scale:.1f} {y0 + (high - y) * scale:.1f}" for x, y in run_points)

    return Sketch(tuple(path(run.points) for run in plan.runs))
