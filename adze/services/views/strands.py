"""What Strands shows."""

import math
from typing import Any

from adze.core.advice.fence_schools import fence_schools
from adze.core.advice.ways import JudgedPattern, judged_patterns
from adze.core.animals.strand_reasons import reasons
from adze.core.animals.strand_rules import Role, design
from adze.core.basics.units import format_height
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.build.ends import END_WORDS, end_kind
from adze.core.build.materials import HIT_WORDS, farthest_m, insulators_for, post_of
from adze.core.build.story_pole import insulator_side
from adze.core.ground.lines import length_m
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import built_as, every_fence
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors, end_posts, insulators, nettings, post_kinds
from adze.core.verdict.judge_fence import judge_built, lost_without_bottom
from adze.services.views.base import ViewRequest


def strands_view(asked: ViewRequest) -> dict[str, Any]:
    """The shown construction: its strands, what they hold, what it is made of, and what else it could be."""
    whole = asked.plan
    built = built_as(whole, asked.fence)
    plan = built.view
    animals = animals_of(plan)
    number = next((i for i, row in enumerate(whole.fences) if row.id == built.id), None)
    return {
        "built": built,
        "verdict": judge_built(whole, built),
        "stands": {b.id: judge_built(whole, b).status for b in every_fence(whole)} if whole.fences else {},
        "at": "" if number is None else f"fences.{number}.",
        "own": whole if number is None else whole.fences[number],
        "ways_to_build": every_fence(whole),
        "lengths": {run.id: length_m(run) for run in whole.runs},
        "own_m": (own_m := sum(length_m(run) for run in whole.runs if run.id in built.runs)),
        "net_rolls": math.ceil(own_m / nettings()[plan.netting].roll_m) if plan.netting else 0,
        "fence": fence_of(replaced(plan, bottom_off=False)),
        "bottom": bottom_group_of(plan),
        "lost": lost_without_bottom(plan),
        "pattern": design(animals, plan.duty, plan.scheme) if animals else None,
        "patterns": [_pattern_row(plan, p) for p in judged_patterns(plan)],
        "conductors": conductors(),
        "nettings": nettings(),
        "in_net": len(nettings()[plan.netting].heights.split()) if plan.netting else 0,
        "posts": post_kinds(),
        "end_posts": end_posts(),
        "end_words": END_WORDS,
        "end_kind": end_kind(plan),
        "kinds": animal_kinds(),
        "insulators": insulators(),
        "fitting": insulators_for(plan),
        "hit_words": HIT_WORDS,
        "farthest_m": farthest_m(plan),
        "fence_schools": fence_schools(plan),
        "post_cm": post_of(plan),
        "side": insulator_side(plan),
        "reasons": [(animal_kinds()[a.kind].label, reasons(a, plan.duty)) for a in animals],
    }


def _pattern_row(plan: Plan, found: JudgedPattern) -> dict[str, Any]:
    heights = [format_height(s.cm, plan.units) + ("" if s.role is Role.LIVE else f" {s.role}") for s in found.strands]
    return {
        "label": found.row.label,
        "words": ", ".join(heights),
        "strands": [{"cm": s.cm, "role": s.role.value} for s in found.strands],
        "status": found.status,
        "says": found.worst,
        "taken": found.strands == fence_of(replaced(plan, bottom_off=False)),
        "built_for": ", ".join(animal_kinds()[kind].plural for kind in found.row.kinds.split()),
    }
