"""What the pulse does not reach on a plan, why, and whom it no longer holds."""

from collections.abc import Iterable, Iterator
from dataclasses import replace
from itertools import groupby

from adze.core.basics.status import Status
from adze.core.basics.units import format_length, kv_words
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place, place_words
from adze.core.ground.zones import Stretch, Zones, zones
from adze.core.plan.changes import changed, replaced
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, WhatIf, stands_open
from adze.core.plan.stages import Stage
from adze.core.plan.stock import wanted_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.ground import mishap_kinds
from adze.core.verdict.actions import Action, ActionKind, setting
from adze.core.verdict.findings import Cause, Finding

DEAD_TITLE = "Carries nothing"


def dead_parts(plan: Plan) -> Iterator[Finding]:
    """Each line that is dead in part: behind a cut it fails, behind what is open it is off, else nothing feeds it."""
    found = zones(plan)
    if found is None or not found.dead:
        return
    without_cuts = _dead_in(zones(replaced(plan, what_ifs=tuple(w for w in plan.what_ifs if not _is_cut(w)))))
    all_shut = _dead_in(zones(_all_shut(plan)))
    for run, rows in groupby(found.dead, key=lambda stretch: stretch.run):
        stretches = tuple(rows)
        if any(not _lies_in(s, without_cuts) for s in stretches):
            yield _behind_a_cut(plan, run, stretches)
        elif any(not _lies_in(s, all_shut) for s in stretches):
            yield _switched_off(plan, run, stretches, found)
        else:
            yield _on_nothing(plan, run, stretches)


def _is_cut(trial: WhatIf) -> bool:
    return mishap_kinds()[trial.kind].effect == "cut" and trial.strand is None


def _all_shut(plan: Plan) -> Plan:
    return changed(
        plan, {"fixtures": [f.model_dump() | ({"is_open": False} if stands_open(f) else {}) for f in plan.fixtures]}
    )


def _dead_in(found: Zones | None) -> tuple[Stretch, ...]:
    return found.dead if found else ()


def _lies_in(stretch: Stretch, others: Iterable[Stretch]) -> bool:
    middle = (stretch.from_m + stretch.to_m) / 2
    return any(o.run == stretch.run and o.from_m <= middle <= o.to_m for o in others)


def _finding(
    plan: Plan,
    run: str,
    stretches: tuple[Stretch, ...],
    status: Status,
    why: str,
    mend: str,
) -> Finding:
    view, place = fence_at(plan, run).view, Place(run, stretches[0].from_m)
    metres = format_length(sum(s.length_m for s in stretches), plan.units)
    held = " and ".join(dict.fromkeys(animal_kinds()[herd.kind].plural for herd in view.stock))
    return Finding(
        Stage.VOLTS,
        f"{DEAD_TITLE}: {run_of(plan, run).name}",
        status,
        f"{why} {metres} of {run_of(plan, run).name} carry nothing"
        + (f" and do not stop the {held}." if held else "."),
        figure="0 kV",
        limit=f"{kv_words(wanted_of(view))} kV",
        place=place,
        where=place_words(plan, place),
        mend=mend,
        limit_kv=wanted_of(view),
    )


def _behind_a_cut(plan: Plan, run: str, stretches: tuple[Stretch, ...]) -> Finding:
    places = ", ".join(place_words(plan, Place(w.run, w.at_m)) for w in plan.what_ifs if _is_cut(w))
    why, mend = f"The strands are cut at {places}.", "Join the strands."
    found = _finding(plan, run, stretches, Status.FAILS, why, mend)
    return replace(found, cause=Cause.MISHAP, action=setting("plan", what_ifs=""))


def _switched_off(plan: Plan, run: str, stretches: tuple[Stretch, ...], found: Zones) -> Finding:
    opened = [f for f in (*found.switches, *found.gates) if stands_open(f)]
    names = " and ".join(f.name for f in opened)
    why = f"{names} {'are' if len(opened) > 1 else 'is'} open."
    is_gate = any(isinstance(f, Gate) for f in opened)
    mend = "Shut it before animals are put there." if is_gate else "Switch it on."
    action = Action(ActionKind.SHUT, tuple(f.id for f in opened))
    return replace(_finding(plan, run, stretches, Status.MARGINAL, why, mend), action=action)


def _on_nothing(plan: Plan, run: str, stretches: tuple[Stretch, ...]) -> Finding:
    return _finding(plan, run, stretches, Status.FAILS, "No live line is joined to it.", "Join it at Ground.")
