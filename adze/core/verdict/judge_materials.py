"""Whether posts, insulators, conductors and netting go together."""

import math
from collections.abc import Iterator
from functools import partial
from itertools import pairwise

from adze.core.animals.strand_rules import POST_OVER_CM, Purpose, Role
from adze.core.basics.status import Status
from adze.core.basics.units import format_height, format_tape
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.end_posts import bare_end_ohm
from adze.core.build.materials import farthest_m, insulators_for, post_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Stage
from adze.core.plan.stock import TrainingProgress, animals_of, progress
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import end_posts, insulators, post_kinds
from adze.core.verdict.actions import Action, ActionKind, setting
from adze.core.verdict.findings import Finding

POST_CLEAR_CM = 3  # a strand at least this far below the post's top
TAPE_SEEN_MM, TAPE_GOOD_MM = 20.0, 40.0  # a horse at speed sees the one, and the other from afar
WITHERS_SHARE = 0.75  # posts for horses at least this share of the withers above ground
CATTLE_SEE_MM = 5.0  # a thinner strand that nothing marks
_TIGHT_KN = 0.5  # above it light posts bend over
_SHORT_OHM, _LEAKS_OHM = 1000.0, 200_000.0  # a short; less than this at every end is felt on a long line
_TAPE_GAP_CM = 8.0  # tapes nearer than this meet in the wind


def material_findings(plan: Plan) -> Iterator[Finding]:
    """What does not go together: posts and top, posts and conductor, insulator and both, sight."""
    if not (plan.netting or plan.behind):
        yield from _posts(plan)
    if not plan.netting:
        yield from _insulators(plan)
        yield from _tension(plan)
        yield from _ends(plan)
    yield from _sight(plan)
    yield from _barbed(plan)
    yield from _netting(plan)


_finding = partial(Finding, Stage.STRANDS)


def _posts(plan: Plan) -> Iterator[Finding]:
    def height(cm: float) -> str:
        return format_height(cm, plan.units)

    top, post = fence_of(plan)[-1].cm, post_of(plan)
    if top > post - POST_CLEAR_CM:
        yield _finding(
            "Posts too short",
            Status.FAILS,
            f"A top strand at {height(top)} needs posts of {height(top + POST_OVER_CM)} above ground; these stand "
            f"{height(post)}.",
            "Use taller posts, or lower the top strand.",
            height(post),
            height(top + POST_OVER_CM),
            setting("fence", post_cm=""),
        )
    tallest = max((a for a in animals_of(plan) if _is_horse(a.kind)), key=lambda a: a.shoulder_cm, default=None)
    if tallest and post < WITHERS_SHARE * tallest.shoulder_cm:
        yield _finding(
            "Posts too low for horses",
            Status.MARGINAL,
            f"Posts must stand at least three quarters of the withers ({height(tallest.shoulder_cm)}) above ground, "
            "or a horse jumps the line or leans over it.",
            "Use taller posts.",
            height(post),
            height(WITHERS_SHARE * tallest.shoulder_cm),
            setting("fence", post_cm=f"{5 * math.ceil(WITHERS_SHARE * tallest.shoulder_cm / 5)}"),
        )
    farthest = farthest_m(plan)
    if plan.post_spacing_m > farthest + 0.01:
        yield _finding(
            "Posts far apart",
            Status.MARGINAL,
            "Between posts this far apart the strands sag, flap and are pushed aside.",
            f"Set the posts at most {format_tape(farthest, plan.units)} apart.",
            format_tape(plan.post_spacing_m, plan.units),
            format_tape(farthest, plan.units),
            setting("fence", post_spacing_m=f"{farthest:g}"),
        )


def _is_horse(kind: str) -> bool:
    return animal_kinds()[kind].touch_class == "horse"


