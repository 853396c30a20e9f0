"""What drives the network: the energizer's current and admittance, and a discharge that cannot reverse.

The switch of an energizer lets current out of the store and not back. The network is solved as if it did (eq. 12);
what flowed before the current's first zero is carried back to frequencies, and everything is scaled by what it is of
the whole (S21). This is exact: after that instant only the parallel branch and the fence are left, and the current
that was is all that drives them.
"""

import math
from dataclasses import dataclass

import numpy as np

from adze.core.basics.cache import cached
from adze.core.basics.types import Complex
from adze.core.pulse import laplace
from adze.core.pulse.laplace import Window
from adze.core.pulse.network import Source

# So slow that only charge is left: lines act as their resistance and leaks (eq. 20).
CHARGE_FREQUENCY_PER_S = 10.0
_FLOWS = 1e-3  # of its peak: a current below it is none


@cached("solved frequencies", 16)
def solved_frequencies(window: Window) -> Complex:
    """The window's frequencies and one near zero, shape (K+1,), 1/s."""
    return np.append(laplace.frequencies_per_s(window), CHARGE_FREQUENCY_PER_S)


@cached("decays", 8)
def _decays(window: Window) -> Complex:
    """exp(-s t) of every sample time at every solved frequency, (n, K+1)."""
    decays: Complex = np.exp(-np.outer(laplace.times_s(window), solved_frequencies(window)))
    return decays


@dataclass(frozen=True)
class Discharge:
    """An energizer at the solved frequencies: `push` is its current, A s; series and parallel admittance, S; (K+1,)."""

    push: Complex
    series_s: Complex
    parallel_s: Complex
    window: Window
    one_way: bool

    @property
    def admittance_s(self) -> Complex:
        """What it adds between the terminals, S."""
        total: Complex = self.series_s + self.parallel_s
        return total

    def stop(self, across_v: Complex) -> tuple[Complex | None, float]:
        """What everything is scaled by, (K+1,), and when the current stops, s; None and inf where it never reverses.

        `across_v` (K+1,) are the volts between the terminals, were the current free to reverse.
        """
        if not self.one_way:
            return None, math.inf
        free = self.push - self.series_s * across_v
        wave = laplace.waveforms(free[:-1], self.window)
        flows = int(np.argmax(wave > _FLOWS * wave.max()))
        back = np.flatnonzero(wave[flows:] <= 0)
        if not len(back):
            return None, math.inf
        last = flows + int(back[0]) - 1  # the last sample before the zero
        share = wave[last] / (wave[last] - wave[last + 1])
        step = float(laplace.times_s(self.window)[1])
        # Trapezoids over the samples, and a triangle from the last of them to the zero.
        weights = np.full(last + 1, step)
        weights[0], weights[-1] = step / 2, (step + share * step) / 2
        flowed = (wave[: last + 1] * weights) @ _decays(self.window)[: last + 1]
        scale: Complex = flowed / free
        return scale, (last + share) * step


@cached("discharges", 64)
def discharge_of(source: Source, window: Window) -> Discharge:
    """An energizer at a window's frequencies (S2)."""
    s = solved_frequencies(window)
    below = 1 + s * source.series_ohm * source.storage_f + s**2 * source.series_h * source.storage_f
    series: Complex = s * source.storage_f / below
    damper = s * source.damper_f / (1 + s * source.damper_ohm * source.damper_f)
    parallel = np.asarray(damper + 1 / source.parallel_ohm, dtype=np.complex128)
    push: Complex = series * (source.v0_v / s)
    return Discharge(push, series, parallel, window, source.one_way)
