"""The overview: one sentence, what to fix, the fence at a glance, what comes next, and what was assumed."""

from dataclasses import dataclass
from typing import Any

from adze.core.basics.status import Status
from adze.core.basics.units import kv_words
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.season import SEASON_WORDS
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_kinds
from adze.core.tables.ground import grasses, soils
from adze.core.tasks.job import job_of
from adze.core.verdict.judge import Judgement
from adze.formats.plan.sketch import sketch
from adze.services.answers.design import answer_of, best_of, findings_of, mended_of
from adze.services.views.base import ViewRequest
from adze.store.build import work
from adze.store.log.readings import list_readings

_SHOWN = 4  # findings before the rest is folded
_OTHERS = 6  # fixes beside the best


@dataclass(frozen=True)
class NextThing:
    """The one thing to do now: a title, words, and the stage that it is done at."""

    title: str
    words: str
    stage: Stage
    button: str


def overview_view(asked: ViewRequest) -> dict[str, Any]:
    """What the overview shows once the plan is judged."""
    plan, judged = asked.plan, asked.judged
    fence = fence_of(standing_fences(plan)[0].view)
    worst = min(((v.worst[1], season) for season, v in judged.volts.items()), default=None)
    findings = findings_of(plan)
    return {
        "plan": plan,
        "plan_id": asked.opened.id,
        "stored": asked.opened.stored,
        "units": plan.units,
        "judged": judged,
        "findings": findings[:_SHOWN],
        "more": len(findings) - _SHOWN,
        "fails": len(judged.to_fix),
        "season_words": SEASON_WORDS,
        "sketch": sketch(plan),
        "fence": fence,
        "top_cm": max((s.cm for s in fence), default=100.0),
        "fence_m": sum(length_m(run) for run in plan.runs),
        "gates": sum(f.kind == "gate" for f in plan.fixtures),
        "unit": unit_of(plan),
        "weakest_kv": kv_words(worst[0]) if worst else "",
        "weakest_week": SEASON_WORDS[worst[1]] if worst else "",
        "start_kv": kv_words(judged.volts[worst[1]].start_kv) if worst else "",
        "cost": bill(plan).total if plan.runs else 0.0,
        "hours": job_of(plan).minutes / 60 if plan.runs else 0.0,
        "assumed": _assumed(plan),
        "next": _next(asked, judged),
    }


def _assumed(plan: Plan) -> tuple[tuple[str, Stage], ...]:
    """The guesses that decide most, each with the stage where it is changed."""
    rows = [(f"{soils()[plan.soil].label}, dry as in a usual drought", Stage.EARTH)]
    rows.append((f"{grasses()[plan.grass].label} in the line", Stage.VOLTS))
    held = [herd for herd in plan.stock if animal_kinds()[herd.kind].purpose == "hold"]
    for schooled, words in ((True, "know electric fence"), (False, "do not know electric fence")):
        names = [animal_kinds()[herd.kind].plural for herd in held if herd.schooled is schooled]
        if names:
            rows.append((f"The {' and '.join(dict.fromkeys(names))} {words}", Stage.STOCK))
    return tuple(rows)


def _next(asked: ViewRequest, judged: Judgement) -> NextThing:
    fails = len(judged.to_fix)
    if judged.blocked:
        return NextThing("Next: finish the plan", judged.blocked, _blocked_at(judged), "Go there")
    if fails:
        words = f"Next: fix {'one thing' if fails == 1 else f'{fails} things'}"
        return NextThing(words, "Then order the parts.", Stage.VOLTS, "")
    opened = asked.opened
    with asked.begin_transaction() as connection:
        is_read = bool(list_readings(connection, plan_id=opened.id, most=1))
        is_begun = bool(work.list_task_events(connection, plan_id=opened.id))
    if is_read:
        return NextThing("Next: the round", "Measure the fence at its usual points.", Stage.LOG, "Open the log")
    if is_begun:
        return NextThing("Next: build", "Continue with the steps.", Stage.BUILD, "Build")
    return NextThing("Next: order the parts", "The list is ready, exact to the piece.", Stage.PARTS, "Shopping list")


def _blocked_at(judged: Judgement) -> Stage:
    return next((stage for stage, v in judged.verdicts.items() if v.status is Status.UNKNOWN), Stage.GROUND)


def fix_view(asked: ViewRequest, number: int) -> dict[str, Any]:
    """The fixes of one open finding. Raises IndexError."""
    return {"answer": best_of(asked.plan, number), "can_edit": asked.opened.stored.role > 2}


def other_fixes_view(asked: ViewRequest, number: int) -> dict[str, Any]:
    """What else would mend one open finding than the cheapest. Raises IndexError."""
    found = answer_of(asked.plan, number)
    others = [fix for fix in found.fixes if fix is not found.best]
    return {"others": others[:_OTHERS], "can_edit": asked.opened.stored.role > 2}


def mended_view(asked: ViewRequest) -> dict[str, Any]:
    """Everything mended, before and after."""
    found = mended_of(asked.plan)
    return {
        "mended": found,
        "before": asked.judged,
        "key": "+".join(fix.key for _, fix in found.done),
        "hours": sum(fix.hours for _, fix in found.done),
        "cost": bill(asked.plan).total,
        "cost_after": bill(found.plan).total,
        "can_edit": asked.opened.stored.role > 2,
    }
