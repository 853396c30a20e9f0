"""Earth rods: ohms of a rod, a row, a slanted or trenched electrode, one or two soil layers, and the earth test.

All soil resistivities in ohm m, lengths in m. Equations are numbered as in docs/physics.md.
Sources: H. B. Dwight, "Calculation of resistances to ground", Electr. Eng. 55 (1936);
E. D. Sunde, Earth Conduction Effects in Transmission Systems (1949); IEEE Std 80 (hoof as a disc).
"""

import math
from dataclasses import dataclass

import numpy as np

from adze.core.laplace import Real

_PIECES_PER_M = 4
_PIECES = 20
_MOST_IMAGES = 2000


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

    def surface_ohm(self, soil_ohm_m: float, point_m: tuple[float, float]) -> float:
        """Rise of the soil surface at a point per amp (eq. 18), ohm."""
        _, shares = self.shares(soil_ohm_m)
        away = np.hypot(*(np.array(self.positions_m) - np.array(point_m)).T)
        away = np.maximum(away, self.diameter_m / 2)
        return float(soil_ohm_m / (2 * math.pi * self.length_m) * (shares * np.arcsinh(self.length_m / away)).sum())

    def peg_fraction(self, soil_ohm_m: float, peg_m: tuple[float, float]) -> float:
        """What part of the true rod volts an earth test shows with its peg at a point (eq. 18), 0 to 1."""
        return 1 - self.surface_ohm(soil_ohm_m, peg_m) / self.ohm(soil_ohm_m)


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


def layered_rod_ohm(
    upper_ohm_m: float, upper_depth_m: float, lower_ohm_m: float, length_m: float, diameter_m: float
) -> float:
    """One upright rod from the surface in two layers (eq. 17), ohm.

    The rod is cut at the boundary and into short pieces of equal volts, with the images of both
    layers: the current may crowd where soil is better. In even soil it lies 0.8 % below eq. 14.
    Source: Sunde 1949, ch. 2 (images of a point in two layers); pieces by average potentials,
    derived here.
    """
    _positive(upper_ohm_m=upper_ohm_m, upper_depth_m=upper_depth_m, lower_ohm_m=lower_ohm_m)
    rod_ohm(upper_ohm_m, length_m, diameter_m)
    inside = min(upper_depth_m, length_m)
    edges = np.linspace(0, inside, max(1, round(_PIECES * inside / length_m)) + 1)
    if length_m > inside:
        below = np.linspace(inside, length_m, max(1, round(_PIECES * (length_m - inside) / length_m)) + 1)
        edges = np.concatenate([edges, below[1:]])
    start, end = edges[:-1], edges[1:]
    in_upper = (start + end) / 2 < upper_depth_m
    k = (lower_ohm_m - upper_ohm_m) / (lower_ohm_m + upper_ohm_m)

    def line(shift: float, mirror: float) -> Real:
        """Mean over receivers (rows) of the mean inverse distance to a source piece moved to mirror z + shift."""
        one, other = mirror * start + shift, mirror * end + shift
        low, high = np.minimum(one, other), np.maximum(one, other)
        a, b = start[:, None], end[:, None]
        whole = _double_asinh(high - a, diameter_m / 2) - _double_asinh(high - b, diameter_m / 2)
        whole = whole - _double_asinh(low - a, diameter_m / 2) + _double_asinh(low - b, diameter_m / 2)
        mean: Real = whole / ((b - a) * (high - low))
        return mean

    # Up from the deep layer every image stands above; past the boundary the potential takes the factor 1 + k.
    both_upper = line(0.0, 1.0) + line(0.0, -1.0)
    across = line(0.0, 1.0) + line(0.0, -1.0)
    echoes = line(0.0, -1.0)
    for n in range(1, _images(k) + 1):
        up, weight = 2 * n * upper_depth_m, k**n
        above = line(-up, -1.0)
        both_upper = both_upper + weight * (line(up, 1.0) + line(-up, 1.0) + line(up, -1.0) + above)
        across = across + weight * (line(-up, 1.0) + above)
        echoes = echoes + weight * above
    both_lower = line(0.0, 1.0) - k * line(2 * upper_depth_m, -1.0) + (1 - k * k) * echoes
    # `across` holds for a field in the lower layer (rows) of a source in the upper (columns); the rest by reciprocity.
    mixed = upper_ohm_m * (1 + k) * np.where(in_upper[None, :], across, across.T)
    same = np.where(in_upper[None, :], upper_ohm_m * both_upper, lower_ohm_m * both_lower)
    matrix = np.where(in_upper[:, None] == in_upper[None, :], same, mixed) / (4 * math.pi)
    currents = np.linalg.solve(matrix, np.ones(len(start)))
    return 1 / float(currents.sum())


