"""Lines on and beside existing fences: what carries them, what stands too near, what an animal makes of both."""

from collections.abc import Iterator

from adze.core.animals.strand_rules import limits_of
from adze.core.basics.status import Status
from adze.core.basics.units import format_height
from adze.core.build.construction import fence_of
from adze.core.ground.lines import line_of, shape_of
from adze.core.ground.nearby import name_of, nearest_on, short_words
from adze.core.ground.old_fences import Alongside, alongside, is_metal
from adze.core.ground.places import Place, place_words
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.findings import Finding

CARRIED_SHARE = 0.8  # of a line on brackets that must have its fence behind it
METAL_CM = 20.0  # a strand swings onto metal nearer than this, or sparks to it in the wet
_BARB_M = 0.5  # what the barbs hold hangs on the live strand


def judge_existing(plan: Plan) -> Iterator[Finding]:
    """Every finding about existing fences and the lines along them."""
    for run in plan.runs:
        view, beside = fence_at(plan, run.id).view, alongside(plan, run)
        if view.behind == "old_fence":
            yield from _carried(plan, run, view, beside)
        elif beside is not None:
            yield from _beside(plan, run, beside)
        if beside is not None:
            yield from _whose(plan, run, beside)
            yield from _for_horses(plan, run, view, beside)


def _finding(
    plan: Plan, run: Run, title: str, status: Status, reason: str, mend: str, figures: tuple[str, str] = ("", "")
) -> Finding:
    place = Place(run.id, line_of(run).length / 2)
    figure, limit = figures
    return Finding(
        Stage.GROUND, title, status, reason,
        figure=figure, limit=limit, place=place, where=place_words(plan, place), mend=mend,
    )  # fmt: skip


def _carried(plan: Plan, run: Run, view: Plan, beside: Alongside | None) -> Iterator[Finding]:
    if beside is None or beside.share < CARRIED_SHARE:
        metres = beside.along_m if beside else 0.0
        yield _finding(
            plan, run, "Brackets without a fence", Status.FAILS,
            f"{run.name} is built on brackets, but an existing fence stands behind only {short_words(plan, metres)} "
            "of it.",
            "Mark the fence that carries it, or build the line on its own posts.",
            (f"{100 * (beside.share if beside else 0):.0f} %", f"{100 * CARRIED_SHARE:.0f} %"),
        )  # fmt: skip
        return
    mark = beside.mark
    if mark.condition in ("climbable", "keep"):
        yield _finding(
            plan, run, "It cannot carry strands", Status.FAILS,
            f"{name_of(mark)} is {'a step over' if mark.condition == 'climbable' else 'to be kept as it is'}: "
            "brackets pull at it, and a leaning fence takes the strands along.",
            "Build a line on its own posts, half a metre in front of it.",
        )  # fmt: skip
    elif mark.condition is None:
        yield _finding(
            plan, run, "Is it sound?", Status.MARGINAL,
            f"Nobody has said yet whether {name_of(mark)} is sound. Push every fifth post before brackets go on.",
            "Choose it on the ground and say what state it is in.",
        )  # fmt: skip
    if is_metal(mark) and view.bracket_cm < METAL_CM:
        yield _finding(
            plan, run, "Brackets too short", Status.FAILS,
            f"A live strand {view.bracket_cm:g} cm from metal swings onto it in the wind and sparks to it in the wet.",
            "Use brackets of 25 cm.", (format_height(view.bracket_cm, plan.units), format_height(METAL_CM, plan.units)),
        )  # fmt: skip
    yield from _over_both(plan, run, view, beside)


def _over_both(plan: Plan, run: Run, view: Plan, beside: Alongside) -> Iterator[Finding]:
    """The old mesh keeps its own height: what springs over both."""
    tall = beside.mark.tall_cm
    if tall is None:
        return
    top = max(tall, *(strand.cm for strand in fence_of(view)))
    for animal in animals_of(view):
        limit = limits_of(animal, view.duty).top_cm
        if top < limit:
            yield _finding(
                plan, run, f"{animal_kinds()[animal.kind].label}: over both", Status.MARGINAL,
                f"{name_of(beside.mark)} stands {format_height(tall, plan.units)}, the highest strand "
                f"{format_height(top, plan.units)}; they jump less than {format_height(limit, plan.units)}.",
                "Put a live strand over its top: choose the set of offset and top.",
                (format_height(top, plan.units), format_height(limit, plan.units)),
            )  # fmt: skip


def _beside(plan: Plan, run: Run, beside: Alongside) -> Iterator[Finding]:
    """A line on its own posts that nobody meant to hang on the old fence."""
    mark = beside.mark
    place, away = nearest_on(run, shape_of(mark))
    limit_m = _BARB_M if mark.made == "barbed" else METAL_CM / 100
    if is_metal(mark) and away < limit_m:
        barbs = mark.made == "barbed"
        yield Finding(
            Stage.GROUND,
            "Barbed wire beside a live strand" if barbs else "Live strand at old metal",
            Status.FAILS,
            f"{run.name} runs {short_words(plan, beside.along_m)} along {name_of(mark)}, "
            f"{short_words(plan, away)} from it: "
            + (
                "an animal that hangs in the barbs cannot leave the pulse."
                if barbs
                else "the wind swings one onto the other, and that is a short."
            ),
            figure=short_words(plan, away),
            limit=short_words(plan, limit_m),
            place=place,
            where=place_words(plan, place),
            mend="Take the barbed wire down, or build the line farther off."
            if barbs
            else "Build it half a metre off on its own posts, or on brackets of 25 cm and say so at Strands.",
        )


def _whose(plan: Plan, run: Run, beside: Alongside) -> Iterator[Finding]:
    if beside.mark.whose == "neighbour" and fence_at(plan, run.id).view.behind == "old_fence":
        yield _finding(
            plan, run, "The neighbour's fence", Status.MARGINAL,
            f"{name_of(beside.mark)} is not yours: its owner must agree to brackets and to a pulse on it.",
            "Ask first, in writing, or build your own line half a metre inside.",
        )  # fmt: skip


def _for_horses(plan: Plan, run: Run, view: Plan, beside: Alongside) -> Iterator[Finding]:
    horses = any(animal_kinds()[herd.kind].touch_class == "horse" for herd in view.stock)
    if horses and beside.mark.made in ("woven", "barbed"):
        what = "hooves go through its squares" if beside.mark.made == "woven" else "it cuts to the bone"
        yield _finding(
            plan, run, "Old wire with horses", Status.FAILS if beside.mark.made == "barbed" else Status.MARGINAL,
            f"{name_of(beside.mark)} is no fence for horses: {what}.",
            "Take it down where horses go, or keep them a metre off with tape.",
        )  # fmt: skip
