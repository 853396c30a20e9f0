"""What the side view draws of the animals."""

from typing import Any

from adze.core.plan import Plan
from adze.core.stock import animals_of
from adze.core.strand_rules import limits_of


def animals_json(plan: Plan) -> list[dict[str, Any]]:
    """The bodies that the side view draws, and what each asks of the strands."""
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
