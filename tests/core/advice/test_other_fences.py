"""This fence beside others, and beside what the next kind of stock asks."""

import pytest

from adze.core.advice.other_fences import OWN, fences_beside, next_stock
from adze.core.build.parts import bill
from tests.conftest import simple_plan

COWS = [{"id": "c", "kind": "cow", "schooled": True}]


def test_fences_stand_by_what_a_metre_costs_in_a_year() -> None:
    plan = simple_plan()
    rows = fences_beside(plan)
    assert [row.price_a_year for row in rows] == sorted(row.price_a_year for row in rows)
    own = next(row for row in rows if row.key == OWN)
    assert own.price_per_m == pytest.approx(bill(plan).total / 1600)
    assert own.years == 30
    assert not any(row.key == OWN for row in fences_beside(simple_plan(runs=[])))


def test_goats_after_cows_want_more_strands_and_taller_posts() -> None:
    found = next_stock(simple_plan(stock=COWS, strands=[], post="timber"), "goat")
    assert len(found.then) > len(found.now)
    assert found.post_then_cm > found.post_now_cm
    assert 0 < found.ready < found.redone
    assert found.redone_hours > 0
    assert found.strands > 0


def test_smaller_stock_after_larger_needs_no_new_posts() -> None:
    found = next_stock(simple_plan(stock=[{"id": "d", "kind": "deer"}], strands=[]), "hen")
    assert (found.redone, found.redone_hours) == (0, 0)
    assert "No single set of strands holds" in found.refusal
