"""What a live strand leaks through the post that it ends on, where no insulator is between."""

import math

from adze.core.plan.season import Season
from adze.core.tables.construction import EndPost

_STAPLE_M = 0.003  # radius of the hemisphere that a staple's leg and tie make in the wood
_POST_M = 0.15  # diameter of an end post
STEEL_OHM = 50.0  # of a steel post's foot in soil (20-200)


def bare_end_ohm(post: EndPost, season: Season, heights_m: tuple[float, ...]) -> float:
    """Resistance to soil of live strands that end on a post without insulators, ohm.

    Spreading from each staple, rho / (2 pi r), side by side; then down the post from the strands' mean height,
    rho h / A. The foot in the soil is short beside both. Source: a hemisphere in a half-space and a prism.
    """
    if not heights_m:
        return math.inf
    rho: float = getattr(post, f"{season.value}_ohm_m")
    if not rho:
        return STEEL_OHM
    spread = rho / (2 * math.pi * _STAPLE_M) / len(heights_m)
    column = rho * (sum(heights_m) / len(heights_m)) / (math.pi * _POST_M**2 / 4)
    return spread + column
