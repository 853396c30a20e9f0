"""The energizer alone on a load: its pulse from the poles of the circuit, its joules without them.

Equations S1 to S9 are those of docs/model.md. All functions take the parts of the circuit in ohm, F, H, V, s or,
as well, in the circuit's own units (ohms of sqrt(L/C), seconds of sqrt(LC)).
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq, minimize_scalar

from adze.core.basics.types import Complex, Real

_TIMES = 110  # at which the largest swing is sought
_LIVES = 12  # of the second-slowest pole: by then every first swing is over


@dataclass(frozen=True)
class PulseCircuit:
    """The circuit of S1: a store at `v0_v` behind L and R; across the terminals Rp, and Rd in series with Cp."""

    v0_v: float
    storage_f: float
    series_h: float
    series_ohm: float
    parallel_ohm: float
    damper_f: float
    damper_ohm: float

    @property
    def stored_j(self) -> float:
        """Joules in the store before the pulse."""
        return self.storage_f * self.v0_v**2 / 2


def _poles(parts: PulseCircuit, load_ohm: float, load_f: float) -> tuple[Complex, Complex]:
    """Poles of the terminal volts on a load, and their residues (S7)."""
    c, lag = parts.storage_f, [parts.damper_ohm * parts.damper_f, 1.0]
    series = [parts.series_h * c, parts.series_ohm * c, 1.0]
    parallel = np.polymul([load_f, 1 / parts.parallel_ohm + 1 / load_ohm], lag)
    parallel = np.polyadd(parallel, [parts.damper_f, 0.0])
    below = np.trim_zeros(np.polyadd(np.polymul(series, parallel), np.polymul([c, 0.0], lag)), "f")
    poles: Complex = np.roots(below).astype(np.complex128)
    residues: Complex = parts.v0_v * c * np.polyval(lag, poles) / np.polyval(np.polyder(below), poles)
    return poles, residues


def _through(poles: Complex, residues: Complex, response_s: float) -> tuple[Complex, Complex]:
    """What a first-order response leaves of a wave: one pole more (S13)."""
    if not response_s:
        return poles, residues
    own = -1 / response_s
    at_own = (residues / (own - poles)).sum() / response_s
    return np.append(poles, own), np.append(residues / (1 + poles * response_s), at_own)


@dataclass(frozen=True)
class Peak:
    """The largest volts of a pulse and when they come, V and s."""

    volts: float
    at_s: float


def peak_on(parts: PulseCircuit, load_ohm: float = math.inf, load_f: float = 0.0, response_s: float = 0.0) -> Peak:
    """The peak on a load, as a tester of a response shows it. `load_ohm` inf is an open terminal."""
    poles, residues = _poles(parts, load_ohm, load_f)
    lives = np.sort(1 / np.abs(poles.real))
    poles, residues = _through(poles, residues, response_s)
    t = np.geomspace(1e-3 / np.abs(poles).max(), _LIVES * lives[-2], _TIMES)
    wave: Real = np.abs((np.exp(np.outer(t, poles)) @ residues).real)
    best = min(max(int(np.argmax(wave)), 1), len(t) - 2)

    def slope(at_s: float) -> float:
        return float((np.exp(at_s * poles) @ (residues * poles)).real)

    low, high = float(t[best - 1]), float(t[best + 1])
    at_s = brentq(slope, low, high, xtol=1e-12 * high) if slope(low) * slope(high) < 0 else float(t[best])
    return Peak(abs(float((np.exp(at_s * poles) @ residues).real)), at_s)


def energy_on_j(parts: PulseCircuit, load_ohm: float) -> float:
    """Joules that one pulse leaves in a resistance over all time, in closed form (S8)."""
    c, lag = parts.storage_f, parts.damper_ohm * parts.damper_f
    g = 1 / parts.parallel_ohm + 1 / load_ohm
    b = g * lag + parts.damper_f
    a0, a1 = g, parts.series_ohm * c * g + b + c
    a2 = parts.series_h * c * g + parts.series_ohm * c * b + c * lag
    a3 = parts.series_h * c * b
    c0 = parts.v0_v * c
    c1 = c0 * lag
    return float((c1**2 * a0 + c0**2 * a2) / (2 * a0 * (a1 * a2 - a0 * a3) * load_ohm))


def best_load_ohm(parts: PulseCircuit) -> float:
    """The load that takes the most joules (S9)."""
    guess = math.log(parts.parallel_ohm * math.tanh(math.asinh(math.sqrt(parts.series_ohm / parts.parallel_ohm))))
    found = minimize_scalar(
        lambda x: -energy_on_j(parts, math.exp(x)),
        bounds=(guess - 4, guess + 4),
        method="bounded",
        options={"xatol": 1e-6},
    )
    return math.exp(float(found.x))


def released_j(parts: PulseCircuit) -> float:
    """The most joules that any load takes: what a plate calls released."""
    return energy_on_j(parts, best_load_ohm(parts))
