"""Strands of a line joined at one end, at both, or not."""

import numpy as np
import pytest

from adze.core.forecast.strand_joins import Cut, StrandJoins, strand_joins
from adze.core.forecast.volts import volts
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from tests.conftest import simple_plan

FIVE = [{"cm": cm, "role": "live"} for cm in (25, 45, 65, 85, 110)]
USUAL = Weather(Season.USUAL)


def plan(**changes: object) -> Plan:
    return simple_plan(**({"strands": FIVE, "energizer": "mains_6", "grass": "moderate"} | changes))


@pytest.fixture(scope="module")
def joins() -> StrandJoins:
    return strand_joins(plan(), "line1", None, USUAL)


def test_joined_at_both_ends_is_what_the_forecast_says(joins: StrandJoins) -> None:
    forecast = float(volts(plan(), USUAL).traces[0].live_kv[-1])
    both = joins.way("both").whole_kv
    assert both == pytest.approx(forecast, rel=0.01)
    assert np.ptp(both) < 0.01 * forecast


def test_a_strand_in_the_grass_is_low_where_only_one_end_is_joined(joins: StrandJoins) -> None:
    near, both = joins.way("near").whole_kv, joins.way("both").whole_kv
    assert near[0] < 0.95 * both[0]
    assert near[1:].min() > both[0]


def test_past_a_cut_the_far_join_feeds_backward(joins: StrandJoins) -> None:
    near, both = joins.way("near"), joins.way("both")
    assert near.cut_kv[0] < 0.3 * near.whole_kv[0]
    assert both.cut_kv[0] == pytest.approx(both.whole_kv[0], rel=0.02)
    # What hangs on the strand no more leaks no more: the others rise.
    assert (near.cut_kv[1:] > near.whole_kv[1:]).all()


def test_strands_joined_to_nothing_hold_but_what_couples_over(joins: StrandJoins) -> None:
    none = joins.way("none").whole_kv
    assert none[-1] > joins.way("near").whole_kv[-1]
    assert (np.diff(none) > 0).all()
    assert none[-2] < 0.4 * none[-1]


def test_another_strand_cut_elsewhere() -> None:
    found = strand_joins(plan(), "line1", Cut(3, 1200.0), USUAL)
    assert int(np.argmin(found.way("near").cut_kv / found.way("near").whole_kv)) == 3
    assert found.end.at_m == pytest.approx(1600)


def test_earth_strands_stay_one_group_between() -> None:
    rows = [{"cm": 30, "role": "live"}, {"cm": 55, "role": "earth"}, {"cm": 80, "role": "live"}]
    found = strand_joins(plan(strands=rows), "line1", None, USUAL)
    assert found.heights_cm == (30, 80)
    assert found.way("both").whole_kv == pytest.approx(
        float(volts(plan(strands=rows), USUAL).traces[0].live_kv[-1]), rel=0.01
    )


@pytest.mark.parametrize(
    ("changes", "cut", "words"),
    [
        ({"strands": [{"cm": 90}]}, None, "one live strand"),
        ({"netting": "sheep_90", "strands": []}, None, "one piece"),
        ({}, Cut(5, 10.0), "has 5 live strands"),
        ({"energizer": None}, None, "energizer"),
    ],
)
def test_what_cannot_be_said_says_why(changes: dict[str, object], cut: Cut | None, words: str) -> None:
    with pytest.raises(Incomplete, match=words):
        strand_joins(plan(**changes), "line1", cut, USUAL)
