"""A tester that is slower than the pulse."""

import numpy as np
import pytest

from adze.core.forecast.volts import probe_at
from adze.core.ground.places import Place
from adze.core.plan.season import Season, Weather
from adze.core.pulse import laplace
from adze.core.pulse.network import Terminal
from adze.core.pulse.slow_tester import shown_v
from tests.conftest import simple_plan


def test_a_step_is_followed_as_the_closed_form_says() -> None:
    step = 1e-7
    wave = np.ones(int(30e-6 / step))
    assert shown_v(wave, step, 10e-6) == pytest.approx(1 - np.exp(-3), rel=1e-6)
    assert shown_v(-2 * wave, step, 1e-9) == pytest.approx(2)
    assert shown_v(wave, step, 0.0) == 1


def share(energizer: str) -> float:
    runs = [{"id": "line1", "name": "L", "points": [[0, 0], [200, 0]]}]
    plan = simple_plan(energizer=energizer, runs=runs, strands=[{"cm": 60}])
    equivalent = probe_at(plan, Weather(Season.USUAL), Place("line1", 100)).equivalent
    live = equivalent.terminals.index(Terminal.LIVE)
    volts = laplace.waveforms(equivalent.open_v[live][:-1], equivalent.solution.window)
    return shown_v(volts, equivalent.sample_s) / float(np.abs(volts).max())


def test_it_under_reads_the_short_pulse_of_a_small_unit_more() -> None:
    assert share("battery_025") < share("mains_15") <= 1
