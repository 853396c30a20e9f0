"""Each rate of the supply as a worked figure."""

import pytest

from adze.core.energizer.supply import CLEARNESS, Rate, charge_left, days_left, draw_a, dullest, usable_ah
from adze.core.tables.energizers import EnergizerModel

# 7.8 J a second at 12 V and 65 % take exactly 1 A.
TEN_AMP_HOURS = EnergizerModel("x", "7.8 J a second", "battery", 7.8, 5.0, 9.0, 6.0, 1.0, 0.0)


def test_draw_of_charging_and_idle() -> None:
    assert draw_a(TEN_AMP_HOURS, Rate.FULL) == pytest.approx(1.015)
    assert draw_a(TEN_AMP_HOURS, Rate.SLOW) == pytest.approx(0.515)
    assert draw_a(TEN_AMP_HOURS, Rate.NIGHT) == pytest.approx(0.765)


def test_what_100_ah_give() -> None:
    assert usable_ah(100, deep_cycle=True, celsius=20) == pytest.approx(50)
    assert usable_ah(100, deep_cycle=False, celsius=20) == pytest.approx(20)
    assert usable_ah(100, deep_cycle=True, celsius=10) == pytest.approx(45)
    assert days_left(TEN_AMP_HOURS, Rate.FULL, 100, charge_left(12.4), deep_cycle=True) == pytest.approx(25 / 24.36)


def test_the_panel_loses_thirty_parts_of_a_hundred_on_the_way_to_the_battery() -> None:
    sun, clear = (dullest(TEN_AMP_HOURS, Rate.FULL, 50, clearness) for clearness in (CLEARNESS, 0.4))
    assert sun == clear
    assert sun is not None
    assert sun.panel_w * sun.sun_hours * 0.7 == pytest.approx(24 * 1.015 * 12, rel=0.01)
