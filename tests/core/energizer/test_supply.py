"""Battery and sun: worked figures, closed forms and limits."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.animals.strand_checks import PULSE_S
from adze.core.basics.status import Status
from adze.core.energizer.lightning import spark_gap_mm
from adze.core.energizer.supply import (
    Rate,
    brought_wh,
    charge_left,
    days,
    days_left,
    draw_a,
    dullest,
    month_kwh_per_m2,
    needed_wh,
    outside_kwh_per_m2,
    usable_ah,
)
from adze.core.plan.catalogue import between_pulses_s, unit_of
from adze.core.tables.energizers import EnergizerModel, energizers
from adze.core.verdict.judge_fence import strand_findings
from adze.core.verdict.judge_supply import supply_findings
from adze.core.verdict.surroundings.siting import judge_siting
from tests.conftest import simple_plan

ONE_JOULE = EnergizerModel("x", "One stored joule", "battery", 1.0, 0.7, 8.5, 4.5, 1.2, 0.0)

DIVERTER = {"id": "d", "kind": "diverter", "run": "line1", "at_m": 0, "name": "Diverter"}


def test_one_stored_joule_on_seventy_five_ah_lasts_about_thirteen_days() -> None:
    assert draw_a(ONE_JOULE, Rate.FULL) == pytest.approx(0.12, abs=0.005)
    half = usable_ah(75, deep_cycle=True, celsius=20)
    assert half == 37.5
    assert days(ONE_JOULE, Rate.FULL, half) == pytest.approx(13, abs=0.6)
    assert 1.7 < days(ONE_JOULE, Rate.SLOW, half) / days(ONE_JOULE, Rate.FULL, half) < 2
    assert days(ONE_JOULE, Rate.FULL, half) < days(ONE_JOULE, Rate.NIGHT, half) < days(ONE_JOULE, Rate.SLOW, half)


def test_a_car_battery_and_the_cold_give_less() -> None:
    assert usable_ah(75, deep_cycle=False, celsius=20) == 15
    assert usable_ah(75, deep_cycle=True, celsius=0) == pytest.approx(30)
    assert usable_ah(75, deep_cycle=True, celsius=35) == 37.5


@pytest.mark.parametrize(("volts", "left"), [(12.7, 1), (12.4, 0.75), (12.2, 0.5), (12.0, 0.25), (11.8, 0), (11.0, 0)])
def test_volts_at_rest_tell_the_charge(volts: float, left: float) -> None:
    assert charge_left(volts) == pytest.approx(left)
    assert charge_left(volts + 0.1, agm=True) == pytest.approx(left)


def test_sun_outside_the_air_is_the_almanac_s() -> None:
    # Duffie and Beckman, example 1.10.1: 43 degrees north, 15 April: 33.8 MJ/m2.
    assert outside_kwh_per_m2(43, 105) * 3.6 == pytest.approx(33.8, rel=0.01)
    # On the equator at the equinox the plane lies square at noon: 24/pi times the strength.
    assert outside_kwh_per_m2(0, 81) == pytest.approx(24 / 3.14159 * 1.367, rel=0.02)
    assert outside_kwh_per_m2(80, 355) == 0


@given(st.floats(10, 60), st.integers(1, 12), st.integers(0, 90), st.floats(0.1, 0.7))
def test_the_south_is_the_north_half_a_year_on(latitude: float, month: int, tilt: int, clear: float) -> None:
    other = (month + 5) % 12 + 1
    here, there = month_kwh_per_m2(latitude, month, tilt, clear), month_kwh_per_m2(-latitude, other, tilt, clear)
    assert here == pytest.approx(there, rel=0.12, abs=0.08)
    assert 0 <= here < 12


@given(st.floats(-58, 58), st.floats(0.3, 0.7))
def test_the_panel_of_the_dullest_month_brings_what_is_needed_in_every_month(latitude: float, clearness: float) -> None:
    sun = dullest(ONE_JOULE, Rate.FULL, latitude, clearness)
    assert sun is not None
    months = brought_wh(sun.panel_w, sun.tilt_deg, latitude, clearness)
    assert months.index(min(months)) + 1 == sun.month
    assert min(months) == pytest.approx(needed_wh(ONE_JOULE, Rate.FULL))


def test_the_dullest_month_sets_the_panel() -> None:
    unit = energizers()["solar_06"]
    sun = dullest(unit, Rate.FULL, 52)
    assert sun is not None
    assert sun.month == 12
    assert 55 <= sun.tilt_deg <= 85
    assert 0.5 < sun.sun_hours < 3
    need = 24 * draw_a(unit, Rate.FULL) * 12
    assert sun.panel_w * sun.sun_hours * 0.7 == pytest.approx(need)
    south = dullest(unit, Rate.FULL, -52)
    assert south is not None
    assert south.month == 6
    assert dullest(unit, Rate.FULL, 84) is None
    slow = dullest(unit, Rate.SLOW, 52)
    assert slow is not None
    assert slow.panel_w < sun.panel_w


def test_what_no_battery_or_month_can_be_is_refused() -> None:
    with pytest.raises(ValueError, match="Ah"):
        usable_ah(0, deep_cycle=True, celsius=20)
    with pytest.raises(ValueError, match="at rest"):
        charge_left(230)
    with pytest.raises(ValueError, match="clearness"):
        month_kwh_per_m2(52, 6, 30, 1.4)


def test_a_battery_has_given_its_share_at_half_and_never_less_than_nothing() -> None:
    unit = energizers()["battery_1"]
    full = days_left(unit, Rate.FULL, 75, 1.0, deep_cycle=True)
    assert full == pytest.approx(days(unit, Rate.FULL, usable_ah(75, deep_cycle=True, celsius=20)))
    assert days_left(unit, Rate.FULL, 75, 0.75, deep_cycle=True) == pytest.approx(full / 2)
    assert days_left(unit, Rate.FULL, 75, 0.4, deep_cycle=True) == 0
    assert days_left(unit, Rate.FULL, 75, 0.9, deep_cycle=False) < days_left(unit, Rate.FULL, 75, 0.9, deep_cycle=True)


def test_the_gap_of_a_diverter_follows_the_breakdown_of_air() -> None:
    # 1 cm of even field at 20 °C and 1013 hPa breaks down at 30.3 kV (peak).
    assert spark_gap_mm(30.3) == pytest.approx(10, rel=0.001)
    assert 2.0 < spark_gap_mm(9.2) < 3.0
    with pytest.raises(ValueError, match="between 0 and 100"):
        spark_gap_mm(0)


OWN = {"key": "own", "label": "Own", "stored_j": 4.3, "released_j": 3.0, "open_kv": 9.0, "kv_500": 6.3}


@pytest.mark.parametrize(
    ("changes", "title", "status"),
    [
        ({"own_energizers": [OWN | {"output": "continuous"}]}, "Continuous output", Status.FAILS),
        (
            {"own_energizers": [OWN | {"output": "high impedance"}], "conductor": "tape_40"},
            "Wide poly on a high-impedance unit",
            Status.MARGINAL,
        ),
        ({"own_energizers": [OWN], "conductor": "tape_40"}, "Wide poly on a high-impedance unit", None),
        ({"own_energizers": [OWN], "supply": {"surge": False}}, "No surge strip", Status.MARGINAL),
        ({"own_energizers": [OWN]}, "No surge strip", None),
        (
            {"own_energizers": [OWN], "fixtures": [{**DIVERTER, "earth": "supply"}]},
            "Diverter wrongly earthed",
            Status.FAILS,
        ),
        (
            {"own_energizers": [OWN], "fixtures": [{**DIVERTER, "earth": "none"}]},
            "Diverter wrongly earthed",
            Status.FAILS,
        ),
        ({"own_energizers": [OWN], "fixtures": [DIVERTER]}, "Diverter wrongly earthed", None),
    ],
)
def test_output_surge_and_lightning_are_judged(changes: dict[str, object], title: str, status: Status | None) -> None:
    plan = simple_plan(energizer="own", **changes)
    unit = unit_of(plan)
    assert unit is not None
    found = {f.title: f.status for f in supply_findings(plan, unit)}
    assert found.get(title) == status


def test_a_second_energizer_on_the_fence_fails() -> None:
    mark = {"id": "m", "kind": "other_unit", "points": [[50, 0]]}
    assert any(f.title == "Two energizers on one fence" for f in judge_siting(simple_plan(landmarks=[mark])))


def test_a_slower_rate_leaves_more_time_to_pass_between_pulses() -> None:
    full, slow = (simple_plan(energizer="mains_6", supply={"rate": rate}) for rate in ("full", "night"))
    assert between_pulses_s(full) == energizers()["mains_6"].pulse_s
    assert between_pulses_s(slow) == 2 * between_pulses_s(full)
    assert between_pulses_s(simple_plan(energizer=None)) == PULSE_S
    foxes = {"stock": [{"id": "f", "kind": "fox"}], "strands": [{"cm": 20}, {"cm": 60}]}
    told = [
        {f.check: f.limit for f, _ in strand_findings(simple_plan(energizer="mains_6", supply={"rate": rate}, **foxes))}
        for rate in ("full", "slow")
    ]
    assert told[1]["pulse"] == pytest.approx(2 * told[0]["pulse"])