def _insulators(plan: Plan) -> Iterator[Finding]:
    post = post_kinds()[plan.post]
    if not post.insulators:
        return
    chosen, fitted = insulators().get(plan.insulator or ""), insulators_for(plan)
    # Strands of several kinds take several insulators: one that takes some of them is right for those.
    useless = chosen is not None and not any(chosen.fits(kind, plan.post) for kind, _ in fitted)
    for kind, found in fitted:
        if found is None:
            yield _finding(
                f"No insulator for {kind}",
                Status.FAILS,
                f"No insulator holds {kind} on a {post.label.lower()}: it slips, rubs through or flaps loose.",
                "Choose other posts, or another conductor for those strands.",
                action=setting("fence", post="timber", insulator=""),
            )
        elif chosen is not None and useless:
            yield _finding(
                f"Wrong insulator for {kind}",
                Status.FAILS,
                f"{chosen.label} is made for {chosen.takes.replace(' ', ', ')} on "
                f"{', '.join(post_kinds()[key].label.lower() for key in chosen.posts.split())}; {kind} slips or wears "
                "through in it.",
                f"{found.label}.",
                action=setting("fence", insulator=""),
            )


def _sight(plan: Plan) -> Iterator[Finding]:
    """Horses run into what they do not see: the top strand is broad, better all of them."""
    yield from _unseen_by_cattle(plan)
    horses = [a for a in animals_of(plan) if _is_horse(a.kind) and a.purpose is Purpose.HOLD]
    if not horses:
        return
    fence, made = fence_of(plan), conductors_of(plan)
    widest = max(c.width_mm for c in made)
    top = made[max((i for i, s in enumerate(fence) if s.role is not Role.DEAD), default=len(fence) - 1)]
    if top.width_mm < TAPE_SEEN_MM:
        yield _finding(
            "Can a horse see it?",
            Status.MARGINAL,
            f"The top strand is {top.width_mm:g} mm wide: a galloping horse does not see it.",
            "Use tape of 20 mm, better 40, as the top strand; steel below it is fine.",
            f"{top.width_mm:g} mm",
            f"{TAPE_SEEN_MM:g} mm",
            Action(ActionKind.TOP, ("tape_40",)),
        )
    elif widest < TAPE_GOOD_MM:
        yield _finding(
            "Can a horse see it?", Status.HOLDS, "A horse sees 20 mm; 40 mm is better.", figure=f"{widest:g} mm"
        )


def _ends(plan: Plan) -> Iterator[Finding]:
    """Strands tied to their end posts bare: what that leaks after rain, and two schools of it."""
    if plan.end_insulators:
        return
    post = end_posts()[plan.end_post]
    heights = tuple(s.cm / 100 for s in fence_of(plan) if s.role is Role.LIVE)
    wet, dry = (bare_end_ohm(post, season, heights) for season in (Season.WET, Season.DRY))
    status = Status.FAILS if wet < _SHORT_OHM else Status.MARGINAL if wet < _LEAKS_OHM else Status.HOLDS
    yield _finding(
        "Ends without insulators",
        status,
        f"{post.label}: {_ohm_words(wet)} after rain, {_ohm_words(dry)} in the driest week, at every end. {post.words}",
        "" if status is Status.HOLDS else "Put a strain insulator on every live strand at every end.",
        _ohm_words(wet),
        _ohm_words(_LEAKS_OHM),
        setting("fence", end_insulators="on"),
    )


def _ohm_words(ohm: float) -> str:
    """Ohms for people: 50 Ω, 48 kΩ, 1.4 MΩ; over a hundred million as much as none."""
    if ohm >= 1e8:
        return "as good as none"
    if ohm >= 1e6:
        return f"{ohm / 1e6:.2g} MΩ"
    return f"{ohm / 1e3:.0f} kΩ" if ohm >= 1e3 else f"{ohm:.0f} Ω"


def _barbed(plan: Plan) -> Iterator[Finding]:
    """A dead barbed strand holds by pain that lasts: stock are cut by it, horses worst."""
    held = [a for a in animals_of(plan) if a.purpose is Purpose.HOLD]
    if held and any(c.kind == "barbed" for c in conductors_of(plan)):
        horses = any(_is_horse(a.kind) for a in held)
        yield _finding(
            "Barbed strand with stock",
            Status.FAILS if horses else Status.MARGINAL,
            "Barbs cut animals that are pushed or startled into them. Some builders still use it, none for horses.",
            "Use a smooth live strand instead: it holds without wounds.",
        )


