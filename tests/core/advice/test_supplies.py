"""What feeds it: the least unit on each supply that is enough, and what a year of it takes."""

import pytest

from adze.core.advice.carried import carried_share, none_of_its_kind
from adze.core.advice.supplies import supply_ways
from adze.core.energizer.supply import draw_a
from adze.core.forecast.compare_units import units_here
from adze.core.plan.catalogue import catalogue
from adze.core.tables.energizers import energizers
from tests.conftest import simple_plan


def test_each_supply_has_its_cheapest_unit_that_is_enough() -> None:
    plan = simple_plan(stock=[{"id": "h", "kind": "cow"}], soil="loam", grass="light", energizer="mains_3")
    here = units_here(plan, catalogue(plan).values())
    rows = supply_ways(plan, here)
    for way in rows:
        enough = [r.unit.price for r in here if r.unit.supply == way.supply and r.margin >= 1]
        assert way.enough == bool(enough)
        if enough:
            assert way.unit.price == min(enough)
    assert [way.enough for way in rows] == sorted((way.enough for way in rows), reverse=True)
    money = [way.money for way in rows if way.enough]
    assert money == sorted(money)


def test_a_battery_is_changed_as_often_as_its_draw_says() -> None:
    supply = {"battery_ah": 100.0, "deep_cycle": True, "coldest_c": 20.0}
    plan = simple_plan(stock=[{"id": "h", "kind": "cow"}], soil="loam", grass="none", supply=supply)
    (way,) = supply_ways(plan, units_here(plan, [energizers()["battery_1"]]))
    a_year_ah = draw_a(energizers()["battery_1"], plan.supply.rate) * 24 * 365
    assert way.swaps_a_year == pytest.approx(a_year_ah / 50)
    assert way.hours_a_year == pytest.approx(way.swaps_a_year / 2)
    assert way.panel_w is not None


def test_a_site_of_four_metres_that_nothing_holds_is_answered() -> None:
    square = [[0, 0], [3.7, 0], [3.7, 3.7], [0, 3.7], [0, 0]]
    plan = simple_plan(
        runs=[{"id": "a", "name": "A", "points": square}],
        stock=[{"id": "b", "kind": "bear"}],
        soil="dry_sand",
        grass="heavy",
        energizer="battery_025",
    )
    assert none_of_its_kind(plan, units_here(plan, catalogue(plan).values())).startswith("No battery unit")
    assert carried_share(plan, energizers()["battery_025"]) is None
