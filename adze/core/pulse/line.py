"""Per-metre impedance and admittance of a fence line at complex frequency, and its spans' two-ports.

Equations are numbered as in docs/physics.md.
"""

import math
from dataclasses import dataclass, field
from functools import cache, cached_property

import numpy as np
from numba import njit

from adze.core.basics.constants import EPS0_F_PER_M, MU0_H_PER_M
from adze.core.basics.types import Complex, Index, Real
from adze.core.pulse.network import Line, MatrixLine, StrandLine, Terminal, Wire, WireLine, terminals_of

# Eight stages miss by 0.8 % at |q| = 52, the top frequency in 2.5 mm steel; sixteen by 3e-8.
_FRACTION_STAGES = 16
_SMALL = 1e-4
_SAME_EIGENVALUE = 1e-4
_LOSS_PER_S = 2 * math.pi * 10e3  # where a lossy wire's permeability is what it is said to be


def internal_impedance_ratio(q_squared: Complex) -> Complex:
    """Internal impedance of a solid round wire over its direct-current resistance (eq. 1), dimensionless.

    `q_squared` is s mu0 mu_r / (pi R'), any shape. The exact continued fraction of
    (q/2) I0(q)/I1(q), cut after sixteen stages.
    Source: S. A. Schelkunoff, Bell Syst. Tech. J. 13 (1934); fraction from NIST DLMF 10.33.1.
    """
    tail: Complex = np.full(q_squared.shape, 2 * _FRACTION_STAGES + 3, dtype=np.complex128)
    for stage in range(_FRACTION_STAGES, 0, -1):
        tail = 2 * stage + 1 + np.reciprocal(8 * (stage + 1) / q_squared + np.reciprocal(tail))
    ratio: Complex = 1 + np.reciprocal(8 / q_squared + np.reciprocal(tail))
    return ratio


def ground_depth_m(s: Complex, soil_ohm_m: float) -> Complex:
    """Complex depth of the image ground p = sqrt(rho/(s mu0)), m (eq. 2).

    Source: A. Deri et al., IEEE Trans. PAS-100 (1981); stands for J. R. Carson (1926).
    """
    depth: Complex = np.sqrt(soil_ohm_m / (s * MU0_H_PER_M))
    return depth


def relative_permeability(wire: Wire, s: Complex) -> Complex:
    """Relative permeability of a wire, which lags the field by its loss angle (S16), shape of `s`.

    Causal, so that the way back to time stays valid: a power of s. Source: the limiting theory of a saturating
    sheet, W. MacLean, J. Appl. Phys. 25 (1954); P. D. Agarwal, Trans. AIEE 78 (1959).
    """
    if not wire.loss_angle_rad:
        return np.full(s.shape, wire.relative_permeability, dtype=np.complex128)
    lag: Complex = wire.relative_permeability * (s / _LOSS_PER_S) ** (-2 * wire.loss_angle_rad / math.pi)
    return lag


def _image_distance(wires: tuple[Wire, ...], lift: Complex | Real) -> Complex:
    heights = np.array([w.height_m for w in wires])
    across = np.array([w.offset_m for w in wires])
    rise = heights[:, None] + heights[None, :] + lift[..., None, None]
    distance: Complex = np.sqrt(rise**2 + (across[:, None] - across[None, :]) ** 2)
    return distance


def _wire_distance(wires: tuple[Wire, ...]) -> Real:
    heights = np.array([w.height_m for w in wires])
    across = np.array([w.offset_m for w in wires])
    apart: Real = np.hypot(heights[:, None] - heights[None, :], across[:, None] - across[None, :])
    np.fill_diagonal(apart, [w.radius_m for w in wires])
    return apart


