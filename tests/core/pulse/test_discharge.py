"""A discharge that cannot reverse, against a diode stepped through time."""

import dataclasses

import numpy as np
import pytest

from adze.core.energizer.fit import fit_pulse
from adze.core.pulse.laplace import FULL, waveforms
from adze.core.pulse.network import Network, Shunt, Source, Terminal
from adze.core.pulse.port_equivalent import equivalent_at_node
from adze.core.pulse.solver import Solution, solve_pulse
from adze.core.tables.energizers import Catalogue

LOAD_OHM = 60.0  # far below the best load of one joule: the current would reverse


def source(*, one_way: bool) -> Source:
    return dataclasses.replace(fit_pulse(Catalogue(1, 8500, 4500, 1.43)).at("n"), one_way=one_way)


def on_load(*, one_way: bool, ohm: float = LOAD_OHM) -> Solution:
    rods = Shunt("rods", "n", Terminal.EARTH, Terminal.SOIL, 1e-3)
    load = Shunt("load", "n", Terminal.LIVE, Terminal.SOIL, ohm)
    return solve_pulse(Network(source(one_way=one_way), shunts=(rods, load)), FULL)


def stepped_j(own: Source, ohm: float, *, diode: bool) -> float:
    """Joules in a load by small steps through time: the store's volts, its current, the damper's volts."""
    step, store, amps, damper, joules = 5e-9, own.v0_v, 0.0, 0.0, 0.0
    g = 1 / own.parallel_ohm + 1 / ohm + 1 / own.damper_ohm
    for _ in range(60_000):
        volts = (amps + damper / own.damper_ohm) / g
        amps += step * (store - amps * own.series_ohm - volts) / own.series_h
        if diode:
            amps = max(amps, 0.0)
        store -= step * amps / own.storage_f
        damper += step * (volts - damper) / (own.damper_ohm * own.damper_f)
        joules += step * volts**2 / ohm
    return joules


def energy_j(solution: Solution) -> float:
    wave = waveforms(solution.spectrum("n", Terminal.LIVE)[:-1], FULL)
    return float((wave**2).sum() * FULL.length_s / (4 * FULL.frequencies) / LOAD_OHM)


@pytest.mark.parametrize("one_way", [False, True])
def test_joules_are_those_of_a_diode_stepped_through_time(one_way: bool) -> None:
    expected = stepped_j(source(one_way=one_way), LOAD_OHM, diode=one_way)
    assert energy_j(on_load(one_way=one_way)) == pytest.approx(expected, rel=0.01)


def test_peaks_before_the_stop_stay_and_joules_fall() -> None:
    free, stops = on_load(one_way=False), on_load(one_way=True)
    assert stops.node_peak_v("n", Terminal.LIVE) == pytest.approx(free.node_peak_v("n", Terminal.LIVE), rel=2e-3)
    assert energy_j(stops) < 0.97 * energy_j(free)
    assert free.stops_s == np.inf
    assert 1e-5 < stops.stops_s < 2e-4


def test_no_current_flows_back_after_the_stop() -> None:
    stops = on_load(one_way=True)
    own = stops.discharge
    assert own is not None
    series = waveforms((stops.terminal_a + own.parallel_s * stops.spectrum("n", Terminal.LIVE))[:-1], FULL)
    assert series[: len(series) // 2].min() > -0.02 * series.max()


def test_a_load_that_never_reverses_it_changes_nothing() -> None:
    free, same = (on_load(one_way=x, ohm=4000.0) for x in (False, True))
    assert same.node_peak_v("n", Terminal.LIVE) == pytest.approx(free.node_peak_v("n", Terminal.LIVE), rel=1e-3)


def test_a_load_put_on_later_stops_it_when_it_would_have_been_stopped() -> None:
    rods = Shunt("rods", "n", Terminal.EARTH, Terminal.SOIL, 1e-3)
    leak = Shunt("leak", "n", Terminal.LIVE, Terminal.SOIL, 5000.0)
    bare = solve_pulse(Network(source(one_way=True), shunts=(rods, leak)), FULL)
    loaded = solve_pulse(
        Network(source(one_way=True), shunts=(rods, leak, Shunt("load", "n", Terminal.LIVE, Terminal.SOIL, LOAD_OHM))),
        FULL,
    )
    later = equivalent_at_node(bare, "n").load_v(LOAD_OHM, Terminal.LIVE)
    np.testing.assert_allclose(later, loaded.spectrum("n", Terminal.LIVE), rtol=1e-6)


def test_joules_do_not_jump_at_the_load_at_which_the_current_touches_zero() -> None:
    """Close loads either side of the jump (17 kΩ) differ by what their ohms do, and as a diode's through time."""
    ohms = np.geomspace(9_000, 30_000, 25)
    joules, firsts = [], []
    for ohm in ohms:
        solution = on_load(one_way=True, ohm=float(ohm))
        for rows, one in ((joules, solution.whole), (firsts, solution)):
            wave = waveforms(one.spectrum("n", Terminal.LIVE)[:-1], FULL)
            rows.append(float((wave**2).sum() * FULL.length_s / (4 * FULL.frequencies) / ohm))
    falls = np.array(joules[1:]) / np.array(joules[:-1])
    assert falls.min() > 0.94
    assert falls.max() < 1
    assert (np.array(firsts[1:]) / np.array(firsts[:-1])).min() < 0.8
