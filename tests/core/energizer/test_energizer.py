"""Catalogue figures to a source and back."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.energizer.fit import FitError, energy_on_load_j, fit_loads, fit_pulse, peak_on_load_v, usual_ratio_500
from adze.core.pulse.laplace import FULL, frequencies_per_s, times_s, waveforms
from adze.core.pulse.solver import source_admittance_s
from adze.core.tables.energizers import Catalogue, energizers


@settings(max_examples=12)
@given(st.floats(0.3, 30), st.floats(0.25, 0.75), st.floats(6000, 9900))
def test_the_fit_gives_back_what_it_was_given(released: float, within: float, open_v: float) -> None:
    low, high = usual_ratio_500(released)
    catalogue = Catalogue(released, open_v, open_v * (low + within * (high - low)))
    pulse = fit_pulse(catalogue)
    assert peak_on_load_v(pulse) == pytest.approx(open_v, rel=1e-4)
    assert peak_on_load_v(pulse, 500.0) == pytest.approx(catalogue.v500_v, rel=1e-4)


@pytest.mark.parametrize("key", list(energizers()))
def test_every_unit_of_the_table_fits_without_odd_parts(key: str) -> None:
    pulse = fit_pulse(energizers()[key].catalogue)
    assert not pulse.warnings
    assert 2000 < pulse.v0_v < 9000
    assert pulse.series_h < 0.05


def test_no_load_takes_more_than_is_released_nor_stored() -> None:
    pulse = fit_pulse(Catalogue(6, 9200, 7200))
    taken = [energy_on_load_j(pulse, ohm) for ohm in np.geomspace(10, 10000, 40)]
    assert max(taken) == pytest.approx(6, rel=0.02)
    assert max(taken) < 0.5 * pulse.storage_f * pulse.v0_v**2


def test_energy_is_the_integral_of_the_wave() -> None:
    # By another road: eq. 12 carried back to time by the numerical transform.
    source = fit_pulse(Catalogue(1, 8500, 4500)).at("n")
    s, t = frequencies_per_s(FULL), times_s(FULL)
    series, parallel = source_admittance_s(source, s)
    wave = waveforms(source.v0_v / s * series / (series + parallel + 1 / 500), FULL)
    early = t < FULL.length_s / 4
    by_time = float(np.trapezoid(wave[early] ** 2 / 500, t[early]))
    assert energy_on_load_j(fit_pulse(Catalogue(1, 8500, 4500)), 500.0) == pytest.approx(by_time, rel=5e-3)


def test_more_capacitance_less_volts() -> None:
    pulse = fit_pulse(Catalogue(1, 8500, 4500))
    volts = [peak_on_load_v(pulse, math.inf, farad) for farad in (0, 1e-8, 3e-8, 1e-7, 3e-7)]
    assert volts == sorted(volts, reverse=True)


def test_without_the_500_ohm_figure_the_best_load_is_matched() -> None:
    pulse = fit_pulse(Catalogue(2, 8800))
    best = 500 * 2**-0.7
    assert pulse.series_h == pytest.approx(pulse.storage_f * best**2, rel=1e-6)


def test_odd_ratios_are_told() -> None:
    assert fit_pulse(Catalogue(15, 9500, 7000)).warnings


@pytest.mark.parametrize(
    ("catalogue", "says"),
    [
        (Catalogue(1, 8500, 8300), "too near the open"),
        (Catalogue(1, 8500, 9000), "v500_v"),
        (Catalogue(0, 8500, 4500), "released_j"),
        (Catalogue(1, float("nan"), 4500), "open_v"),
        (Catalogue(2, 8500, 4500, stored_j=1.5), "stored_j"),
    ],
)
def test_impossible_figures_are_refused_by_name(catalogue: Catalogue, says: str) -> None:
    with pytest.raises(FitError, match=says):
        fit_pulse(catalogue)


def test_loads_of_its_own_circuit_give_it_back() -> None:
    own = Catalogue(3.0, 9000.0, 6300.0, 4.3)
    true = fit_pulse(own)
    loads = tuple((ohm, peak_on_load_v(true, ohm)) for ohm in (50.0, 100.0, 1000.0))
    found = fit_loads(own, loads)
    assert found.warnings == true.warnings
    for ohm in (30.0, 200.0, 5000.0):
        assert peak_on_load_v(found, ohm) == pytest.approx(peak_on_load_v(true, ohm), rel=0.02)


def test_stiffer_loads_than_the_plate_s_are_met_halfway_and_told() -> None:
    own = Catalogue(3.0, 9000.0, 6300.0, 4.3)
    weak = fit_pulse(own)
    strong = tuple((ohm, 1.2 * peak_on_load_v(weak, ohm)) for ohm in (50.0, 100.0, 200.0))
    found = fit_loads(own, strong)
    assert peak_on_load_v(found, 100) > 1.05 * peak_on_load_v(weak, 100)
    raised = fit_loads(own, ((50.0, 4000.0), (100.0, 2400.0)))
    assert any("raises its output under load" in words for words in raised.warnings)
