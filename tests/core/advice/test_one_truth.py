"""What holds is one thing on every page: Power, Earth, Volts, the units' table, remedies, options, the search."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.advice.carried import carried_share, none_of_its_kind
from adze.core.advice.earth_here import EarthHere
from adze.core.advice.earth_options import options
from adze.core.advice.plan_changes import apply_remedy
from adze.core.advice.search import Wishes, left_open, search
from adze.core.basics.status import Status
from adze.core.forecast.compare_units import units_here
from adze.core.plan.catalogue import catalogue, unit_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.tables.energizers import energizers
from adze.core.tables.ground import soils
from adze.core.verdict.findings import Cause
from adze.core.verdict.judge import judge, worsened
from tests.conftest import simple_plan
from tests.core.volts_fixes import volts_fixes

STRANDS = (
    [{"cm": 60}, {"cm": 100}],
    [{"cm": x} for x in (25, 50, 75, 100)],
    [{"cm": 25, "role": "earth"}, {"cm": 50}, {"cm": 75, "role": "earth"}, {"cm": 100}],
)
HERDS = (
    [{"id": "h", "kind": "cow"}],
    [{"id": "h", "kind": "ewe", "count": 20}],
    [{"id": "h", "kind": "horse", "schooled": True}],
)


@st.composite
def plans(draw: st.DrawFn) -> Plan:
    length_m = draw(st.floats(80, 3000))
    return simple_plan(
        runs=[{"id": "line1", "name": "L", "points": [[0, 0], [length_m, 0]]}],
        strands=draw(st.sampled_from(STRANDS)),
        stock=draw(st.sampled_from(HERDS)),
        soil=draw(st.sampled_from(sorted(soils()))),
        grass=draw(st.sampled_from(["none", "light", "moderate", "heavy"])),
        energizer=draw(st.sampled_from(sorted(energizers()))),
        rods={"count": draw(st.integers(1, 8)), "position": (0, 30)},
        fixtures=[{"id": "d", "kind": "diverter", "run": "line1", "at_m": 5, "name": "D"}],
    )


def agree(plan: Plan) -> None:
    """No stage holds what another fails, and the table of units says of the plan's own what the stages say."""
    verdicts = judge(plan).verdicts
    volts, earth, power = (verdicts[stage] for stage in (Stage.VOLTS, Stage.EARTH, Stage.POWER))
    if volts.status is Status.FAILS:
        assert power.status is Status.FAILS
    (own,) = units_here(plan, [catalogue(plan)[plan.energizer or ""]])
    assert (own.margin >= 1) == (volts.status is Status.HOLDS)
    tests = [f for f in earth.findings if f.title.startswith("Earth test, driest")]
    assert (own.test_margin >= 1) == (tests[0].status is Status.HOLDS)
    assert (own.rods is not None and own.rods <= plan.rods.count) == (own.margin >= 1 and own.test_margin >= 1)
    before = judge(plan)
    for fix in volts_fixes(plan):
        if fix.is_enough:
            deciding = verdicts[Stage.VOLTS].worst
            after = judge(apply_remedy(plan, fix.key))
            same = [f for f in after.verdicts[Stage.VOLTS].findings if deciding and f.title == deciding.title]
            assert all(f.status is Status.HOLDS for f in same), fix.title
            assert not worsened(before, after), fix.title
        elif fix.status is Status.HOLDS:
            assert fix.worse


@settings(max_examples=25)
@given(plans())
def test_no_stage_holds_what_another_fails(plan: Plan) -> None:
    agree(plan)


@pytest.mark.slow
@settings(max_examples=300)
@given(plans())
def test_no_stage_holds_what_another_fails_on_300_plans(plan: Plan) -> None:
    agree(plan)


def test_what_the_search_offers_is_judged_by_all_stages() -> None:
    plan = simple_plan(stock=HERDS[0], soil="loam", grass="moderate", energizer="battery_025", rods={"count": 3})
    *_, last = search(plan, Wishes(keep_lines=True, keep_conductor=True))
    best = last.best[0]
    assert best.holds
    left = dict(left_open(plan, best.choice))
    assert all(left.get(stage) is not Status.FAILS for stage in (Stage.VOLTS, Stage.EARTH, Stage.POWER))


