"""What the tester shows on a farm with hidden faults is what the search expects of the healthy one."""

from dataclasses import replace

import pytest

from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.practice.simulated_farm import Truth, simulated_farm
from adze.core.trace.plan_farm import farm_of
from adze.core.trace.search import begin


@pytest.mark.parametrize("response_us", [0.0, 5.0])
def test_the_tester_follows_as_the_search_expects(hallow: Plan, response_us: float) -> None:
    farm = replace(farm_of(hallow, Season.USUAL), response_s=1e-6 * response_us)
    base, there = begin(farm).suspects.base, simulated_farm(farm, [], Truth(), 1)
    grid = base.grid
    for place in range(0, len(grid.spots), 20):
        leg = grid.legs[place][0]
        kv, _ = there.true_reading(grid.at(place, leg), leg)
        expected = base.reads(base.volts_at(place), base.healthy) * base.follow
        assert kv == pytest.approx(abs(float(base.peaks(expected[None])[0])), rel=0.01)


def test_a_slower_tester_shows_less(hallow: Plan) -> None:
    shown = []
    for response_s in (0.0, 5e-6, 20e-6):
        there = simulated_farm(
            replace(farm_of(hallow, Season.USUAL), response_s=response_s, kv_scale=1.0), [], Truth(), 1
        )
        shown.append((there.true_reading(there.here, there.here.span)[0], there.true_rods_kv()))
    assert [kv for kv, _ in shown] == sorted((kv for kv, _ in shown), reverse=True)
    assert [kv for _, kv in shown] == sorted((kv for _, kv in shown), reverse=True)
