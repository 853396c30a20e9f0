"""What is found where the fence passes trees, people and things it guards; gates and the way to a switch."""

import pytest

from adze.core.advice.ground_remedies import do_action
from adze.core.basics.status import Status
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.verdict.actions import read_action
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_fence import judge_strands
from adze.core.verdict.judge_ground import judge_ground
from tests.conftest import simple_plan

RING = {"id": "r0", "name": "Ring", "points": [[0, 0], [60, 0], [60, 40], [0, 40], [0, 0]]}
STEM = {"id": "r0", "name": "Stem", "points": [[0, 0], [400, 0]]}
COWS = [{"id": "c", "kind": "cow", "schooled": True}]
GOATS = [{"id": "g", "kind": "goat"}]


def mark(kind: str, *points: list[float], **more: object) -> dict[str, object]:
    return {"id": kind, "kind": kind, "name": kind.title(), "points": list(points)} | more


def gate(at_m: float, width_m: float = 4.0, **more: object) -> dict[str, object]:
    return {"id": "g1", "kind": "gate", "run": "r0", "name": "Gate", "at_m": at_m, "width_m": width_m} | more


def found(plan: Plan) -> dict[str, Finding]:
    return {f.title: f for f in judge_ground(plan).findings}


def ring(*marks: dict[str, object], **changes: object) -> dict[str, Finding]:
    return found(simple_plan(**({"runs": [RING], "landmarks": list(marks)} | changes)))


@pytest.mark.parametrize(
    ("spot", "status"),
    [
        ([30, 0.1], Status.FAILS),
        ([30, 0.35], Status.MARGINAL),
        ([30, 0.9], Status.MARGINAL),
        ([30, 1.1], None),
        ([30, -0.5], None),
    ],
)
def test_a_hive_keeps_a_metre_from_the_line_on_every_side(spot: list[float], status: Status | None) -> None:
    one = ring(mark("hive", spot)).get("No room round it")
    assert (one and one.status) == (Status.MARGINAL if spot[1] < 0 else status)


def test_a_hive_moved_until_it_is_safe() -> None:
    def reach(y: float) -> Finding:
        plan = simple_plan(runs=[RING], landmarks=[mark("hive", [30, y])], stock=[{"id": "b", "kind": "bear"}])
        return next(f for f in judge_strands(plan).findings if f.title == "Bear: reaching in")

    near, far = reach(0.5), reach(1.05)
    deep = simple_plan(runs=[RING], landmarks=[mark("hive", [30, 4.5])], stock=[{"id": "b", "kind": "bear"}])
    assert "Bear: reaching in" not in {f.title for f in judge_strands(deep).findings}
    assert near.status is Status.FAILS
    assert (near.figure, near.limit) == ("50 cm", "100 cm")
    assert "50 cm farther out" in near.mend
    assert far.status is Status.HOLDS


def test_a_tree_in_its_own_ring_is_guarded_not_over_the_line() -> None:
    small = {"id": "r0", "name": "Ring", "points": [[0, 0], [4, 0], [4, 4], [0, 4], [0, 0]]}
    tree, cows = mark("tree", [2, 0.5]), [{"id": "c", "kind": "cow", "schooled": True}]
    assert "Branches over the line" not in ring(tree, runs=[small], stock=cows)
    assert "Branches over the line" in ring(mark("tree", [30, 0.5]), stock=cows)
    wide = {"id": "r0", "name": "Ring", "points": [[0, 0], [15, 0], [15, 14], [0, 14], [0, 0]]}
    assert "Branches over the line" in ring(mark("tree", [2, 0.5]), runs=[wide], stock=cows)
    reached = judge_strands(simple_plan(runs=[small], landmarks=[tree], stock=cows)).findings
    assert any(f.title == "Dairy cow: reaching in" and f.status is Status.FAILS for f in reached)


def test_a_line_through_trees_is_found() -> None:
    one = ring(mark("wood", [20, -10], [40, -10], [40, 10], [20, 10]))["Through trees"]
    assert one.figure == "20 m"
    assert one.place
    assert "Through trees" not in ring(mark("wood", [20, -10], [40, -10], [40, -1], [20, -1]))


def test_a_closed_block_wants_a_gate() -> None:
    plan = simple_plan(runs=[RING], stock=COWS)
    action = found(plan)["A block without a gate"].action
    assert action
    assert "A block without a gate" not in found(do_action(plan, read_action(action.key)))
    assert "A block without a gate" not in ring()


