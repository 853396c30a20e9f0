"""What Stock shows."""

from typing import Any

from adze.core.forecast.touches import needs
from adze.core.plan.stock import body_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.judge_stock import LOSS_WORDS
from adze.services.views.base import Asked


def stock_view(asked: Asked) -> dict[str, Any]:
    """Kinds of animals, the groups' bodies, and the kV that each takes."""
    plan, judged = asked.plan, asked.judged
    bodies = {herd.id: body_of(herd) for herd in plan.stock}
    return {
        "kinds": animal_kinds(),
        "wanted_kv": judged.wanted_kv,
        "bodies": bodies,
        "losses": LOSS_WORDS,
        "needs": needs(plan),
    }


def drawn_kinds() -> dict[str, dict[str, Any]]:
    """Every kind's body as the side view draws it."""
    return {
        key: {
            "label": k.label,
            "plural": k.plural,
            "purpose": k.purpose,
            "nose_cm": k.nose_cm,
            "shoulder_cm": k.shoulder_cm,
            "head_cm": k.head_cm,
            "outline": k.outline_parts,
        }
        for key, k in animal_kinds().items()
    }