def wire_impedance_ohm_per_m(line: WireLine | StrandLine, wires: tuple[Wire, ...], s: Complex) -> Complex:
    """Series impedance matrix of wires over soil (eq. 1 and 2), shape (K, n, n), ohm/m."""
    lift = 2 * ground_depth_m(s, line.soil_ohm_m) if line.frequency_dependent else np.zeros(s.shape)
    matrix: Complex = (s * MU0_H_PER_M / (2 * math.pi))[:, None, None] * np.log(
        _image_distance(wires, lift) / _wire_distance(wires)
    )
    for i, wire in enumerate(wires):
        internal: Complex = np.full(s.shape, wire.resistance_ohm_per_m, dtype=np.complex128)
        if line.frequency_dependent:
            permeability: Complex = MU0_H_PER_M * relative_permeability(wire, s)
            q_squared = s * permeability / (math.pi * wire.resistance_ohm_per_m)
            internal = internal * internal_impedance_ratio(q_squared)
        matrix[:, i, i] += internal
    return matrix


def potential_coefficients_m_per_f(wires: tuple[Wire, ...]) -> Real:
    """Maxwell's potential coefficients (eq. 3), shape (n, n), m/F. Source: J. C. Maxwell, Treatise (1873)."""
    image = _image_distance(wires, np.zeros(1)).real[0]
    ratio: Real = np.log(image / _wire_distance(wires)) / (2 * math.pi * EPS0_F_PER_M)
    return ratio


@dataclass(frozen=True)
class LineModel:
    """A line at K frequencies, bonded into its groups.

    `terminals` names the g groups in order; `admittance` (K, g, g) is the inverse of the series
    impedance, S m; `shunt` (K, g, g), S/m; `eigenvalues` of impedance times shunt, 1/m2: (2, K) for one or two groups,
    (g, K) for more, whose `modes` (K, g, g) are the eigenvectors as columns.
    """

    terminals: tuple[Terminal, ...]
    admittance: Complex
    shunt: Complex
    eigenvalues: Complex
    modes: Complex = field(default_factory=lambda: np.empty((0, 0, 0), dtype=np.complex128))

    @cached_property
    def charge(self) -> "LineModel":
        """The same line at its last frequency alone, where only charge is left."""
        last = slice(-1, None)
        rows = (self.admittance[last], self.shunt[last], self.eigenvalues[:, last], self.modes[last])
        return LineModel(self.terminals, *rows)

    @cached_property
    def to_modes(self) -> Complex:
        """From volts to the modes' volts, (K, g, g)."""
        inverse: Complex = np.linalg.inv(self.modes)
        return inverse

    @cached_property
    def drawn(self) -> Complex:
        """The series admittance on the modes, (K, g, g): from slopes of the modes' volts to currents."""
        found: Complex = self.admittance @ self.modes
        return found


def _bonded(line: WireLine | StrandLine, s: Complex) -> tuple[tuple[Terminal, ...], Complex, Complex]:
    # A wire joined to nothing carries no net current and no net charge: its rows fall out (eq. 4).
    wires = tuple(w for w in line.wires if w.terminal)
    terminals = terminals_of(line)
    bond = np.array([[float(w.terminal is t) for t in terminals] for w in wires])
    admittance = bond.T @ np.linalg.inv(wire_impedance_ohm_per_m(line, wires, s)) @ bond
    capacitance = bond.T @ np.linalg.inv(potential_coefficients_m_per_f(wires)) @ bond
    if isinstance(line, StrandLine):
        return terminals, admittance, s[:, None, None] * capacitance + np.array(line.leak_s_per_m)
    live, both, earth = line.leak_live_soil_s_per_m, line.leak_live_earth_s_per_m, line.leak_earth_soil_s_per_m
    if len(terminals) == 2:
        leak = np.array([[live + both, -both], [-both, earth + both]])
    else:
        leak = np.array([[live if terminals[0] is Terminal.LIVE else earth]])
    return terminals, admittance, s[:, None, None] * capacitance + leak


def _given(line: MatrixLine, s: Complex) -> tuple[tuple[Terminal, ...], Complex, Complex]:
    at = s[:, None, None]
    impedance = np.array(line.resistance_ohm_per_m) + at * np.array(line.inductance_h_per_m)
    shunt = at * np.array(line.capacitance_f_per_m) + np.array(line.leak_s_per_m)
    return line.terminals, np.linalg.inv(impedance), shunt


