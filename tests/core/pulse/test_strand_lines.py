"""Lines of more than two conductors: closed forms, agreement with one and two groups, reciprocity."""

from dataclasses import replace

import numpy as np
import pytest

from adze.core.plan.catalogue import pulse_of
from adze.core.pulse.laplace import FAST, frequencies_per_s
from adze.core.pulse.line import inside_span, line_model, span_admittances
from adze.core.pulse.network import (
    STRANDS,
    Line,
    Link,
    MatrixLine,
    Network,
    NetworkError,
    Port,
    Shunt,
    Span,
    StrandLine,
    Terminal,
    Wire,
    WireLine,
    terminals_of,
)
from adze.core.pulse.solver import Solution, solve_pulse
from adze.core.tables.energizers import energizers

LIVE, EARTH, SOIL = Terminal.LIVE, Terminal.EARTH, Terminal.SOIL
HEIGHTS_M = (0.25, 0.45, 0.65, 0.85, 1.10)
LEAK = 2e-7


def wire(height_m: float, terminal: Terminal | None) -> Wire:
    return Wire(height_m, 0.0, 0.00125, 0.035, 150.0, terminal)


def apart(leak: float = LEAK) -> StrandLine:
    wires = tuple(wire(h, t) for h, t in zip(HEIGHTS_M, STRANDS, strict=False))
    rows = tuple(tuple(leak if i == j else 0.0 for j in range(5)) for i in range(5))
    return StrandLine(wires, 100.0, rows)


def bonded(leak: float = LEAK) -> WireLine:
    return WireLine(tuple(wire(h, LIVE) for h in HEIGHTS_M), 100.0, leak_live_soil_s_per_m=5 * leak)


def joined(line: Line, at: str, *shunts: Shunt) -> Solution:
    """600 m of a line from the energizer at a to b, its strands joined at the nodes named."""
    named = terminals_of(line)
    links = [Link(f"{n}{t}", Port(n, LIVE), Port(n, t), 1e-3) for n in at for t in named if t is not LIVE]
    rods = Shunt("rods", "a", EARTH, SOIL, 20.0)
    source = pulse_of(energizers()["mains_6"]).at("a")
    return solve_pulse(Network(source, (Span("s", "a", "b", line, 600.0),), tuple(links), (rods, *shunts)))


def test_strands_joined_at_both_ends_are_one_group() -> None:
    """With equal leaks no volts stand between them on the way: the bonded line is exact but for the conductors."""
    both, one = joined(apart(), "ab"), joined(bonded(), "a")
    for node in "ab":
        assert both.node_peak_v(node, LIVE) == pytest.approx(one.node_peak_v(node, LIVE), rel=2e-3)


def test_one_conductor_to_a_terminal_is_the_closed_form_of_two_groups() -> None:
    """A live and an earth strand, and a third so far off that nothing couples it, against the two-group line."""
    rows = ((1e-7, 0.0, 0.0), (0.0, 3e-8, 0.0), (0.0, 0.0, 1e-12))
    three = StrandLine(
        (wire(0.9, LIVE), wire(0.45, EARTH), replace(wire(0.2, STRANDS[2]), offset_m=5000.0)), 300.0, rows
    )
    two = WireLine((wire(0.9, LIVE), wire(0.45, EARTH)), 300.0, 1e-7, 0.0, 3e-8)
    peaks = []
    for line in (three, two):
        rods = (Shunt("rods", "a", EARTH, SOIL, 20.0), Shunt("far", "b", EARTH, SOIL, 300.0))
        solution = solve_pulse(
            Network(pulse_of(energizers()["mains_6"]).at("a"), (Span("s", "a", "b", line, 900.0),), (), rods)
        )
        peaks.append([solution.node_peak_v("b", LIVE), solution.node_peak_v("b", EARTH)])
    assert peaks[0] == pytest.approx(peaks[1], rel=1e-3)


def test_own_admittance_of_uncoupled_strands_is_each_line_s_own() -> None:
    """Strands without coupling: coth and csch of each alone."""
    eye = np.eye(3)
    parts = (0.035 * eye, 2e-6 * eye, np.diag([7e-12, 8e-12, 9e-12]), np.diag([1e-7, 2e-7, 3e-7]))
    line = MatrixLine(*(tuple(map(tuple, part.tolist())) for part in parts), named=STRANDS[:3])
    s, lengths = frequencies_per_s(FAST), np.array([40.0, 700.0])
    found = span_admittances(line_model(line, s), lengths)
    rows, columns = np.triu_indices(3)
    for i in range(3):
        single = MatrixLine(*(((float(part[i, i]),),) for part in parts))
        alone = span_admittances(line_model(single, s), lengths)
        entry = next(u for u in range(6) if rows[u] == columns[u] == i)
        assert found[:, entry] == pytest.approx(alone[:, 0], rel=1e-9)
    off = [u for u in range(6) if rows[u] != columns[u]]
    assert np.abs(found[:, off]).max() < 1e-9 * np.abs(found).max()


def test_the_inside_of_a_span_meets_its_ends() -> None:
    model = line_model(apart(), frequencies_per_s(FAST))
    rng = np.random.default_rng(5)
    va, vb = (rng.normal(size=(1, 5, FAST.frequencies)) + 0j for _ in range(2))
    lengths = np.array([300.0])
    for at, ends in ((0.0, va), (300.0, vb)):
        volts, _ = inside_span(model, lengths, np.array([at]), va, vb)
        assert volts == pytest.approx(ends, rel=1e-6, abs=1e-9)
    own, mutual = span_admittances(model, lengths)
    whole = np.empty((2, 5, 5, FAST.frequencies), dtype=complex)
    for entry, (i, j) in enumerate(zip(*np.triu_indices(5), strict=True)):
        whole[:, i, j] = whole[:, j, i] = np.stack([own[entry, 0], mutual[entry, 0]])
    _, amps = inside_span(model, lengths, np.array([0.0]), va, vb)
    told = np.einsum("ijk,jk->ik", whole[0], va[0]) + np.einsum("ijk,jk->ik", whole[1], vb[0])
    assert amps[0] == pytest.approx(told, rel=1e-5, abs=1e-9 * float(np.abs(told).max()))


def test_what_one_end_says_of_the_other_goes_both_ways() -> None:
    """A short on strand 2 seen on strand 4 is one on strand 4 seen on strand 2."""

    def drop(on: int, seen: int) -> float:
        clean = joined(apart(), "a").node_peak_v("b", STRANDS[seen])
        return clean - joined(apart(), "a", Shunt("x", "b", STRANDS[on], SOIL, 300.0)).node_peak_v("b", STRANDS[seen])

    assert drop(1, 3) == pytest.approx(drop(3, 1), rel=0.03)


def test_leaks_and_terminals_must_agree() -> None:
    with pytest.raises(NetworkError, match="2 by 2"):
        StrandLine((wire(0.5, STRANDS[0]), wire(0.9, STRANDS[1])), 100.0, ((0.0,),))
    with pytest.raises(NetworkError, match="no wire"):
        StrandLine((wire(0.5, None),), 100.0, ())
    with pytest.raises(NetworkError, match="terminals"):
        MatrixLine(((1.0,),), ((1e-6,),), ((1e-11,),), ((0.0,),), named=STRANDS[:2])
