"""A reading against the band of its day: inside, below by little and by much, above."""

import pytest

from adze.core.basics.status import Status
from adze.core.log.reading_judgement import Expected, expected_earth_rise, judge_earth, judge_live

BAND = Expected(4.0, 5.0, 6.0)


@pytest.mark.parametrize(
    ("kv", "status", "says"),
    [
        (5.0, Status.HOLDS, "Within the forecast"),
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
