"""Soil from pins: Wenner's formula, one rod undone, two layers found again."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.soil.earth import EarthError, rod_ohm
from adze.core.soil.soil_tests import apparent_ohm_m, four_pin_ohm_m, one_rod_ohm_m, sounding

SPACINGS = np.array([0.5, 1, 2, 4, 8, 16])


def test_four_pins_by_hand_and_one_rod_undone() -> None:
    assert four_pin_ohm_m(2, 15.9) == pytest.approx(2 * math.pi * 2 * 15.9)
    assert one_rod_ohm_m(2, 0.016, rod_ohm(140, 2, 0.016)) == pytest.approx(140)


def test_near_pins_see_the_upper_and_far_ones_the_lower_layer() -> None:
    near, *_, far = apparent_ohm_m(np.array([0.05, 1, 300]), 100, 1.0, 900)
    assert near == pytest.approx(100, rel=0.01)
    assert far == pytest.approx(900, rel=0.05)


@settings(max_examples=25)
@given(st.floats(20, 800), st.floats(0.7, 4), st.sampled_from([0.15, 0.4, 3.0, 10.0]))
def test_two_layers_come_back_from_their_readings(upper: float, depth: float, ratio: float) -> None:
    lower = min(9e4, upper * ratio)
    shown = apparent_ohm_m(SPACINGS, upper, depth, lower)
    found = sounding([(a, rho / (2 * math.pi * a)) for a, rho in zip(SPACINGS, shown, strict=True)])
    assert found.upper_ohm_m == pytest.approx(upper, rel=0.1)
    assert found.depth_m == pytest.approx(depth, rel=0.25)
    assert found.lower_ohm_m == pytest.approx(lower, rel=0.25)


def test_even_soil_and_few_spacings_are_one_layer() -> None:
    assert sounding([(1, 16), (2, 8), (4, 4)]).depth_m is None
    assert sounding([(1, 16), (4, 2)]).lower_ohm_m is None


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: four_pin_ohm_m(0, 5), "spacing"),
        (lambda: four_pin_ohm_m(2, -1), "ohms"),
        (lambda: four_pin_ohm_m(2, 1e6), "soils lie between"),
        (lambda: one_rod_ohm_m(2, 0.016, 0.001), "soils lie between"),
        (lambda: sounding([]), "at least one"),
    ],
)
def test_pins_that_cannot_be_are_refused(make: object, says: str) -> None:
    with pytest.raises(EarthError, match=says):
        make()  # type: ignore[operator]
