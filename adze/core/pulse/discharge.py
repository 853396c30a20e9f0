"""What drives the network: the energizer's current and admittance, and a discharge that cannot reverse.

The switch of an energizer lets current out of the store and not back. The network is solved as if it did (eq. 12);
what flowed before the current's first zero is carried back to frequencies, and everything is scaled by what it is of
the whole (S21). This is exact: after that instant only the parallel branch and the fence are left, and the current
that was is all that drives them.

Where the store is not empty then, current flows again as soon as the terminals fall below the store's volts: the
difference of the two drives the store through its own series parts into the network (superposition). Without it the
joules would drop to half at the load at which the current just touches zero.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from adze.core.basics.cache import cached
from adze.core.basics.types import Complex, Real
from adze.core.pulse import laplace
from adze.core.pulse.laplace import Window
from adze.core.pulse.network import Source

# So slow that only charge is left: lines act as their resistance and leaks (eq. 20).
CHARGE_FREQUENCY_PER_S = 10.0
FLOWS = 1e-3  # of its peak: a current below it is none
_MOST_CONDUCTIONS = 6


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
    """An energizer at the solved frequencies: `push` is its current, A s; series and parallel admittance, S; (K+1,).

    `goes_on`: what flows again after the first stop counts too. Peaks come before it; joules do not.
    """

    source: Source
    push: Complex
    series_s: Complex
    parallel_s: Complex
    window: Window
    goes_on: bool = False

    @property
    def whole(self) -> "Discharge":
        """The same with what flows again after the first stop."""
        return replace(self, goes_on=True)

    @property
    def admittance_s(self) -> Complex:
        """What it adds between the terminals, S."""
        total: Complex = self.series_s + self.parallel_s
        return total

    def stop(self, across_v: Complex) -> tuple[Complex | None, float]:
        """What everything is scaled by, (K+1,), and when the current stops, s; None and inf where it never reverses.

        `across_v` (K+1,) are the volts between the terminals, were the current free to reverse.
        """
        if not self.source.one_way:
            return None, math.inf
        free = self.push - self.series_s * across_v
        wave = laplace.waveforms(free[:-1], self.window)
        flows = int(np.argmax(wave > FLOWS * wave.max()))
        first = self._until_zero(wave, 0, flows)
        if first is None:
            return None, math.inf
        flowed, stops_s = first
        if self.goes_on:
            flowed = self._with_what_follows(flowed, stops_s, across_v)
        scale: Complex = flowed / free
        return scale, stops_s

    def _with_what_follows(self, flowed: Complex, last_s: float, across_v: Complex) -> Complex:
        # The network without the store: its ohms between the energizer's terminals.
        rest_ohm = 1 / (self.push / across_v - self.series_s)
        for _ in range(_MOST_CONDUCTIONS):
            more, last_s = self._again(flowed, last_s, rest_ohm)
            flowed = flowed + more
            if math.isinf(last_s):
                break
        return flowed

    def _until_zero(self, wave: Real, begins: int, flows: int) -> tuple[Complex, float] | None:
        """What a current (n,) brings from one sample to its first zero after another, A s (K+1,), and that time, s."""
        back = np.flatnonzero(wave[flows:] <= 0)
        if not len(back):
            return None
        last = flows + int(back[0]) - 1  # the last sample before the zero
        share = wave[last] / (wave[last] - wave[last + 1])
        step = self._step_s
        # Trapezoids over the samples, and a triangle from the last of them to the zero.
        weights = np.full(last + 1 - begins, step)
        weights[0], weights[-1] = step / 2, (step + share * step) / 2
        flowed: Complex = (wave[begins : last + 1] * weights) @ _decays(self.window)[begins : last + 1]
        return flowed, (last + share) * step

    @property
    def _step_s(self) -> float:
        return float(laplace.times_s(self.window)[1])

    def _again(self, flowed: Complex, stopped_s: float, rest_ohm: Complex) -> tuple[Complex | float, float]:
        """What flows once the terminals fall below the store again, A s, and when that stops; 0 and inf: never."""
        store_v = self.source.v0_v - float(flowed[-1].real) / self.source.storage_f
        spectrum = rest_ohm * flowed
        volts = laplace.waveforms(spectrum[:-1], self.window)
        first = math.ceil(stopped_s / self._step_s) + 1
        below = np.flatnonzero(volts[first:] < store_v)
        if not len(below):
            return 0.0, math.inf
        begins = first + int(below[0])
        decays = _decays(self.window)
        weights = np.full(begins + 1, self._step_s)
        weights[0] = weights[-1] = self._step_s / 2
        until = (volts[: begins + 1] * weights) @ decays[: begins + 1]
        drive = store_v * decays[begins] / solved_frequencies(self.window) - (spectrum - until)
        amps = drive / (1 / self.series_s + rest_ohm)
        wave = laplace.waveforms(amps[:-1], self.window)
        most = float(wave[begins:].max())
        if most <= 0:
            return 0.0, math.inf
        flows = begins + int(np.argmax(wave[begins:] > FLOWS * most))
        return self._until_zero(wave, begins, flows) or (amps, math.inf)


@cached("discharges", 64)
def discharge_of(source: Source, window: Window) -> Discharge:
    """An energizer at a window's frequencies (S2)."""
    s = solved_frequencies(window)
    below = 1 + s * source.series_ohm * source.storage_f + s**2 * source.series_h * source.storage_f
    series: Complex = s * source.storage_f / below
    damper = s * source.damper_f / (1 + s * source.damper_ohm * source.damper_f)
    parallel = np.asarray(damper + 1 / source.parallel_ohm, dtype=np.complex128)
    push: Complex = series * (source.v0_v / s)
    return Discharge(source, push, series, parallel, window)
