"""What the side view draws of a fence: its strands and the animals that meet it."""

from typing import Any

from adze.core.animals.strand_rules import limits_of
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.materials import post_of
from adze.core.plan.constructions import Built
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of, wanted_of
from adze.core.tables.construction import nettings


def fence_json(built: Built) -> dict[str, Any]:
    """One way of building as the browser draws it: name, strands, posts, the kV wanted, the animals."""
    view = built.view
    return {
        "name": built.name,
        "wanted_kv": wanted_of(view),
        "post_cm": post_of(view),
        "behind": view.behind,
        "netting": _netting_json(view),
        "strands": [
            {"cm": s.cm, "role": s.role.value, "kind": c.kind, "width_mm": c.width_mm}
            for s, c in zip(fence_of(view), conductors_of(view), strict=True)
        ],
        "animals": _animals_json(view),
    }


def _netting_json(plan: Plan) -> dict[str, Any] | None:
    net = nettings().get(plan.netting or "")
    return {"label": net.label, "count": len(net.heights.split()), "top_cm": net.top_cm} if net else None


def _animals_json(plan: Plan) -> list[dict[str, Any]]:
    rows = []
    for animal in animals_of(plan):
        limits = limits_of(animal, plan.duty)
        rows.append(
            {
                "kind": animal.kind,
                "nose_cm": animal.nose_cm,
                "shoulder_cm": animal.shoulder_cm,
                "head_cm": animal.head_cm,
                "lowest_cm": limits.lowest_cm,
                "gap_cm": limits.gap_at_nose_cm,
                "chest_cm": limits.chest_cm,
                "top_cm": limits.top_cm,
                "sniffs": limits.sniffs,
                "digs": animal.digs,
                "climbs": animal.climbs,
            }
        )
    return rows
