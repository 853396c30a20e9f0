"""The pulse on networks: what must hold whatever the fence."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.pulse.laplace import FAST, FULL
from adze.core.pulse.line import line_model
from adze.core.pulse.network import (
    Link,
    MatrixLine,
    Network,
    NetworkError,
    Port,
    Shunt,
    Source,
    Span,
    Terminal,
    WireLine,
)
from adze.core.pulse.port_equivalent import equivalent_at_node
from adze.core.pulse.solver import solve_pulse, solve_pulses, solved_frequencies
from tests.core.pulse.test_line import COUPLED, TWO_GROUPS, wire

SOURCE = Source("a", 5917.97, 8.15806e-08, 0.001756, 91.0714, 2833.33, 4.07903e-09)
RODS = Shunt("rods", "a", Terminal.EARTH, Terminal.SOIL, 20.0)
LINE = WireLine((wire(0.9),), 100, 2e-7)


def tree(*, line: WireLine | MatrixLine = LINE, leak_ohm: float = 800.0) -> Network:
    spans = (Span("s1", "a", "b", line, 700), Span("s2", "b", "c", line, 900), Span("s3", "b", "d", line, 1200))
    return Network(SOURCE, spans, shunts=(RODS, Shunt("leak", "c", Terminal.LIVE, Terminal.SOIL, leak_ohm)))


def peak(network: Network, node: str) -> float:
    return solve_pulse(network, FAST).node_peak_v(node, Terminal.LIVE)


@settings(max_examples=20)
@given(st.floats(1, 899))
def test_cutting_a_span_in_two_changes_nothing(at: float) -> None:
    whole = tree()
    cut = dataclasses.replace(
        whole,
        spans=(*whole.spans[::2], Span("s2a", "b", "m", LINE, at), Span("s2b", "m", "c", LINE, 900 - at)),
    )
    one, other = solve_pulse(whole), solve_pulse(cut)
    assert peak(cut, "c") == pytest.approx(peak(whole, "c"), rel=1e-9)
    inside = one.along("s2", np.array([at]))[1][0, 0]
    assert other.spectrum("m", Terminal.LIVE) == pytest.approx(inside, rel=1e-6)


def test_order_and_direction_of_spans_change_nothing() -> None:
    network = tree()
    turned = dataclasses.replace(
        network, spans=tuple(Span(s.id, s.b, s.a, s.line, s.length_m) for s in network.spans[::-1])
    )
    assert peak(turned, "d") == pytest.approx(peak(network, "d"), rel=1e-9)


def test_twice_the_charge_twice_the_volts() -> None:
    double = dataclasses.replace(tree(), source=dataclasses.replace(SOURCE, v0_v=2 * SOURCE.v0_v))
    assert peak(double, "d") == pytest.approx(2 * peak(tree(), "d"), rel=1e-9)


@pytest.mark.parametrize("ohm", [50.0, 300.0, 2000.0])
def test_a_harder_leak_never_raises_its_place(ohm: float) -> None:
    assert peak(tree(leak_ohm=ohm), "c") < peak(tree(leak_ohm=2 * ohm), "c")


def test_rank_one_leak_is_a_new_solve() -> None:
    network = tree()
    again = dataclasses.replace(network, shunts=(*network.shunts, Shunt("x", "d", Terminal.LIVE, Terminal.SOIL, 250.0)))
    quick, full = equivalent_at_node(solve_pulse(network), "d"), solve_pulse(again)
    for port in full.ports:
        assert quick.elsewhere_v(250.0, port) == pytest.approx(full.spectrum(*port), rel=1e-9)


def test_load_meets_the_thevenin_impedance() -> None:
    solution = solve_pulse(tree())
    equivalent = equivalent_at_node(solution, "d")
    assert equivalent.terminals == (Terminal.LIVE,)
    there = equivalent.elsewhere_v(500.0, Port("d", Terminal.LIVE))
    assert equivalent.load_v(500.0, Terminal.LIVE) == pytest.approx(there)


def test_a_ring_feeds_from_both_sides() -> None:
    spans = (Span("s1", "a", "b", LINE, 800), Span("s2", "b", "c", LINE, 800), Span("s3", "c", "a", LINE, 800))
    leak = Shunt("leak", "b", Terminal.LIVE, Terminal.SOIL, 100.0)
    ring = Network(SOURCE, spans, shunts=(RODS, leak))
    opened = dataclasses.replace(ring, spans=(spans[0], spans[1], dataclasses.replace(spans[2], is_open=True)))
    solution = solve_pulse(ring)
    charge = [solution.along(s, np.array([0.0]))[2][0, 0, -1].real for s in ("s1", "s2")]
    assert charge[0] > 0 > charge[1]
    assert peak(ring, "b") > 1.005 * peak(opened, "b")


def test_charge_divides_as_kirchhoff_says() -> None:
    solution = solve_pulse(tree())
    first = solution.along("s1", np.array([0.0, 700.0]))[2][:, 0, -1].real
    second = solution.along("s2", np.array([0.0]))[2][0, 0, -1].real
    third = solution.along("s3", np.array([0.0]))[2][0, 0, -1].real
    assert first[1] == pytest.approx(second + third, rel=1e-6)
    assert first[0] == pytest.approx(solution.charge_total_c, rel=1e-6)


def test_an_open_span_is_dead_beyond() -> None:
    network = tree()
    spans = tuple(dataclasses.replace(s, is_open=s.id == "s3") for s in network.spans)
    solution = solve_pulse(dataclasses.replace(network, spans=spans))
    assert solution.node_peak_v("d", Terminal.LIVE) == 0
    assert np.all(solution.along("s3", np.array([10.0]))[1] == 0)


def test_live_and_earth_peaks_are_not_simultaneous() -> None:
    solution = solve_pulse(tree(line=TWO_GROUPS))
    live, earth = (abs(solution.node_peak_v("d", t)) for t in (Terminal.LIVE, Terminal.EARTH))
    between = abs(solution.node_peak_v("d", Terminal.LIVE, Terminal.EARTH))
    assert between < live + earth
    assert earth > 1


def test_fast_window_is_near_the_full_one() -> None:
    for line in (LINE, COUPLED):
        fast, full = (solve_pulse(tree(line=line), w).node_peak_v("d", Terminal.LIVE) for w in (FAST, FULL))
        assert fast == pytest.approx(full, rel=5e-3)


def test_a_resistive_link_is_ohms_law() -> None:
    network = Network(
        SOURCE,
        (Span("s1", "a", "b", LINE, 500), Span("s2", "b2", "c", LINE, 500)),
        links=(Link("joint", Port("b", Terminal.LIVE), Port("b2", Terminal.LIVE), 250.0),),
        shunts=(RODS,),
    )
    solution = solve_pulse(network)
    drop = solution.spectrum("b", Terminal.LIVE) - solution.spectrum("b2", Terminal.LIVE)
    assert solution.link_spectrum("joint") == pytest.approx(drop / 250)


def test_one_run_is_the_closed_form() -> None:
    # Source and rods against an open line: V = Vs Zl / (Zl + Zs + R), Zl = coth(g l)/Yc.
    network = Network(SOURCE, (Span("s1", "a", "b", LINE, 1600),), shunts=(RODS,))
    solution = solve_pulse(network, FULL)
    s = solved_frequencies(FULL)
    model = line_model(LINE, s)
    gamma = np.sqrt(model.eigenvalues[0])
    entrance = 1 / (model.admittance[:, 0, 0] * gamma * np.tanh(gamma * 1600))
    series = 1 / (1 / (s * SOURCE.storage_f) + s * SOURCE.series_h + SOURCE.series_ohm)
    total = series + 1 / SOURCE.parallel_ohm + s * SOURCE.damper_f
    across = (SOURCE.v0_v / s * series) / (total + 1 / (entrance + 20))
    assert solution.spectrum("a", Terminal.LIVE) == pytest.approx(across * entrance / (entrance + 20), rel=1e-6)


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: Span("s", "a", "b", LINE, 0.0), "span s: length_m"),
        (lambda: Shunt("x", "a", Terminal.LIVE, Terminal.LIVE, 5.0), "shunt x"),
        (lambda: Shunt("x", "a", Terminal.LIVE, Terminal.SOIL, float("nan")), "ohm is nan"),
        (lambda: Link("k", Port("a", Terminal.LIVE), Port("a", Terminal.LIVE), 5.0), "link k"),
        (lambda: Link("k", Port("a", Terminal.LIVE), Port("b", Terminal.SOIL), 5.0), "use a shunt"),
        (lambda: wire(-0.2), "height_m"),
        (lambda: WireLine((wire(0.5, None),), 100), "no wire belongs"),
        (lambda: WireLine((wire(0.5), wire(0.5)), 100), "two wires touch"),
        (lambda: WireLine((wire(0.5),), 100, float("nan")), "leak_live_soil"),
        (lambda: MatrixLine(((1.0, 0.0),), ((1.0,),), ((1.0,),), ((0.0,),)), "1x1 or 2x2"),
        (lambda: dataclasses.replace(SOURCE, series_h=-1.0), "series_h"),
        (lambda: Network(SOURCE, shunts=(RODS, RODS)), "is there twice"),
        (lambda: solve_pulse(Network(SOURCE)), "nothing hangs"),
        (
            lambda: solve_pulse(dataclasses.replace(tree(), source=dataclasses.replace(SOURCE, node="z"))),
            "no way to soil",
        ),
    ],
)
def test_what_has_no_meaning_is_refused_by_name(make: object, says: str) -> None:
    with pytest.raises(NetworkError, match=says):
        make()  # type: ignore[operator]


def test_scenarios_side_by_side_are_those_one_by_one() -> None:
    scenarios = tuple(tree(leak_ohm=ohm) for ohm in (100.0, 400.0, 1600.0))
    together = solve_pulses(scenarios)
    for network, solution in zip(scenarios, together, strict=True):
        assert solution.node_peak_v("c", Terminal.LIVE) == pytest.approx(peak(network, "c"), rel=1e-9)
        at = Port("b", Terminal.LIVE)
        alone = equivalent_at_node(solve_pulse(network), "d").elsewhere_v(300.0, at)
        assert equivalent_at_node(solution, "d").elsewhere_v(300.0, at) == pytest.approx(alone)
    with pytest.raises(NetworkError, match="one shape"):
        solve_pulses((scenarios[0], Network(SOURCE, scenarios[0].spans[:1], shunts=(RODS,))))


def test_a_loop_on_one_node_is_two_ways_to_its_middle() -> None:
    loop = Network(SOURCE, (Span("s", "a", "b", LINE, 500), Span("loop", "b", "b", LINE, 400)), shunts=(RODS,))
    twice = Network(
        SOURCE,
        (Span("s", "a", "b", LINE, 500), Span("one", "b", "m", LINE, 200), Span("two", "b", "m", LINE, 200)),
        shunts=(RODS,),
    )
    assert peak(loop, "b") == pytest.approx(peak(twice, "b"), rel=1e-9)


def test_an_earth_strand_alone_carries_the_return_to_far_rods() -> None:
    earth = WireLine((wire(0.3, Terminal.EARTH),), 100, leak_earth_soil_s_per_m=1e-6)
    far = Shunt("far", "e", Terminal.EARTH, Terminal.SOIL, 10.0)
    alone = Network(SOURCE, (Span("s1", "a", "b", LINE, 900),), shunts=(RODS,))
    helped = dataclasses.replace(alone, spans=(*alone.spans, Span("back", "a", "e", earth, 50)), shunts=(RODS, far))
    rise = [abs(solve_pulse(n).node_peak_v("a", Terminal.EARTH)) for n in (alone, helped)]
    assert rise[1] < 0.75 * rise[0]
    assert solve_pulse(helped).node_peak_v("e", Terminal.LIVE) == 0


RING = (
    Span("r1", "a", "b", LINE, 400),
    Span("r2", "b", "c", TWO_GROUPS, 700),
    Span("r3", "c", "d", LINE, 300),
    Span("r4", "d", "a", TWO_GROUPS, 900),
    Span("r5", "c", "e", LINE, 500),
)


@settings(max_examples=25)
@given(st.sampled_from("abcde"), st.sampled_from("abcde"), st.floats(50, 1e5))
def test_transfer_impedances_are_the_same_both_ways(one: str, other: str, ohm: float) -> None:
    solution = solve_pulse(Network(SOURCE, RING, shunts=(RODS, Shunt("k", "d", Terminal.LIVE, Terminal.SOIL, ohm))))
    here, there = (equivalent_at_node(solution, node).columns[0] for node in (one, other))
    rows = [solution.ports[Port(node, Terminal.LIVE)] for node in (one, other)]
    np.testing.assert_allclose(here[rows[1]], there[rows[0]], rtol=1e-7)


@settings(max_examples=40)
@given(st.sampled_from("abcde"), st.floats(20, 1e5), st.floats(1.05, 50))
def test_in_the_charge_limit_more_leak_never_raises_a_level(node: str, ohm: float, less: float) -> None:
    def levels(leak_ohm: float) -> np.ndarray:  # type: ignore[type-arg]
        shunts = (RODS, Shunt("k", node, Terminal.LIVE, Terminal.SOIL, leak_ohm))
        solution = solve_pulse(Network(SOURCE, RING, shunts=shunts))
        rows = [solution.ports[Port(n, Terminal.LIVE)] for n in "abcde"]
        return np.abs(solution.volts[rows, -1])

    assert (levels(ohm) <= levels(ohm * less) * (1 + 1e-9)).all()


def test_an_open_switch_is_its_branch_taken_off() -> None:
    shut = tuple(dataclasses.replace(span, is_open=span.id == "r5") for span in RING)
    opened, gone = (solve_pulse(Network(SOURCE, spans, shunts=(RODS,))) for spans in (shut, RING[:-1]))
    for node in "abcd":
        assert opened.node_peak_v(node, Terminal.LIVE) == pytest.approx(gone.node_peak_v(node, Terminal.LIVE), rel=1e-9)
