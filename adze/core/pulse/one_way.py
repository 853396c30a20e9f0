"""The discharge that cannot reverse, for many faults at once (S21 of docs/physics.md).

After the current's first zero the unit gives nothing more. What is left of every volt and amp of a fence is one
spectrum: that of the current until the zero over that of the current that is free to reverse. It differs by fault, not
by place.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from adze.core.basics.types import Complex, Real
from adze.core.pulse import laplace
from adze.core.pulse.discharge import FLOWS, discharge_of
from adze.core.pulse.laplace import Window
from adze.core.pulse.network import Source

FLOW_STEP_S, FLOW_STEPS = 2.5e-6, 97
REVERSAL_MATTERS = 0.005  # of the kV somewhere on the healthy fence; else the free discharge is taken
_AT_A_TIME = 2048
Spectra = NDArray[np.complex64]


@dataclass(frozen=True)
class OneWay:
    """A unit's current at the frequencies of a window, A s: what drives it and what the terminals' volts take, (K,)."""

    source: Source
    window: Window

    @property
    def push(self) -> Complex:
        """The current into a short circuit, A s, (K,)."""
        return discharge_of(self.source, self.window).push[: self.window.frequencies]

    @property
    def series_s(self) -> Complex:
        """What the terminals' volts take off it, S, (K,)."""
        return discharge_of(self.source, self.window).series_s[: self.window.frequencies]

    @cached_property
    def _turn(self) -> Complex:
        t = FLOW_STEP_S * np.arange(FLOW_STEPS)
        turn: Complex = np.exp(np.outer(laplace.frequencies_per_s(self.window), t)).astype(np.complex64)
        return turn

    def left(self, across_v: Complex | Spectra) -> Spectra:
        """What is left of every volt and amp, (H, K), by the volts between the terminals, were it free, (H, K)."""
        found = np.ones(across_v.shape, dtype=np.complex64)
        for first in range(0, len(across_v), _AT_A_TIME):
            rows = slice(first, first + _AT_A_TIME)
            free = (self.push - self.series_s * across_v[rows]).astype(np.complex64)
            wave = (2 / self.window.length_s) * (free @ self._turn).real
            weights, reverses = _until_zero(wave)
            flowed = (wave[reverses] * weights[reverses]) @ (1 / self._turn).T
            found[rows][reverses] = flowed / free[reverses]
        return found


def _until_zero(wave: Real) -> tuple[Real, NDArray[np.bool_]]:
    """Weights of the samples (H, T) that sum a current up to its first zero, and whether it has one, (H,).

    Trapezoids over the samples, and a triangle from the last of them to the zero.
    """
    rows, at = np.arange(len(wave)), np.arange(wave.shape[1])
    begins = np.argmax(wave > FLOWS * wave.max(axis=1, keepdims=True), axis=1)
    back = (wave <= 0) & (at > begins[:, None])
    reverses = back.any(axis=1)
    last = np.where(reverses, np.argmax(back, axis=1) - 1, wave.shape[1] - 2)
    before, after = wave[rows, last], wave[rows, last + 1]
    share = before / np.where(reverses, before - after, 1.0)
    weights = np.where(at <= last[:, None], FLOW_STEP_S, 0.0)
    weights[:, 0] = FLOW_STEP_S / 2
    weights[rows, last] = FLOW_STEP_S * (1 + share) / 2
    return weights, reverses
