"""What is due, the round, and where amps are lost."""

from datetime import UTC, date, datetime, timedelta

import pytest

from adze.core.log.between import AmpsRead, between
from adze.core.log.due import Due, due, is_growing, upkeep_of
from adze.core.log.round import stops
from adze.core.plan.document import Plan
from tests.conftest import simple_plan

MAY, DECEMBER = date(2027, 5, 12), date(2027, 12, 12)
NOW = datetime(2027, 5, 12, 9, tzinfo=UTC)


def by_key(plan: Plan, today: date, **done: date) -> dict[str, Due]:
    return {row.upkeep.key: row for row in due(plan, done, today)}


def test_upkeep_follows_what_the_fence_is() -> None:
    mains = {row.key for row in upkeep_of(simple_plan(energizer="mains_3"))}
    assert not {"battery", "panel", "bottom_off", "gates"} & mains
    own = {
        "energizer": "battery_1",
        "grass": "moderate",
        "bottom_off": True,
        "strands": [{"cm": 20}, {"cm": 60}, {"cm": 100}],
    }
    field = {row.key for row in upkeep_of(simple_plan(**own))}
    assert {"battery", "bottom_off", "trim"} <= field
    assert upkeep_of(simple_plan(runs=[])) == ()


def test_a_battery_is_swapped_when_it_has_given_what_it_may() -> None:
    small = simple_plan(energizer="battery_1", supply={"battery_ah": 20})
    large = simple_plan(energizer="battery_1", supply={"battery_ah": 200})
    days = [next(row.every_days for row in upkeep_of(p) if row.key == "battery") for p in (small, large)]
    assert 1 <= days[0] < days[1] <= 30


def test_what_was_done_falls_due_again_and_what_never_was_is_due_now() -> None:
    plan = simple_plan()
    rows = by_key(plan, MAY, kv=MAY - timedelta(days=14), clamps=MAY - timedelta(days=100))
    assert rows["kv"].late_days == 4
    assert rows["clamps"].late_days == 100 - 365
    assert (rows["insulators"].late_days, rows["insulators"].last) == (0, None)
    assert [row.late_days for row in due(plan, {}, MAY)] == [0] * len(due(plan, {}, MAY))


def test_grass_is_cut_while_it_grows_on_either_side_of_the_equator() -> None:
    north = simple_plan(grass="moderate")
    south = simple_plan(grass="moderate", origin={"lat": -40, "lon": 170})
    assert "trim" in by_key(north, MAY)
    assert "trim" not in by_key(north, DECEMBER)
    assert "trim" in by_key(south, DECEMBER)
    assert [is_growing(north, date(2027, month, 1)) for month in (3, 4, 10, 11)] == [False, True, True, False]
    assert [is_growing(south, date(2027, month, 1)) for month in (9, 10, 4, 5)] == [False, True, True, False]


def test_after_a_storm_the_lines_under_trees_are_walked_once() -> None:
    tree = {"id": "t", "kind": "tree", "name": "Ash", "points": [[100, 5]]}
    plan = simple_plan(landmarks=[tree])
    assert "storm" not in by_key(plan, MAY)
    walk = {row.upkeep.key: row for row in due(plan, {}, MAY, storm=MAY - timedelta(days=3))}["storm"]
    assert (walk.late_days, walk.upkeep.where) == (1, "First line")
    done = due(plan, {"storm": MAY - timedelta(days=2)}, MAY, storm=MAY - timedelta(days=3))
    assert "storm" not in {row.upkeep.key for row in done}


def test_heavy_growth_is_cut_twice_as_often_and_a_tree_farther_off_is_no_matter() -> None:
    days = {
        grass: next(row.every_days for row in upkeep_of(simple_plan(grass=grass)) if row.key == "trim")
        for grass in ("moderate", "heavy")
    }
    assert days == {"moderate": 45, "heavy": 21}
    tree = {"id": "t", "kind": "tree", "name": "Ash", "points": [[100, 17]]}
    plan = simple_plan(landmarks=[tree])
    walk = {row.upkeep.key: row for row in due(plan, {}, MAY, storm=MAY)}["storm"]
    assert "no line stands under trees" in walk.upkeep.where


def test_a_round_begins_at_the_unit_and_goes_on_to_what_is_nearest() -> None:
    points = [{"id": f"p{m}", "kind": "test", "run": "line1", "at_m": m, "name": f"At {m}"} for m in (900, 300)]
    names = [stop.name for stop in stops(simple_plan(fixtures=points))]
    assert names[:3] == ["Unit alone, fence lead off", "End of the lead-out, fence off", "Rods, fence loaded"]
    assert names[3:] == ["At 300", "At 900", "End of First line"]


def read(at_m: float, amps: float, forecast: float, hours: float = 0, run: str = "a") -> AmpsRead:
    return AmpsRead(run, at_m, amps, forecast, NOW - timedelta(hours=hours))


def test_it_lies_between_many_amps_and_few() -> None:
    """25 A outward at 200 m and 6 A at 450 m, where the forecast lets 2 A go between: 17 A are lost there."""
    (found,) = between([read(450, 6, 8), read(200, 25, 10)])
    assert (found.from_m, found.to_m, found.lost_a) == (200, 450, 17.0)


@pytest.mark.parametrize("amps", [(8.0, 4.9), (40.0, 29.0)])
def test_just_more_than_the_least_names_the_stretch(amps: tuple[float, float]) -> None:
    near, far = amps
    assert len(between([read(200, near, near), read(450, far, near)])) == 1


@pytest.mark.parametrize(
    "rows",
    [
        [read(200, 10, 10), read(450, 8, 8)],
        [read(200, 10, 10), read(450, 8.5, 9.5)],
        [read(200, 25, 10, hours=40), read(450, 6, 8)],
        [read(200, 25, 10), read(450, 6, 8, run="b")],
        [read(200, 25, 10)],
        [read(200, 8, 8), read(450, 5, 8)],
        [read(200, 40, 40), read(450, 30, 40)],
    ],
)
def test_what_the_forecast_lets_go_or_another_day_says_nothing(rows: list[AmpsRead]) -> None:
    assert between(rows) == ()
