"""Soil measured with pins: four in a row (Wenner), or three round one rod; one layer, or two by several spacings.

Sources: F. Wenner, Bull. Bureau of Standards 12 (1915), rho = 2 pi a R; two layers: the images of a
point source, IEEE Std 81, Annex A; one rod: H. B. Dwight (1936), inverted.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from adze.core.basics.types import Real
from adze.core.soil.earth import EarthError, rod_ohm

LEAST_OHM_M, MOST_OHM_M = 1.0, 1e5
_IMAGES = np.arange(1, 400)
_ALIKE = 0.3  # layers that differ by less are one


def _sane(soil_ohm_m: float) -> float:
    if not LEAST_OHM_M <= soil_ohm_m <= MOST_OHM_M:
        raise EarthError(
            f"that comes to {soil_ohm_m:.3g} Ω·m; soils lie between {LEAST_OHM_M:g} and {MOST_OHM_M:,.0f}. "
            "Check ohms and distances"
        )
    return soil_ohm_m


def _positive(name: str, value: float) -> None:
    if not (math.isfinite(value) and value > 0):
        raise EarthError(f"{name}: {value:g} cannot be; give a figure above 0")


def four_pin_ohm_m(spacing_m: float, ohm: float) -> float:
    """Soil down to about the spacing, ohm m, by four pins `spacing_m` apart that read `ohm`. Raises EarthError."""
    _positive("spacing", spacing_m)
    _positive("ohms", ohm)
    return _sane(2 * math.pi * spacing_m * ohm)


def one_rod_ohm_m(length_m: float, diameter_m: float, ohm: float) -> float:
    """Soil round one rod that a three-pin test reads as `ohm`, ohm m. Raises EarthError."""
    _positive("ohms", ohm)
    return _sane(ohm / rod_ohm(1.0, length_m, diameter_m))


def apparent_ohm_m(spacing_m: Real, upper: float, depth_m: float, lower: float) -> Real:
    """What four pins show over two layers, ohm m; shape of `spacing_m`."""
    k = (lower - upper) / (lower + upper)
    n = _IMAGES[None, :]
    ratio = 2 * n * depth_m / np.asarray(spacing_m, dtype=float)[:, None]
    series: Real = (k**n * (1 / np.sqrt(1 + ratio**2) - 1 / np.sqrt(4 + ratio**2))).sum(axis=1)
    shown: Real = np.asarray(upper * (1 + 4 * series), dtype=float)
    return shown


@dataclass(frozen=True)
class Sounding:
    """Soil by several spacings: one layer, or two with the depth of the boundary; how far off the fit is, 0 to 1."""

    upper_ohm_m: float
    depth_m: float | None
    lower_ohm_m: float | None
    misfit: float


def sounding(rows: Sequence[tuple[float, float]]) -> Sounding:
    """Layers from (spacing in m, ohm) rows; two layers want three spacings or more. Raises EarthError."""
    if not rows:
        raise EarthError("soil test: give at least one spacing with its ohms")
    shown = np.array([four_pin_ohm_m(a, r) for a, r in rows])
    spacing = np.array([a for a, _ in rows])
    even = float(np.exp(np.log(shown).mean()))
    spread = float(np.abs(np.log(shown / even)).max())
    if len(rows) < 3 or spread < 0.15:
        return Sounding(even, None, None, spread)

    def misses(x: Real) -> Real:
        upper, depth, lower = np.exp(x)
        off: Real = np.log(apparent_ohm_m(spacing, upper, depth, lower) / shown)
        return off

    order = np.argsort(spacing)
    first = np.log([shown[order[0]], float(np.median(spacing)), shown[order[-1]]])
    low, high = np.log([LEAST_OHM_M, 0.1, LEAST_OHM_M]), np.log([MOST_OHM_M, 30.0, MOST_OHM_M])
    found = least_squares(misses, np.clip(first, low + 1e-6, high - 1e-6), bounds=(low, high))
    upper, depth, lower = (float(v) for v in np.exp(found.x))
    if abs(math.log(lower / upper)) < _ALIKE:
        return Sounding(even, None, None, spread)
    return Sounding(upper, depth, lower, float(np.abs(found.fun).max()))
