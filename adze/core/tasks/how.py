"""How each piece of work is done, in a few lines with this fence's own figures."""

from adze.core.basics.units import format_height, format_tape
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.fittings import strung
from adze.core.plan.document import Plan
from adze.core.tables.construction import nettings, post_kinds
from adze.core.tasks.figures import EndFigures, end_figures, live_heights_cm, tie_figures

FIRST_WORDS = {
    "top": "The top strand first: it is the line that the posts are sighted along.",
    "two": "The top and the lowest strand first, both lightly: the posts stand between them.",
    "bottom": "The lowest strand first: small stock waits.",
}
TENSION_WORDS = {
    "press": "Tight when a hand's press of 5 kg midway between two posts gives {give}.",
    "no_slack": "Tight when no slack is left between two posts; never so tight that the first deer breaks it.",
    "figure": "Tight at {kn:.1f} kN on the strainer's gauge.",
}
JOINT_WORDS = {
    "clamp": "Nut run to the end of its thread, clamp turned over both wires, wire wrapped once or twice, nut tight. "
    "A cable clamp of the same metal serves as well.",
    "crimp": "Two sleeves side by side, each squeezed fully: one slips.",
    "twist": "Twist, then wind the tails back the other way so that it locks.",
    "split_bolt": "Split bolt: it can be opened again for a test.",
}


# Pins of a brace, cm: 5 in the post and 5 in the rail; through a post of 12 cm, 7 in the rail and 2.5 proud. Source:
# trade practice.
_PIN_CM, _THROUGH_CM = 10.0, 22.0
_ROCK, _POST_DEEP_M = ("gravel",), 0.6


def _cm(view: Plan, cm: float) -> str:
    return format_height(cm, view.units)


def _m(view: Plan, metres: float) -> str:
    return format_tape(metres, view.units)


def end_lines(view: Plan) -> tuple[str, ...]:
    """How an end of this fence is built."""
    found = end_figures(view)
    lines = {"braced": _braced, "block": _block, "concreted": _concreted, "prop": _prop, "stiff": _stiff}[found.kind]
    pull = f"{len(fence_of(view))} strands pull {found.pull_kn:.1f} kN here."
    return (*lines(view, found), pull)


def _braced(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Hole {_m(view, f.deep_m)}, end post of {_m(view, f.post_m)} or more in, rammed in layers.",
        f"Brace post at {_m(view, f.rail_m)}, as deep; a shorter rail lifts the end post. Rail cut to the gap.",
        f"Rail at {_cm(view, f.rail_cm)}, between the two upper strands so that no insulator sits on it.",
        f"Pins of 10 mm: {_PIN_CM:g} cm, half into the end post and half into the rail; {_THROUGH_CM:g} cm, clear "
        "through the brace post into the rail and left 2 to 3 cm proud for the twitch.",
        f"Twitch wire, two turns from the end post's foot to the brace post above the pin, {_m(view, f.twitch_m)}; "
        "stapled low, prongs up and down, ends folded back and stapled again; tightened with a stick or by driving "
        "two clamps apart. Soft wire of 3.7 mm bends more easily than high-tensile and serves.",
    )


def _block(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Hole {_m(view, f.deep_m)} deep, post of {_m(view, f.post_m)} in.",
        "Breast block of 80 cm across its front on the pull side, square to the line, its top 10 cm under ground.",
        "Rammed behind first, then in front: it leans otherwise.",
    )


def _concreted(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Hole {_cm(view, 100 * f.hole_m)} wide, {_m(view, f.deep_m)} deep; {f.bags} bags a post.",
        "Upright by the level on two sides, propped.",
        "It stands overnight before any strand pulls on it; longer below 5 °C, never in frost.",
    )


def _prop(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Post {_m(view, f.deep_m)} deep.",
        "A stake as long as the post at 45° against the pull, clamped at two thirds of its height.",
    )


def _stiff(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Stiff post {_m(view, f.deep_m)} deep, its flat outward; at a corner turned by 45° into it.",
        "No brace: what is strung on it does not pull it over.",
    )


def post_lines(view: Plan, dips: int, rises: int) -> tuple[str, ...]:
    """How line posts are set."""
    kind = post_kinds()[view.post]
    lines = [f"{kind.label} every {_m(view, view.post_spacing_m)}, laid out at the marks before the first is driven."]
    if rises:
        lines.append(f"{rises} on rises.")
    if dips:
        lines.append(
            f"{dips} tie-downs in dips: screw anchor with an insulated tie, or two stakes driven at 10° crossing, "
            "30 cm apart; a plate under a dropper that would sink."
        )
    if view.post == "fibreglass":
        lines.append(
            "Clips of the post's own thickness, on alternate sides from post to post: wind makes them chatter."
        )
    if dips and not view.netting:
        lines.append("At posts and tie-downs the strand runs free in its clip: it slides under strain.")
    if view.post in ("fibreglass", "composite"):
        lines.append("Cap on while driving; in stony ground a pilot rod first, in hard dry ground water or an auger.")
    if view.post == "steel_t":
        lines.append("Flat side out; one that twists is turned back straight at its foot.")
    if view.post == "plastic":
        lines.append("Spike all the way in, or every height is wrong.")
    else:
        lines.append("Hold the first strand aside while driving: studs nick it.")
    if _is_hard(view) and view.post != "plastic":
        lines.append("Ground that no post goes into: auger, water jet or rotary hammer first; over rock a steel bar.")
    return tuple(lines)


