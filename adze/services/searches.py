"""The search for a design, told step by step to whoever watches it."""

import time
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from adze.core.catalogue import catalogue
from adze.core.circuit import Incomplete
from adze.core.parts import bill
from adze.core.plan import Plan
from adze.core.search import Design, Progress, Wishes, search
from adze.core.tables import conductors
from adze.core.wording import animal_word, kv_words, place_words

_EVERY_S = 0.25
_STRANDS = {"earth between": "earth strands between", "mesh before": "mesh before it"}


def told(plan: Plan, wishes: Wishes) -> Iterator[dict[str, Any]]:
    """How far the search is and the best so far, a few times a second, and the last word.

    What cannot be searched is told as a fault in words.
    """
    # A design has to hold on a sound fence: what is tried on the plan is left out.
    plan = plan.model_copy(update={"what_ifs": ()})
    now, latest, last = bill(plan).total, time.monotonic(), None
    try:
        for last in search(plan, wishes):
            if time.monotonic() - latest >= _EVERY_S:
                latest = time.monotonic()
                yield _progress_json(plan, last, now)
    except (Incomplete, ValueError) as missing:
        yield {"fault": str(missing)}
        return
    if last:
        yield _progress_json(plan, last, now) | {"finished": True}


def _progress_json(plan: Plan, step: Progress, now: float) -> dict[str, Any]:
    return {
        "done": step.done,
        "total": step.total,
        "front": [{"cost": d.cost, "margin": round(d.margin, 3), "holds": d.holds} for d in step.front],
        "best": [_design_json(plan, d, now) for d in step.best],
    }


def _design_json(plan: Plan, found: Design, now: float) -> dict[str, Any]:
    choice = found.choice
    parts = [catalogue(plan)[choice.energizer].label, f"{choice.rods} rods"]
    if choice.strands != "as they are":
        parts.append(_STRANDS.get(choice.strands, choice.strands))
    if choice.far_rods:
        parts.append("3 rods at the far end")
    if choice.conductor:
        parts.append(conductors()[choice.conductor].label)
    weakest = f"{animal_word(found.animal)}, " if found.animal else ""
    where = place_words(plan, found.where) if found.where else ""
    return {
        "words": ", ".join(parts),
        "choice": asdict(choice),
        "cost": found.cost,
        "more": round(found.cost - now, 2),
        "margin": round(found.margin, 3),
        "holds": found.holds,
        "least_kv": kv_words(found.least_kv),
        "weakest": f"{weakest}{found.season.value}{', ' if where else ''}{where}",
    }
