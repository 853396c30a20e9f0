"""Another energizer and other rods without solving again: the same figures as solving again."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.energizer.fit import fit_pulse
from adze.core.forecast.circuit import ENERGIZER, RODS, circuit
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.pulse import laplace
from adze.core.pulse.network import Port, Terminal
from adze.core.pulse.port_equivalent import equivalent_inside
from adze.core.pulse.solver import solve_pulse
from adze.core.pulse.source_update import SourceUpdate
from adze.core.tables.energizers import energizers
from tests.conftest import simple_plan

TURN = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}]
SITE = {"id": "r", "kind": "rods", "run": "line1", "at_m": 900, "name": "Rods"}


@pytest.mark.parametrize(
    "plan",
    [
        simple_plan(),
        simple_plan(strands=TURN, soil="dry_sand", fixtures=[SITE]),
        simple_plan(apron=True, soil="dry_sand", grass="heavy"),
    ],
    ids=["live", "in turn", "mesh"],
)
@settings(max_examples=12)
@given(unit=st.sampled_from(sorted(energizers())), rods=st.integers(1, 12), at=st.floats(1, 1599))
def test_as_if_solved_again(plan: Plan, unit: str, rods: int, at: float) -> None:
    weather = Weather(Season.DRY)
    found = circuit(plan, weather)
    swap = SourceUpdate(solve_pulse(found.network, laplace.FAST), RODS)
    other = circuit(changed(plan, {"energizer": unit, "rods": {"count": rods}}), weather)
    again = solve_pulse(other.network, laplace.FAST)
    source = fit_pulse(energizers()[unit].catalogue).at(ENERGIZER)
    drive = swap.drive(source, other.rods_ohm)
    volts = swap.solution_under(drive, source).volts
    for port, row in again.ports.items():
        np.testing.assert_allclose(volts[swap.solution.ports[port]], again.volts[row], rtol=1e-5, atol=1e-12)
    place = found.pieces[0].span, min(at, found.pieces[0].length_m - 1)
    here, there = swap.equivalent(equivalent_inside(swap.solution, *place), drive), equivalent_inside(again, *place)
    np.testing.assert_allclose(here.open_v(Terminal.LIVE), there.open_v(Terminal.LIVE), rtol=1e-5, atol=1e-12)
    for ohm in (5.0, 500.0):
        loads = here.load_v(ohm, Terminal.LIVE), there.load_v(ohm, Terminal.LIVE)
        np.testing.assert_allclose(*loads, rtol=1e-5, atol=1e-12)
    np.testing.assert_allclose(here.impedance, there.impedance, rtol=1e-6)
    live = swap.solution_under(drive, source).node_peak_v(ENERGIZER, Terminal.LIVE)
    assert live == pytest.approx(again.node_peak_v(ENERGIZER, Terminal.LIVE), rel=1e-6)
    near = equivalent_inside(swap.solution, *place)
    earth = Port(ENERGIZER, Terminal.EARTH)
    np.testing.assert_allclose(swap.rods_v(near, drive, 20.0), there.elsewhere_v(20.0, earth), rtol=1e-5, atol=1e-10)
