"""Lines at complex frequency: skin effect, bonding, spans, and places inside them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import linalg, special

from adze.core.basics.constants import MU0_H_PER_M
from adze.core.pulse.line import (
    coth_and_csch,
    ground_depth_m,
    inside_span,
    internal_impedance_ratio,
    line_model,
    potential_coefficients_m_per_f,
    span_admittances,
    wire_impedance_ohm_per_m,
)
from adze.core.pulse.network import MatrixLine, Terminal, Wire, WireLine

S = np.array([2e3 + 1e3j, 8e3 + 5e4j, 5e3 + 8e5j])


def wire(height: float, terminal: Terminal | None = Terminal.LIVE, **changes: float) -> Wire:
    base = {"offset_m": 0.0, "radius_m": 0.00125, "resistance_ohm_per_m": 0.035, "relative_permeability": 150.0}
    return Wire(height_m=height, terminal=terminal, **(base | changes))


TWO_GROUPS = WireLine(
    wires=(wire(0.3), wire(0.6, Terminal.EARTH), wire(0.9)),
    soil_ohm_m=100,
    leak_live_soil_s_per_m=2e-7,
    leak_live_earth_s_per_m=1e-8,
    leak_earth_soil_s_per_m=3e-7,
)
COUPLED = MatrixLine(
    ((0.035, 0.0), (0.0, 0.07)),
    ((2e-6, 9e-7), (9e-7, 2.4e-6)),
    ((1.6e-11, -5e-12), (-5e-12, 1.2e-11)),
    ((1.2e-7, -2e-8), (-2e-8, 3e-8)),
)


def full(unique: np.ndarray) -> np.ndarray:
    """Symmetric matrices (K, g, g) from their unique entries (U, K)."""
    g = 1 if len(unique) == 1 else 2
    rows, columns = np.triu_indices(g)
    matrix = np.empty((unique.shape[1], g, g), complex)
    matrix[:, rows, columns] = matrix[:, columns, rows] = unique.T
    return matrix


@given(size=st.floats(0.01, 52), turn=st.floats(0.1, 1.4))
def test_skin_effect_is_the_bessel_ratio(size: float, turn: float) -> None:
    q = size * np.exp(1j * turn / 2)
    exact = q / 2 * special.ive(0, q) / special.ive(1, q)
    assert internal_impedance_ratio(np.array([q * q]))[0] == pytest.approx(exact, rel=1e-6)


def test_skin_effect_nearly_doubles_steel_in_a_pulse() -> None:
    # A pulse of some tens of microseconds: |s| about 2 pi 10 kHz.
    s = np.array([2 * np.pi * 1e4j])
    ratio = internal_impedance_ratio(s * MU0_H_PER_M * 150 / (np.pi * 0.035))
    assert 1.5 < abs(ratio[0]) < 8


def test_aluminium_hardly_feels_it() -> None:
    s = np.array([2 * np.pi * 1e4j])
    assert abs(internal_impedance_ratio(s * MU0_H_PER_M / (np.pi * 0.0155))[0]) == pytest.approx(1, abs=0.05)


def test_soil_matters_little_in_the_line() -> None:
    one = wire_impedance_ohm_per_m(WireLine((wire(0.9),), 30), (wire(0.9),), S)
    other = wire_impedance_ohm_per_m(WireLine((wire(0.9),), 300), (wire(0.9),), S)
    assert np.abs(other / one - 1).max() < 0.12


def test_ground_depth_is_the_classic_skin_depth() -> None:
    # |p| = sqrt(rho/(w mu0)): 100 ohm m at 10 kHz gives 35.6 m.
    assert abs(ground_depth_m(np.array([2j * np.pi * 1e4]), 100.0)[0]) == pytest.approx(35.59, rel=1e-3)


def test_one_wire_over_ground_has_the_textbook_capacitance() -> None:
    coefficient = potential_coefficients_m_per_f((wire(0.9),))[0, 0]
    assert 1 / coefficient == pytest.approx(2 * np.pi * 8.8541878e-12 / np.log(2 * 0.9 / 0.00125))


def test_a_wire_joined_to_nothing_changes_nothing_much_and_breaks_nothing() -> None:
    bare = line_model(WireLine((wire(0.9),), 100), S)
    with_dead = line_model(WireLine((wire(0.9), wire(0.5, None)), 100), S)
    assert with_dead.terminals == (Terminal.LIVE,)
    assert with_dead.admittance == pytest.approx(bare.admittance)


def test_bonded_wires_carry_like_one_with_less_resistance() -> None:
    one = line_model(WireLine((wire(0.9),), 100), S)
    five = line_model(WireLine(tuple(wire(0.25 + 0.2 * i) for i in range(5)), 100), S)
    assert np.all(np.abs(five.admittance) > np.abs(one.admittance))
    assert np.all(np.abs(five.admittance) < 5 * np.abs(one.admittance))


@pytest.mark.parametrize("line", [TWO_GROUPS, COUPLED])
def test_span_is_the_matrix_function(line: WireLine | MatrixLine) -> None:
    model = line_model(line, S)
    length = 1700.0
    own, mutual = (full(x) for x in span_admittances(model, np.array([length]))[:, :, 0])
    for k in range(len(S)):
        impedance = np.linalg.inv(model.admittance[k])
        root = linalg.sqrtm(impedance @ model.shunt[k])
        sinh, cosh = linalg.sinhm(root * length), linalg.coshm(root * length)
        assert own[k] == pytest.approx(model.admittance[k] @ root @ cosh @ np.linalg.inv(sinh), rel=1e-6)
        assert mutual[k] == pytest.approx(-model.admittance[k] @ root @ np.linalg.inv(sinh), rel=1e-6)


@pytest.mark.parametrize("line", [WireLine((wire(0.9),), 100, 1e-7), TWO_GROUPS, COUPLED])
def test_inside_a_span_the_ends_are_the_ends(line: WireLine | MatrixLine) -> None:
    model = line_model(line, S)
    g = len(model.terminals)
    va = np.arange(1, g + 1)[:, None] * np.ones((g, len(S)), complex)
    vb = 0.3j - va
    size = np.full(2, 900.0)
    volts, amps = inside_span(model, size, np.array([0.0, 900.0]), np.stack([va, va]), np.stack([vb, vb]))
    own, mutual = (full(x) for x in span_admittances(model, np.array([900.0]))[:, :, 0])
    start = np.einsum("kij,jk->ik", own, va) + np.einsum("kij,jk->ik", mutual, vb)
    assert volts[0] == pytest.approx(va)
    assert volts[1] == pytest.approx(vb)
    assert amps[0] == pytest.approx(start, rel=1e-6)


@given(st.floats(1e-9, 1e-3), st.floats(0, 1.5))
def test_short_span_series_meets_the_long_form(size: float, turn: float) -> None:
    gamma = np.array([size * np.exp(1j * turn)])
    length = np.array([1.0])
    coth, csch = coth_and_csch(gamma, length)
    assert coth[0] == pytest.approx(1 + gamma[0] ** 2 / 3, rel=1e-6)
    assert csch[0] == pytest.approx(1 - gamma[0] ** 2 / 6, rel=1e-6)


def test_very_long_span_keeps_its_digits() -> None:
    coth, csch = coth_and_csch(np.array([0.5 + 0.2j]), np.array([1e5]))
    assert coth[0] == pytest.approx(0.5 + 0.2j)
    assert csch[0] == 0
