"""Verdicts, mends, parts and routes of plans."""

import math

import pytest

from adze.core.advice.plan_changes import apply_remedy
from adze.core.advice.schools import power_schools
from adze.core.basics.status import Status, against
from adze.core.build.count import count, sign_count
from adze.core.build.gateways import core_m
from adze.core.build.parts import bill
from adze.core.ground.routes import heights_along, marks_along, routes
from adze.core.ground.wiring import cable_m
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Stage
from adze.core.tables.energizers import energizers
from adze.core.verdict.findings import Finding, Verdict, without_repeats
from adze.core.verdict.judge import judge
from adze.core.verdict.judge_fence import lost_without_bottom
from tests.conftest import simple_plan
from tests.core.volts_fixes import volts_fixes

EWES = [{"id": "e", "kind": "ewe", "count": 50, "schooled": True, "woolled": True}]


def test_the_demo_fails_on_its_sand_and_says_so(hallow: Plan) -> None:
    judged = judge(hallow)
    worst = judged.worst
    assert worst is not None
    assert (judged.status, worst.stage, worst.season) == (Status.FAILS, Stage.VOLTS, Season.DRY)
    assert worst.where.startswith("Sea bank")
    assert "The ground is the problem" in worst.reason


def test_a_clean_line_for_schooled_cows_holds() -> None:
    judged = judge(
        simple_plan(
            stock=[{"id": "c", "kind": "cow", "schooled": True}],
            strands=[],
            duty="inner",
            energizer="mains_6",
            soil="wet_clay",
        )
    )
    assert judged.verdicts[Stage.VOLTS].status is Status.HOLDS
    assert judged.verdicts[Stage.STRANDS].status is Status.HOLDS


@pytest.mark.parametrize(
    ("changes", "stage", "status"),
    [
        ({"stock": []}, Stage.STOCK, Status.UNKNOWN),
        ({"runs": []}, Stage.GROUND, Status.UNKNOWN),
        ({"energizer": None}, Stage.POWER, Status.UNKNOWN),
        ({"rods": {"count": 0}}, Stage.EARTH, Status.FAILS),
        ({"energizer_at": None}, Stage.GROUND, Status.MARGINAL),
        ({"strands": [{"cm": 50, "role": "earth"}]}, Stage.STRANDS, Status.FAILS),
        ({"rods": {"spacing_m": 0.5}}, Stage.EARTH, Status.MARGINAL),
        ({"rods": {"count": 1, "length_m": 0.5}}, Stage.EARTH, Status.FAILS),
    ],
)
def test_each_stage_says_how_it_stands(changes: dict[str, object], stage: Stage, status: Status) -> None:
    judged = judge(simple_plan(**({"stock": EWES} | changes)))
    verdict = judged.verdicts[stage]
    assert verdict.status is status
    assert verdict.unknown or verdict.findings
    if stage is not Stage.STOCK and status is Status.UNKNOWN:
        assert judged.verdicts[Stage.VOLTS].status is Status.UNKNOWN


def test_crossing_and_unconnected_lines_name_each_other() -> None:
    rows = [
        {"id": "a", "name": "Hedge line", "points": [[0, 0], [100, 0]]},
        {"id": "b", "name": "Spur", "points": [[50, -9], [50, 9]]},
    ]
    findings = [f for f in judge(simple_plan(runs=rows)).verdicts[Stage.GROUND].findings if f.title != "Test points"]
    assert {f.title for f in findings} == {"Joined or apart?", "Not fed"}
    assert all("Spur" in f.reason and f.mend for f in findings)


def test_a_fixture_off_the_end_is_named() -> None:
    gate = {"id": "g", "kind": "gate", "run": "line1", "at_m": 1700, "name": "Far gate"}
    found = judge(simple_plan(fixtures=[gate])).verdicts[Stage.GROUND].findings
    (finding,) = [f for f in found if f.title == "Past the end of the line"]
    assert "Far gate" in finding.reason
    mended = apply_remedy(simple_plan(fixtures=[gate]), finding.action.key)
    assert mended.fixtures[0].at_m == 1600