def test_a_gate_is_proposed_where_the_track_comes_in() -> None:
    """Sides of 100 m from the south-west corner round: the track meets the second side, on the east, at 30 m."""
    square = {"id": "r0", "name": "Ring", "points": [[0, 0], [100, 0], [100, 100], [0, 100], [0, 0]]}
    for points, at_m in (([[180, 30], [105, 30]], 130), ([[180, 30], [60, 30]], 130), ([[180, 99], [105, 99]], 197)):
        plan = simple_plan(runs=[square], stock=COWS, landmarks=[mark("track", *points)])
        assert found(plan)["A block without a gate"].place == Place("r0", pytest.approx(at_m, abs=0.01))
    far = simple_plan(runs=[square], stock=COWS, landmarks=[mark("track", [180, 30], [160, 30])])
    without = simple_plan(runs=[square], stock=COWS)
    assert found(far)["A block without a gate"].place == found(without)["A block without a gate"].place


@pytest.mark.parametrize(
    ("at_m", "width_m", "title", "status"),
    [
        (30, 61, "Gate wider than its side", Status.FAILS),
        (1.5, 4, "Gate at a corner", Status.FAILS),
        (2.9, 4, "Gate at a corner", Status.MARGINAL),
        (3.1, 4, None, None),
        (58.5, 4, "Gate at a corner", Status.FAILS),
    ],
)
def test_a_gate_has_room_for_its_posts(at_m: float, width_m: float, title: str | None, status: Status | None) -> None:
    if width_m > 60:
        with pytest.raises(ValueError, match="width_m"):
            ring(fixtures=[gate(at_m, width_m)])
        short = {"id": "r0", "name": "Ring", "points": [[0, 0], [6, 0], [6, 40], [0, 40], [0, 0]]}
        rows = ring(runs=[short], fixtures=[gate(3, 8)])
    else:
        rows = ring(fixtures=[gate(at_m, width_m)])
    known = {"Gate wider than its side", "Gate at a corner"} & set(rows)
    assert known == ({title} if title else set())
    assert title is None or rows[title].status is status


@pytest.mark.parametrize("kind", ["building", "yard", "milk_house"])
def test_people_beside_the_line_are_warned(kind: str) -> None:
    house = mark(kind, [20, -8], [30, -8], [30, -4], [20, -4])
    plan = simple_plan(runs=[RING], landmarks=[house], energizer_at=[-50, 0])
    one = found(plan)["No sign where people pass"]
    assert one.figure == "4.0 m"
    assert one.action
    assert "No sign where people pass" not in found(do_action(plan, one.action))
    assert "No sign where people pass" not in ring(house, energizer_at=[-50, 0], half_power=True)
    assert "No sign where people pass" not in ring(mark(kind, [20, -8], [30, -8], [30, -5.1]))


def test_a_road_beside_the_line_wants_signs() -> None:
    plan = simple_plan(runs=[RING], landmarks=[mark("road", [-50, -8], [150, -8])])
    one = found(plan)["Road without signs"]
    assert one.action
    assert "Road without signs" not in found(do_action(plan, one.action))
    assert "Road without signs" not in ring(mark("road", [-50, -11], [150, -11]))


def test_climbers_and_driven_animals_want_open_corners() -> None:
    sharp = {"id": "r0", "name": "Ring", "points": [[0, 0], [60, 0], [0, 20], [0, 0]]}
    assert "brace themselves" in ring(runs=[sharp], stock=GOATS)["A corner too narrow"].reason
    assert "cannot turn" in ring(runs=[sharp], stock=COWS)["A corner too narrow"].reason
    assert "A corner too narrow" not in ring(runs=[sharp], stock=[{"id": "e", "kind": "ewe"}])
    assert "A corner too narrow" not in ring(stock=GOATS)
    open_enough = {"id": "r0", "name": "Ring", "points": [[0, 0], [60, 0], [0, 50], [0, 0]]}
    assert "A corner too narrow" not in ring(runs=[open_enough], stock=GOATS)


@pytest.mark.parametrize(
    ("low_m", "title"),
    [(0.05, None), (0.4, "A gap beside a wall"), (0.9, "A gap beside a wall"), (1.1, None)],
)
def test_a_wall_near_the_line_is_a_gap_to_climb_in(low_m: float, title: str | None) -> None:
    barn = mark("building", [20, low_m], [30, low_m], [30, 8], [20, 8])
    assert ("A gap beside a wall" in ring(barn, stock=GOATS)) == (title is not None)
    assert "A gap beside a wall" not in ring(barn, stock=COWS)


@pytest.mark.parametrize(("end", "is_narrow"), [([100, 50], False), ([300, 50], True)])
def test_a_line_on_to_a_wall_at_a_narrow_angle_leaves_a_gap(end: list[float], is_narrow: bool) -> None:
    barn = mark("building", [-50, -8], [400, -8], [400, 0], [-50, 0])
    line = {"id": "r0", "name": "Line", "points": [[100, 0], end]}
    assert ("A gap beside a wall" in ring(barn, runs=[line], stock=GOATS)) == is_narrow


