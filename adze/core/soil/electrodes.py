"""Buried electrodes of any shape in one or two layers of soil: ohms, shares of the current, rise of the ground.

Rods, slanted rods, bare wires and plates are cut into straight pieces of equal volts; each piece raises
all others by its line charge and its images (average potential method, eq. 16). In two layers the images
repeat without end: what lies near is integrated along the piece, what lies far is taken from its middle,
read off tables over the horizontal distance, and the last images are summed in closed form.
Sources: E. D. Sunde, Earth Conduction Effects in Transmission Systems (1949), ch. 2 and 3 (images of a
point in two layers, average potentials); the closed tail and the tables are derived here.
Equations are numbered as in docs/physics.md.
"""

import math
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from adze.core.basics.types import Real
from adze.core.soil.earth import EarthError

Point = tuple[float, float, float]
_PIECES_M = 0.25  # wished length of a piece; fewer where there are many electrodes
_FEWEST, _MOST, _BUDGET = 4, 20, 320
_NEAR = 2.5  # times a piece's length: nearer, it is integrated
_FAR = 1.5  # images farther than so many times the distance are summed in closed form
_STEPS = 96  # of the table over the distance
_LAST_IMAGE = 4000
_SELF_SHARE = math.exp(-1.5)  # geometric mean distance of a line to itself, of its length (Maxwell)


@dataclass(frozen=True)
class Layers:
    """Soil of one kind, or an upper layer of `depth_m` over another; ohm m."""

    upper_ohm_m: float
    depth_m: float = math.inf
    lower_ohm_m: float | None = None

    def __post_init__(self) -> None:
        """Refuse soils that are none. Raises EarthError."""
        for name in ("upper_ohm_m", "depth_m", "lower_ohm_m"):
            value = getattr(self, name)
            if value is not None and not value > 0:
                raise EarthError(f"{name} is {value}, must be above 0")
        if math.isfinite(self.depth_m) != (self.lower_ohm_m is not None):
            raise EarthError("two layers want both a depth and a lower soil")

    @property
    def k(self) -> float:
        """How much of the current the boundary throws back: 1 from rock, -1 from metal, 0 in even soil."""
        lower = self.lower_ohm_m
        return 0.0 if lower is None else (lower - self.upper_ohm_m) / (lower + self.upper_ohm_m)


@dataclass(frozen=True)
class Buried:
    """One straight round electrode: ends as (x, y, depth) in m, diameter in m.

    `series_ohm` lies between metal and soil over its whole length: a film of rust, a shell of backfill.
    """

    start_m: Point
    end_m: Point
    diameter_m: float
    series_ohm: float = 0.0

    def __post_init__(self) -> None:
        """Refuse an electrode above ground or without length."""
        if not (math.isfinite(self.diameter_m) and self.diameter_m > 0):
            raise EarthError(f"diameter_m is {self.diameter_m}, must be above 0")
        if min(self.start_m[2], self.end_m[2]) < 0:
            raise EarthError("a buried electrode stands above ground; depths must be 0 or more")
        if math.dist(self.start_m, self.end_m) <= self.diameter_m:
            raise EarthError("a buried electrode is shorter than it is thick")
        if not self.series_ohm >= 0:
            raise EarthError(f"series_ohm is {self.series_ohm}, must be 0 or more")

    @property
    def length_m(self) -> float:
        """Its length, m."""
        return math.dist(self.start_m, self.end_m)


def slanted_rod(length_m: float, diameter_m: float, degrees_from_vertical: float) -> Buried:
    """A rod driven from the surface at a slant."""
    if not 0 <= degrees_from_vertical < 90:
        raise EarthError(f"degrees_from_vertical is {degrees_from_vertical}, must be 0 to below 90")
    lean = math.radians(degrees_from_vertical)
    end = (length_m * math.sin(lean), 0.0, length_m * math.cos(lean))
    return Buried((0.0, 0.0, 0.0), end, diameter_m)


def buried_plate(
    side_m: float, depth_m: float, at_m: tuple[float, float] = (0.0, 0.0), strips: int = 8
) -> tuple[Buried, ...]:
    """A square plate lying flat about a point, as strips side by side; a strip is a wire of a quarter of its width."""
    wide, (east, north) = side_m / strips, at_m
    rows = north - side_m / 2 + (np.arange(strips) + 0.5) * wide
    low, high = east - side_m / 2, east + side_m / 2
    return tuple(Buried((low, float(y), depth_m), (high, float(y), depth_m), wide / 2) for y in rows)


