"""What grows on a stretch, and what goes wrong somewhere: what the tester would say then."""

import math

import pytest
from pydantic import ValidationError

from adze.core.build.parts import bill
from adze.core.forecast.volts import probe_at, volts
from adze.core.ground.edit import join, remove, reshaped, reverse, split
from adze.core.ground.places import Place
from adze.core.ground.routes import marks_along, routes
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Stage
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan

WET = Weather(Season.WET)
LOW = [{"cm": 25}, {"cm": 60}, {"cm": 90}]


def at(plan: Plan, metres: float) -> float:
    return probe_at(plan, WET, Place("line1", metres)).live_kv


def wrong(kind: str, at_m: float, **changes: object) -> Plan:
    return simple_plan(strands=LOW, what_ifs=[{"id": "w", "kind": kind, "run": "line1", "at_m": at_m}], **changes)


def grown(from_m: float, to_m: float, grass: str = "heavy") -> Plan:
    row = {"id": "g", "run": "line1", "from_m": from_m, "to_m": to_m, "grass": grass}
    return simple_plan(strands=LOW, growths=[row])


def test_growth_on_all_of_it_is_the_run_s_own_growth() -> None:
    run = {"id": "line1", "name": "First line", "points": [[0, 0], [1600, 0]], "grass": "heavy"}
    assert at(grown(0, 1600), 1600) == pytest.approx(at(simple_plan(strands=LOW, runs=[run]), 1600), rel=1e-6)


def test_more_growth_never_leaves_more_kv_and_a_cut_stretch_gives_some_back() -> None:
    kv = [at(grown(0, metres), 1600) for metres in (100, 400, 1200, 1600)]
    assert kv == sorted(kv, reverse=True)
    assert at(grown(400, 1200, "none"), 1600) == pytest.approx(at(simple_plan(strands=LOW), 1600), rel=1e-6)


@pytest.mark.parametrize("kind", ["branch", "insulator", "post"])
def test_what_leaks_takes_kv_where_it_is(kind: str) -> None:
    whole = at(simple_plan(strands=LOW), 1000)
    assert at(wrong(kind, 1000), 1000) < whole


def test_the_harder_the_leak_the_less_is_left() -> None:
    kv = [at(wrong(kind, 1000), 1000) for kind in ("insulator", "branch", "post")]
    assert kv == sorted(kv, reverse=True)
    assert kv[2] < 0.5 * kv[0]


def test_a_cut_leaves_the_near_side_and_kills_the_far_one() -> None:
    plan = wrong("cut", 800)
    (trace,) = volts(plan, WET).traces
    assert trace.fed[trace.at_m < 790].all()
    assert not trace.fed[trace.at_m > 810].any()
    assert bill(plan) == bill(simple_plan(strands=LOW))


def test_a_tangle_shorts_live_to_earth() -> None:
    turn = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}]
    whole, tangled = (
        simple_plan(strands=turn, what_ifs=[{"id": "w", "kind": "tangle", "run": "line1", "at_m": 800}] * n)
        for n in (0, 1)
    )
    assert (
        probe_at(tangled, WET, Place("line1", 800)).between_kv
        < 0.1 * probe_at(whole, WET, Place("line1", 800)).between_kv
    )


def test_they_stand_on_the_way_from_the_energizer() -> None:
    plan = wrong("branch", 1000)
    (mark,) = [m for m in marks_along(plan, routes(plan)[0]) if m.kind == "what_if"]
    assert (mark.label, round(mark.at_m)) == ("Branch on it", 1000)


