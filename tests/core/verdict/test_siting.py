"""What stands too near what, how the fence is laid out, and the actions that mend it."""

import pytest

from adze.core.advice.plan_changes import apply_remedy
from adze.core.basics.status import Status
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Finding, Verdict
from adze.core.verdict.judge import judge
from adze.core.verdict.judge_ground import judge_ground
from adze.core.verdict.surroundings.overhead import line_clear_m
from adze.core.verdict.surroundings.siting import judge_rod_siting, sign_places
from tests.conftest import simple_plan

STEM = {"id": "r0", "name": "Stem", "points": [[0, 0], [400, 0]]}
BRANCH = {"id": "r1", "name": "Branch", "points": [[150, 0], [150, 200]]}


def mark(kind: str, *points: list[float], **more: object) -> dict[str, object]:
    return {"id": kind, "kind": kind, "name": kind.title(), "points": list(points)} | more


def found(plan: Plan) -> dict[str, Finding]:
    return {f.title: f for f in judge_ground(plan).findings}


def beside(*marks: dict[str, object], runs: list[object] | None = None, **changes: object) -> dict[str, Finding]:
    return found(simple_plan(runs=runs or [STEM], landmarks=list(marks), **changes))


@pytest.mark.parametrize(
    ("landmark", "title", "status", "figure"),
    [
        (mark("boundary", [0, 0.3], [400, 0.3]), "Neighbour's strip too narrow", Status.FAILS, "0.3 m"),
        (mark("other_fence", [0, 2], [400, 2]), "Another fence's energizer", Status.FAILS, "2.0 m"),
        (mark("soil", [0, 0], [9, 0], [9, 9]), "Soil area without a soil", Status.MARGINAL, ""),
        (mark("tree", [200, 2]), "Branches over the line", Status.MARGINAL, "2.0 m"),
        (mark("step", [200, 1]), "Something to climb beside the fence", Status.MARGINAL, "1.0 m"),
        (
            mark("old_fence", [0, 1], [9, 1], condition="climbable"),
            "Something to climb beside the fence",
            None,
            "1.0 m",
        ),
        (mark("overhead", [0, 9], [400, 9]), "Beside an overhead line", Status.MARGINAL, "400 m"),
        (mark("overhead", [100, -50], [250, 50]), "Crosses an overhead line at a slant", Status.MARGINAL, "34°"),
        (mark("road", [80, -50], [80, 50]), "A way is fenced off", Status.MARGINAL, ""),
        (mark("path", [0, 10], [400, 10]), "Public path without signs", Status.MARGINAL, "no sign"),
        (mark("milk_house", [-9, 2], [-4, 2], [-4, 9]), "Energizer near milk-house or dairy", Status.MARGINAL, "4.5 m"),
    ],
)
def test_what_stands_too_near_is_found(
    landmark: dict[str, object], title: str, status: Status | None, figure: str
) -> None:
    finding = beside(landmark)[title]
    assert status is None or finding.status is status
    assert finding.figure == figure
    assert finding.reason
    assert finding.mend
    assert finding.where


@pytest.mark.parametrize(
    "landmark",
    [
        mark("boundary", [0, 0.5], [400, 0.5]),
        mark("other_fence", [0, 2.6], [400, 2.6]),
        mark("tree", [200, 3.1]),
        mark("step", [200, 1.6]),
        mark("old_fence", [0, 1], [9, 1], condition="keep"),
        mark("overhead", [0, 16], [400, 16]),
        mark("overhead", [100, -50], [100, 50]),
        mark("path", [0, 21], [400, 21]),
        mark("milk_house", [-99, 2], [-94, 2], [-94, 9]),
    ],
)
def test_what_stands_far_enough_is_left_alone(landmark: dict[str, object]) -> None:
    assert set(beside(landmark)) <= {"A way is fenced off", "Test points"}


def test_climbers_make_a_step_a_failure() -> None:
    goats = [{"id": "g", "kind": "goat"}]
    assert beside(mark("step", [200, 1]), stock=goats)["Something to climb beside the fence"].status is Status.FAILS


def test_a_high_top_strand_under_a_line_fails() -> None:
    finding = beside(mark("overhead", [100, -50], [100, 50]), strands=[{"cm": 210}])
    assert finding["Too high under an overhead line"].status is Status.FAILS


@pytest.mark.parametrize(("kv", "metres"), [(0.4, 3), (1, 3), (20, 4), (33, 4), (110, 8), (None, 8)])
def test_distances_to_conductors(kv: float | None, metres: float) -> None:
    assert line_clear_m(kv) == metres


