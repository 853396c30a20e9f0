"""What a tester shows that does not follow the pulse at once."""

import math

import numpy as np
from scipy.signal import lfilter

from adze.core.basics.types import Real

RESPONSE_S = 10e-6  # of a simple tester's input (1-30 us)


def shown_v(wave_v: Real, step_s: float, response_s: float = RESPONSE_S) -> float:
    """The peak that a tester with a first-order response shows of a wave (n,), V.

    The response is summed step by step, the wave held within a step: exact for a step (lowpass RC).
    """
    if response_s <= 0:
        return float(np.abs(wave_v).max())
    kept = math.exp(-step_s / response_s)
    return float(np.abs(lfilter([1 - kept], [1, -kept], wave_v)).max())
