"""Lines built in their own way: seen, solved, counted, judged and mended each by its own strands and animals."""

import numpy as np
import pytest
from pydantic import ValidationError

from adze.core.advice.plan_changes import apply_remedy
from adze.core.advice.ways import conductors_here, ways
from adze.core.basics.status import Status
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.forecast.volts import solved, volts, volts_of
from adze.core.plan.constructions import built_as, every_fence, fence_at, rebuilt, standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.construction import conductors
from adze.core.verdict.judge import judge
from adze.core.verdict.judge_earth import unearthed
from adze.core.verdict.judge_fence import judge_built
from adze.core.verdict.judge_volts import worst_touches
from tests.conftest import simple_plan
from tests.core.volts_fixes import volts_fixes

USUAL = Weather(Season.USUAL)
NEAR = {"id": "near", "name": "Near", "points": [[0, 0], [400, 0]]}
FAR = {"id": "far", "name": "Far", "points": [[400, 0], [400, 400]], "fence": "f"}
TURN = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}]
STOCK = [{"id": "e", "kind": "ewe", "schooled": True}, {"id": "h", "kind": "horse", "schooled": True}]


def two(fence: dict[str, object], **changes: object) -> Plan:
    """A line built as the plan and one beyond it built as a fence of its own."""
    row = {"id": "f", "name": "Far side"} | fence
    return simple_plan(**({"runs": [NEAR, FAR], "fences": [row]} | changes))


def test_a_fence_built_like_the_plan_changes_no_figure() -> None:
    own = simple_plan(runs=[NEAR, FAR | {"fence": None}])
    other = two({"strands": [{"cm": 90}]})
    for a, b in zip(volts(own, USUAL).traces, volts(other, USUAL).traces, strict=True):
        np.testing.assert_array_equal(a.kv, b.kv)
    bought = [[(line.label, line.quantity, line.cost) for line in bill(plan).lines] for plan in (own, other)]
    assert bought[0] == bought[1]


def test_a_line_of_thin_polywire_falls_off_on_its_own_length_only() -> None:
    wet, low = Weather(Season.WET), [{"cm": 40}]
    near, far = volts(two({"strands": low, "conductor": "poly_steel_3"}, grass="heavy"), wet).traces
    same = volts(two({"strands": low}, grass="heavy"), wet).traces
    # What the thin metal holds back is not drawn from the line before it.
    assert near.kv[0] > same[0].kv[0]
    assert far.kv[-1] < 0.8 * same[1].kv[-1]


def test_everything_is_said_of_the_view_and_animals_meet_their_own_fence() -> None:
    plan = two({"herds": ["h"], "duty": "inner"}, stock=STOCK, herds=["e"], strands=[])
    near, far = standing_fences(plan)
    assert [h.id for h in near.view.stock] == ["e"]
    assert [h.id for h in far.view.stock] == ["h"]
    assert fence_of(near.view) != fence_of(far.view)
    assert fence_at(plan, "far") is far
    assert built_as(plan, "gone").id is None
    season = volts_of(solved(plan, USUAL))
    felt = {place.run: touch.animal.kind for place, touch in worst_touches(solved(plan, USUAL), season)}
    assert felt == {"near": "ewe", "far": "horse"}


def test_each_fence_is_judged_by_the_kv_that_its_own_animals_want() -> None:
    plan = two({"herds": ["h"]}, stock=[STOCK[0] | {"woolled": True}, STOCK[1]], herds=["e"], strands=[])
    found = [f for f in judge(plan).verdicts[Stage.VOLTS].findings if f.animal is None and f.season is Season.DRY]
    assert {f.title.split(": ")[1]: f.limit_kv for f in found} == {"All other lines": 5.0, "Far side": 3.0}


def test_earth_strands_that_reach_no_rod_are_found_and_a_rod_site_mends_it() -> None:
    alone = two({"strands": TURN})
    (finding,) = unearthed(alone)
    assert (finding.status, finding.place and finding.place.run) == (Status.FAILS, "far")
    assert finding in judge(alone).verdicts[Stage.EARTH].findings
    site = {"id": "r", "kind": "rods", "run": "far", "at_m": 200, "name": "Rods"}
    helped = two({"strands": TURN}, fixtures=[site])
    assert not list(unearthed(helped))
    assert not list(unearthed(two({"strands": TURN}, strands=TURN)))
    near, far = volts(helped, USUAL).traces
    assert (near.has_earth, far.has_earth) == (False, True)
    np.testing.assert_array_equal(near.kv, near.live_kv)