@pytest.mark.parametrize("kind", ["supply_earth", "pipe", "building", "well", "buried", "mains", "trough"])
def test_rods_keep_ten_metres(kind: str) -> None:
    points = [[20, 0], [20, 30]] if kind in ("pipe", "buried") else [[20, 0]]
    near = simple_plan(landmarks=[mark(kind, *points)], rods={"count": 3, "position": [5, 3]})
    (finding,) = judge_rod_siting(near)
    assert finding.stage is Stage.EARTH
    assert "Move the rods" in finding.mend
    # The row runs east: its last rod stands nearest.
    assert finding.figure == "9.0 m" if len(points) == 2 else finding.figure == "9.5 m"
    far = simple_plan(landmarks=[mark(kind, *points)], rods={"count": 3, "position": [-20, 3]})
    assert list(judge_rod_siting(far)) == []


def test_rods_along_the_line_are_judged_too() -> None:
    rods = {"id": "f", "kind": "rods", "run": "line1", "at_m": 800, "name": "Far rods"}
    plan = simple_plan(fixtures=[rods], landmarks=[mark("pipe", [805, -9], [805, 9])])
    assert [f.reason.split(" stand")[0] for f in judge_rod_siting(plan)] == ["Far rods"]


def test_a_lead_out_beside_a_pipe_is_found() -> None:
    plan = simple_plan(energizer_at=[0, -30], landmarks=[mark("pipe", [4, -40], [4, -1])])
    assert "Lead-out near water pipe" in found(plan)


def test_a_lead_out_leaves_its_own_building_but_keeps_off_others() -> None:
    shed = mark("building", [-4, -33], [4, -33], [4, -27], [-4, -27])
    barn = {**mark("building", [5, -20], [12, -20], [12, -10], [5, -10]), "id": "barn", "name": "Barn"}
    plan = simple_plan(energizer_at=[0, -30], landmarks=[shed, barn])
    assert "Barn" in found(plan)["Lead-out near building"].reason
    assert "Lead-out near building" not in found(simple_plan(energizer_at=[0, -30], landmarks=[shed]))


def test_a_branch_wants_a_switch_and_gets_it() -> None:
    plan = simple_plan(runs=[STEM, BRANCH])
    finding = found(plan)["Branch without a switch"]
    mended = apply_remedy(plan, finding.action.key)
    assert mended.fixtures[0].kind == "switch"
    assert mended.fixtures[0].at_m == 4
    assert "Branch without a switch" not in found(mended)


def test_signs_are_set_at_most_100_m_apart() -> None:
    plan = simple_plan(runs=[STEM], landmarks=[mark("path", [0, 10], [400, 10])])
    mended = apply_remedy(plan, "signs:path")
    assert [f.at_m for f in mended.fixtures] == [0, 100, 200, 300, 400]
    assert "Public path without signs" not in found(mended)
    assert len(sign_places(plan, plan.landmarks[0])) == 5


def test_a_crossed_way_gets_its_crossing_and_the_crossing_its_switch() -> None:
    plan = simple_plan(runs=[STEM], landmarks=[mark("road", [80, -50], [80, 50])])
    crossed = apply_remedy(plan, found(plan)["A way is fenced off"].action.key)
    assert crossed.fixtures[0].at_m == 80
    switched = apply_remedy(crossed, found(crossed)["Road crossing without a switch"].action.key)
    assert {f.kind for f in switched.fixtures} == {"crossing", "switch"}
    assert not {"A way is fenced off", "Road crossing without a switch"} & set(found(switched))


def test_a_crossing_of_lines_is_said_by_an_action() -> None:
    cross = {"id": "x", "name": "Across", "points": [[50, -40], [50, 40]]}
    plan = simple_plan(runs=[STEM, cross])
    titles = found(plan)
    assert titles["Not fed"].status is Status.MARGINAL
    action = titles["Joined or apart?"].action
    joined = apply_remedy(plan, action.key)
    assert not {"Not fed", "Joined or apart?"} & set(found(joined))
    apart = apply_remedy(joined, action.opposite.key)
    assert len(apart.meetings) == 1
    assert "Joined or apart?" not in found(apart)
    assert "Not fed" in found(apart)


def test_a_self_crossing_ring_fails_with_its_place() -> None:
    ring = {"id": "r", "name": "Ring", "points": [[0, 0], [100, 100], [100, 0], [0, 100], [0, 0]]}
    finding = found(simple_plan(runs=[ring]))["Crosses itself"]
    assert finding.status is Status.FAILS
    assert finding.place is not None
    assert finding.place.at_m == pytest.approx(70.7, abs=0.1)


