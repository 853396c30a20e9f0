"""Catalogue figures to a source and back."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.energizer.fit import FitError, energy_on_load_j, fit_loads, fit_pulse, peak_on_load_v
from adze.core.energizer.unit_pulse import best_load_ohm, peak_on, released_j
from adze.core.pulse.discharge import discharge_of
from adze.core.pulse.laplace import FULL, times_s, waveforms
from adze.core.tables.energizers import Catalogue, energizers


@settings(max_examples=60)
@given(
    released=st.floats(math.log(0.1), math.log(60)).map(math.exp),
    open_v=st.floats(5000, 12000),
    ratio=st.floats(0.05, 0.975),
    efficiency=st.floats(0.25, 0.95),
    shape=st.floats(0.12, 1.5),
)
def test_every_plate_is_met(released: float, open_v: float, ratio: float, efficiency: float, shape: float) -> None:
    plate = Catalogue(released, open_v, ratio * open_v, released / efficiency, shape=shape)
    parts = fit_pulse(plate).parts
    assert peak_on(parts).volts == pytest.approx(open_v, rel=1e-4)
    assert peak_on(parts, 500.0).volts == pytest.approx(ratio * open_v, rel=1e-4)
    assert released_j(parts) == pytest.approx(released, rel=1e-4)
    assert parts.stored_j == pytest.approx(released / efficiency, rel=1e-9)


@pytest.mark.parametrize("key", list(energizers()))
def test_every_unit_of_the_table_fits_without_a_warning(key: str) -> None:
    pulse = fit_pulse(energizers()[key].catalogue)
    assert not pulse.warnings
    assert not pulse.notes
    assert 2e-6 < peak_on(pulse.parts, 500.0).at_s < 120e-6


def test_ten_times_the_joules_at_the_same_kv_are_ten_times_everything_but_ohms() -> None:
    one, ten = (fit_pulse(Catalogue(j, 9000, 6000, 1.4 * j)).parts for j in (1.0, 10.0))
    assert (ten.storage_f, ten.series_h, ten.damper_f) == pytest.approx(
        (10 * one.storage_f, 10 * one.series_h, 10 * one.damper_f)
    )
    ohms = (ten.series_ohm, ten.parallel_ohm, ten.damper_ohm, ten.v0_v)
    assert ohms == pytest.approx((one.series_ohm, one.parallel_ohm, one.damper_ohm, one.v0_v))
    assert peak_on(ten, 500.0).at_s == pytest.approx(10 * peak_on(one, 500.0).at_s)


def test_no_load_takes_more_than_is_released_nor_stored() -> None:
    pulse = fit_pulse(Catalogue(6, 9200, 7200))
    taken = [energy_on_load_j(pulse, ohm) for ohm in np.geomspace(10, 10000, 40)]
    assert max(taken) == pytest.approx(6, rel=0.02)
    assert max(taken) < pulse.parts.stored_j
    assert energy_on_load_j(pulse, best_load_ohm(pulse.parts)) >= max(taken)


def test_energy_is_the_integral_of_the_wave() -> None:
    # By another road: the source of the network carried back to time by the numerical transform.
    source = fit_pulse(Catalogue(1, 8500, 4500)).at("n")
    own, t = discharge_of(source, FULL), times_s(FULL)
    wave = waveforms((own.push / (own.admittance_s + 1 / 500))[:-1], FULL)
    early = t < FULL.length_s / 4
    by_time = float(np.trapezoid(wave[early] ** 2 / 500, t[early]))
    assert energy_on_load_j(fit_pulse(Catalogue(1, 8500, 4500)), 500.0) == pytest.approx(by_time, rel=5e-3)


def test_a_slow_tester_by_the_poles_is_the_wave_summed_step_by_step() -> None:
    parts = fit_pulse(Catalogue(3, 9000, 6300)).parts
    source = fit_pulse(Catalogue(3, 9000, 6300)).at("n")
    own, t, response = discharge_of(source, FULL), times_s(FULL), 5e-6
    wave = waveforms((own.push / (own.admittance_s + 1 / 500))[:-1], FULL)
    fine = np.arange(0, 2e-4, 2e-8)
    kept = np.interp(fine, t, wave)
    shown = np.convolve(kept, np.exp(-fine / response) * 2e-8 / response)[: len(fine)].max()
    assert peak_on(parts, 500.0, response_s=response).volts == pytest.approx(shown, rel=3e-3)


def test_much_capacitance_takes_the_volts_down() -> None:
    pulse = fit_pulse(Catalogue(1, 8500, 4500))
    volts = [peak_on_load_v(pulse, math.inf, farad) for farad in (1e-8, 3e-8, 1e-7, 3e-7)]
    assert volts == sorted(volts, reverse=True)


def test_what_the_plate_leaves_out_is_taken_and_told() -> None:
    pulse = fit_pulse(Catalogue(2, 8800))
    assert pulse.parts.stored_j == pytest.approx(2 / 0.7)
    assert any("Stored joules are not given" in note for note in pulse.notes)
    assert any("kV on 500 Ω is not given" in note for note in pulse.notes)


def test_a_measured_time_to_peak_or_best_load_shapes_the_pulse() -> None:
    timed = fit_pulse(Catalogue(2, 8800, 5600, 2.86, peak_500_us=15.0))
    assert peak_on(timed.parts, 500.0).at_s == pytest.approx(15e-6, rel=1e-3)
    matched = fit_pulse(Catalogue(3, 9000, 6300, 4.3, best_load_ohm=400.0))
    assert best_load_ohm(matched.parts) == pytest.approx(400, rel=1e-3)
    out_of_reach = fit_pulse(Catalogue(2, 8800, 5600, 2.86, peak_500_us=90.0))
    assert any("nearest is used" in note for note in out_of_reach.notes)


def test_odd_ratios_are_noted_and_impossible_times_warned_of() -> None:
    assert any("usually" in note for note in fit_pulse(Catalogue(15, 9500, 7000)).notes)
    assert "would peak after" in fit_pulse(Catalogue(0.25, 8000, 7600, 0.36)).warnings[0]


@pytest.mark.parametrize(
    ("catalogue", "says"),
    [
        (Catalogue(1, 8500, 8400), "kV on 500 Ω: 8.4 kV is too near the open 8.5 kV"),
        (Catalogue(1, 8500, 9000), "kV on 500 Ω"),
        (Catalogue(1, 8500, 200), "less than 3 %"),
        (Catalogue(0, 8500, 4500), "released joules: 0 J, must lie between 0.01 and 200 J"),
        (Catalogue(1000, 8500, 4500), "released joules: 1000 J"),
        (Catalogue(1, float("nan"), 4500), "open kV"),
        (Catalogue(1, 21000, 4500), "open kV: 21 kV, must lie between 0.5 and 20 kV"),
        (Catalogue(2, 8500, 4500, stored_j=1.5), "stored joules: 1.5 J beside 2 J released"),
        (Catalogue(1, 8500, 4500, stored_j=6), "released joules: 1 J of 6 J stored"),
        (Catalogue(1, 8500, 4500, shape=9.0), "the shape of the pulse"),
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