def test_an_own_unit_without_a_price_is_never_the_cheapest() -> None:
    own: dict[str, Any] = {"key": "shed", "label": "Shed", "stored_j": 22, "released_j": 15, "open_kv": 9.5}
    plan = simple_plan(stock=HERDS[0], own_energizers=[own | {"kv_500": 8.2}], energizer="mains_1")
    *_, last = search(plan, Wishes(keep_lines=True, keep_conductor=True, keep_strands=True))
    assert all(design.choice.energizer != "shed" for design in last.front)


def test_a_short_is_named_and_mended_first() -> None:
    plan = simple_plan(
        stock=HERDS[0],
        soil="loam",
        energizer="mains_3",
        what_ifs=[{"id": "w", "kind": "post", "run": "line1", "at_m": 700}],
    )
    verdict = judge(plan).verdicts[Stage.VOLTS]
    assert verdict.worst is not None
    assert verdict.worst.cause is Cause.MISHAP
    assert "The faults you set take" in verdict.worst.reason
    first = volts_fixes(plan)[0]
    assert first.title == "Mend the faults you set"
    assert not apply_remedy(plan, first.key).what_ifs


def test_grass_is_named_where_it_takes_most_and_cutting_leads_what_only_helps() -> None:
    plan = simple_plan(stock=HERDS[0], soil="loam", grass="heavy", energizer="battery_025", strands=STRANDS[1])
    worst = judge(plan).verdicts[Stage.VOLTS].worst
    assert worst is not None
    assert worst.cause is Cause.GROWTH
    assert "% of the" in worst.reason
    rows = volts_fixes(plan)
    short = [row for row in rows if not row.is_enough]
    assert short
    assert short[0].answers_cause
    enough = [row for row in rows if row.is_enough]
    assert [row.worth for row in enough] == sorted(row.worth for row in enough)


def test_where_no_unit_of_its_kind_can_do_it_that_is_said_with_what_would() -> None:
    plan = simple_plan(stock=HERDS[0], soil="loam", grass="heavy", energizer="solar_06", strands=STRANDS[1])
    said = none_of_its_kind(plan, units_here(plan, catalogue(plan).values()))
    assert said.startswith("No solar unit is enough here")
    assert "less fence, about" in said
    unit = unit_of(plan)
    assert unit is not None
    share = carried_share(plan, unit)
    assert share is not None
    assert 0.05 <= share < 1
    enough = changed(plan, {"energizer": "mains_25", "grass": "none"})
    assert none_of_its_kind(enough, units_here(enough, catalogue(enough).values())) == ""


def test_earth_options_change_something_and_stand_in_order() -> None:
    plan = simple_plan(soil="sandy_loam", energizer="mains_6", rods={"count": 2, "position": (0, 40)})
    rows = options(plan, EarthHere(plan))
    assert rows[0].key == "as-is"
    assert all(row.test_kv < rows[0].test_kv or row.fence.margin > rows[0].fence.margin for row in rows[1:])
    enough = [row.is_enough for row in rows[1:]]
    assert enough == sorted(enough, reverse=True)


@pytest.mark.parametrize("soil", ["loam", "sandy_loam", "dry_sand"])
def test_the_fewest_rods_pass_their_test_and_one_less_does_not(soil: str) -> None:
    plan = simple_plan(soil=soil, energizer="mains_6", rods={"count": 3, "position": (0, 40)})
    here = EarthHere(plan)
    count = here.fewest()
    if count is None:
        assert all("kV)" in way for way in here.instead())
        return
    for rods, passes in ((count, True), (count - 1, False)):
        if rods:
            own = judge(changed(plan, {"rods": plan.rods.model_dump() | {"count": rods}})).verdicts[Stage.EARTH]
            test = next(f for f in own.findings if f.title.startswith("Earth test, driest"))
            assert (test.status is Status.HOLDS) is passes
