"""The line as it lies: joins, crossings, what hangs on what."""

import pytest

from adze.core import ground
from adze.core.ground import Place
from adze.core.plan import Plan
from tests.conftest import simple_plan


def runs(*rows: list[list[float]], **changes: object) -> Plan:
    named = [{"id": f"r{i}", "name": f"Line {i}", "points": points} for i, points in enumerate(rows)]
    return simple_plan(runs=named, **changes)


def test_an_end_on_another_line_is_joined_there() -> None:
    plan = runs([[0, 0], [100, 0]], [[40, 0.3], [40, 80]])
    (join,) = ground.joins(plan)
    assert join.onto == Place("r0", pytest.approx(40))
    assert ground.fed_runs(plan) == {"r0", "r1"}


def test_a_ring_closes_on_its_own_start() -> None:
    plan = runs([[0, 0], [100, 0], [100, 100], [0, 0]])
    assert [(j.at_m > 0, j.onto) for j in ground.joins(plan)] == [(True, Place("r0", 0.0))]
    assert ground.crossings(plan) == ()


def test_crossing_without_a_join_is_found_and_not_fed() -> None:
    plan = runs([[0, 0], [100, 0]], [[50, -40], [50, 40]])
    (crossing,) = ground.crossings(plan)
    assert crossing.point == pytest.approx((50, 0))
    assert ground.fed_runs(plan) == {"r0"}
    assert ground.nearest_gap(plan, plan.runs[1])[1] == pytest.approx(40)


def test_a_line_that_crosses_itself_is_found() -> None:
    assert ground.crossings(runs([[0, 0], [100, 100], [100, 0], [0, 100]]))[0].first == "r0"


def test_the_lead_out_goes_to_the_nearest_place() -> None:
    found = ground.feed(runs([[0, 0], [100, 0]], energizer_at=[30, -12]))
    assert found is not None
    assert found.place == Place("r0", pytest.approx(30))
    assert found.lead_m == pytest.approx(12)


def test_without_a_place_for_the_energizer_a_lead_is_assumed() -> None:
    found = ground.feed(runs([[0, 0], [100, 0]], energizer_at=None))
    assert found is not None
    assert found.lead_m == 20


def test_distances_points_and_turns() -> None:
    (run,) = runs([[0, 0], [30, 40], [30, 100]]).runs
    assert ground.length_m(run) == 110
    assert ground.distances_m(run).tolist() == [0, 50, 110]
    ((at, degrees),) = ground.turns(run)
    assert at == 50
    assert degrees == pytest.approx(36.87, abs=0.01)
