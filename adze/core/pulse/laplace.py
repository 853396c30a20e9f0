"""From functions of complex frequency to the peak of a wave in time.

A fence pulse is solved at a row of complex frequencies and carried back to time by one
zero-padded Fourier transform, with odd sampling and no window.

Source: D. J. Wilcox, "Numerical Laplace transformation and inversion", Int. J. Elect. Eng.
Educ. 15 (1978); odd sampling as in N. Nagaoka and A. Ametani, IEEE Trans. PWRD 3 (1988).
Wrap-around grows with exp(a t), so only the first three quarters of the window are used.
"""

import math
from dataclasses import dataclass

import numpy as np
from numba import njit
from scipy import fft

from adze.core.basics.cache import cached
from adze.core.basics.types import Complex, Real

_PADDING = 4
_COARSE = 2  # enough to find which swing is the largest
_USABLE = 0.75
_ROWS_AT_ONCE = 64  # so many waves stay in the processor's nearest memory


@dataclass(frozen=True)
class Window:
    """How long and how finely the pulse is followed: length in s, frequencies, wrap-around left."""

    length_s: float
    frequencies: int
    wrap_around: float

    @property
    def damping_per_s(self) -> float:
        """Real part of every frequency, 1/s."""
        return math.log(1 / self.wrap_around) / self.length_s

    @property
    def usable_samples(self) -> int:
        """Samples of the padded transform that are free of wrap-around."""
        return int(_USABLE * _PADDING * self.frequencies)


FULL = Window(length_s=2e-3, frequencies=512, wrap_around=1e-4)
FAST = Window(length_s=0.8e-3, frequencies=256, wrap_around=1e-3)
COARSE = Window(length_s=0.6e-3, frequencies=128, wrap_around=1e-3)


def frequencies_per_s(window: Window) -> Complex:
    """Complex frequencies s_k = a + j (2k+1) pi / T, shape (K,), 1/s."""
    odd = 2 * np.arange(window.frequencies) + 1
    return window.damping_per_s + 1j * odd * math.pi / window.length_s


def times_s(window: Window) -> Real:
    """Sample times of `waveforms`, shape (n,), s."""
    step = window.length_s / (_PADDING * window.frequencies)
    return np.arange(window.usable_samples) * step


@cached("rotations", 16)
def _rotation(window: Window, padding: int) -> Complex:
    size = padding * window.frequencies
    t = np.arange(int(_USABLE * size)) * window.length_s / size
    scale = 2 / window.length_s * size
    turned: Complex = scale * np.exp((window.damping_per_s + 1j * math.pi / window.length_s) * t)
    return turned


def waveforms(values: Complex, window: Window) -> Real:
    """Waves in time of spectra of shape (..., K): shape (..., n), in the unit of the spectrum per s."""
    padded = fft.ifft(values, n=_PADDING * window.frequencies, axis=-1)
    rotated = padded[..., : window.usable_samples] * _rotation(window, _PADDING)
    wave: Real = rotated.real
    return wave


def peak_of(wave: Real) -> Real:
    """Signed value of largest magnitude of waves (..., n), refined by a parabola through three samples."""
    flat = wave.reshape(-1, wave.shape[-1])
    row = np.arange(flat.shape[0])
    at = np.clip(np.argmax(np.abs(flat), axis=1), 1, flat.shape[1] - 2)
    before, middle, after = flat[row, at - 1], flat[row, at], flat[row, at + 1]
    curvature = before - 2 * middle + after
    slope = after - before
    bends = np.abs(curvature) > 1e-12 * np.maximum(np.abs(middle), 1e-300)
    shift = np.where(bends, -slope / (2 * np.where(bends, curvature, 1.0)), 0.0)
    refined = middle + slope * np.clip(shift, -1, 1) / 4
    ends = np.stack([flat[:, 0], refined, flat[:, -1]])
    best = np.argmax(np.abs(ends), axis=0)
    peak: Real = ends[best, row].reshape(wave.shape[:-1])
    return peak


def peaks(values: Complex, window: Window) -> Real:
    """Signed peaks in time of spectra (..., K): shape (...).

    The largest of coarse samples is sought out, then the wave itself is summed around it.
    """
    flat = np.ascontiguousarray(values.reshape(-1, values.shape[-1]))
    found = np.empty(len(flat))
    size = _COARSE * window.frequencies
    turn = _rotation(window, _COARSE)
    for i in range(0, len(flat), _ROWS_AT_ONCE):
        rows = flat[i : i + _ROWS_AT_ONCE]
        _peaks(
            rows,
            fft.ifft(rows, n=size, axis=-1),
            turn,
            window.length_s / size,
            window.damping_per_s,
            math.pi / window.length_s,
            found[i : i + _ROWS_AT_ONCE],
        )
    return found.reshape(values.shape[:-1])


@njit(cache=True, nogil=True)
def _wave_at(row, t, damping_per_s, first_per_s):  # type: ignore[no-untyped-def]
    """The wave of one spectrum at one time, summed as it stands (inverse of the odd sampling)."""
    step = complex(math.cos(2 * first_per_s * t), math.sin(2 * first_per_s * t))
    turn = complex(math.cos(first_per_s * t), math.sin(first_per_s * t))
    total = 0.0
    for k in range(len(row)):
        total += row[k].real * turn.real - row[k].imag * turn.imag
        turn *= step
    return 2 * first_per_s / math.pi * math.exp(damping_per_s * t) * total


@njit(cache=True, nogil=True)
def _vertex(before, middle, after):  # type: ignore[no-untyped-def]
    """How far from the middle of three even samples their parabola stands highest, in steps, at most one."""
    curvature = before - 2 * middle + after
    if abs(curvature) <= 1e-12 * max(abs(middle), 1e-300):
        return 0.0
    return max(-1.0, min(1.0, (before - after) / (2 * curvature)))


@njit(cache=True, nogil=True)
def _peaks(rows, padded, rotation, step_s, damping_per_s, first_per_s, found):  # type: ignore[no-untyped-def]
    size = len(rotation)
    wave = np.empty(size)
    for p in range(len(rows)):
        at = 0
        for n in range(size):
            wave[n] = padded[p, n].real * rotation[n].real - padded[p, n].imag * rotation[n].imag
            if abs(wave[n]) > abs(wave[at]):
                at = n
        found[p] = wave[at]
        if 0 < at < size - 1:
            t = (at + _vertex(wave[at - 1], wave[at], wave[at + 1])) * step_s
            near = step_s / 4
            before = _wave_at(rows[p], t - near, damping_per_s, first_per_s)
            middle = _wave_at(rows[p], t, damping_per_s, first_per_s)
            after = _wave_at(rows[p], t + near, damping_per_s, first_per_s)
            found[p] = middle + (after - before) / 4 * _vertex(before, middle, after)