def line_model(line: Line, s: Complex) -> LineModel:
    """The line at frequencies `s` (K,): eq. 1 to 5, with the eigenvalues that eq. 6 needs."""
    terminals, admittance, shunt = _given(line, s) if isinstance(line, MatrixLine) else _bonded(line, s)
    product = np.linalg.inv(admittance) @ shunt
    if len(terminals) == 1:
        first = product[:, 0, 0]
        return LineModel(terminals, admittance, shunt, np.stack([first, first]))
    if len(terminals) > 2:
        eigenvalues, modes = np.linalg.eig(product)
        return LineModel(terminals, admittance, shunt, np.ascontiguousarray(eigenvalues.T), modes)
    mean = (product[:, 0, 0] + product[:, 1, 1]) / 2
    determinant = product[:, 0, 0] * product[:, 1, 1] - product[:, 0, 1] * product[:, 1, 0]
    half = np.sqrt(mean**2 - determinant)
    # Equal eigenvalues leave a difference quotient of 0/0: part them a little, evenly about their mean.
    part = np.where(np.abs(half) < _SAME_EIGENVALUE * np.abs(mean), _SAME_EIGENVALUE * mean, half)
    return LineModel(terminals, admittance, shunt, np.stack([mean + part, mean - part]))


@njit(cache=True, nogil=True)
def _decay(g, x):  # type: ignore[no-untyped-def]
    """exp(-g x)."""
    size, turn = math.exp(-g.real * x), g.imag * x
    return complex(size * math.cos(turn), -size * math.sin(turn))


@njit(cache=True, nogil=True)
def coth_and_csch(gamma_per_m, length_m):  # type: ignore[no-untyped-def]
    """g coth(g l) and g / sinh(g l) (eq. 6), 1/m, for g (K,) and l (S,): two arrays (S, K).

    Even in g; stable for long spans. Real arithmetic where complex division would test for overflow.
    """
    coth = np.empty((len(length_m), len(gamma_per_m)), np.complex128)
    csch = np.empty_like(coth)
    for s in range(len(length_m)):
        for f in range(len(gamma_per_m)):
            x = gamma_per_m[f] * length_m[s]
            if abs(x.real) + abs(x.imag) < _SMALL:
                coth[s, f], csch[s, f] = (1 + x * x / 3) / length_m[s], (1 - x * x / 6) / length_m[s]
                continue
            decay = _decay(gamma_per_m[f], length_m[s])
            square = decay * decay
            rest = complex(1 - square.real, -square.imag)
            scale = 1 / (rest.real * rest.real + rest.imag * rest.imag)
            scaled = gamma_per_m[f] * complex(rest.real * scale, -rest.imag * scale)
            coth[s, f], csch[s, f] = scaled * (1 + square), 2 * scaled * decay
    return coth, csch


def _matrix_function(model: LineModel, first: Complex, second: Complex) -> tuple[Complex, Complex]:
    """alpha and beta of f(M) = alpha I + beta M from f at the two eigenvalues (Sylvester)."""
    beta = (first - second) / (model.eigenvalues[0] - model.eigenvalues[1])
    return first - beta * model.eigenvalues[0], beta


@cache
def _entries_of(groups: int) -> tuple[Index, Index]:
    """Rows and columns of the entries of a symmetric g by g matrix, rows first."""
    rows, columns = np.triu_indices(groups)
    return rows, columns


