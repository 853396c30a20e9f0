"""What mends a finding is judged over the whole plan, and no finding is left without an answer."""

import random
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.advice.plan_changes import apply_remedy
from adze.core.animals.practice import a_head_apart
from adze.core.animals.strand_rules import MOST_STRANDS, Duty, Role
from adze.core.basics.status import Status
from adze.core.build.parts import bill
from adze.core.design.fixes import answer, open_findings, tries
from adze.core.design.mend import mend_everything
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animal_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.judge import judge, worsened
from adze.core.verdict.wired.layout import TRACE_TITLE
from tests.conftest import simple_plan

COWS = [{"id": "c", "kind": "cow", "count": 10, "schooled": True}]


def random_plan(seed: int) -> Plan:
    """A plan with several things wrong in it."""
    chance = random.Random(seed)
    kinds = chance.sample(["cow", "ewe", "goat", "horse", "sow", "fox", "deer"], chance.choice([1, 1, 2]))
    side = chance.choice([80, 200])
    document: dict[str, Any] = {
        "stock": [{"id": k, "kind": k, "count": 8, "schooled": chance.random() < 0.7} for k in kinds],
        "runs": [{"id": "line1", "name": "Ring", "points": [[0, 0], [side, 0], [side, side], [0, side], [0, 0]]}],
        "energizer": chance.choice(["battery_1", "mains_1", "mains_3", "mains_6"]),
        "energizer_at": [-6, -4],
        "soil": chance.choice(["loam", "sandy_loam", "clay_loam"]),
        "grass": chance.choice(["none", "light", "moderate"]),
        "conductor": chance.choice(["steel_25", "poly_mixed", "aluminium_16"]),
        "post_spacing_m": chance.choice([4, 6, 12]),
        "rods": {
            "count": chance.choice([1, 3, 6]),
            "position": [-20, -15],
            "lead": chance.choice(["cable", "household"]),
            "clamp": chance.choice(["bolt", "none"]),
        },
        "strands": chance.choice([[], [{"cm": 40}, {"cm": 80}], [{"cm": 90}]]),
        "supply": {"surge": chance.random() < 0.5, "battery_ah": chance.choice([20, 90])},
        "fixtures": [],
    }
    return simple_plan(**document)


@settings(max_examples=6)
@given(st.integers(0, 10_000))
def test_every_finding_has_a_fix_or_says_why_there_is_none(seed: int) -> None:
    plan = random_plan(seed)
    judged = judge(plan)
    for finding in open_findings(judged)[:3]:
        found = answer(plan, judged, finding)
        assert found.best or found.why_none, finding.title
        for fix in found.fixes:
            after = judge(apply_remedy(plan, fix.key))
            assert after.verdicts.keys() == judged.verdicts.keys()
            assert fix.money == pytest.approx(bill(fix.plan).total - bill(plan).total, abs=0.02)
            if fix.is_enough:
                assert not worsened(judged, after)


@pytest.mark.parametrize("seed", range(4))
def test_what_fails_is_mended_and_nothing_gets_worse(seed: int) -> None:
    plan = random_plan(seed)
    before, found = judge(plan), mend_everything(plan)
    assert len(found.judgement.to_fix) <= len(before.to_fix)
    assert all(row.why_none for row in found.fails)
    assert found.money == pytest.approx(bill(found.plan).total - bill(plan).total, abs=0.1)
    again = plan
    for _, fix in found.done:
        again = apply_remedy(again, fix.key)
    assert again == found.plan


@pytest.mark.slow
def test_nine_plans_of_ten_are_left_without_anything_that_fails() -> None:
    failing = [plan for plan in map(random_plan, range(140)) if judge(plan).status is Status.FAILS][:100]
    left = [row.why_none for plan in failing if (row := next(iter(mend_everything(plan).fails), None))]
    assert len(left) <= len(failing) // 10, left


def test_rods_are_offered_up_to_the_first_count_that_passes() -> None:
    plan = simple_plan(stock=COWS, energizer="mains_3", rods={"count": 2}, soil="loam")
    judged = judge(plan)
    test = next(f for f in open_findings(judged) if f.title.startswith("Earth test, driest"))
    best = answer(plan, judged, test).best
    assert best
    assert "rod" in best.title
    passes = next(f for f in best.judgement.verdicts[Stage.EARTH].findings if f.title == test.title)
    assert passes.status is Status.HOLDS


def test_a_ring_that_is_too_long_gets_as_many_switches_as_it_takes() -> None:
    ring = [{"id": "line1", "name": "Ring", "points": [[0, 0], [500, 0], [500, 500], [0, 500], [0, 0]]}]
    plan = simple_plan(stock=COWS, runs=ring, fixtures=[])
    judged = judge(plan)
    finding = next(f for f in open_findings(judged) if f.title == TRACE_TITLE)
    best = answer(plan, judged, finding).best
    assert best
    assert sum(f.kind == "switch" for f in best.plan.fixtures) >= 2


def test_the_line_that_falls_short_alone_is_built_otherwise() -> None:
    runs = [
        {"id": "line1", "name": "Long", "points": [[0, 0], [800, 0]]},
        {"id": "bank", "name": "Dry bank", "points": [[800, 0], [900, 0]], "soil": "dry_sand"},
    ]
    plan = simple_plan(stock=COWS, runs=runs, energizer="mains_6", soil="clay_loam", rods={"count": 6})
    judged = judge(plan)
    finding = next(f for f in open_findings(judged) if f.animal and f.place and f.place.run == "bank")
    titles = [one.title for one in tries(plan, finding)]
    assert any("Dry bank alone" in title for title in titles)
    alone = [fix for fix in answer(plan, judged, finding).fixes if "Dry bank alone" in fix.title and fix.is_enough]
    assert alone
    assert [fence.name for fence in alone[0].plan.fences] == ["Dry bank"]
    assert alone[0].plan.runs[0] == plan.runs[0]


@pytest.mark.parametrize("key", ["ewe", "cow", "goat"])
def test_strands_a_head_apart_alternate_and_keep_their_order(key: str) -> None:
    animal = animal_of(animal_kinds()[key], schooled=True, fleece_cm=0.0)
    strands = a_head_apart((animal,), Duty.HOLD)
    assert [s.role for s in strands[:2]] == [Role.LIVE, Role.EARTH]
    assert len(strands) <= MOST_STRANDS
    heights = [s.cm for s in strands]
    assert heights == sorted(set(heights))
