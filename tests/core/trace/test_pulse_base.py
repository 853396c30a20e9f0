"""Faults as changes of low rank: the same as a fresh solve with the fault in place, and near the full solver."""

from dataclasses import replace

import numpy as np
import pytest

from adze.core.pulse import laplace
from adze.core.pulse.network import Link, Network, Port, Shunt, Terminal, terminals_of
from adze.core.pulse.solver import solve_pulse
from adze.core.trace.predicted import Predicted, ReadAt, hypotheses, sizes_of
from adze.core.trace.pulse_base import CUT, LE, LS, RODS, WINDOW, TraceBase
from tests.core.trace.farms import begun

FARMS = ("T30000", "T30003", "T30009", "T30012")


def with_fault(base: TraceBase, fault: int, ohm: float, name: str = "fault") -> Network:
    """The farm's network with a fault really put on it."""
    faults, grid, network = base.faults, base.grid, base.grid.network
    kind = faults.kind[fault]
    if kind == RODS:
        worse = (replace(s, ohm=s.ohm * ohm) if s.start is Terminal.EARTH else s for s in network.shunts)
        return replace(network, shunts=tuple(worse))
    if kind != CUT:
        to = Terminal.SOIL if kind == LS else Terminal.EARTH
        return replace(
            network, shunts=(*network.shunts, Shunt(name, grid.names[faults.place[fault]], Terminal.LIVE, to, ohm))
        )
    span = network.spans[faults.piece[fault]]
    near = replace(span, id=f"{name}1", b=f"{name}a", length_m=span.length_m / 2)
    far = replace(span, id=f"{name}2", a=f"{name}b", length_m=span.length_m / 2)
    links = [Link(name, Port(f"{name}a", Terminal.LIVE), Port(f"{name}b", Terminal.LIVE), ohm)]
    if Terminal.EARTH in terminals_of(span.line):
        links.append(Link(f"{name}e", Port(f"{name}a", Terminal.EARTH), Port(f"{name}b", Terminal.EARTH), 1e-4))
    kept = tuple(other for other in network.spans if other is not span)
    return replace(network, spans=(*kept, near, far), links=(*network.links, *links))


def solved_at(base: TraceBase, network: Network, place: ReadAt, window: laplace.Window) -> tuple[float, float]:
    """kV and A at a place, solved afresh."""
    solution = solve_pulse(network, window)
    piece = base.amps_at(place.number, place.leg).piece
    span = base.grid.network.spans[piece]
    at = np.array([0.0 if base.grid.a[piece] == place.number else span.length_m])
    _, _, amps = solution.along(span.id, at)
    volts = solution.free_v[solution.ports[Port(base.grid.names[place.number], Terminal.LIVE)]]
    if window is WINDOW:
        return abs(float(base.peaks(volts[:-1]))) / 1000, float(base.peaks(amps[0, 0, :-1]))
    return abs(float(solution.peak(volts))) / 1000, float(solution.peak(amps[0, 0]))


def asked(base: TraceBase, kind: int, rng: np.random.Generator) -> tuple[int, float, list[ReadAt]]:
    """A fault of a kind and some places away from it."""
    fault = int(rng.choice(np.flatnonzero(base.faults.kind == kind)))
    ohm = float(rng.choice(sizes_of(base.faults.kind[[fault]])[0]))
    own = {base.faults.place[fault]}
    if kind == CUT:
        piece = base.faults.piece[fault]
        own = {base.grid.a[piece], base.grid.b[piece]}
    free = [n for n in range(len(base.grid.spots)) if n not in own]
    return fault, ohm, [ReadAt(int(n), base.grid.legs[n][0]) for n in rng.choice(free, 5)]


@pytest.mark.parametrize("case", FARMS)
@pytest.mark.parametrize("kind", [LS, LE, CUT, RODS])
def test_one_fault_is_what_a_fresh_solve_gives(case: str, kind: int) -> None:
    base = begun(case).suspects.base
    if not (base.faults.kind == kind).any():
        assert kind == LE  # only farms with earth strands have shorts to them
        return
    fault, ohm, places = asked(base, kind, np.random.default_rng(kind))
    made = hypotheses(base, base.healthy, np.array([fault]), np.array([ohm]))
    network = with_fault(base, fault, ohm)
    for place in places:
        found: Predicted = made.predict(place)
        kv, amps = solved_at(base, network, place, WINDOW)
        assert found.kv[1] == pytest.approx(kv, rel=1e-3, abs=1e-4)
        assert found.amps[1] == pytest.approx(amps, rel=1e-3, abs=2e-3)
        full_kv, full_a = solved_at(base, network, place, laplace.FULL)
        if full_kv > 0.5:
            assert found.kv[1] == pytest.approx(full_kv, rel=0.015)
        if abs(full_a) > 4:
            assert found.amps[1] == pytest.approx(full_a, rel=0.06)


