"""The inverse transform against closed forms."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.pulse.laplace import FAST, FULL, Window, frequencies_per_s, peak_of, peaks, times_s, waveforms


@pytest.mark.parametrize(("window", "tolerance"), [(FULL, 2e-3), (FAST, 4e-3)])
def test_double_exponential_comes_back(window: Window, tolerance: float) -> None:
    # A pulse as smooth as a fence's: 1/((s+a)(s+b)^2). What is left of the unwindowed ripple grows
    # with time, so the early part, where peaks stand, is held to the tolerance.
    a, b = 2.0e4, 1.5e5
    s, t = frequencies_per_s(window), times_s(window)
    wave = waveforms(1 / ((s + a) * (s + b) ** 2), window)
    exact = (np.exp(-a * t) - np.exp(-b * t)) / (b - a) ** 2 - t * np.exp(-b * t) / (b - a)
    early = t < window.length_s / 4
    assert np.abs(wave - exact)[early].max() < tolerance * exact.max()


def test_peak_of_a_ring_is_found_between_samples() -> None:
    # w/((s+d)^2+w^2) rings as e^-dt sin wt; its first peak stands at tan(wt) = w/d.
    d, w = 2e4, 9e4
    at = np.arctan2(w, d) / w
    exact = np.exp(-d * at) * np.sin(w * at)
    spectrum = w / ((frequencies_per_s(FULL) + d) ** 2 + w**2)
    assert float(peaks(spectrum, FULL)) == pytest.approx(exact, rel=2e-3)


def test_peak_keeps_its_sign_and_takes_the_larger_swing() -> None:
    t = np.linspace(0, 1, 1001)
    wave = np.stack([np.sin(2 * np.pi * t) - 0.5, 0.2 * np.cos(2 * np.pi * t)])
    assert peak_of(wave) == pytest.approx([-1.5, 0.2], abs=1e-6)


def test_peaks_of_a_stack_are_those_of_each_row() -> None:
    s = frequencies_per_s(FAST)
    rows = np.stack([1 / ((s + k * 1e4) * (s + 2e5)) for k in range(1, 6)])
    stacked = peaks(rows.reshape(5, 1, -1), FAST)
    assert stacked[:, 0] == pytest.approx([float(peaks(row, FAST)) for row in rows])


def test_nothing_is_told_of_the_end_of_the_window() -> None:
    # Wrap-around grows with exp(a t): samples stop at three quarters.
    assert times_s(FULL)[-1] < 0.75 * FULL.length_s


@settings(max_examples=60)
@given(d=st.floats(3e3, 1e5), w=st.floats(2e3, 4e5))
def test_peak_is_the_highest_point_of_the_wave_itself(d: float, w: float) -> None:
    # A ring driven by an edge of 2 us. The same inversion, padded sixty-four times, is followed point by point.
    s = frequencies_per_s(FAST)
    spectrum = w / ((s + d) ** 2 + w**2) / (1 + 2e-6 * s)
    size = 64 * FAST.frequencies
    t = np.arange(int(0.75 * size)) * FAST.length_s / size
    turn = np.exp((FAST.damping_per_s + 1j * np.pi / FAST.length_s) * t)
    fine = (2 / FAST.length_s * size * np.fft.ifft(spectrum, n=size)[: len(t)] * turn).real
    assert abs(float(peaks(spectrum, FAST))) == pytest.approx(np.abs(fine).max(), rel=1e-3)