@dataclass(frozen=True)
class _Pieces:
    """Pieces of electrodes: ends (n, 3), the electrode of each (n,), radius (n,)."""

    start: Real
    end: Real
    owner: NDArray[np.intp]
    radius: Real

    @cached_property
    def middle(self) -> Real:
        middle: Real = (self.start + self.end) / 2
        return middle

    @cached_property
    def length(self) -> Real:
        length: Real = np.linalg.norm(self.end - self.start, axis=1)
        return length


def _cut(electrodes: tuple[Buried, ...], depth_m: float) -> _Pieces:
    """Electrodes cut at the boundary and into pieces."""
    most = max(_FEWEST, min(_MOST, _BUDGET // len(electrodes)))
    starts, ends, owners, radii = [], [], [], []
    for number, electrode in enumerate(electrodes):
        a, b = np.array(electrode.start_m), np.array(electrode.end_m)
        stops = [0.0, 1.0]
        if min(a[2], b[2]) < depth_m - 1e-6 and max(a[2], b[2]) > depth_m + 1e-6:
            stops.insert(1, float((depth_m - a[2]) / (b[2] - a[2])))
        count = max(_FEWEST, min(most, round(electrode.length_m / _PIECES_M)))
        for low, high in pairwise(stops):
            edges = np.linspace(low, high, max(1, round(count * (high - low))) + 1)[:, None]
            starts.append(a + (b - a) * edges[:-1])
            ends.append(a + (b - a) * edges[1:])
            owners.append(np.full(len(edges) - 1, number))
            radii.append(np.full(len(edges) - 1, electrode.diameter_m / 2))
    return _Pieces(np.concatenate(starts), np.concatenate(ends), np.concatenate(owners), np.concatenate(radii))


@dataclass(frozen=True)
class Field:
    """Electrodes joined by wire in layered soil, solved. Raises EarthError for two in one hole."""

    electrodes: tuple[Buried, ...]
    layers: Layers

    def __post_init__(self) -> None:
        """Refuse nothing, and two rods in one hole."""
        if not self.electrodes:
            raise EarthError("count is 0, must be 1 or more")
        middles = np.array([np.add(e.start_m, e.end_m) / 2 for e in self.electrodes])
        apart = np.linalg.norm(middles[:, None] - middles[None], axis=2)
        least = min(e.diameter_m for e in self.electrodes)
        if len(middles) > 1 and apart[~np.eye(len(middles), dtype=bool)].min() < least:
            raise EarthError("two rods stand in one hole; set them apart")

    @cached_property
    def _pieces(self) -> _Pieces:
        return _cut(self.electrodes, self.layers.depth_m)

    @cached_property
    def _currents(self) -> Real:
        """Current of every piece at 1 V, A (n,)."""
        pieces = self._pieces
        nodes, weights = np.polynomial.legendre.leggauss(4)
        shares = (nodes + 1) / 2
        points = pieces.start[:, None, :] + (pieces.end - pieces.start)[:, None, :] * shares[None, :, None]
        matrix = _rises(points, weights / 2, pieces.middle, pieces.length, pieces, self.layers)
        matrix = (matrix + matrix.T) / 2
        whole = np.array([e.series_ohm * e.length_m for e in self.electrodes])[pieces.owner]
        matrix[np.diag_indices_from(matrix)] += whole / pieces.length
        currents: Real = np.linalg.solve(matrix, np.ones(len(matrix)))
        return currents

    @cached_property
    def ohm(self) -> float:
        """Resistance of the joined electrodes to far soil, ohm. Raises EarthError where the pieces are too coarse."""
        ohm = 1 / float(self._currents.sum())
        if not ohm > 0:
            raise EarthError("so many and so long electrodes over so thin a layer cannot be computed; take fewer")
        return ohm

    @cached_property
    def shares(self) -> Real:
        """Share of the current in each electrode (n,)."""
        found: Real = np.bincount(self._pieces.owner, self._currents, len(self.electrodes)) * self.ohm
        return found

    def surface_ohm(self, points_m: Real) -> Real:
        """Rise of the soil's surface at points (P, 2) per amp into the electrodes (eq. 18), ohm (P,)."""
        points = np.column_stack([points_m, np.zeros(len(points_m))])
        none = np.zeros(len(points))
        rise = _rises(points[:, None, :], np.ones(1), points, none, self._pieces, self.layers)
        found: Real = rise @ self._currents * self.ohm
        return found

    def peg_fraction(self, peg_m: tuple[float, float]) -> float:
        """What part of the true rod volts an earth test shows with its peg at a point (eq. 18), 0 to 1."""
        return 1 - float(self.surface_ohm(np.array([peg_m]))[0]) / self.ohm


def _rises(points: Real, weights: Real, middle: Real, size: Real, pieces: _Pieces, layers: Layers) -> Real:
    """Mean rise over receivers (rows) per amp of each piece (columns), ohm.

    Receivers as points (R, q, 3) with weights (q,), their middles (R, 3) and lengths (R,).
    """
    k, depth = layers.k, layers.depth_m
    near = _Near(points, weights, middle, size, pieces)
    direct, mirror = near.inverse(1.0, 0.0), near.inverse(-1.0, 0.0)
    if k == 0.0:
        even: Real = layers.upper_ohm_m / (4 * math.pi) * (direct + mirror)
        return even
    boundary = near.inverse(-1.0, 2 * depth)
    field_upper, source_upper = middle[:, 2] < depth, pieces.middle[:, 2] < depth
    # Seen from its own images a lying piece is no point: its mean distance to itself (of logarithms) stands in.
    lying = np.hypot(*(pieces.end - pieces.start)[:, :2].T)
    across = np.hypot(near.across, _SELF_SHARE * lying[None, :])
    echo = _Echoes(layers, across, middle[:, 2], pieces.middle[:, 2])
    upper, lower = layers.upper_ohm_m, layers.lower_ohm_m or layers.upper_ohm_m
    rise: Real = upper * (direct + mirror + k * boundary + echo.both_upper())
    if not source_upper.all():
        both_lower = lower * (direct - k * boundary + (1 - k * k) * (mirror + echo.both_lower()))
        mixed = upper * (1 + k) * (direct + mirror + echo.mixed())
        same = field_upper[:, None] == source_upper[None, :]
        rise = np.where(same, np.where(field_upper[:, None], rise, both_lower), mixed)
    return rise / (4 * math.pi)


class _Near:
    """Mean inverse distance of receivers to pieces moved to mirror * z + shift."""

    def __init__(self, points: Real, weights: Real, middle: Real, size: Real, pieces: _Pieces) -> None:
        self._points, self._weights, self._middle, self._pieces = points, weights, middle, pieces
        self._reach = _NEAR * np.maximum(size[:, None], pieces.length[None, :])
        self.across: Real = np.hypot(*(middle[:, None, :2] - pieces.middle[None, :, :2]).transpose(2, 0, 1))

    def inverse(self, mirror: float, shift: float) -> Real:
        """1/m, (R, n): by the middles where they lie far apart, along the piece where near."""
        pieces = self._pieces
        up = self._middle[:, None, 2] - (mirror * pieces.middle[None, :, 2] + shift)
        away = np.hypot(self.across, up)
        found: Real = 1 / np.maximum(away, 1e-9)
        rows, columns = np.nonzero(away < self._reach)
        turn = np.array([1.0, 1.0, mirror])
        move = np.array([0.0, 0.0, shift])
        start = pieces.start[columns] * turn + move
        axis = pieces.end[columns] * turn + move - start
        length = pieces.length[columns]
        unit = axis / length[:, None]
        off = self._points[rows] - start[:, None, :]
        along = np.einsum("pqk,pk->pq", off, unit)
        aside = np.maximum((off**2).sum(axis=2) - along**2, 0.0)
        # On its own axis a wire is seen from its skin.
        aside = np.sqrt(aside + (pieces.radius[columns] ** 2)[:, None])
        inside = np.arcsinh(along / aside) + np.arcsinh((length[:, None] - along) / aside)
        found[rows, columns] = inside @ self._weights / length
        return found


class _Echoes:
    """The images past the first, from tables over the horizontal distance for every pair of depths."""

    def __init__(self, layers: Layers, across: Real, field_z: Real, source_z: Real) -> None:
        self._k, self._depth = layers.k, layers.depth_m
        self._zf, rows = np.unique(np.round(field_z, 3), return_inverse=True)
        self._zs, columns = np.unique(np.round(source_z, 3), return_inverse=True)
        low = 0.05 * self._depth
        self._r = np.geomspace(low, max(2 * low, float(across.max())), _STEPS)
        at = np.log(np.maximum(across, low) / low) / math.log(self._r[1] / self._r[0])
        self._step = np.minimum(at.astype(np.intp), _STEPS - 2)
        self._part = at - self._step
        self._cell = rows[:, None] * len(self._zs) + columns[None, :]
        farthest = max(float(self._zf.max()), float(self._zs.max()))
        reach = _FAR * np.maximum(self._r, 2 * farthest)
        last = np.ceil(reach / (2 * self._depth)).astype(np.intp)
        # No image counts whose weight is spent.
        spent = math.ceil(math.log(1e-6) / math.log(abs(self._k))) if abs(self._k) < 1 else _LAST_IMAGE
        self._last = np.minimum(np.maximum(last, 2), min(max(spent, 2), _LAST_IMAGE))

    def _table(self, shifts: tuple[tuple[int, int], ...]) -> Real:
        """Sum over n >= 1 of k^n times the inverse distances to images at 2 n depth + a z + b z', (F, S, steps)."""
        zf, zs = self._zf[:, None, None], self._zs[None, :, None]
        ds = [a * zf + b * zs for a, b in shifts]
        total = np.zeros((len(self._zf), len(self._zs), _STEPS))
        for n in range(1, int(self._last.max()) + 1):
            first = int(np.searchsorted(self._last, n))  # nearer places have left these to the closed sum
            away = self._r[None, None, first:]
            weight, base = self._k**n, 2 * n * self._depth
            for d in ds:
                total[:, :, first:] += weight / np.hypot(base + d, away)
        # 1 / hypot(D + d, r) in powers of d / D and r / D.
        one, two, three, five = self._tails
        squares = sum((d**2 for d in ds), np.zeros_like(total[:, :, :1]))
        linear = sum(ds, np.zeros_like(total[:, :, :1]))
        rest = len(ds) * (one - self._r**2 / 2 * three + 3 / 8 * self._r**4 * five) - linear * two + squares * three
        table: Real = total + rest
        return table

    @cached_property
    def _tails(self) -> tuple[Real, ...]:
        """What is left past the last image: sums of k^n / (2 n depth)^p for p = 1, 2, 3, 5 (steps,)."""
        n = np.arange(1.0, max(4 * _LAST_IMAGE, int(self._last.max()) + 2))
        with np.errstate(under="ignore"):
            weights = np.sign(self._k) ** n * np.exp(n * math.log(abs(self._k)))
        found = []
        for p in (1, 2, 3, 5):
            sums = np.cumsum(weights / (2 * n * self._depth) ** p)
            found.append(sums[-1] - sums[self._last - 1])
        return tuple(found)

    def _looked_up(self, table: Real) -> Real:
        flat = table.reshape(-1, _STEPS)
        low, high = flat[self._cell, self._step], flat[self._cell, self._step + 1]
        found: Real = low + (high - low) * self._part
        return found

    def both_upper(self) -> Real:
        """Field and source above the boundary, without the first image in it, which is integrated."""
        table = self._table(((1, -1), (-1, 1), (1, 1), (-1, -1)))
        away = np.hypot(2 * self._depth - self._zf[:, None, None] - self._zs[None, :, None], self._r[None, None, :])
        return self._looked_up(table - self._k / np.maximum(away, 1e-9))

    def both_lower(self) -> Real:
        """Field and source below it."""
        return self._looked_up(self._table(((1, 1),)))

    def mixed(self) -> Real:
        """One above, the other below: images lie farther by the depth of the lower less that of the upper."""
        signs = ((1, -1), (1, 1)) if self._zf.max() > self._depth else ((-1, 1), (1, 1))
        table = self._table(signs)
        if self._zf.max() > self._depth and self._zs.max() > self._depth:
            table = np.where((self._zf[:, None] > self._zs[None, :])[:, :, None], table, table.transpose(1, 0, 2))
        return self._looked_up(table)