def _unseen_by_cattle(plan: Plan) -> Iterator[Finding]:
    """Cattle that do not know the fence run into thin wire that nothing marks."""
    cattle = [herd for herd in plan.stock if animal_kinds()[herd.kind].touch_class == "cattle"]
    new = [h for h in cattle if not h.schooled and progress(h, plan.on_date) is not TrainingProgress.DONE]
    widest = max(c.width_mm for c in conductors_of(plan))
    if new and widest < CATTLE_SEE_MM and not plan.behind:
        yield _finding(
            "Can cattle see it?",
            Status.MARGINAL,
            f"The widest strand is {widest:g} mm: new cattle that are driven at it do not see it in time.",
            "Hang strips of cloth or tape on it every few metres until they know it, or use rope or tape for one "
            "strand.",
            f"{widest:g} mm",
            f"{CATTLE_SEE_MM:g} mm",
        )


def _netting(plan: Plan) -> Iterator[Finding]:
    """Netting catches what gets into it: hooves with shoes, horns, and small wild animals while it is live."""
    if plan.netting and any(_is_horse(a.kind) for a in animals_of(plan)):
        yield _finding(
            "Netting with horses",
            Status.FAILS,
            "A horse that steps into netting catches a hoof and drags the netting along.",
            "Use strands of tape for the horses, and netting only out of their reach.",
        )


def _tension(plan: Plan) -> Iterator[Finding]:
    tight = [c for c in conductors_of(plan) if c.tension_kn > _TIGHT_KN]
    if tight and plan.post == "plastic":
        yield _finding(
            "Light posts under tight wire",
            Status.MARGINAL,
            f"{tight[0].label} is strained to about {tight[0].tension_kn:g} kN: light plastic posts bend and do not "
            "hold the height.",
            "Use steel, fibreglass or timber posts, or a stiff post at every fourth.",
            action=setting("fence", post="fibreglass"),
        )
    if plan.post == "plastic" and not tight:
        yield _finding(
            "Stiff posts between",
            Status.HOLDS,
            "Light posts lean: set a stiff post at every fifth, and at each bend and dip.",
        )


def material_cautions(plan: Plan) -> tuple[str, ...]:
    """What to mind with these conductors."""
    made, fence = conductors_of(plan), fence_of(plan)
    kinds = {c.kind for c in made}
    notes = []
    close = any(
        upper.cm - lower.cm < _TAPE_GAP_CM and "tape" in (one.kind, other.kind)
        for (lower, one), (upper, other) in pairwise(zip(fence, made, strict=True))
    )
    if close:
        notes.append("Tape this close flaps together: tension it well.")
    if kinds & {"tape", "polywire", "rope"}:
        notes.append("Never knot tape, rope or polywire: the metal in it breaks. Join with connectors.")
    if "tape" in kinds:
        notes.append("Strain tape until it no longer flaps: flapping wears it through at the insulators.")
    metals = {"aluminium" in c.label for c in made if c.kind in ("wire", "coated")}
    if len(metals) > 1:
        notes.append("Join steel and aluminium with clamps made for both metals, or the joint corrodes.")
    if plan.post == "plastic" or plan.netting:
        notes.append(
            "Push every spike in fully: a post half in raises each strand by as much. Measure the heights once."
        )
    if "wire" in kinds and all(c.tension_kn <= _TIGHT_KN for c in made if c.kind == "wire"):
        notes.append("Soft plain wire stretches and sags. Strain it again each season, or use high-tensile wire.")
    if "wire" in kinds:
        notes.append(
            "Strain it firm but springy: pressed by hand between two posts it gives and comes back. Strained too "
            "tight, ties break, and a deer that runs into it bends or snaps it."
        )
    if plan.netting:
        notes.append(
            "At a corner of netting set an insulated post on the inside, with its foot inside too, clear of the "
            "bottom strand."
        )
        notes.append(
            "Never leave netting live and unwatched where lambs, hedgehogs or snakes meet it, nor switched off "
            "where stock can tangle in it. Train horned animals on a single strand first."
        )
        notes.append("Each roll is a large load in grass: mow its line before you lay it.")
    if plan.behind == "barrier":
        notes.append(
            "Keep live strands about 15 cm inside the barrier and leave room to back away: a startled animal steps "
            "back."
        )
    if plan.behind == "old_fence":
        notes.append("Use brackets of about 25 cm: no strand may swing onto the old mesh. Trim what grows between.")
    if plan.apron:
        notes.append("Lay the mesh flat, peg it and join it to the earth strand or the rods. Lift it before mowing.")
    if kinds <= {"wire"} and any(_is_horse(a.kind) for a in animals_of(plan)):
        notes.append("Thin wire cuts a horse that runs into it.")
    return tuple(notes)