def span_admittances(model: LineModel, length_m: Real) -> Complex:
    """Own and mutual admittances of spans (eq. 6) for lengths (S,): shape (2, U, S, K), S.

    U counts the entries of a symmetric g by g matrix, rows first: 1 or LL, LE, EE.
    I_a = own V_a + mutual V_b, and the same seen from b.
    """
    gamma = np.sqrt(model.eigenvalues)
    rows, columns = _entries_of(len(model.terminals))
    admittance = np.ascontiguousarray(model.admittance[:, rows, columns].T)
    if len(model.terminals) == 1:
        coth, csch = coth_and_csch(gamma[0], length_m)
        found = np.empty((2, 1, *coth.shape), dtype=np.complex128)
        np.multiply(coth, admittance, out=found[0, 0])
        np.multiply(csch, -admittance, out=found[1, 0])
        return found
    if len(model.terminals) > 2:
        ways = np.stack([coth_and_csch(one, length_m) for one in gamma])  # (g, 2, S, K)
        ways[:, 1] *= -1
        whole = np.einsum("kim,mwsk,kmj->wijsk", model.drawn, ways, model.to_modes, optimize=True)
        # Symmetric but for rounding: half of both sides is the nearer to it.
        both: Complex = (whole[:, rows, columns] + whole[:, columns, rows]) / 2
        return both
    shunt = np.ascontiguousarray(model.shunt[:, rows, columns].T)
    result = np.empty((2, len(rows), len(length_m), gamma.shape[1]), dtype=np.complex128)
    part = np.reciprocal(model.eigenvalues[0] - model.eigenvalues[1])
    _join_groups(gamma, model.eigenvalues[0], part, admittance, shunt, length_m, result)
    return result


@njit(cache=True, nogil=True)
def _join_groups(gamma, first_eigenvalue, part, admittance, shunt, length_m, result):  # type: ignore[no-untyped-def]
    """Own and mutual admittances of two-group spans: the same as coth_and_csch and Sylvester, in one pass.

    Real arithmetic where complex division would test for overflow at every step.
    """
    own, mutual = np.empty(2, np.complex128), np.empty(2, np.complex128)
    for s in range(len(length_m)):
        for f in range(gamma.shape[1]):
            for g in range(2):
                x = gamma[g, f] * length_m[s]
                if abs(x.real) + abs(x.imag) < _SMALL:
                    own[g], mutual[g] = (1 + x * x / 3) / length_m[s], (x * x / 6 - 1) / length_m[s]
                else:
                    size = math.exp(-x.real)
                    decay = complex(size * math.cos(x.imag), -size * math.sin(x.imag))
                    square = decay * decay
                    rest = complex(1 - square.real, -square.imag)
                    scale = 1 / (rest.real * rest.real + rest.imag * rest.imag)
                    scaled = gamma[g, f] * complex(rest.real * scale, -rest.imag * scale)
                    own[g], mutual[g] = scaled * (1 + square), -2 * scaled * decay
            # Zg^-1 (alpha I + beta Zg Y) = alpha Zg^-1 + beta Y
            beta = (own[0] - own[1]) * part[f]
            alpha = own[0] - beta * first_eigenvalue[f]
            beta_across = (mutual[0] - mutual[1]) * part[f]
            alpha_across = mutual[0] - beta_across * first_eigenvalue[f]
            for entry in range(3):
                result[0, entry, s, f] = alpha * admittance[entry, f] + beta * shunt[entry, f]
                result[1, entry, s, f] = alpha_across * admittance[entry, f] + beta_across * shunt[entry, f]


def inside_span(model: LineModel, length_m: Real, at_m: Real, va: Complex, vb: Complex) -> tuple[Complex, Complex]:
    """Volts and currents (a to b) inside spans of one line (eq. 7).

    `at_m` (P,) metres from a of spans of `length_m` (P,); `va`, `vb` (P, g, K) their end volts.
    Returns two arrays (P, g, K).
    """
    size = np.asarray(length_m, dtype=float)[:, None]
    x = np.clip(at_m[:, None], 0.0, size)
    gamma = np.sqrt(model.eigenvalues)
    if len(model.terminals) == 1:
        result = np.empty((2, *va.shape), dtype=np.complex128)
        _one_group_inside(gamma[0], model.admittance[:, 0, 0], size[:, 0], x[:, 0], va[:, 0], vb[:, 0], result)
        return result[0], result[1]
    ends = np.stack([va, vb])
    if len(model.terminals) > 2:
        return _modes_inside(model, size, x, ends)
    # f(M) V = alpha V + beta M V with M = Zg Y; Zg^-1 goes to the end volts.
    impedance = np.linalg.inv(model.admittance)
    driven = _times(impedance, _times(model.shunt, ends))
    drawn, drawn_driven = _times(model.admittance, ends), _times(model.admittance, driven)
    first, second = (_decays(g, size, x) for g in gamma)
    (a_near, b_near), (a_far, b_far), (a_out, b_out), (a_in, b_in) = (
        _matrix_function(model, one, two) for one, two in zip(first, second, strict=True)
    )
    volts, amps = np.empty((2, *va.shape), dtype=np.complex128)
    for g in range(2):
        volts[:, g] = a_near * ends[0, :, g] + b_near * driven[0, :, g]
        volts[:, g] += a_far * ends[1, :, g] + b_far * driven[1, :, g]
        amps[:, g] = a_out * drawn[0, :, g] + b_out * drawn_driven[0, :, g]
        amps[:, g] -= a_in * drawn[1, :, g] + b_in * drawn_driven[1, :, g]
    return volts, amps


