"""Earth rods in even soil by closed forms: a rod, rods side by side, a bore filled with clay, hooves, strips.

All soil resistivities in ohm m, lengths in m. Equations are numbered as in docs/physics.md.
Sources: H. B. Dwight, "Calculation of resistances to ground", Electr. Eng. 55 (1936);
E. D. Sunde, Earth Conduction Effects in Transmission Systems (1949); IEEE Std 80 (hoof as a disc).
"""

import math
from dataclasses import dataclass

import numpy as np

from adze.core.basics.types import Real


class EarthError(ValueError):
    """Rods that cannot be computed; the message names the figure and the limit."""


def _positive(**figures: float) -> None:
    for name, value in figures.items():
        if not (math.isfinite(value) and value > 0):
            raise EarthError(f"{name} is {value}, must be above 0")


def rod_ohm(soil_ohm_m: float, length_m: float, diameter_m: float) -> float:
    """Resistance of one upright rod to far soil (eq. 14), ohm. Source: Dwight 1936, eq. 1."""
    _positive(soil_ohm_m=soil_ohm_m, length_m=length_m, diameter_m=diameter_m)
    if diameter_m >= length_m:
        raise EarthError(f"diameter_m is {diameter_m}, must be less than the rod's length {length_m}")
    return soil_ohm_m / (2 * math.pi * length_m) * (math.log(8 * length_m / diameter_m) - 1)


def pair_ohm(soil_ohm_m: float, length_m: float, spacing_m: Real | float) -> Real:
    """Rise of one rod per amp in another of equal length (eq. 14), ohm; shape of `spacing_m`. Source: Dwight 1936."""
    ratio = 2 * length_m / np.asarray(spacing_m, dtype=float)
    bracket: Real = np.arcsinh(ratio) + 1 / ratio - np.sqrt(1 + 1 / ratio**2)
    return soil_ohm_m / (2 * math.pi * length_m) * bracket


@dataclass(frozen=True)
class RodField:
    """Equal upright rods at points of the plan: positions (n) pairs in m."""

    positions_m: tuple[tuple[float, float], ...]
    length_m: float
    diameter_m: float

    @staticmethod
    def row(count: int, spacing_m: float, length_m: float, diameter_m: float) -> "RodField":
        """Rods in a straight line at even spacing."""
        if count < 1:
            raise EarthError(f"count is {count}, must be 1 or more")
        if count > 1:
            _positive(spacing_m=spacing_m)
        return RodField(tuple((i * spacing_m, 0.0) for i in range(count)), length_m, diameter_m)

    def _distances_m(self) -> Real:
        at = np.array(self.positions_m)
        apart: Real = np.hypot(*(at[:, None, :] - at[None, :, :]).transpose(2, 0, 1))
        return apart

    def shares(self, soil_ohm_m: float) -> tuple[float, Real]:
        """Ohms of the joined rods and the share of the current in each (n,), by eq. 14's matrix."""
        alone = rod_ohm(soil_ohm_m, self.length_m, self.diameter_m)
        apart = self._distances_m()
        n = len(self.positions_m)
        off = ~np.eye(n, dtype=bool)
        if n > 1 and apart[off].min() < self.diameter_m:
            raise EarthError(f"rods stand {apart[off].min():g} m apart, must be more than their {self.diameter_m} m")
        matrix = np.full((n, n), alone)
        matrix[off] = pair_ohm(soil_ohm_m, self.length_m, apart[off])
        currents = np.linalg.solve(matrix, np.ones(n))
        return 1 / float(currents.sum()), currents / currents.sum()

    def ohm(self, soil_ohm_m: float) -> float:
        """Resistance of the joined rods to far soil, ohm."""
        return self.shares(soil_ohm_m)[0]

    def surface_ohm(self, soil_ohm_m: float, points_m: Real) -> Real:
        """Rise of the soil surface at points (P, 2) per amp (eq. 18), ohm (P,)."""
        _, shares = self.shares(soil_ohm_m)
        away = np.hypot(*(np.array(self.positions_m)[None] - np.asarray(points_m)[:, None]).transpose(2, 0, 1))
        away = np.maximum(away, self.diameter_m / 2)
        rise: Real = soil_ohm_m / (2 * math.pi * self.length_m) * (np.arcsinh(self.length_m / away) @ shares)
        return rise

    def peg_fraction(self, soil_ohm_m: float, peg_m: tuple[float, float]) -> float:
        """What part of the true rod volts an earth test shows with its peg at a point (eq. 18), 0 to 1."""
        return 1 - float(self.surface_ohm(soil_ohm_m, np.array([peg_m]))[0]) / self.ohm(soil_ohm_m)


def backfilled_rod_ohm(
    soil_ohm_m: float, backfill_ohm_m: float, length_m: float, diameter_m: float, bore_m: float
) -> float:
    """A rod in a bore filled with something that conducts (eq. 15), ohm. Source: Sunde 1949, ch. 3."""
    _positive(soil_ohm_m=soil_ohm_m, backfill_ohm_m=backfill_ohm_m, length_m=length_m, diameter_m=diameter_m)
    if not diameter_m < bore_m < length_m:
        raise EarthError(f"bore_m is {bore_m}, must lie between the rod's diameter and its length")
    inside = backfill_ohm_m * math.log(bore_m / diameter_m)
    outside = soil_ohm_m * (math.log(8 * length_m / bore_m) - 1)
    return (inside + outside) / (2 * math.pi * length_m)


def hooves_ohm(soil_ohm_m: float, hoof_radius_m: float, feet: int) -> float:
    """Standing feet on soil, in parallel (eq. 10), ohm. Source: IEEE Std 80, disc on even soil."""
    _positive(soil_ohm_m=soil_ohm_m, hoof_radius_m=hoof_radius_m, feet=feet)
    return soil_ohm_m / (4 * hoof_radius_m * feet)


_STRIP_LENGTH_M = 100.0  # the logarithm hardly minds: 50 to 500 m change it by a fifth


def laid_strip_s_per_m(soil_ohm_m: float, width_m: float) -> float:
    """Leak to soil of a strip of bare mesh lying on it, S/m.

    A long wire on the surface has R = rho / (pi l) (ln(2 l / a) - 1); a flat strip acts as a wire of a
    quarter of its width. Source: E. D. Sunde, Earth Conduction Effects (1949), average potentials.
    """
    _positive(soil_ohm_m=soil_ohm_m, width_m=width_m)
    return math.pi / (soil_ohm_m * (math.log(2 * _STRIP_LENGTH_M / (width_m / 4)) - 1))
