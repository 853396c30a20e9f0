"""A unit or a lead-out that gives too little is seen to before anybody walks."""

import pytest

from adze.core.log.unit_first import unit_first
from adze.core.plan.catalogue import unit_of
from tests.conftest import simple_plan

SHARE = 0.93


@pytest.mark.parametrize(
    ("unit", "asked"),
    [
        ("battery_1", "Read the battery after an hour of rest"),
        ("mains_3", "Is the socket live"),
        ("solar_06", "Is the panel clean"),
    ],
)
def test_a_weak_unit_stops_the_search_with_what_feeds_it(unit: str, asked: str) -> None:
    plan = simple_plan(energizer=unit)
    own = unit_of(plan)
    assert own
    low = unit_first(plan, 0.35 * own.open_kv, None, SHARE)
    assert low
    assert low.title.startswith("Stop here: without a fence the unit gives")
    assert any(line.startswith(asked) for line in low.checks)
    assert ("battery" in " ".join(low.checks)) is (unit != "mains_3")
    assert low.costs[-1] == (own.label, own.price)
    assert len(low.costs) == (1 if unit == "mains_3" else 2)


def test_a_well_unit_and_lead_out_stop_nothing() -> None:
    plan = simple_plan(energizer="mains_3")
    own = unit_of(plan)
    assert own
    assert unit_first(plan, 0.9 * own.open_kv, 0.86 * own.open_kv, SHARE) is None
    assert unit_first(plan, None, None, SHARE) is None
    assert unit_first(simple_plan(energizer=None), 1.0, 1.0, SHARE) is None


def test_a_lead_out_that_takes_kv_is_named_with_how_much() -> None:
    plan = simple_plan(energizer="mains_3")
    found = unit_first(plan, 8.0, 5.0, SHARE)
    assert found
    assert found.title == "Stop here: the lead-out loses 3.0 kV before the fence begins."
    # Both equally low: it is the unit.
    both = unit_first(plan, 3.0, 2.9, SHARE)
    assert both
    assert "the unit gives 3.0" in both.title
