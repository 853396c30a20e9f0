"""Options of a plan beside each other."""

import pytest

from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.verdict.compare import hours, option, part_rows
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan


def farm(**changes: object) -> Plan:
    return simple_plan(**({"stock": [{"id": "e", "kind": "ewe", "schooled": True}], "strands": []} | changes))


def test_an_option_says_what_its_own_plan_says() -> None:
    plan = farm(energizer="mains_6")
    found, judged = option(plan, judge(plan)), judge(plan)
    assert found.kv == {season: judged.volts[season].worst[1] for season in Season}
    assert found.bill == bill(plan)
    assert found.touch is not None
    assert found.status is judged.status
    bare = option(farm(runs=[]), judge(farm(runs=[])))
    assert (bare.kv, bare.touch, bare.hours) == ({}, None, 0)
    assert "No fence is drawn" in bare.blocked


def test_parts_that_differ_are_told() -> None:
    plans = [farm(), farm(scheme="alternate"), farm(energizer="mains_6")]
    rows = {row.label: row for row in part_rows([option(p, judge(p)) for p in plans])}
    assert rows["Mains 6 J"].quantities == (0, 0, 1)
    assert rows["Mains 6 J"].differs
    assert not rows["Warning sign"].differs
    assert rows["Plain clip for an earth strand"].quantities[1] > 0


def test_twice_the_line_is_about_twice_the_work() -> None:
    long = [{"id": "line1", "name": "L", "points": [[0, 0], [3200, 0]]}]
    once, twice = (hours(bill(p)) for p in (farm(), farm(runs=long)))
    assert once > 8
    assert twice == pytest.approx(2 * once, rel=0.15)