def test_cautions_are_computed_from_the_plan() -> None:
    path = {"id": "p", "kind": "path", "name": "Church way", "points": [[0, 8], [1600, 8]]}
    shed = {"id": "s", "kind": "building", "name": "Shed", "points": [[-5, 0], [5, 0], [5, 5], [-5, 5]]}
    plan = simple_plan(landmarks=[path, shed], rods={"count": 3, "position": [3, -4]}, stock=EWES)
    judged = judge(plan)
    assert any("public path" in c for c in judged.verdicts[Stage.GROUND].cautions)
    assert any(
        "Church way" in f.reason and f.action and f.action.key == "signs:p"
        for f in judged.verdicts[Stage.GROUND].findings
    )
    assert any("Shed" in f.reason for f in judged.verdicts[Stage.EARTH].findings)
    assert sign_count(plan) == 4 + 16 + 1


def test_mends_are_computed_ranked_and_do_what_they_say(hallow: Plan) -> None:
    judged = judge(hallow)
    found = volts_fixes(hallow)
    assert len(found) >= 3
    order = [fix.worth for fix in found if fix.is_enough]
    assert order == sorted(order)
    best = found[0]
    assert best.is_enough
    again = judge(apply_remedy(hallow, best.key))
    finding = judged.verdicts[Stage.VOLTS].worst
    assert finding is not None
    assert finding.season is not None
    assert finding.place is not None
    here = [(place.run, t) for place, t in again.touches[finding.season] if t.animal.kind == finding.animal]
    felt = [t.body_kv for run, t in here if run == finding.place.run]
    assert min(felt) >= finding.limit_kv > finding.value_kv


def test_mends_of_a_weedy_line_cut_or_switch_first() -> None:
    plan = simple_plan(stock=EWES, strands=[], grass="heavy", energizer="mains_3")
    keys = [m.key.split(":")[0] for m in volts_fixes(plan)]
    assert {"grass", "bottom"} & set(keys[:3])


def test_nothing_to_mend_nothing_offered() -> None:
    plan = simple_plan(stock=[{"id": "c", "kind": "cow", "schooled": True}], energizer="mains_6", soil="wet_clay")
    assert volts_fixes(plan) == ()


@pytest.mark.parametrize("key", ["", "rods:x", "magic:1", "energizer:none"])
def test_a_mend_that_is_none_is_refused(key: str, line_plan: Plan) -> None:
    with pytest.raises(ValueError, match=r"not known|there is no|not a number"):
        apply_remedy(line_plan, key)


def test_against_and_verdicts_take_the_worst() -> None:
    assert [against(v, 5.0) for v in (5, 4.6, 4.4)] == [Status.HOLDS, Status.MARGINAL, Status.FAILS]
    findings = tuple(
        Finding(Stage.VOLTS, s, s, "", value_kv=v, limit_kv=5)
        for s, v in ((Status.HOLDS, 6), (Status.FAILS, 4), (Status.FAILS, 1))
    )
    verdict = Verdict(Stage.VOLTS, "", findings)
    assert verdict.status is Status.FAILS
    assert verdict.worst == findings[2]
    assert verdict.ranked[0] == findings[2]


def test_parts_of_a_straight_line_by_hand() -> None:
    plan = simple_plan(
        strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}],
        runs=[{"id": "a", "name": "A", "points": [[0, 0], [120, 0]]}],
    )
    lines = {x.label: x for x in bill(plan).lines}
    assert count(plan).line_posts == 19
    assert lines["Steel T-post"].quantity == 19
    assert lines["Clip on the front of a steel post"].quantity == 38
    assert lines["Plain clip for an earth strand"].quantity == 19
    assert lines["In-line strainer"].quantity == 3
    assert lines["2.5 mm high-tensile steel"].quantity == math.ceil(3 * (120 * 1.05 + 1) + 2 * (0.6 + 0.15))
    assert lines["End or corner post, 2.4 m, 15 cm"].quantity == 2
    assert lines["Clip on the front of a steel post"].packs == 2
    assert bill(plan).total == pytest.approx(sum(x.cost for x in bill(plan).lines))