@pytest.mark.parametrize("case", FARMS[:2])
@pytest.mark.parametrize(("first", "second"), [(LS, LS), (LS, CUT), (CUT, LS), (LS, RODS)])
def test_two_faults_are_what_a_fresh_solve_gives(case: str, first: int, second: int) -> None:
    base = begun(case).suspects.base
    rng = np.random.default_rng(7)
    one, ohm, _ = asked(base, first, rng)
    other, ohm_2, places = asked(base, second, rng)
    state = base.with_fault(base.healthy, one, ohm)
    made = hypotheses(base, state, np.array([other]), np.array([ohm_2]), standing=(one,))
    lasting = replace(base, grid=replace(base.grid, network=with_fault(base, one, ohm)))
    if second == CUT:  # pieces keep their number: what was cut before stands at the end
        number = base.faults.piece[other]
        lasting = replace(base, grid=replace(base.grid, network=with_fault(base, other, ohm_2)))
        assert base.grid.network.spans[number] not in lasting.grid.network.spans
        network = with_fault(lasting, one, ohm, "second")
    else:
        network = with_fault(lasting, other, ohm_2, "second")
    for place in places:
        gone = base.grid.network.spans[base.amps_at(place.number, place.leg).piece]
        if gone not in network.spans:
            continue
        kv, amps = solved_at(base, network, place, WINDOW)
        found = made.predict(place)
        assert found.kv[1] == pytest.approx(kv, rel=2e-3, abs=1e-3)
        assert found.amps[1] == pytest.approx(amps, rel=2e-3, abs=1e-2)


@pytest.mark.parametrize("case", FARMS[:3])
@pytest.mark.parametrize("more", [None, LS, CUT, RODS])
def test_amps_in_the_very_piece_of_a_cut_are_those_of_a_fresh_solve(case: str, more: int | None) -> None:
    base = begun(case).suspects.base
    rng = np.random.default_rng(11)
    one, ohm, _ = asked(base, CUT, rng)
    piece = base.faults.piece[one]
    state = base.with_fault(base.healthy, one, ohm)
    network = with_fault(base, one, ohm)
    chosen, row = (np.empty(0, dtype=np.intp), np.empty(0)), 0
    if more is not None:
        other, ohm_2, _ = asked(base, more, rng)
        assert base.faults.piece[other] != piece
        chosen, row = (np.array([other]), np.array([ohm_2])), 1
        network = with_fault(replace(base, grid=replace(base.grid, network=network)), other, ohm_2, "second")
        stood = base.with_fault(state, other, ohm_2)  # what is added afterwards turns what the cut lets through
        again = hypotheses(base, stood, np.empty(0, dtype=np.intp), np.empty(0), standing=(one, other))
    made = hypotheses(base, state, *chosen, standing=(one,))
    solution = solve_pulse(network, WINDOW)
    for end, half, at_m in ((base.grid.a, "fault1", 0.0), (base.grid.b, "fault2", base.grid.length_m[piece] / 2)):
        place = ReadAt(int(end[piece]), base.grid.spans[base.grid.span[piece]].id)
        if base.amps_at(*place).piece != piece:
            continue  # the leg goes on from here in another piece
        _, _, amps = solution.along(half, np.array([at_m]))
        wanted = float(base.peaks(amps[0, 0, :-1]))
        assert made.predict(place).amps[row] == pytest.approx(wanted, rel=2e-3, abs=1e-2)
        assert made.quick_prediction(place, np.array([row])).amps[0] == pytest.approx(wanted, rel=2e-3, abs=1e-2)
        if more is not None:
            assert again.predict(place).amps[0] == pytest.approx(wanted, rel=2e-3, abs=1e-2)


def test_a_glance_is_what_is_predicted() -> None:
    search = begun("T30000")
    single = search.suspects.single
    place = ReadAt(9, search.grid.legs[9][0])
    chosen = np.arange(0, len(single.fault), 37)
    quickly_predicted = single.quick_prediction(place, chosen)
    again = single.quick_prediction(place, chosen)
    whole = single.predict_some(place, chosen)
    np.testing.assert_allclose(quickly_predicted.kv, whole.kv, rtol=1e-5)
    np.testing.assert_allclose(quickly_predicted.amps, whole.amps, rtol=1e-4, atol=1e-3)
    np.testing.assert_array_equal(quickly_predicted.kv, again.kv)


def test_growth_lowers_kv_and_nothing_added_changes_nothing() -> None:
    search = begun("T30009")
    found = search.suspects.single.predict(ReadAt(4, search.grid.legs[4][0]))
    assert found.grass_kv < 0
    assert found.kv[0] == pytest.approx(found.healthy_kv, rel=1e-5)
    assert (found.kv <= found.healthy_kv * 1.2).all()
