"""What Stock shows."""

from typing import Any

from adze.core.animals.strand_rules import limits_of, wanted_kv
from adze.core.forecast.touches import Need, needs
from adze.core.plan.catalogue import catalogue
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of_herd, body_of, state_words, wanted_by
from adze.core.tables.animals import animal_kinds
from adze.core.tables.services import SERVICE_LIVES
from adze.core.verdict.judge_stock import LOSS_WORDS
from adze.services.views.base import ViewRequest

_LEAPS = 1.2  # of its shoulder: what must be stopped higher is said to leap


def stock_view(asked: ViewRequest) -> dict[str, Any]:
    """Kinds of animals, the groups' bodies, and the kV that each takes."""
    plan, judged = asked.plan, asked.judged
    bodies = {herd.id: body_of(herd) for herd in plan.stock}
    wants = needs(plan)
    return {
        "kinds": animal_kinds(),
        "beasts": _beasts(plan, wants),
        "wanted_kv": judged.wanted_kv,
        "wanted_by": wanted_by(plan),
        "bodies": bodies,
        "losses": LOSS_WORDS,
        "needs": wants,
        "services": SERVICE_LIVES,
    }


def _beasts(plan: Plan, wants: tuple[Need, ...]) -> dict[str, dict[str, Any]]:
    """Each group as its picture tells it: body, number, the highest strand and the kV that it wants."""
    most_kv = max(unit.open_kv for unit in catalogue(plan).values())
    by_animal = {need.animal: need for need in wants}
    rows = {}
    for herd in plan.stock:
        animal = animals_of_herd(herd, plan.on_date)[0]
        need, limits = by_animal[animal], limits_of(animal, plan.duty)
        ways = (
            ("digs", animal.digs),
            ("climbs", animal.climbs),
            ("leaps", limits.top_cm > _LEAPS * animal.shoulder_cm),
        )
        rows[herd.id] = {
            "kind": animal.kind,
            "count": herd.count,
            "nose_cm": animal.nose_cm,
            "shoulder_cm": animal.shoulder_cm,
            "head_cm": animal.head_cm,
            "lowest_cm": limits.lowest_cm,
            "top_cm": limits.top_cm,
            "ways": ", ".join(word for word, does in ways if does),
            "wanted_kv": wanted_kv((animal,)),
            "state": state_words(animal),
            "soil_kv": need.soil_kv,
            "strands_kv": need.strands_kv,
            "soil_alone": {season: kv <= most_kv for season, kv in need.soil_kv.items()},
        }
    return rows


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
