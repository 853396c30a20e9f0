"""A place inside a span: the same as if a node had been put there."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.pulse.network import Link, MatrixLine, Network, Port, Shunt, Span, Terminal, WireLine
from adze.core.pulse.port_equivalent import PortEquivalent, equivalent_at_node, equivalent_inside
from adze.core.pulse.solver import solve_pulse
from tests.core.pulse.test_line import COUPLED, TWO_GROUPS
from tests.core.pulse.test_pulse import LINE, RODS, SOURCE, tree

LIVE, EARTH, SOIL = Terminal.LIVE, Terminal.EARTH, Terminal.SOIL


def both_ways(line: WireLine | MatrixLine, at: float) -> tuple[PortEquivalent, PortEquivalent]:
    """In span s2, from the network as it is and from one with a node there."""
    whole = tree(line=line)
    if line is not LINE:
        earths = Link("earth", Port("a", EARTH), Port("b", EARTH), 1.0)
        whole = dataclasses.replace(whole, spans=whole.spans[1:], links=(earths, live_link()))
    (old,) = (s for s in whole.spans if s.id == "s2")
    parts = (Span("one", old.a, "x", line, at), Span("two", "x", old.b, line, old.length_m - at))
    cut = dataclasses.replace(whole, spans=(*(s for s in whole.spans if s is not old), *parts))
    return equivalent_inside(solve_pulse(whole), "s2", at), equivalent_at_node(solve_pulse(cut), "x")


def live_link() -> Link:
    return Link("live", Port("a", LIVE), Port("b", LIVE), 0.5)


@pytest.mark.parametrize("line", [LINE, TWO_GROUPS, COUPLED], ids=["live", "wires", "matrix"])
@settings(max_examples=12)
@given(at=st.floats(0.01, 899.99))
def test_inside_a_span_is_as_with_a_node(line: WireLine | MatrixLine, at: float) -> None:
    inside, node = both_ways(line, at)
    assert inside.terminals == node.terminals
    assert np.allclose(inside.free_v, node.free_v, rtol=1e-6, atol=1e-9 * np.abs(node.free_v).max())
    assert np.allclose(inside.impedance, node.impedance, rtol=1e-6)
    for port in (Port("c", LIVE), Port("a", EARTH), Port("b", LIVE)):
        expected = node.elsewhere_v(300.0, port)
        assert np.allclose(inside.elsewhere_v(300.0, port), expected, rtol=1e-6, atol=1e-9 * np.abs(expected).max())


def test_a_spot_at_an_end_is_the_node() -> None:
    solution = solve_pulse(tree())
    for at, node in ((0.0, "b"), (-3.0, "b"), (900.0, "c"), (950.0, "c")):
        equivalent = equivalent_inside(solution, "s2", at)
        assert equivalent.open_peak_v(LIVE) == pytest.approx(solution.node_peak_v(node, LIVE))


def test_a_load_from_live_to_earth_strand_meets_both() -> None:
    inside, _ = both_ways(TWO_GROUPS, 400.0)
    light = inside.load_v(1e12, LIVE, EARTH)
    assert light == pytest.approx(inside.open_v(LIVE, EARTH))
    assert abs(inside.solution.peak(inside.load_v(500.0, LIVE, EARTH))) < abs(inside.open_peak_v(LIVE, EARTH))


def test_a_span_that_ends_where_it_begins() -> None:
    ring = Network(SOURCE, (Span("s", "a", "b", LINE, 500), Span("loop", "b", "b", LINE, 400)), shunts=(RODS,))
    halves = (Span("one", "b", "x", LINE, 100), Span("two", "x", "b", LINE, 300))
    parted = dataclasses.replace(ring, spans=(ring.spans[0], *halves))
    inside, node = equivalent_inside(solve_pulse(ring), "loop", 100.0), equivalent_at_node(solve_pulse(parted), "x")
    assert np.allclose(inside.impedance, node.impedance, rtol=1e-6)
    assert inside.load_v(200.0, LIVE) == pytest.approx(node.load_v(200.0, LIVE), rel=1e-6)


def test_a_load_put_in_a_span_is_a_shunt_there() -> None:
    inside, _ = both_ways(LINE, 333.0)
    whole = tree()
    parts = (Span("one", "b", "x", LINE, 333.0), Span("two", "x", "c", LINE, 567.0))
    load = Shunt("load", "x", LIVE, SOIL, 150.0)
    network = dataclasses.replace(whole, spans=(*whole.spans[::2], *parts), shunts=(*whole.shunts, load))
    assert inside.load_v(150.0, LIVE) == pytest.approx(solve_pulse(network).spectrum("x", LIVE), rel=1e-6)
