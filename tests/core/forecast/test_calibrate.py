"""Readings teach soil and growth, within bounds, and tell what they cannot teach."""

from dataclasses import replace

import numpy as np
import pytest

from adze.core.forecast.calibrate import Sample, calibrate
from adze.core.forecast.volts import readings_at, solved, volts
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.earth import Calibration
from adze.core.plan.season import Guess, Season, Weather
from tests.conftest import simple_plan


def farm(**changes: object) -> Plan:
    base = {"strands": [{"cm": 20}, {"cm": 45}, {"cm": 80}], "grass": "moderate", "energizer": "mains_3"}
    return simple_plan(**(base | changes))


def readings(truth: Plan, places: tuple[float, ...] = (0, 500, 1000, 1600), noise: float = 0.0) -> list[Sample]:
    rng = np.random.default_rng(7)
    rows = []
    for season in (Season.USUAL, Season.WET):
        (trace,) = volts(truth, Weather(season)).traces
        for at in places:
            kv = float(np.interp(at, trace.at_m, trace.live_kv)) * (1 + noise * rng.standard_normal())
            rows.append(Sample(Place("line1", at), season, kv))
    return rows


def test_leakier_growth_is_found_from_readings() -> None:
    truth = farm(calibration={"leak_factor": 2.2})
    fit = calibrate(farm(), readings(truth))
    assert fit.calibration.leak_factor == pytest.approx(2.2, rel=0.12)
    assert fit.after_kv < 0.25 * fit.before_kv
    assert fit.misfits == ()
    assert fit.calibration.leak_spread < 1.3


def test_readings_as_forecast_change_nothing_and_make_it_surer() -> None:
    fit = calibrate(farm(), readings(farm(), noise=0.03))
    assert fit.calibration.leak_factor == pytest.approx(1, abs=0.15)
    assert fit.calibration.leak_spread < 2
    assert fit.calibration.soil_share <= 1
    plan = farm().model_copy(update={"calibration": fit.calibration})
    bands = [
        volts(p, Weather(Season.WET, Guess.HIGH)).worst[1] - volts(p, Weather(Season.WET, Guess.LOW)).worst[1]
        for p in (farm(), plan)
    ]
    assert 0 < bands[1] < 0.6 * bands[0]


def test_a_single_fault_is_told_apart_and_moves_little() -> None:
    rows = readings(farm())
    rows[2] = Sample(rows[2].place, rows[2].season, 0.8)
    fit = calibrate(farm(), rows)
    assert [sample for sample, _ in fit.misfits] == [rows[2]]
    assert fit.calibration.leak_factor == pytest.approx(1, abs=0.3)


def test_nothing_goes_beyond_its_bounds() -> None:
    fit = calibrate(farm(), [Sample(Place("line1", 1600), Season.WET, 0.05)])
    assert 1 / 6.1 < fit.calibration.leak_factor < 6.1
    assert 1 / 6.1 < fit.calibration.soil_factor < 6.1
    with pytest.raises(ValueError, match="at least one"):
        calibrate(farm(), [])


def test_a_plan_without_readings_is_as_the_tables_say() -> None:
    assert farm().calibration == Calibration()
    drier, same = (volts(farm(calibration={"soil_factor": f}), Weather(Season.DRY)).rods_ohm for f in (2.0, 1.0))
    assert drier == pytest.approx(2 * same, rel=0.01)  # lead and clamps stay as they are


def test_amps_teach_too() -> None:
    truth = farm(calibration={"leak_factor": 2.2})
    place = Place("line1", 0.0)
    rows = []
    for season in (Season.USUAL, Season.WET):
        (kv,), (amps,) = readings_at(solved(truth, Weather(season)), [place])
        rows.append((Sample(place, season, float(kv)), Sample(place, season, float(kv), float(amps))))
    without, with_amps = (calibrate(farm(), [pair[i] for pair in rows]) for i in (0, 1))
    assert with_amps.calibration.leak_spread < without.calibration.leak_spread
    assert with_amps.calibration.leak_factor == pytest.approx(2.2, rel=0.25)


@pytest.mark.parametrize("share", [0.5, 0.8, 1.25])
def test_a_tester_that_is_off_teaches_no_growth(share: float) -> None:
    fit = calibrate(farm(), [replace(row, kv=share * row.kv) for row in readings(farm())])
    assert fit.tester == pytest.approx(share, rel=0.03)
    assert fit.is_tester_off
    assert fit.calibration.leak_factor == pytest.approx(1, abs=0.1)
    assert fit.misfits == ()


def test_wet_readings_kept_as_usual_are_questioned() -> None:
    wet = [replace(row, season=Season.USUAL) for row in readings(farm()) if row.season is Season.WET]
    assert calibrate(farm(), wet).doubtful == ((Season.USUAL, Season.WET),)
    assert calibrate(farm(), readings(farm(), noise=0.03)).doubtful == ()
