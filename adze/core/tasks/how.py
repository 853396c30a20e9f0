"""How each piece of work is done, in a few lines with this fence's own figures."""

from adze.core.basics.units import counted, format_height, format_tape
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.fittings import strung
from adze.core.plan.document import Plan
from adze.core.tables.construction import nettings, post_kinds
from adze.core.tasks.figures import EndFigures, end_figures, live_heights_cm, tie_figures

FIRST_WORDS = {
    "top": "Run the top strand first: you sight the posts along it.",
    "two": "Run the top and the lowest strand first, both lightly: the posts stand between them.",
    "bottom": "Run the lowest strand first where small stock waits.",
}
TENSION_WORDS = {
    "press": "It is tight when a hand press of 5 kg midway between two posts moves it by {give}.",
    "no_slack": (
        "It is tight when no slack is left between two posts. Do not strain so hard that the first deer breaks it."
    ),
    "figure": "It is tight at {kn:.1f} kN on the strainer's gauge.",
}
JOINT_WORDS = {
    "clamp": (
        "Run the nut to the end of its thread, turn the clamp over both wires, wrap the wire once or twice and "
        "tighten the nut. A cable clamp of the same metal works too."
    ),
    "crimp": "Put two sleeves side by side and squeeze each fully: a single one slips.",
    "twist": "Twist the wires, then wind the tails back the other way so that they lock.",
    "split_bolt": "Use a split bolt: it opens again for a test.",
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
        f"Dig a hole of {_m(view, f.deep_m)}, set an end post of {_m(view, f.post_m)} or more and ram it in layers.",
        f"Set the brace post {_m(view, f.rail_m)} away, equally deep; a shorter rail lifts the end post. Cut the "
        "rail to the gap.",
        f"Fix the rail at {_cm(view, f.rail_cm)}, between the two upper strands so that no insulator sits on it.",
        f"Use pins of 10 mm. Drive one of {_PIN_CM:g} cm half into the end post and half into the rail. Drive one "
        f"of {_THROUGH_CM:g} cm through the brace post into the rail and leave 2 to 3 cm for the twitch.",
        "Run the twitch wire in two turns from the end post's foot to the brace post above the pin, "
        f"{_m(view, f.twitch_m)}. Staple it low, fold the ends back and staple again. Tighten it with a stick, or "
        "by driving two clamps apart. Soft wire of 3.7 mm is easier to bend than high-tensile.",
    )


def _block(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Dig a hole {_m(view, f.deep_m)} deep and set a post of {_m(view, f.post_m)}.",
        "Lay a breast block of 80 cm across its front on the pull side, square to the line, with its top 10 cm "
        "under ground.",
        "Ram behind it first, then in front, or it leans.",
    )


def _concreted(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Dig a hole {_cm(view, 100 * f.hole_m)} wide and {_m(view, f.deep_m)} deep; it takes {f.bags} bags a post.",
        "Set it upright by the level on two sides and prop it.",
        "Let it stand overnight before any strand pulls on it, longer below 5 °C. Never pour in frost.",
    )


def _prop(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Set the post {_m(view, f.deep_m)} deep.",
        "Set a stake of the same length at 45° against the pull and clamp it at two thirds of the post's height.",
    )


def _stiff(view: Plan, f: EndFigures) -> tuple[str, ...]:
    return (
        f"Set a stiff post {_m(view, f.deep_m)} deep with its flat side outward. At a corner turn it by 45°.",
        "It needs no brace: light strands do not pull it over.",
    )


def post_lines(view: Plan, dips: int, rises: int) -> tuple[str, ...]:
    """How line posts are set."""
    kind = post_kinds()[view.post]
    lines = [
        (f"{kind.label} every {_m(view, view.post_spacing_m)}: lay them out at the marks before you drive the first.")
    ]
    if rises:
        lines.append(f"Set {rises} on rises.")
    if dips:
        lines.append(
            f"Fit {dips} tie-down{'s' * (dips != 1)} in dips: a screw anchor with an insulated tie, or two crossed "
            "stakes driven at 10°, 30 cm apart. Put a plate under a dropper that would sink."
        )
    if view.post == "fibreglass":
        lines.append(
            "Use clips of the post's own thickness, on alternate sides from post to post, or the wind makes them "
            "chatter."
        )
    if dips and not view.netting:
        lines.append("Let the strand run free in its clip at posts and tie-downs: it must slide when you strain it.")
    if view.post in ("fibreglass", "composite"):
        lines.append(
            "Drive with a cap on. In stony ground make a hole with a bar first, in hard dry ground use water or an "
            "auger."
        )
    if view.post == "steel_t":
        lines.append("Set the flat side out. Turn a post that twists straight at its foot at once.")
    if view.post == "plastic":
        lines.append("Push each spike all the way in, or every height is wrong.")
    else:
        lines.append("Hold the first strand aside while driving: studs nick it.")
    if _is_hard(view) and view.post != "plastic":
        lines.append(
            "Where no post goes in, use an auger, a water jet or a rotary hammer first; over rock a steel bar."
        )
    return tuple(lines)


def _is_hard(view: Plan) -> bool:
    """Whether posts meet rock: as the ground itself, or nearer than a post is deep."""
    below = view.subsoil
    return view.soil in _ROCK or (below is not None and below.soil in _ROCK and below.depth_m < _POST_DEEP_M)


