"""Lines over a stream or open water: what a flood does to the strands."""

from collections.abc import Iterator

from shapely import Point
from shapely.geometry.base import BaseGeometry

from adze.core.basics.status import Status
from adze.core.ground.lines import line_of
from adze.core.ground.nearby import name_of, short_words
from adze.core.ground.places import Place, place_words
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Finding

WATERS = ("stream", "water")


def judge_water(plan: Plan, mark: Landmark, shape: BaseGeometry) -> Iterator[Finding]:
    """Every place where a line goes over a stream or through open water, once for each line."""
    for run in plan.runs:
        line = line_of(run)
        met = line.intersection(shape)
        parts = [part for part in getattr(met, "geoms", [met]) if not part.is_empty]
        if not parts:
            continue
        wide_m = sum(part.length for part in parts)
        first = parts[0] if isinstance(parts[0], Point) else parts[0].interpolate(0.5, normalized=True)
        place = Place(run.id, float(line.project(first)))
        over = f"stands in {name_of(mark)} for {short_words(plan, wide_m)}" if wide_m else f"goes over {name_of(mark)}"
        yield Finding(
            Stage.GROUND,
            "Line over water",
            Status.MARGINAL,
            f"{run.name} {over}: a flood puts the lower strands in water, which drains the pulse beyond, and what "
            "drifts tears them. At low water animals can pass under the strands.",
            figure=short_words(plan, wide_m) if wide_m else "",
            place=place,
            where=place_words(plan, place),
            mend=(
                "End the line on both banks, with a switch before the water. Between them hang a panel on its own "
                "wire: it swings with the flood, and a lead that can be opened feeds it."
            ),
        )