def test_gates_live_when_open_and_drive_overs_are_offered() -> None:
    gate = {"id": "g", "kind": "gate", "run": "r1", "at_m": 50, "name": "Inner gate", "is_open": True}
    plan = simple_plan(runs=[STEM, BRANCH | {"use": "cross"}], fixtures=[gate])
    titles = found(plan)
    assert titles["Gate live when open"].status is Status.MARGINAL
    assert "Gate live when open" not in found(apply_remedy(plan, titles["Gate live when open"].action.key))
    over = apply_remedy(plan, titles["A drive-over would do"].action.key)
    assert over.fixtures[0].style == "drive_over"
    assert "Gate live when open" not in found(over)


def test_what_is_off_is_told_from_what_hangs_on_nothing() -> None:
    gate = {"id": "g", "kind": "gate", "run": "r0", "at_m": 200, "name": "Far gate", "under_cable": False}
    opened = found(simple_plan(runs=[STEM], fixtures=[gate | {"is_open": True}]))["Off"]
    assert opened.status is Status.HOLDS
    assert "Far gate is open" in opened.reason
    one_sided = found(simple_plan(runs=[STEM], fixtures=[gate | {"feeds": "start"}]))["Off"]
    assert one_sided.status is Status.MARGINAL
    assert "one side only" in one_sided.reason


def test_long_zones_and_single_breaks() -> None:
    long = simple_plan(runs=[STEM | {"points": [[0, 0], [1500, 0]]}, BRANCH])
    titles = found(long)
    assert titles["Too long to trace quickly"].figure == "34 min"
    assert titles["One break stops much of it"].figure == "100 %"
    halved = apply_remedy(long, titles["Too long to trace quickly"].action.key)
    assert halved.fixtures[0].at_m == pytest.approx(750)
    assert "Too long to trace quickly" not in found(halved)


@pytest.mark.parametrize(
    "key", ["switch", "switch:r0", "gate:nowhere:3", "signs:none", "joined:a:b:c", "tea:1", "back:g"]
)
def test_an_action_that_is_none_is_refused(key: str) -> None:
    with pytest.raises(ValueError, match=r"\w"):
        apply_remedy(simple_plan(runs=[STEM]), key)


def test_a_plain_short_line_holds() -> None:
    verdict = judge_ground(simple_plan(runs=[STEM]))
    assert isinstance(verdict, Verdict)
    assert verdict.status is Status.HOLDS


def test_a_line_over_a_stream_is_told_with_what_a_flood_does() -> None:
    stream = {"id": "s", "kind": "stream", "name": "Mill brook", "points": [[400, -50], [400, 50]]}
    (found,) = (f for f in judge(simple_plan(landmarks=[stream])).verdicts[Stage.GROUND].findings if "water" in f.title)
    assert found.status is Status.MARGINAL
    assert found.place
    assert found.place.at_m == pytest.approx(400, abs=1)
    pond = {"id": "p", "kind": "water", "name": "Pond", "points": [[400, -50], [430, -50], [430, 50], [400, 50]]}
    (over,) = (f for f in judge(simple_plan(landmarks=[pond])).verdicts[Stage.GROUND].findings if "water" in f.title)
    assert over.figure == "30 m"
    beside = stream | {"points": [[400, 5], [400, 50]]}
    titles = [f.title for f in judge(simple_plan(landmarks=[beside])).verdicts[Stage.GROUND].findings]
    assert "Line over water" not in titles


@pytest.mark.parametrize(("away_m", "status"), [(3.0, Status.FAILS), (4.9, Status.FAILS), (6.2, Status.MARGINAL)])
def test_rods_close_to_a_telephone_cable_fail(away_m: float, status: Status) -> None:
    cable = {"id": "c", "kind": "buried", "name": "Telephone", "points": [[-50, 30 + away_m], [50, 30 + away_m]]}
    plan = simple_plan(landmarks=[cable], rods={"count": 1, "position": (0.0, 30.0)})
    found = [f for f in judge(plan).verdicts[Stage.EARTH].findings if f.title.startswith("Rods near")]
    assert [f.status for f in found] == [status]


@pytest.mark.parametrize(("grass", "warned"), [("none", False), ("light", False), ("moderate", True), ("heavy", True)])
def test_dry_growth_on_the_strands_is_a_caution_of_fire(grass: str, warned: bool) -> None:
    cautions = judge(simple_plan(grass=grass)).verdicts[Stage.GROUND].cautions
    assert any("fire" in caution for caution in cautions) is warned