def bracket_lines(view: Plan, dips: int, rises: int) -> tuple[str, ...]:
    """How brackets are set on a fence that stands; dips and rises follow that fence."""
    lines = [
        f"Fit one for each strand every {_m(view, view.post_spacing_m)}, on sound posts of the old fence. Make weak "
        "posts firm first.",
        "Make a pilot hole of 6 mm, screw or drive the bracket home and put a staple high over the shank against "
        "turning.",
        "Where you hook a bracket on old wire, cross its two wires so that they lock; a staple steadies it.",
    ]
    if any(strand.stands == "over" for strand in view.strands):
        lines.append("Cut the post level first where a bracket goes on its top.")
    if view.behind == "barrier":
        lines.append(
            "Keep everything live farther from the panel than the bracket is long, at gate and corners too: a "
            "strand that touches it shocks nothing."
        )
    if dips + rises:
        lines.append(
            f"Check the {counted(dips + rises, 'place')} where the ground breaks: no strand may be "
            "nearer to old wire than the bracket is long."
        )
    return tuple(lines)


def insulator_lines(view: Plan) -> tuple[str, ...]:
    """Where insulators go and how they sit."""
    heights = ", ".join(_cm(view, cm) for cm in live_heights_cm(view))
    lines = [
        (
            f"Fix them by the story pole at {heights}. Turn the mouth down, so that no ice forms in it, and fix them "
            "between strand and stock."
        )
    ]
    if view.post in ("timber", "dense_timber"):
        lines.append(
            "Make a pilot hole first, or the post splits. Put staples across the grain and leave the insulator room "
            "to swell."
        )
    earth = sum(strand.role == "earth" for strand in fence_of(view))
    if earth:
        many = f"The {earth} earth strands need" if earth > 1 else "The earth strand needs"
        lines.append(f"{many} none: clip or staple it, but leave it loose where it must slide.")
    return tuple(lines)


_STRUNG = {
    "rope": (
        "Rope: make two turns and a slip knot at one end, three turns and four plain knots at the other, and seal "
        "it by flame. Put braid through its tube with a knot and two clamps behind it, or it pulls out."
    ),
    "tape": (
        "Never knot tape: fold 8 to 10 cm through the plate with the metal plate inside, and join it with buckles. "
        "At corners turn the prongs in. On posts put rubber pads above and below and press until it clicks."
    ),
    "polywire": "Knot polywire only at its ends, and burn the plastic off where a clip bites.",
    "coated": "Coated wire: bare 30 to 35 cm at the end, 8 to 10 cm for a jumper, and 8 cm on each side of a joiner.",
    "barbed": "Keep barbed wire dead.",
}


def strand_lines(view: Plan) -> tuple[str, ...]:
    """How strands are run and tied."""
    tie = tie_figures(view)
    kinds = dict.fromkeys(made.kind for made in conductors_of(view))
    lines = [_STRUNG[kind] for kind in kinds if kind in _STRUNG]
    if "wire" in kinds or "coated" in kinds:
        lines.append(
            f"Fix the end insulator within {_cm(view, tie.insulator_cm)} of the post, pulled across its middle. "
            f"Finish with {tie.turns} turns and snap the wire off by cranking, never cut it. The second person "
            "holds the insulator."
        )
        lines.append(
            f"Leave a tail of {_cm(view, tie.top_tail_cm)} on the top strand to come down past the others, and "
            f"{_cm(view, tie.tail_cm)} on the rest. Leave it long where a feed joins later."
        )
        lines.append("Stick loose ends into the ground at once: they whip.")
    net = nettings().get(view.netting or "")
    if net:
        laid = "Unroll it beside the line and set its posts from one end. At corners go round an insulated post inside."
        lines.insert(0, laid)
    return tuple(lines)


def tension_lines(view: Plan) -> tuple[str, ...]:
    """How tight, and with what."""
    tie = tie_figures(view)
    words = TENSION_WORDS[view.work.tension].format(give=_cm(view, tie.give_cm), kn=tie.tension_kn)
    lines = [words]
    if any(row.fitting.strain == "strainer" for row in strung(view)):
        lines.insert(
            0,
            "Fit one strainer to each strand and strain, on the stock side, threaded without cutting. Pull the "
            "slack out by hand first. Set them 30 cm apart on a slant, so that they do not catch each other.",
        )
    return tuple(lines)


def joint_lines(view: Plan, *, parted: bool) -> tuple[str, ...]:
    """How strands are joined to each other; `parted` by a switch of some of them."""
    tie = tie_figures(view)
    return (
        JOINT_WORDS[view.work.joint],
        *(["Join the strands on a switch only to each other: they meet the others at their switch."] * parted),
        f"Join the live strands at both ends of a strain: the tail of {_cm(view, tie.top_tail_cm)} goes down in its "
        "tube. Join earth strands to each other in the same way.",
        "Lay jumpers against the post, behind the insulators, never across the gap between strands: they trap feet.",
        "Strip cable jacket by jacket, in a tool's notch or round with a knife, then pull; never nick the wire. "
        "Clips bite with their teeth, not their throat.",
        "Staple across a tube above and below without squashing it. Hold braid and tails off a brace's wire with a "
        "staple.",
    )
