"""What is believed of unit, rods and growth before the first reading of a search."""

import math

import numpy as np

from adze.core.basics.types import Real
from adze.core.trace.belief import Doubts
from adze.core.trace.farm import TracedFarm

UNIT_SURE = 0.02  # standard deviation of the unit's logarithm once it was read alone: a tester's error
LEAD_SHARE = 0.93  # of the unit's own kV that a well lead-out shows: a tester's error below it


def doubts_before(
    farm: TracedFarm, known: tuple[Real, Real] | None, unit_kv: float | None, open_kv: float | None
) -> Doubts | None:
    """Return the mean (1, 3) and covariance (1, 3, 3) of the logarithms of unit, rods and growth; None: the farm's own.

    `known` is a mean (3,) and a covariance (3, 3) learned from earlier readings. `unit_kv` is what the unit showed
    alone; it counts where the plate's `open_kv` is given too.
    """
    if known is None and not unit_kv:
        return None
    mean, cov = (
        (known[0].copy(), known[1].copy())
        if known
        else (np.zeros(3), np.diag(np.square([farm.doubt.unit, farm.doubt.rods, farm.doubt.grass])))
    )
    if unit_kv and open_kv is not None:
        mean[0] = math.log(unit_kv / open_kv)
        cov[0, :] = cov[:, 0] = 0.0
        cov[0, 0] = UNIT_SURE**2
    return Doubts(np.zeros(1), mean[None], cov[None])


def is_lead_well(lead_kv: float | None, known_kv: float) -> bool:
    """Return whether the lead-out, read alone, shows nearly all of the unit's kV; False where it was not read."""
    return lead_kv is not None and lead_kv >= LEAD_SHARE * known_kv
