"""The verdict on the line as it lies."""

from collections.abc import Iterator

from adze.core.basics.status import Status
from adze.core.basics.units import counted, format_length
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place, place_words
from adze.core.ground.relief import bumps
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.actions import Action, ActionKind
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.surroundings.existing import judge_existing
from adze.core.verdict.surroundings.siting import judge_siting
from adze.core.verdict.wired.gates import judge_gates
from adze.core.verdict.wired.layout import judge_layout

_BURNS = ("moderate", "heavy")  # growth that stands dry in a drought


def judge_ground(plan: Plan) -> Verdict:
    """How the lines meet and are fed, what stands beside them, and how the ground lies under them."""
    if not plan.runs:
        return Verdict(Stage.GROUND, "nothing drawn", unknown="Draw the first line from the energizer outward.")
    found = [
        *judge_layout(plan),
        *judge_gates(plan),
        *judge_siting(plan),
        *judge_existing(plan),
        *_lost_fixtures(plan),
        *_relief(plan),
    ]
    if plan.energizer_at is None:
        found.append(
            Finding(
                Stage.GROUND,
                "Energizer not placed",
                Status.MARGINAL,
                "Adze assumes 20 m of lead-out cable to the first point.",
                mend="Place the energizer on the ground.",
            )
        )
    length = sum(length_m(run) for run in plan.runs)
    gates = sum(f.kind == "gate" for f in plan.fixtures)
    line = format_length(length, plan.units) + (f", {counted(gates, 'gate')}" if gates else "")
    return Verdict(Stage.GROUND, line, tuple(found), _cautions(plan))


def _lost_fixtures(plan: Plan) -> Iterator[Finding]:
    runs = {run.id: run for run in plan.runs}
    for fixture in plan.fixtures:
        run = runs[fixture.run]
        if fixture.at_m > length_m(run) + 0.01:
            yield Finding(
                Stage.GROUND,
                "Past the end of the line",
                Status.FAILS,
                f"{fixture.name} stands at {format_length(fixture.at_m, plan.units)}, past the end of {run.name}.",
                limit=format_length(length_m(run), plan.units),
                place=Place(run.id, length_m(run)),
                where=fixture.name,
                mend="Move it back onto the line.",
                action=Action(ActionKind.MOVE_BACK, (fixture.id,)),
            )


def _relief(plan: Plan) -> Iterator[Finding]:
    for run in plan.runs:
        found = bumps(plan, run)
        dips = [b for b in found if b.is_dip]
        if not found:
            continue
        worst = max(found, key=lambda b: abs(b.off_m))
        place = Place(run.id, worst.at_m)
        rises = len(found) - len(dips)
        yield Finding(
            Stage.GROUND,
            "Dips and rises",
            Status.HOLDS,
            f"{run.name} has {len(dips)} dip{'s' * (len(dips) != 1)} where strands would lift posts and {rises} "
            f"rise{'s' * (rises != 1)} where they would press on the ground; the most {abs(worst.off_m):.1f} m off the "
            "chord of two spans.",
            figure=f"{counted(len(dips), 'dip')}, {counted(rises, 'rise')}",
            place=place,
            where=place_words(plan, place),
            mend="A tie-down anchor at each dip and a post on each rise are on the parts list.",
        )


def _cautions(plan: Plan) -> tuple[str, ...]:
    kinds = {mark.kind for mark in plan.landmarks}
    notes = []
    if plan.grass in _BURNS:
        notes.append(
            "Dry growth on a live strand can catch fire from a spark. When fire danger is high, cut a metre wide "
            "along the line, switch the bottom strands off and follow the local fire rules."
        )
    if "path" in kinds:
        notes.append(
            "Beside a public path put up signs that can be read from both sides, at most 100 m apart. Leave a way "
            "round or a safe gate, and keep live strands away from a child's head. Check your local code."
        )
    if "overhead" in kinds:
        notes.append(
            "Near a power line carry nothing tall, cross it at a right angle and keep the top strand at 2 m or lower."
        )
    if "buried" in kinds or "pipe" in kinds:
        notes.append("Have buried services located before driving posts or rods.")
    if any(f.kind == "crossing" for f in plan.fixtures):
        notes.append("Under a road use double-insulated fence cable in a duct, with its ends turned down and sealed.")
    return tuple(notes)
