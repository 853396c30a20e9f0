"""The list chosen otherwise: money is the sum of the rows that differ."""

import pytest

from adze.core.advice.parts_otherwise import parts_otherwise, searches_to_pay
from adze.core.advice.ways import conductors_here
from adze.core.build.parts import bill
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.prices import Allowance, OwnPrice, ShedTake
from adze.core.tables.construction import conductors
from adze.core.tables.prices import prices
from tests.conftest import simple_plan


def test_money_is_the_sum_of_what_differs(hallow: Plan) -> None:
    rows = parts_otherwise(hallow)
    assert {row.group for row in rows} == {"Rods of", "Gates with", "Gates of", "Instead"}
    for row in rows:
        assert sum(d.money for d in row.rows) == pytest.approx(row.money, abs=0.02)


def test_copper_rods_cost_more_and_rebar_less() -> None:
    money = {row.words: row.money for row in parts_otherwise(simple_plan())}
    assert money["Copper or copper-clad"] > 0 > money["Rebar, as it comes"]


def test_a_tester_pays_by_whole_searches() -> None:
    assert [searches_to_pay(price) for price in (1.0, 22.5, 23.0, 95.0)] == [1, 1, 2, 5]


def test_spares_are_a_share_and_never_none() -> None:
    plain = simple_plan()
    more = replaced(plain, allowance=Allowance(spares=True))
    now = {x.part or x.label: x.quantity for x in bill(plain).lines}
    then = {x.part or x.label: x.quantity for x in bill(more).lines}
    assert then["end_insulator"] == now["end_insulator"] + 2
    assert then["earth_rod"] == now["earth_rod"] + 1
    assert then["end_post"] == now["end_post"]


def test_the_shed_gives_no_more_than_is_needed() -> None:
    plan = replaced(simple_plan(), from_shed=(ShedTake(part="end_post", quantity=99),))
    (line,) = [x for x in bill(plan).lines if x.part == "end_post"]
    assert (line.from_shed, line.packs, line.cost) == (line.quantity, 0, 0)


def test_own_prices_are_paid_in_what_each_conductor_costs() -> None:
    plan = simple_plan()
    before = {row.key: row.cost for row in conductors_here(plan)}
    label = conductors()["steel_25"].label
    dear = replaced(plan, own_prices=(OwnPrice(part=label, price=500, pack=500),))
    after = {row.key: row.cost for row in conductors_here(dear)}
    assert after["steel_25"] == pytest.approx(before["steel_25"] / 0.14)
    assert after["steel_20"] == before["steel_20"]


def test_a_steel_gate_brings_its_two_braced_posts() -> None:
    gate = {"id": "g", "kind": "gate", "run": "line", "name": "Gate", "at_m": 50, "width_m": 3.6}
    tape = simple_plan(
        runs=[{"id": "line", "name": "Line", "points": [[0, 0], [100, 0]]}], fixtures=[gate], conductor="tape_20",
        post="plastic",
    )  # fmt: skip
    steel = next(row for row in parts_otherwise(tape) if row.words == "steel")
    then = {row.label: row.then - row.now for row in steel.rows}
    known = prices()
    assert then[known["end_post"].label] == 2
    assert then[known["brace_kit"].label] == 2
    assert then[known["steel_gate"].label] == 1
    assert then[known["gate_set"].label] < 0
    assert then[known["gate_insulator"].label] < 0
    assert steel.money == pytest.approx(sum(row.money for row in steel.rows))
