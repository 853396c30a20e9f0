"""The line as it lies: joins, crossings, what hangs on what."""

import pytest

from adze.core.ground.feed import feed, nearest_gap
from adze.core.ground.lines import distances_m, length_m, point_at, shape_of, turns
from adze.core.ground.places import Place
from adze.core.ground.survey import crossings, joins, survey
from adze.core.ground.zones import zones
from adze.core.plan.document import Plan
from tests.conftest import simple_plan


def runs(*rows: list[list[float]], **changes: object) -> Plan:
    named = [{"id": f"r{i}", "name": f"Line {i}", "points": points} for i, points in enumerate(rows)]
    return simple_plan(runs=named, **changes)


def unfed(plan: Plan) -> set[str]:
    found = zones(plan)
    assert found is not None
    return {stretch.run for stretch in found.dead}


def test_an_end_on_another_line_is_joined_there() -> None:
    plan = runs([[0, 0], [100, 0]], [[40, 0.3], [40, 80]])
    (join,) = joins(plan)
    assert join.onto == Place("r0", pytest.approx(40))
    assert unfed(plan) == set()


def test_a_ring_closes_on_its_own_start() -> None:
    plan = runs([[0, 0], [100, 0], [100, 100], [0, 0]])
    assert [(j.at_m > 0, j.onto) for j in joins(plan)] == [(True, Place("r0", 0.0))]
    assert crossings(plan) == ()


def test_crossing_without_a_join_is_found_and_not_fed() -> None:
    plan = runs([[0, 0], [100, 0]], [[50, -40], [50, 40]])
    (crossing,) = crossings(plan)
    assert crossing.point == pytest.approx((50, 0))
    assert unfed(plan) == {"r1"}
    assert nearest_gap(plan, plan.runs[1])[1] == pytest.approx(40)


def test_a_line_that_crosses_itself_is_found() -> None:
    (crossing,) = crossings(runs([[0, 0], [100, 100], [100, 0], [0, 100]]))
    assert crossing.point == pytest.approx((50, 50))
    assert crossing.first == Place("r0", pytest.approx(50 * 2**0.5))
    assert crossing.second.at_m > 200


def test_the_lead_out_goes_to_the_nearest_place() -> None:
    found = feed(runs([[0, 0], [100, 0]], energizer_at=[30, -12]))
    assert found is not None
    assert found.place == Place("r0", pytest.approx(30))
    assert found.lead_m == pytest.approx(12)


def test_without_a_place_for_the_energizer_a_lead_is_assumed() -> None:
    found = feed(runs([[0, 0], [100, 0]], energizer_at=None))
    assert found is not None
    assert found.lead_m == 20


def test_distances_points_and_turns() -> None:
    (run,) = runs([[0, 0], [30, 40], [30, 100]]).runs
    assert length_m(run) == 110
    assert distances_m(run).tolist() == [0, 50, 110]
    ((at, degrees),) = turns(run)
    assert at == 50
    assert degrees == pytest.approx(36.87, abs=0.01)


def said(joined: bool, at: list[float]) -> dict[str, object]:
    return {"id": "m", "first": "r0", "second": "r1", "at": at, "joined": joined}


def test_the_plan_says_whether_a_crossing_joins() -> None:
    cross = [[0, 0], [100, 0]], [[50, -40], [50, 40]]
    joined = runs(*cross, meetings=[said(True, [52, 1])])
    assert [(c.joined, c.said) for c in crossings(joined)] == [(True, True)]
    assert unfed(joined) == set()
    apart = runs(*cross, meetings=[said(False, [50, 0])])
    assert [(c.joined, c.said) for c in crossings(apart)] == [(False, True)]
    assert unfed(apart) == {"r1"}


def test_what_is_said_of_a_spot_far_away_does_not_count() -> None:
    plan = runs([[0, 0], [200, 0]], [[50, -40], [50, 40]], meetings=[said(True, [120, 0])])
    assert not crossings(plan)[0].said


def test_an_end_can_touch_a_line_without_a_join() -> None:
    plan = runs([[0, 0], [100, 0]], [[40, 0], [40, 80]], meetings=[said(False, [40, 0])])
    assert joins(plan) == ()
    assert len(survey(plan).apart) == 1
    assert unfed(plan) == {"r1"}


def test_a_loop_on_a_stem_joins_itself() -> None:
    plan = runs([[0, 0], [100, 0], [100, 60], [50, 60], [50, 0.2]])
    (join,) = joins(plan)
    assert join.onto == Place("r0", pytest.approx(50))
    assert crossings(plan) == ()


def test_points_and_shapes() -> None:
    (run,) = runs([[0, 0], [30, 40]]).runs
    assert point_at(run, 25) == pytest.approx((15, 20))
    assert point_at(run, 900) == pytest.approx((30, 40))
    corners = [[0, 0], [10, 0], [10, 10], [0, 10]]
    plan = simple_plan(
        landmarks=[
            {"id": "a", "kind": "building", "points": corners},
            {"id": "b", "kind": "pipe", "points": corners},
            {"id": "c", "kind": "well", "points": [[3, 4]]},
        ]
    )
    area, line, point = (shape_of(m) for m in plan.landmarks)
    assert (area.area, line.length, point.length) == (100, 30, 0)
