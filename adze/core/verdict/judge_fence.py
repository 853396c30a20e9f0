"""The verdict on the strands that must meet the animals."""

import math
from collections.abc import Collection, Iterator
from dataclasses import replace
from typing import Any

from adze.core.animals.practice import as_trained, is_learning, practised
from adze.core.animals.strand_checks import StrandFinding, smallest_mend
from adze.core.animals.strand_rules import Role, design
from adze.core.basics.status import Status
from adze.core.basics.units import format_height
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.ground.blocks import blocks
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place
from adze.core.plan.catalogue import between_pulses_s
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import Built, fence_at, standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.actions import Action, ActionKind
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge_materials import material_cautions, material_findings
from adze.core.verdict.surroundings.guarded import judge_reach

CHECK_TITLES = {
    "head": "Head through a gap",
    "pulse": "Through between pulses",
    "under": "Under",
    "lean": "Leaning over",
    "jump": "Over the top",
    "reach": "Reaching in",
    "touch": "Nose meets live",
    "bridge": "Live and earth at once",
}
_GRASSED_CM = 10  # a strand lower than this lies in any grass
_HOOF_CM = 30  # a horse that paws hooks a strand lower than this
_STOOD_OFF_CHECKS = ("touch", "bridge")


def judge_strands(plan: Plan) -> Verdict:
    """Every way that lines are built: each check for every animal, with the smallest mend of what fails."""
    rows = [(built, _of_fence(_with_reach(plan, built), built)) for built in standing_fences(plan)]
    if not plan.fences:
        only = rows[0][1]
        return replace(only, findings=(*only.findings, *_block_findings(plan)))
    known = [verdict for _, verdict in rows if not verdict.unknown]
    found = tuple(replace(f, where=f.where or built.name) for built, verdict in rows for f in verdict.findings)
    cautions = tuple(dict.fromkeys(caution for _, verdict in rows for caution in verdict.cautions))
    blank = next((verdict.unknown for _, verdict in rows if verdict.unknown), "")
    line = f"{len(rows)} ways to build" if len(rows) > 1 else rows[0][1].line
    return Verdict(Stage.STRANDS, line, (*found, *_block_findings(plan)), cautions, "" if known else blank)


def _of_fence(verdict: Verdict, built: Built) -> Verdict:
    """A verdict whose findings name the way of building that they stand for."""
    return replace(verdict, findings=tuple(replace(f, fence=built.id or "") for f in verdict.findings))


def judge_built(plan: Plan, built: Built) -> Verdict:
    """The verdict on the lines that are built in one way."""
    own = _with_reach(plan, built)
    blocks_here = tuple(f for f in _block_findings(plan) if f.place and f.place.run in built.runs)
    return replace(own, findings=(*own.findings, *blocks_here))


def _with_reach(plan: Plan, built: Built) -> Verdict:
    own = _judge_one(built.view)
    return own if own.unknown else replace(own, findings=(*own.findings, *judge_reach(plan, built)))


def _judge_one(plan: Plan) -> Verdict:
    fence = fence_of(plan)
    live = [s for s in fence if s.role is Role.LIVE]
    top = format_height(fence[-1].cm, plan.units)
    kinds = "live" if len(live) == len(fence) else f"{len(live)} live"
    line = f"{len(fence)}, {kinds}, to {top}"
    animals = animals_of(plan)
    if not animals:
        return Verdict(Stage.STRANDS, line, unknown="Choose the animals first; the heights follow from them.")
    found = []
    if not live:
        found.append(
            Finding(
                Stage.STRANDS,
                "No live strand",
                Status.FAILS,
                "No strand carries the pulse.",
                mend="Make one strand live.",
            )
        )
    for f, finding in strand_findings(plan):
        holds = finding.status is Status.HOLDS
        found.append(finding if holds else replace(finding, **_mend_of(plan, f)))
    pattern = design(animals, plan.duty, plan.scheme)
    if pattern.refusal and not (plan.netting or plan.behind or plan.strands):
        found.append(Finding(Stage.STRANDS, "No single set", Status.FAILS, pattern.refusal))
    found += [*_learning(plan), *_least_rows(plan, len(fence)), *material_findings(plan)]
    return Verdict(Stage.STRANDS, line, tuple(found), _strand_cautions(plan))


def _learning(plan: Plan) -> Iterator[Finding]:
    """Who is judged as trained here, and has that still to come."""
    new = dict.fromkeys(animal_kinds()[a.kind].plural for a in animals_of(plan) if is_learning(a, plan.duty))
    if new and not plan.behind:
        yield Finding(
            Stage.STRANDS,
            "New to electric fence",
            Status.MARGINAL,
            f"These heights are judged for {' and '.join(new)} that know electric fence. New ones may run through "
            "before they learn.",
            mend="Train them first: a week in a small pen, with live strands inside a solid barrier.",
            action=Action(ActionKind.TRAIN, ()),
        )


def _least_rows(plan: Plan, rows: int) -> Iterator[Finding]:
    """The user's own rule: the fewest rows that a rider body or an insurer asks."""
    if plan.least_rows is not None:
        holds = rows >= plan.least_rows
        yield Finding(
            Stage.STRANDS,
            "Fewer strands than your rule asks",
            Status.HOLDS if holds else Status.FAILS,
            f"Your own rule asks for at least {plan.least_rows} strands; with fewer a claim may be refused.",
            figure=f"{rows}",
            limit=f"{plan.least_rows}",
            mend="" if holds else f"Add {plan.least_rows - rows} more, or change the rule.",
        )