def _images(k: float) -> int:
    """Images until their weight |k|^n is spent."""
    return 1 if k == 0 else min(_MOST_IMAGES, math.ceil(math.log(1e-5) / math.log(abs(k))))


def _double_asinh(u: Real, radius_m: float) -> Real:
    """Second integral of 1/sqrt(u^2 + radius^2)."""
    integral: Real = u * np.arcsinh(u / radius_m) - np.hypot(u, radius_m)
    return integral


@dataclass(frozen=True)
class Buried:
    """One straight round electrode in even soil: ends as (x, y, depth) in m, diameter in m."""

    start_m: tuple[float, float, float]
    end_m: tuple[float, float, float]
    diameter_m: float

    def __post_init__(self) -> None:
        """Refuse an electrode above ground or without length."""
        _positive(diameter_m=self.diameter_m)
        if min(self.start_m[2], self.end_m[2]) < 0:
            raise EarthError("a buried electrode stands above ground; depths must be 0 or more")
        if math.dist(self.start_m, self.end_m) <= self.diameter_m:
            raise EarthError("a buried electrode is shorter than it is thick")


def slanted_rod(length_m: float, diameter_m: float, degrees_from_vertical: float) -> Buried:
    """A rod driven from the surface at a slant."""
    if not 0 <= degrees_from_vertical < 90:
        raise EarthError(f"degrees_from_vertical is {degrees_from_vertical}, must be 0 to below 90")
    lean = math.radians(degrees_from_vertical)
    end = (length_m * math.sin(lean), 0.0, length_m * math.cos(lean))
    return Buried((0.0, 0.0, 0.0), end, diameter_m)


def buried_ohm(electrodes: tuple[Buried, ...], soil_ohm_m: float) -> float:
    """Joined straight electrodes in even soil by average potentials with images (eq. 16), ohm.

    Source: Sunde 1949, ch. 3 (average potential method); each electrode is cut into pieces of equal volts.
    """
    _positive(soil_ohm_m=soil_ohm_m)
    starts, ends, radii = [], [], []
    for electrode in electrodes:
        a, b = np.array(electrode.start_m), np.array(electrode.end_m)
        pieces = max(4, round(_PIECES_PER_M * math.dist(a, b)))
        edges = a + (b - a) * np.linspace(0, 1, pieces + 1)[:, None]
        starts.append(edges[:-1])
        ends.append(edges[1:])
        radii.append(np.full(pieces, electrode.diameter_m / 2))
    start, end, radius = np.concatenate(starts), np.concatenate(ends), np.concatenate(radii)
    flip = np.array([1.0, 1.0, -1.0])
    matrix = _mean_inverse_distance(start, end, radius, start, end)
    matrix = matrix + _mean_inverse_distance(start, end, radius, start * flip, end * flip)
    matrix *= soil_ohm_m / (4 * math.pi)
    currents = np.linalg.solve(matrix, np.ones(len(radius)))
    return 1 / float(currents.sum())


def _mean_inverse_distance(start: Real, end: Real, radius: Real, source_start: Real, source_end: Real) -> Real:
    """Mean over receivers (rows) of a source piece's (columns) mean inverse distance, 1/m."""
    axis = source_end - source_start
    size = np.linalg.norm(axis, axis=1)
    unit = axis / size[:, None]
    nodes, weights = np.polynomial.legendre.leggauss(4)
    total = np.zeros((len(radius), len(size)))
    for node, weight in zip((nodes + 1) / 2, weights / 2, strict=True):
        point = start + (end - start) * node
        off = point[:, None, :] - source_start[None, :, :]
        along = np.einsum("ijk,jk->ij", off, unit)
        across_squared = np.maximum((off**2).sum(axis=2) - along**2, 0.0)
        # On its own axis a wire is seen from its skin.
        across = np.sqrt(across_squared + radius[:, None] ** 2)
        total += weight * (np.arcsinh(along / across) + np.arcsinh((size - along) / across)) / size
    return total


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
