"""The search for a design, told step by step to whoever watches it."""

import math
import time
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from adze.core.advice.designs import StrandChange
from adze.core.advice.reroute import Link
from adze.core.advice.search import Design, SearchProgress, Wishes, search
from adze.core.basics.units import format_length, kv_words
from adze.core.build.parts import bill
from adze.core.ground.places import nearest_place, place_words
from adze.core.plan.catalogue import catalogue
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.stages import Incomplete
from adze.core.tables.animals import animal_word
from adze.core.tables.construction import conductors

_EVERY_S = 0.25
_STRANDS = {
    StrandChange.EARTH_BETWEEN: "earth strands between",
    StrandChange.MESH_BEFORE: "mesh before it",
}


def stream_search(plan: Plan, wishes: Wishes) -> Iterator[dict[str, Any]]:
    """How far the search is and the best so far, a few times a second, and the last word.

    What cannot be searched is told as a fault in words.
    """
    # A design has to hold on a sound fence: what is tried on the plan is left out.
    plan = replaced(plan, what_ifs=())
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


def _progress_json(plan: Plan, step: SearchProgress, now: float) -> dict[str, Any]:
    return {
        "done": step.done,
        "computed": step.computed,
        "total": step.total,
        "front": [{"cost": d.cost, "margin": round(d.margin, 3), "holds": d.holds} for d in step.front],
        "best": [_design_json(plan, d, now) for d in step.best],
    }


def _link_words(plan: Plan, link: Link) -> str:
    ends = [met[0] for spot in link if (met := nearest_place(plan.runs, spot))]
    words = " and ".join(place_words(plan, place) for place in ends)
    return f"a link of {format_length(math.dist(*link), plan.units)} between {words}"


def _design_json(plan: Plan, found: Design, now: float) -> dict[str, Any]:
    choice = found.choice
    build = choice.build
    long = "" if choice.rod_m in (None, plan.rods.length_m) else f" of {format_length(choice.rod_m or 0, plan.units)}"
    parts = [catalogue(plan)[choice.energizer].label, f"{choice.rods} rods{long}"]
    if choice.rods_at:
        parts.append("rods in damper ground")
    if build.strands is not StrandChange.NONE:
        parts.append(_STRANDS.get(build.strands, build.strands.value))
    if build.more_live:
        parts.append("one live strand more")
    if build.far_rods:
        parts.append("3 rods at the far end")
    if build.conductor:
        parts.append(conductors()[build.conductor].label)
    if build.feed_at and (fed := nearest_place(plan.runs, build.feed_at)):
        parts.append(f"fed in at {place_words(plan, fed[0])}")
    if build.link:
        parts.append(_link_words(plan, build.link))
    weakest = "the earth test, " if found.by_test else f"{animal_word(found.animal)}, " if found.animal else ""
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