def _mend_of(plan: Plan, finding: StrandFinding) -> dict[str, Any]:
    """What mends a check of the strands: in words, and as the heights that it makes."""
    if plan.netting:
        return {"mend": "Choose higher or closer netting, or add a strand over it."}
    animals, fence = as_trained(animals_of(plan), plan.duty), fence_of(plan)
    mend = smallest_mend(animals, plan.duty, fence, finding, pulse_s=between_pulses_s(plan))
    if mend.kind == "advice" and finding.check in ("pulse", "reach"):
        return {"mend": mend.words()}
    rows = mend.applied(fence) or design(animals, plan.duty, plan.scheme).strands
    heights = ",".join(f"{strand.cm:g}{strand.role.value[0]}" for strand in rows)
    return {"mend": mend.words(), "action": Action(ActionKind.HEIGHTS, (heights,))}


def _block_findings(plan: Plan) -> Iterator[Finding]:
    """Lines around a block whose strands are not judged for the animals that graze it."""
    named = {block.id: block for block in plan.blocks if block.herds}
    labels = {herd.id: animal_kinds()[herd.kind].plural for herd in plan.stock}
    for block in blocks(plan) if named else ():
        for run in block.runs if block.id in named else ():
            built = fence_at(plan, run)
            met = {herd.id for herd in built.view.stock}
            missing = [labels[key] for key in named[block.id].herds if key not in met]
            if missing:
                yield Finding(
                    Stage.STRANDS,
                    "Animals this line is not judged for",
                    Status.FAILS,
                    f"{block.name} holds the {', '.join(missing)}; {run_of(plan, run).name} beside it is built as "
                    f"{built.name}, which is not judged for them.",
                    place=Place(run, 0.0),
                    where=run_of(plan, run).name,
                    mend="Add them to the animals of that fence, or build the line in a way that holds them.",
                )


def strand_findings(plan: Plan) -> Iterator[tuple[StrandFinding, Finding]]:
    """Every check of every animal as a finding, its mend not yet sought."""
    netting = bool(plan.netting and not plan.strands)
    pulse_s = between_pulses_s(plan)
    for f in practised(animals_of(plan), plan.duty, fence_of(plan), pulse_s, netting=netting):
        if plan.behind and f.check not in _STOOD_OFF_CHECKS:
            continue  # what stands behind keeps heads and bodies back
        yield (
            f,
            Finding(
                Stage.STRANDS,
                f"{animal_kinds()[f.animal].label}: {CHECK_TITLES[f.check].lower()}",
                f.status,
                f.reason,
                figure=_shown(plan, f, f.value),
                limit=_shown(plan, f, f.limit),
            ),
        )


def lost_without_bottom(plan: Plan) -> tuple[Finding, ...]:
    """What holds with all strands live and no longer while the bottom strands are switched off (rule 14)."""
    return _lost(*(replaced(plan, bottom_off=x) for x in (False, True)))


def lost_without(view: Plan, numbers: Collection[int]) -> tuple[Finding, ...]:
    """What holds of a fence and no longer while some of its strands, counted from the ground, carry nothing."""
    rows = [
        {"cm": strand.cm, "role": Role.DEAD if number in numbers else strand.role}
        for number, strand in enumerate(fence_of(view), 1)
    ]
    return _lost(view, replaced(view, strands=rows, bottom_off=False))


def _lost(on: Plan, off: Plan) -> tuple[Finding, ...]:
    held = {f.title for _, f in strand_findings(on) if f.status is Status.HOLDS}
    return tuple(f for _, f in strand_findings(off) if f.status is not Status.HOLDS and f.title in held)


def _shown(plan: Plan, finding: StrandFinding, value: float | None) -> str:
    """A strand check's figure in its unit: seconds for the pulse, a height else."""
    if value is None:
        return ""
    return f"{value:.1f} s" if finding.check == "pulse" else format_height(value, plan.units)


def _strand_cautions(plan: Plan) -> tuple[str, ...]:
    fence, kinds = fence_of(plan), {h.kind for h in plan.stock}
    notes = []
    lowest = min((s.cm for s in fence if s.role is Role.LIVE), default=math.inf)
    if lowest < _GRASSED_CM:
        low = f"A lowest strand under {_GRASSED_CM} cm lies in any grass"
        notes.append(f"{low}: keep a bare strip below it, or use netting.")
    if lowest < _HOOF_CM and any(animal_kinds()[kind].paws for kind in kinds):
        notes.append(f"A lowest strand under {_HOOF_CM} cm can hook a pawing hoof.")
    notes += material_cautions(plan)
    if bottom_group_of(plan):
        group = ", ".join(format_height(fence[i].cm, plan.units) for i in bottom_group_of(plan))
        notes.append(
            f"Put the strands at {group} on a switch of their own, and switch them off while the grass is high."
        )
    notes.append("Never make barbed wire live. Put no live strand within reach behind it.")
    return tuple(notes)