@njit(cache=True, nogil=True)
def _one_group_inside(gamma, admittance, length_m, at_m, va, vb, result):  # type: ignore[no-untyped-def]
    """The same as `_decays` put to the end volts, in one pass: most of a forecast's time is spent here."""
    for p in range(len(at_m)):
        size, x = length_m[p], at_m[p]
        for f in range(len(gamma)):
            g = gamma[f]
            if abs(g) * size < _SMALL:
                g = complex(_SMALL / size, 0.0)
            to_a, to_b = _decay(g, x), _decay(g, size - x)
            whole = to_a * to_b
            square = whole * whole
            rest = complex(1 - square.real, -square.imag)
            scale = 1 / (rest.real * rest.real + rest.imag * rest.imag)
            inverse = complex(rest.real * scale, -rest.imag * scale)
            near, far = to_a * inverse * va[p, f], to_b * inverse * vb[p, f]
            a_squared, b_squared = to_a * to_a, to_b * to_b
            result[0, p, 0, f] = near * (1 - b_squared) + far * (1 - a_squared)
            result[1, p, 0, f] = (near * (1 + b_squared) - far * (1 + a_squared)) * g * admittance[f]


def _modes_inside(model: LineModel, size: Real, x: Real, ends: Complex) -> tuple[Complex, Complex]:
    """The same for more than two groups: each mode as a line of its own."""
    across = np.einsum("kmj,epjk->epmk", model.to_modes, ends)
    near, far, near_slope, far_slope = (
        np.stack(way, axis=1)
        for way in zip(*(_decays(one, size, x) for one in np.sqrt(model.eigenvalues)), strict=True)
    )
    volts = np.einsum("kim,pmk->pik", model.modes, near * across[0] + far * across[1])
    amps = np.einsum("kim,pmk->pik", model.drawn, near_slope * across[0] - far_slope * across[1])
    return volts, amps


def _times(matrix: Complex, vectors: Complex) -> Complex:
    """Matrices (K, 2, 2) times vectors (..., 2, K): (..., 2, K)."""
    rows = [matrix[:, i, 0] * vectors[..., 0, :] + matrix[:, i, 1] * vectors[..., 1, :] for i in range(2)]
    return np.stack(rows, axis=-2)


def _decays(gamma: Complex, length_m: Real, x: Real) -> tuple[Complex, Complex, Complex, Complex]:
    """sinh(g(l-x)), sinh(gx), g cosh(g(l-x)) and g cosh(gx), each by sinh(gl): (P, K) from (P, 1)."""
    small = np.abs(gamma * length_m) < _SMALL
    g = np.where(small, _SMALL / length_m, gamma)
    whole = np.exp(-g * length_m)
    to_a = np.exp(-g * x)
    to_b = np.exp(-g * (length_m - x))
    scale = 1 / (1 - whole * whole)
    scaled_a, scaled_b = to_a * scale, to_b * scale
    a_squared, b_squared = to_a * to_a, to_b * to_b
    near, near_slope = scaled_a * (1 - b_squared), (g * scaled_a) * (1 + b_squared)
    far, far_slope = scaled_b * (1 - a_squared), (g * scaled_b) * (1 + a_squared)
    return near, far, near_slope, far_slope