def test_they_follow_their_spot_when_lines_change() -> None:
    both = grown(700, 900).model_copy(update={"what_ifs": wrong("post", 1000).what_ifs})
    turned = reverse(both, "line1")
    assert (turned.growths[0].from_m, turned.growths[0].to_m, turned.what_ifs[0].at_m) == (700, 900, 600)
    cut = split(both, Place("line1", 800))
    assert [(g.run, g.from_m, g.to_m) for g in cut.growths] == [("line1", 700, 800), ("line2", 0, 100)]
    assert (cut.what_ifs[0].run, cut.what_ifs[0].at_m) == ("line2", 200)
    again = join(cut, "line1", "line2")
    assert [(g.from_m, g.to_m) for g in again.growths] == [(700, 800), (800, 900)]
    longer = reshaped(both, "line1", ((0.0, 0.0), (3200.0, 0.0)))
    assert (longer.what_ifs[0].at_m, longer.growths[0].from_m) == (2000, 1400)
    assert remove(both, frozenset({("run", "line1")})).growths == ()


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"growths": [{"id": "g", "run": "line1", "from_m": 9, "to_m": 9, "grass": "light"}]}, "half a metre"),
        ({"growths": [{"id": "g", "run": "gone", "from_m": 0, "to_m": 9, "grass": "light"}]}, "not on the plan"),
        ({"growths": [{"id": "g", "run": "line1", "from_m": 0, "to_m": 9, "grass": "jungle"}]}, "no growth"),
        ({"what_ifs": [{"id": "w", "kind": "meteor", "run": "line1", "at_m": 1}]}, "there is no mishap"),
    ],
)
def test_what_cannot_be_is_refused(change: dict[str, object], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        simple_plan(**change)


def test_one_past_the_end_stands_at_the_end() -> None:
    plan = wrong("branch", 1700)
    (mark,) = [m for m in marks_along(plan, routes(plan)[0]) if m.kind == "what_if"]
    assert mark.at_m == pytest.approx(1600)
    assert at(plan, 1600) < at(simple_plan(strands=LOW), 1600)


@pytest.mark.parametrize(
    "plan",
    [
        wrong("cut", 0),
        simple_plan(runs=[{"id": "line1", "name": "L", "points": [[0, 0], [0.02, 0]]}]),
        simple_plan(fixtures=[{"id": "s", "kind": "switch", "run": "line1", "at_m": 0, "name": "S", "is_open": True}]),
    ],
    ids=["cut at the feed", "two centimetres", "switched off at the feed"],
)
def test_where_nothing_is_fed_it_is_said(plan: Plan) -> None:
    judged = judge(plan)
    assert "No part of the fence is fed" in judged.blocked
    assert judged.verdicts[Stage.VOLTS].unknown == judged.blocked


@pytest.mark.parametrize(
    "changes",
    [
        {"what_ifs": [{"id": f"w{i}", "kind": "post", "run": "line1", "at_m": i * 30} for i in range(50)]},
        {"runs": [{"id": "line1", "name": "L", "points": [[i % 2 * 190_000, i * 10] for i in range(7)]}]},
        {"runs": [{"id": "line1", "name": "L", "points": [[0, 0], [20_000, 0]]}], "netting": "sheep_90", "strands": []},
        {"soil_ohm_m": 100_000, "apron": True},
        {"soil_ohm_m": 1, "strands": [{"cm": 1}, {"cm": 7, "role": "earth"}]},
    ],
    ids=["shorted everywhere", "over a thousand km", "rolls without end", "rock", "sea"],
)
def test_the_worst_of_fences_has_figures_all_the_same(changes: dict[str, object]) -> None:
    judged = judge(simple_plan(**({"stock": [{"id": "e", "kind": "ewe"}], "grass": "heavy"} | changes)))
    kv = [forecast.worst[1] for forecast in judged.volts.values()]
    assert all(math.isfinite(x) and 0 <= x < 15 for x in kv)
    assert all(math.isfinite(touch.body_kv) for rows in judged.touches.values() for _, touch in rows)


def test_strands_so_near_that_they_touch_are_said_not_solved() -> None:
    judged = judge(simple_plan(strands=[{"cm": 50}, {"cm": 51}], conductor="tape_40"))
    assert "Two strands touch" in judged.blocked


def test_without_an_earth_strand_there_is_nothing_to_tangle_with() -> None:
    assert at(wrong("tangle", 1000), 1000) == pytest.approx(at(simple_plan(strands=LOW), 1000), rel=1e-9)