def test_gates_corners_and_joins_are_counted(hallow: Plan) -> None:
    n = count(hallow)
    assert (n.gates, n.drive_overs) == (5, 1)
    assert (n.ends, n.dips, n.rises) == (12, 4, 10)
    lines = {x.label: x for x in bill(hallow).lines}
    assert {"Under-gate cable", "Cut-out switch", "Surge protector for the socket"} <= set(lines)
    assert lines["Tie-down anchor, screw-in, insulated tie"].quantity == 4
    # Three rods on the bank beside the four at the shed.
    assert lines["Earth rod 2 m × 16 mm, galvanised"].quantity == 7
    # Four gates fed under and one track: widths, down and up to the lowest strand, ends to work with.
    under = [(f, views_by_run(hallow)[f.run]) for f in hallow.fixtures if cable_m(f)]
    assert lines["Under-gate cable"].quantity == pytest.approx(sum(core_m(view, f) for f, view in under), abs=0.1)
    assert 14.4 + 5 * 2.2 < lines["Under-gate cable"].quantity < 14.4 + 5 * 3
    assert bill(simple_plan(runs=[])).lines == ()


def test_routes_run_from_the_energizer_to_every_end(hallow: Plan) -> None:
    ways = {r.name: r for r in routes(hallow)}
    assert [leg.run for leg in ways["Orchard"].legs] == ["streamside", "orchard"]
    for way in ways.values():
        marks = marks_along(hallow, way)
        assert marks[0].kind == "start"
        assert marks[-1].at_m == pytest.approx(way.length_m)
        assert [m.at_m for m in marks] == sorted(m.at_m for m in marks)


def test_a_route_tells_all_that_is_fixed_and_the_ground_under_it(hallow: Plan) -> None:
    way = next(r for r in routes(hallow) if r.name == "Sea bank")
    kinds = {m.kind for m in marks_along(hallow, way)}
    assert {"start", "switch", "gate", "joined", "corner", "rods", "test", "dip", "rise", "end"} <= kinds
    heights = heights_along(hallow, way)
    assert [at for at, _ in heights] == sorted(at for at, _ in heights)
    assert 0 <= heights[0][0] <= heights[-1][0] <= way.length_m + 0.01
    assert heights_along(simple_plan(), routes(simple_plan())[0]) == []


def test_schools_stand_beside_with_their_sums() -> None:
    six = energizers()["mains_6"]
    assert power_schools(1609.344, 8000, six)[0].gives.startswith("1.0 J")
    assert power_schools(400, 400, six, rolls=8)[0].gives.startswith("1.6 J")


def test_the_earth_test_worsens_with_dry_soil(hallow: Plan) -> None:
    tests = judge(hallow).earth_tests
    assert tests[Season.DRY].rods_kv > tests[Season.WET].rods_kv
    assert tests[Season.DRY].fence_kv == pytest.approx(1.5, rel=0.1)
    assert tests[Season.DRY].peg_kv < tests[Season.DRY].rods_kv


def test_what_repeats_is_told_a_few_times_and_counted() -> None:
    rows = [Finding(Stage.GROUND, "Branch", Status.MARGINAL, str(i)) for i in range(9)]
    rows.insert(2, Finding(Stage.GROUND, "Road", Status.MARGINAL, "once"))
    told = without_repeats(rows, most_alike=3)
    assert [(f.reason, more) for f, more in told] == [("0", 0), ("1", 0), ("once", 0), ("2", 6)]


def test_what_the_bottom_strands_hold_is_said_before_they_are_switched_off() -> None:
    strands = [{"cm": cm} for cm in (11, 22, 33, 46, 68, 90)]
    foxes = simple_plan(stock=[{"id": "f", "kind": "fox"}], strands=strands)
    lost = {f.title for f in lost_without_bottom(foxes)}
    assert "Fox: under" in lost
    assert lost == {f.title for f in lost_without_bottom(foxes.model_copy(update={"bottom_off": True}))}
    cows = simple_plan(
        stock=[{"id": "c", "kind": "cow", "schooled": True}], strands=[{"cm": 40}, {"cm": 90}], duty="inner"
    )
    assert lost_without_bottom(cows) == ()