def test_a_narrow_corner_between_two_lines_is_found() -> None:
    branch = {"id": "r1", "name": "Branch", "points": [[100, 0], [200, 30]]}
    one = ring(runs=[STEM, branch], stock=GOATS)["A corner too narrow"]
    assert one.figure == "17°"


@pytest.mark.parametrize(("length_m", "far"), [(590, False), (610, True)])
def test_eight_minutes_to_a_switch_are_enough(length_m: float, far: bool) -> None:
    stem = STEM | {"points": [[0, 0], [length_m, 0]]}
    assert ("A long walk to shut it off" in ring(runs=[stem])) == far
    switch = {"id": "s", "kind": "switch", "run": "r0", "name": "Switch", "at_m": 20}
    plan = simple_plan(runs=[stem], fixtures=[switch])
    # Past the switch the walk is to it, not to the energizer.
    assert ("A long walk to shut it off" in found(plan)) == (length_m > 620)


def test_test_points_are_proposed_once() -> None:
    plan = simple_plan(runs=[STEM | {"points": [[0, 0], [1200, 0]]}])
    action = found(plan)["Test points"].action
    assert action
    done = do_action(plan, action)
    assert [f.at_m for f in done.fixtures if f.kind == "test"] == [0, 1200, 500, 1000]
    assert "Test points" not in found(done)


@pytest.mark.parametrize(("at_m", "overlaps"), [(23.9, True), (24.1, False), (16.1, True), (15.9, False)])
def test_no_gate_stands_on_another(at_m: float, overlaps: bool) -> None:
    second = gate(at_m) | {"id": "g2", "name": "Second"}
    rows = ring(fixtures=[gate(20), second])
    assert ("A gate on a gate" in rows) == overlaps


def test_a_gate_that_stands_open_says_what_that_does() -> None:
    halves = [
        RING,
        {"id": "r1", "name": "Middle", "points": [[30, 0], [30, 40]]},
    ]
    own = {"id": "g", "kind": "gate", "name": "Field gate", "run": "r1", "at_m": 20.0, "under_cable": False}
    blocks_named = [
        {"id": "a", "name": "East", "at": [45, 20], "herds": ["c"]},
        {"id": "b", "name": "West", "at": [15, 20], "herds": ["e"]},
    ]
    stock = [{"id": "c", "kind": "cow", "schooled": True}, {"id": "e", "kind": "ewe", "schooled": True}]
    plan = simple_plan(runs=halves, fixtures=[own | {"mostly_open": True}], blocks=blocks_named, stock=stock)
    one = found(plan)["Open most of the season"]
    assert one.status is Status.MARGINAL
    assert "East and West are one block then: dairy cows, ewes meet" in one.reason or "West and East" in one.reason
    assert one.action
    assert "Its own strands" not in found(do_action(plan, one.action))["Open most of the season"].reason
    assert "Open most of the season" not in found(simple_plan(runs=halves, fixtures=[own]))


def test_a_gate_that_stands_open_kills_what_hangs_beyond_it() -> None:
    long = {"id": "line1", "name": "Line", "points": [[0, 0], [500, 0]]}
    own = {"id": "g", "kind": "gate", "name": "Lane gate", "run": "line1", "at_m": 200.0, "mostly_open": True}
    dead = found(simple_plan(runs=[long], fixtures=[own | {"under_cable": False}]))["Open most of the season"]
    assert dead.figure == "300 m"
    assert "300 m beyond it are dead" in dead.reason
    assert not found(simple_plan(runs=[long], fixtures=[own]))["Open most of the season"].figure


def test_a_pen_is_fed_from_the_line_beside_it() -> None:
    line = {"id": "line1", "name": "Line", "points": [[0, 0], [500, 0]]}
    pen = {"id": "pen", "name": "Pen", "points": [[50, 8], [70, 8], [70, 28], [50, 28], [50, 8]]}
    plan = simple_plan(runs=[line, pen])
    one = found(plan)["Not fed"]
    assert one.action
    assert "lead 8 m of line over" in one.mend
    fed = do_action(plan, read_action(one.action.key))
    assert "Not fed" not in found(fed)
    assert fed.runs[-1].name == "Jumper to Pen"
    assert fed.runs[-1].use == "temporary"
    far = pen | {"points": [[x, y + 60] for x, y in pen["points"]]}
    assert found(simple_plan(runs=[line, far]))["Not fed"].action is None
    with pytest.raises(ValueError, match="lies on"):
        do_action(fed, read_action(f"feed:pen:{fed.runs[-1].id}"))
