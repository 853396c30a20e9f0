"""Figures of what is built, from the fence itself: braces, holes, ties, tails, how far a strand gives.

Lengths in m, heights of strands in cm, forces in kN. Each drawing and each line of how-to takes them from here.
"""

import math
from dataclasses import dataclass

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.ends import HOLE_DEEP_M, HOLE_M, bags_for, end_kind, strain_kn
from adze.core.build.fittings import tail_m
from adze.core.build.materials import post_of
from adze.core.plan.document import Plan

RAIL_TIMES = 2.5  # rail length in heights of the fence: 2 to 2.5; a short rail lifts the end post. Source: practice
RAIL_HIGH = 0.8  # of the fence's height, where two strands do not say it
TWITCH_TURNS, TWITCH_SPARE = 2, 1.10
END_DEEP_M, BLOCK_DEEP_M = 0.9, 1.0  # 0.8 to 1.0 m in the ground; a blocked post 0.9 to 1.1
INSULATOR_M = 0.18  # an end insulator from its post: 15 to 20 cm
SHORT_TAIL_CM = 22.0  # of strands below the top one: 20 to 25 cm
PRESS_N = 49.0  # a hand's press of 5 kg


@dataclass(frozen=True)
class EndFigures:
    """An end of a fence: its kind, what pulls on it, the post, and what its kind asks; 0 where it does not."""

    kind: str
    pull_kn: float
    post_m: float
    deep_m: float
    rail_m: float
    rail_cm: float
    twitch_m: float
    bags: int
    hole_m: float


def rail_cm(view: Plan) -> float:
    """Height of the rail: midway between the two upper strands, so that no insulator sits on it, cm."""
    heights = sorted(strand.cm for strand in fence_of(view))
    if len(heights) > 1 and heights[-2] >= 0.6 * heights[-1]:
        return round((heights[-1] + heights[-2]) / 2)
    return round(RAIL_HIGH * heights[-1])


def twitch_m(rail_m: float, height_cm: float) -> float:
    """The diagonal wire: two turns there and back from the end post's foot to the brace post's head, a tenth to spare.

    Source: Pythagoras over rail and rail height.
    """
    return round(TWITCH_TURNS * 2 * math.hypot(rail_m, height_cm / 100) * TWITCH_SPARE, 1)


def end_figures(view: Plan) -> EndFigures:
    """What an end of this fence is built to."""
    kind, top_m = end_kind(view), fence_of(view)[-1].cm / 100
    over_m = max(post_of(view) / 100, top_m)
    deep = {"braced": END_DEEP_M, "block": BLOCK_DEEP_M, "prop": END_DEEP_M, "concreted": HOLE_DEEP_M}.get(kind, 0.4)
    braced = kind == "braced"
    rail_m = round(RAIL_TIMES * top_m, 1) if braced else 0.0
    high = rail_cm(view) if braced else 0.0
    return EndFigures(
        kind=kind,
        pull_kn=strain_kn(view),
        post_m=round(over_m + deep, 2),
        deep_m=deep,
        rail_m=rail_m,
        rail_cm=high,
        twitch_m=twitch_m(rail_m, high) if braced else 0.0,
        bags=bags_for(1) if kind == "concreted" else 0,
        hole_m=HOLE_M if kind == "concreted" else 0.0,
    )


def give_cm(span_m: float, tension_kn: float) -> float:
    """How far a strand gives under a hand's press of 5 kg at the middle of a span, cm.

    w = F L / (4 T) for small give of a taut string. Raises ValueError for a strand without tension.
    """
    if tension_kn <= 0:
        raise ValueError("a strand without tension gives without limit; strain it first")
    return 100 * PRESS_N * span_m / (4 * 1000 * tension_kn)


@dataclass(frozen=True)
class TieFigures:
    """A strand at an end: turns to finish, its insulator from the post (cm), tails (cm), give midway (cm)."""

    turns: int
    insulator_cm: float
    top_tail_cm: float
    tail_cm: float
    give_cm: float
    tension_kn: float


def tie_figures(view: Plan) -> TieFigures:
    """How the strands of a fence are tied and how tight they stand."""
    tight = max((made.tension_kn for made in conductors_of(view)), default=0.0)
    long_tail = 100 * tail_m(view) if any(made.kind == "wire" for made in conductors_of(view)) else 0.0
    return TieFigures(
        turns=view.work.turns,
        insulator_cm=100 * INSULATOR_M,
        top_tail_cm=round(long_tail or view.allowance.tail_cm),
        tail_cm=SHORT_TAIL_CM,
        give_cm=round(give_cm(view.post_spacing_m, tight), 1) if tight else 0.0,
        tension_kn=tight,
    )


def live_heights_cm(view: Plan) -> tuple[float, ...]:
    """Heights of the live strands, from the lowest, cm."""
    return tuple(strand.cm for strand in fence_of(view) if strand.role is Role.LIVE)
