"""A reading against the band of its day: inside, below by little and by much, above."""

import numpy as np
import pytest

from adze.core.basics.status import Status
from adze.core.log.level import METER_KV, METER_SHARE
from adze.core.log.reading_judgement import (
    NINE_IN_TEN,
    Expected,
    expected_earth_rise,
    judge_earth,
    judge_live,
    with_tester,
)

BAND = Expected(4.0, 5.0, 6.0)


@pytest.mark.parametrize(
    ("kv", "status", "says"),
    [
        (5.0, Status.HOLDS, "It agrees with the forecast"),
        (3.3, Status.MARGINAL, "0.7 kV below the forecast"),  # 0.75 kV, 15 % of the likely 5.0, is the limit
        (3.2, Status.FAILS, "0.8 kV below the forecast"),
        (6.5, Status.HOLDS, "0.5 kV above the forecast"),
    ],
)
def test_a_live_strand_is_judged_by_how_far_it_lies_off_its_band(kv: float, status: Status, says: str) -> None:
    found = judge_live(kv, BAND, is_over=False, wanted_kv=None)
    assert found.status is status
    assert found.says.startswith(says)


def test_an_earth_strand_may_rise_to_twice_its_forecast_and_by_what_a_tester_cannot_show() -> None:
    assert expected_earth_rise(1.0).high == 2.0
    assert expected_earth_rise(0.1).high == pytest.approx(0.4)
    assert judge_earth(2.0, expected_earth_rise(1.0)).status is Status.HOLDS
    assert judge_earth(2.1, expected_earth_rise(1.0)).status is Status.FAILS


@pytest.mark.parametrize(("likely", "share"), [(0.8, 0.02), (3.0, 0.05), (8.0, 0.0), (8.0, 0.15)])
def test_nine_good_readings_in_ten_lie_in_the_band(likely: float, share: float) -> None:
    draw = np.random.default_rng(5)
    fence = likely * (1 + share / NINE_IN_TEN * draw.standard_normal(4000))
    read = fence * (1 + METER_SHARE * draw.standard_normal(4000)) + METER_KV * draw.standard_normal(4000)
    band = with_tester(likely * (1 - share), likely, likely * (1 + share))
    inside = np.mean((read >= band.low) & (read <= band.high))
    assert inside == pytest.approx(0.9, abs=0.02)