def _is_hard(view: Plan) -> bool:
    """Whether posts meet rock: as the ground itself, or nearer than a post is deep."""
    below = view.subsoil
    return view.soil in _ROCK or (below is not None and below.soil in _ROCK and below.depth_m < _POST_DEEP_M)


def bracket_lines(view: Plan, dips: int, rises: int) -> tuple[str, ...]:
    """How brackets are set on a fence that stands; dips and rises follow that fence."""
    lines = [
        f"One every {_m(view, view.post_spacing_m)} and strand, on sound posts of the fence that stands; "
        "weak ones are made fast first.",
        "Pilot hole of 6 mm, screwed or driven home, a staple over the shank high up against turning.",
        "Where a bracket is hooked on old wire its two wires cross, so that they lock; a staple steadies it.",
    ]
    if any(strand.stands == "over" for strand in view.strands):
        lines.append("Post-top brackets: the post cut level first.")
    if view.behind == "barrier":
        lines.append(
            "Nothing live nearer to the panel than the bracket is long, gate and corners too: a strand that touches it "
            "shocks nothing."
        )
    if dips + rises:
        lines.append(f"{dips + rises} where the ground breaks: no strand nearer to old wire than the bracket is long.")
    return tuple(lines)


def insulator_lines(view: Plan) -> tuple[str, ...]:
    """Where insulators go and how they sit."""
    heights = ", ".join(_cm(view, cm) for cm in live_heights_cm(view))
    lines = [f"By the story pole at {heights}; mouth down, so that no ice forms in them; between strand and stock."]
    if view.post in ("timber", "dense_timber"):
        lines.append("Pilot hole first, or the post splits; staples across the grain, room for the insulator to swell.")
    earth = sum(strand.role == "earth" for strand in fence_of(view))
    if earth:
        many = f"The {earth} earth strands need" if earth > 1 else "The earth strand needs"
        lines.append(f"{many} none: clip or staple, not driven home where they must slide.")
    return tuple(lines)


_STRUNG = {
    "rope": "Rope: two turns and a slip knot at one end; three turns and four plain knots at the other, flame-sealed. "
    "Braid goes through its tube, a knot, two clamps behind it: it pulls out otherwise.",
    "tape": "Tape is never knotted: fold 8 to 10 cm through the plate, metal plate inside; buckles where it is joined. "
    "At corners the prongs face in; on posts rubber pads above and below, pressed until it clicks.",
    "polywire": "Polywire is knotted only at ends; burn the plastic off where a clip bites.",
    "coated": "Coated wire: bare 30 to 35 cm at the end, leave 8 to 10 cm bare for a jumper, "
    "and 8 cm on each side of a joiner.",
    "barbed": "Barbed wire stays dead.",
}


def strand_lines(view: Plan) -> tuple[str, ...]:
    """How strands are run and tied."""
    tie = tie_figures(view)
    kinds = dict.fromkeys(made.kind for made in conductors_of(view))
    lines = [_STRUNG[kind] for kind in kinds if kind in _STRUNG]
    if "wire" in kinds or "coated" in kinds:
        lines.append(
            f"End insulator within {_cm(view, tie.insulator_cm)} of the post, pulled across its middle; {tie.turns} "
            "turns to finish, snapped off by cranking, never cut; the second person holds the insulator."
        )
        lines.append(
            f"Top strand's tail {_cm(view, tie.top_tail_cm)} to come down past the others; {_cm(view, tie.tail_cm)} on "
            "the rest, and long where a feed will join later."
        )
        lines.append("Loose ends are stuck into the ground at once: they whip.")
    net = nettings().get(view.netting or "")
    if net:
        lines.insert(0, "Unroll off the line, set its posts from one end; corners round an insulated post, inside.")
    return tuple(lines)


def tension_lines(view: Plan) -> tuple[str, ...]:
    """How tight, and with what."""
    tie = tie_figures(view)
    words = TENSION_WORDS[view.work.tension].format(give=_cm(view, tie.give_cm), kn=tie.tension_kn)
    lines = [words]
    if any(row.fitting.strain == "strainer" for row in strung(view)):
        lines.insert(
            0,
            "One strainer a strand and strain, on the stock side, threaded without cutting; slack out by hand first; "
            "30 cm apart on a slant, so that they do not catch each other.",
        )
    return tuple(lines)


def joint_lines(view: Plan, *, parted: bool) -> tuple[str, ...]:
    """How strands are joined to each other; `parted` by a switch of some of them."""
    tie = tie_figures(view)
    return (
        JOINT_WORDS[view.work.joint],
        *(["Strands on a switch to each other alone: they meet the others at their switch."] * parted),
        f"Live strands together at both ends of a strain: the tail of {_cm(view, tie.top_tail_cm)} down in its tube, "
        "earth strands to each other likewise.",
        "Jumpers lie against the post, behind the insulators, never across the gap between strands: a foot trap.",
        "Cable is stripped jacket by jacket, in a tool's notch or round with a knife, then pulled; never nick "
        "the wire. Clips bite with their teeth, not their throat.",
        "Staples across a tube hold it above and below without squashing it; braid and tails are held off a "
        "brace's wire by one.",
    )
