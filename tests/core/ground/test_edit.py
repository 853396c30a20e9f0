"""Changes of the ground: what hangs on a line goes with it, and nothing else moves."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Point

from adze.core.forecast.volts import volts
from adze.core.ground.edit import Refused, add_runs, join, moved, remove, reshaped, reverse, split, thinned
from adze.core.ground.lines import length_m, line_of, point_at
from adze.core.ground.places import Place
from adze.core.ground.survey import joins
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan

STEM = {"id": "r0", "name": "Stem", "points": [[0, 0], [200, 0], [400, 0]], "profile": [[0, 5], [300, 8], [400, 6]]}
BRANCH = {"id": "r1", "name": "Branch", "points": [[150, 0], [150, 200]]}
GATE = {"id": "g", "kind": "gate", "run": "r0", "at_m": 300, "name": "Gate", "feeds": "start", "opens_at": "end"}


def farm(**changes: object) -> Plan:
    return simple_plan(**({"runs": [STEM, BRANCH], "fixtures": [GATE]} | changes))


def spots(plan: Plan) -> dict[str, tuple[float, float]]:
    """Where every fixture stands on the ground."""
    runs = {run.id: run for run in plan.runs}
    return {f.id: point_at(runs[f.run], f.at_m) for f in plan.fixtures}


def test_reversing_keeps_every_spot() -> None:
    plan = farm()
    turned = reverse(plan, "r0")
    assert turned.runs[0].points[0] == (400, 0)
    assert spots(turned) == {"g": pytest.approx((300, 0))}
    assert (turned.fixtures[0].feeds, turned.fixtures[0].opens_at) == ("end", "start")
    assert turned.runs[0].profile == ((0, 6), (100, 8), (400, 5))
    assert reverse(turned, "r0") == plan


@given(st.floats(5, 395))
def test_a_split_line_is_still_one_fence(at: float) -> None:
    plan = farm()
    parted = split(plan, Place("r0", at))
    assert len(parted.runs) == 3
    assert sum(map(length_m, parted.runs)) == pytest.approx(600, abs=0.01)
    assert spots(parted)["g"] == pytest.approx((300, 0), abs=0.01)
    assert len(joins(parted)) >= 2
    first, second = parted.runs[0].id, parted.runs[1].id
    whole = join(parted, first, second)
    assert length_m(whole.runs[0]) == pytest.approx(400, abs=0.01)
    assert spots(whole)["g"] == pytest.approx((300, 0), abs=0.01)
    assert whole.runs[0].profile[-1][1] == 6


@pytest.mark.parametrize("at", [0, 0.5, 399.5, 900])
def test_a_line_is_not_split_at_its_end(at: float) -> None:
    with pytest.raises(Refused, match="can be split between"):
        split(farm(), Place("r0", at))


def test_lines_that_do_not_meet_are_not_joined() -> None:
    apart = farm(runs=[STEM, BRANCH | {"points": [[150, 30], [150, 200]]}])
    with pytest.raises(Refused, match="drag one onto the other"):
        join(apart, "r0", "r1")
    with pytest.raises(Refused, match="two different"):
        join(apart, "r0", "r0")
    with pytest.raises(Refused, match="no longer"):
        join(apart, "r0", "gone")


@pytest.mark.parametrize(("first", "second"), [([0, 0], [100, 0]), ([100, 0], [0, 0])])
def test_joining_turns_either_line_as_needed(first: list[int], second: list[int]) -> None:
    for far in ([[100, 0], [100, 50]], [[100, 50], [100, 0]]):
        plan = simple_plan(
            runs=[{"id": "a", "name": "A", "points": [first, second]}, {"id": "b", "name": "B", "points": far}]
        )
        whole = join(plan, "a", "b").runs[0]
        assert whole.points == ((0, 0), (100, 0), (100, 50))


def test_moving_a_line_takes_along_what_stands_on_it() -> None:
    plan = moved(farm(), frozenset({("run", "r0")}), 0, 20)
    assert plan.runs[0].points[0] == (0, 20)
    assert plan.runs[1].points == ((150, 20), (150, 200))
    assert spots(plan)["g"] == pytest.approx((300, 20))


def test_moving_a_fixture_slides_it_along_its_line() -> None:
    plan = moved(farm(), frozenset({("fixture", "g")}), -40, 15)
    assert spots(plan)["g"] == pytest.approx((260, 0))
    with pytest.raises(Refused, match="not a number"):
        moved(plan, frozenset({("fixture", "g")}), float("nan"), 0)


def test_marks_notes_energizer_and_rods_move() -> None:
    plan = farm(
        landmarks=[{"id": "w", "kind": "well", "points": [[5, 5]]}],
        notes=[{"id": "n", "name": "Wet", "at": [9, 9]}],
        rods={"count": 3, "position": [1, 1]},
    )
    chosen = frozenset({("landmark", "w"), ("note", "n"), ("energizer", ""), ("rods", "")})
    after = moved(plan, chosen, 10, 0)
    assert after.landmarks[0].points == ((15, 5),)
    assert after.notes[0].at == (19, 9)
    assert (after.energizer_at, after.rods.position) == ((10, 0), (11, 1))
    assert after.runs == plan.runs


def test_removing_a_line_takes_its_fixtures_and_meetings() -> None:
    said = {"id": "m", "first": "r0", "second": "r1", "at": [150, 0], "joined": False}
    plan = remove(farm(meetings=[said]), frozenset({("run", "r0")}))
    assert [r.id for r in plan.runs] == ["r1"]
    assert plan.fixtures == ()
    assert plan.meetings == ()


def test_a_reshaped_line_keeps_its_joins_and_fixtures_on_their_stretch() -> None:
    plan = reshaped(farm(), "r0", ((0, 0), (200, 60), (400, 0)))
    assert spots(plan)["g"] == pytest.approx((300, 30), abs=0.1)
    assert joins(plan)[0].onto.run == "r0"
    assert plan.runs[0].profile[-1] == (pytest.approx(length_m(plan.runs[0]), abs=0.01), 6)
    more = reshaped(plan, "r0", ((0, 0), (200, 60), (300, 50), (400, 0)))
    assert line_of(more.runs[0]).distance(Point(more.runs[1].points[0])) < 0.01


def test_added_lines_get_ids_of_their_own() -> None:
    plan = add_runs(farm(), [("One", [(0, 50), (10, 50)]), ("Two", [(0, 60), (10, 60)])], use="temporary")
    assert [r.id for r in plan.runs[2:]] == ["line1", "line2"]
    assert plan.runs[3].use == "temporary"


@given(
    st.lists(st.tuples(st.floats(-200, 200), st.floats(-200, 200)), min_size=3, max_size=40, unique=True),
    st.floats(0.1, 20),
)
def test_thinning_stays_within_its_tolerance(points: list[tuple[float, float]], tolerance: float) -> None:
    kept = thinned(tuple(points), tolerance)
    assert set(kept) <= set(points)
    assert (kept[0], kept[-1]) == (points[0], points[-1])
    line = LineString(kept)
    assert all(line.distance(Point(p)) <= tolerance + 1e-9 for p in points)


def test_kinds_of_ends_go_with_their_ends() -> None:
    run = {"id": "line1", "name": "Line", "points": [[0, 0], [400, 0]], "start_end": "block", "far_end": "prop"}
    plan = simple_plan(runs=[run])
    turned = reverse(plan, "line1").runs[0]
    assert (turned.start_end, turned.far_end) == ("prop", "block")
    first, second = split(plan, Place("line1", 150.0)).runs
    assert (first.start_end, first.far_end, second.start_end, second.far_end) == ("block", "", "", "prop")
    whole = join(split(plan, Place("line1", 150.0)), "line1", second.id).runs[0]
    assert (whole.start_end, whole.far_end) == ("block", "prop")


def test_strands_that_are_apart_stay_so_past_a_split() -> None:
    rows = [{"cm": cm, "role": "live"} for cm in (25, 45, 65, 85, 110)]
    run = {"id": "line1", "name": "Line", "points": [[0, 0], [1600, 0]], "joined": "near"}
    plan = simple_plan(runs=[run], strands=rows, energizer="mains_6", grass="moderate")
    usual = Weather(Season.USUAL)
    before, after = volts(plan, usual), volts(split(plan, Place("line1", 600.0)), usual)
    one, other = before.traces[0].apart[0], after.traces[-1].apart[0]
    assert float(other.kv[-1]) == pytest.approx(float(one.kv[-1]), rel=0.01)
    assert other.fed.all()
