"""The ground's profile along a line: where taut strands would lift posts, and where they would press.

A strand pulled tight follows the chord between its posts. Where the ground falls away below the
chord of two spans the middle post is lifted (a dip: tie it down); where it rises above the chord
the strands press on the ground and want a post (a rise).
"""

from bisect import bisect_left
from dataclasses import dataclass

import numpy as np

from adze.core.basics.cache import cached
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run

DIP_M = 0.2  # assumption: what two spans of high-tensile wire take up without lifting a post
_SPANS = 2


@dataclass(frozen=True)
class Bump:
    """A dip or a rise: where, and how far the ground lies under (below 0) or over the chord, m."""

    at_m: float
    off_m: float

    @property
    def is_dip(self) -> bool:
        """Whether the strands lift here."""
        return self.off_m < 0

    @property
    def words(self) -> str:
        """What is wanted here."""
        return "Dip: tie down" if self.is_dip else "Rise: a post"


def height_at(run: Run, at_m: float) -> float | None:
    """Height of the ground at a distance, m; None where heights are not known."""
    if not run.profile:
        return None
    at, heights = np.array(run.profile).T
    return float(np.interp(at_m, at, heights)) if at[0] - 1 <= at_m <= at[-1] + 1 else None


def bumps(plan: Plan, run: Run) -> tuple[Bump, ...]:
    """The dips and rises of a run, at most one within two post spacings."""
    return _bumps(run.profile, fence_at(plan, run.id).view.post_spacing_m) if len(run.profile) > 2 else ()


@cached("bumps", 512)
def _bumps(profile: tuple[tuple[float, float], ...], spacing_m: float) -> tuple[Bump, ...]:
    at, heights = np.array(profile).T
    reach = _SPANS * spacing_m
    spots = np.unique(np.concatenate([at, np.arange(at[0], at[-1], spacing_m)]))
    inner = spots[(spots >= at[0] + reach / 2) & (spots <= at[-1] - reach / 2)]
    if not len(inner):
        return ()
    low, high = np.maximum(inner - reach, at[0]), np.minimum(inner + reach, at[-1])
    share = (inner - low) / (high - low)
    chord = (1 - share) * np.interp(low, at, heights) + share * np.interp(high, at, heights)
    off = np.interp(inner, at, heights) - chord
    found: list[Bump] = []
    for i in np.argsort(-np.abs(off)):
        if abs(off[i]) < DIP_M:
            break
        here = bisect_left(found, inner[i], key=lambda b: b.at_m)
        if all(abs(b.at_m - inner[i]) > reach for b in found[max(0, here - 1) : here + 1]):
            found.insert(here, Bump(float(inner[i]), float(off[i])))
    return tuple(found)