def test_parts_are_counted_by_fence_and_bought_together() -> None:
    plan = two({"strands": [{"cm": 45}, {"cm": 90}], "post_spacing_m": 3})
    lines = {line.label: line for line in bill(plan).lines}
    wire = lines["2.5 mm high-tensile steel"]
    # Tails of half a metre at each end of each strain, and the top one's past the lower at both ends of the second.
    assert wire.quantity == pytest.approx(1.05 * (400 + 2 * 400) + 1 + 2 * 1 + 2 * (0.45 + 0.15), abs=2)
    assert lines["Insulating tube"].quantity == pytest.approx(1.2)
    assert lines["Steel T-post"].quantity == (400 // 6) + 399 // 3
    assert bill(plan).fence_m == 800


def test_a_way_is_changed_alone() -> None:
    plan = two({"strands": TURN}, stock=STOCK, soil="dry_sand", energizer="mains_3")
    after = rebuilt(plan, "f", {"conductor": "aluminium_25"})
    assert (after.fences[0].conductor, after.conductor) == ("aluminium_25", plan.conductor)
    done = apply_remedy(plan, "earth:between@f+bottom:off")
    assert (done.fences[0].strands, done.bottom_off) == (plan.fences[0].strands, True)
    weak = judge(plan).verdicts[Stage.VOLTS].worst
    assert weak is not None
    assert weak.place is not None
    assert (weak.place.run, weak.status) == ("near", Status.FAILS)
    strands = [m.key for m in volts_fixes(plan) if m.key.startswith(("apron:", "earth:", "scheme:"))]
    assert strands
    assert not any("@" in key for key in strands)
    live = ways(plan, "f")[0]
    built = solved(rebuilt(plan, "f", {"strands": [{"cm": s.cm} for s in live.strands]}), Weather(Season.DRY))
    felt = [touch for place, touch in worst_touches(built, volts_of(built)) if place.run == "far"]
    assert live.felt[Season.DRY].body_kv == min(felt, key=lambda t: t.body_kv / t.wanted_kv).body_kv
    rows = {row.key: row for row in conductors_here(plan, "f")}
    assert rows["steel_25"].cost == pytest.approx(3 * 400 * conductors()["steel_25"].price_per_m)
    assert rows["poly_steel_3"].wet_kv < rows["steel_25"].wet_kv


def test_a_block_grazed_by_animals_that_a_line_is_not_built_for() -> None:
    square = {"id": "near", "name": "Near", "points": [[0, 0], [300, 0], [300, 300]]}
    rest = {"id": "far", "name": "Far", "points": [[300, 300], [0, 300], [0, 0]], "fence": "f"}
    block = {"id": "b", "name": "Paddock", "at": [100, 100], "herds": ["e"]}
    plan = two({"herds": ["h"]}, runs=[square, rest], stock=STOCK, blocks=[block], strands=[])
    found = [f for f in judge(plan).verdicts[Stage.STRANDS].findings if f.title.startswith("Animals this line")]
    assert [(f.where, f.status) for f in found] == [("Far", Status.FAILS)]
    assert "Paddock" in found[0].reason
    held = two({"herds": ["h", "e"]}, runs=[square, rest], stock=STOCK, blocks=[block], strands=[])
    assert not [f for f in judge(held).verdicts[Stage.STRANDS].findings if f.title.startswith("Animals this line")]


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"fences": []}, "fence 'f'.*not on the plan"),
        ({"herds": ["gone"]}, "animals 'gone' are not on the plan"),
        ({"fences": [{"id": "f", "name": "F"}, {"id": "f", "name": "G"}]}, "is there twice"),
        ({"fences": [{"id": "f", "name": "F", "strands": [{"cm": 50}, {"cm": 40}]}]}, "strand 2"),
        ({"fences": [{"id": "f", "name": "F", "conductor": "steel_barbed"}]}, "never made live"),
    ],
)
def test_what_names_nothing_or_cannot_stand_is_refused(changes: dict[str, object], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        two({}, **changes)


def test_a_fence_without_a_live_strand_says_where_to_mend_it() -> None:
    plan = two({"strands": [{"cm": 50, "role": "dead"}]})
    with pytest.raises(Incomplete) as caught:
        volts(plan, USUAL)
    assert caught.value.stage == "strands"
    assert len(every_fence(plan)) == 2


def test_animals_that_no_single_set_holds_break_nothing_else() -> None:
    stock = [{"id": "h", "kind": "hen", "age": "growing"}, {"id": "d", "kind": "deer"}]
    plan = simple_plan(stock=stock, strands=[], energizer="mains_3")
    assert len(fence_of(plan)) > 12
    assert {row.key for row in conductors_here(plan)} >= {"steel_25", "tape_40"}
    keys = {mend.key for mend in volts_fixes(plan)}
    assert "earth:between" not in keys
    for key in keys:
        apply_remedy(plan, key)


def test_the_verdict_on_one_way_tells_of_its_own_lines_only() -> None:
    plan = two({"herds": ["h"], "strands": [{"cm": 200}]}, stock=STOCK, herds=["e"], strands=[])
    near, far = (judge_built(plan, built) for built in standing_fences(plan))
    assert (near.status, far.status) == (Status.HOLDS, Status.FAILS)
    assert not any("Ewe" in f.title for f in far.findings)
