"""What somebody who knows fences needs to be told before they can help: the facts and what does not hold."""

from typing import Any

from adze.core.basics.status import Status
from adze.core.build.construction import conductors_of, fence_of
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import standing_fences
from adze.core.plan.season import SEASON_WORDS
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import post_kinds
from adze.core.tables.ground import grasses, rod_metals, soils
from adze.services.answers.forecasts import judgement_of
from adze.services.log.readings import reading_words
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log.readings import list_readings

_READINGS = 8


def ask_view(begin_transaction: BeginTransaction, opened: OpenPlan) -> dict[str, Any]:
    """The fence in figures, the newest readings, and each finding that does not hold as a question."""
    plan, judged = opened.plan, judgement_of(opened.plan)
    with begin_transaction() as connection:
        read = list_readings(connection, plan_id=opened.id, most=_READINGS)
    ways = [
        {
            "name": built.name,
            "strands": fence_of(built.view),
            "made_of": tuple(dict.fromkeys(made.label for made in conductors_of(built.view))),
            "post": post_kinds()[built.view.post].label,
            "spacing_m": built.view.post_spacing_m,
            "animals": tuple(dict.fromkeys(animal_kinds()[a.kind].label for a in animals_of(built.view))),
        }
        for built in standing_fences(plan)
    ]
    open_findings = [f for v in judged.verdicts.values() for f in v.findings if f.status is not Status.HOLDS]
    return {
        "stored": opened.stored,
        "plan": plan,
        "plan_id": opened.id,
        "unit": unit_of(plan),
        "ways": ways,
        "fence_m": sum(length_m(run) for run in plan.runs),
        "gates": sum(f.kind == "gate" for f in plan.fixtures),
        "switches": sum(f.kind == "switch" for f in plan.fixtures),
        "season_words": SEASON_WORDS,
        "soil": soils()[plan.soil].label,
        "grass": grasses()[plan.grass].label,
        "rod_metal": rod_metals()[plan.rods.metal].label,
        "judged": judged,
        "open": sorted(open_findings, key=lambda f: f.status is not Status.FAILS),
        "readings": [reading_words(plan, row, opened.stored.time_zone) for row in read],
    }
