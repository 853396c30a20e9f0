"""The designer: every public brief gives a fence that holds, and what it must show is there."""

import json
from pathlib import Path
from typing import Any

import pytest
from pydantic import ValidationError

from adze.core.basics.status import Status
from adze.core.build.construction import conductors_of, fence_of, has_earth_strands
from adze.core.build.parts import bill
from adze.core.design.brief import Brief
from adze.core.design.designer import Proposal, design
from adze.core.design.layout import laid_out
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.tasks.job import job_of
from adze.core.verdict.judge import judge
from adze.formats.errors import FormatError
from adze.formats.plan.brief_file import read_brief, read_brief_document
from adze.formats.plan.plan_file import dump_plan, read_plan_document

GOLDEN = Path(__file__).parents[2] / "golden" / "briefs.json"
BRIEFS = {row["id"]: row["brief"] for row in json.loads(GOLDEN.read_text())["cases"]}
ONE: dict[str, Any] = {
    "format": "adze-brief",
    "version": 1,
    "animals": [{"kind": "cow", "count": 5, "trained": True}],
    "shape": {"rectangle": {"width_m": 80, "depth_m": 60}},
}


def proposed(name: str) -> tuple[Proposal, ...]:
    return design(Brief.model_validate(BRIEFS[name]))


def kinds(plan: Plan) -> set[str]:
    return {fixture.kind for fixture in plan.fixtures}


@pytest.mark.parametrize("name", BRIEFS)
def test_every_public_brief_gives_a_design_that_holds(name: str) -> None:
    found = proposed(name)
    assert found
    assert found[0].name == "cheapest"
    for one in found:
        again = judge(read_plan_document(dump_plan(one.plan)))
        assert again.status is not Status.FAILS, [f.title for f in again.to_fix]
        assert one.cost == pytest.approx(bill(one.plan).total)
        assert one.hours == pytest.approx(job_of(one.plan).minutes / 60)
        assert one.cost >= found[0].cost or one.name == "least-work"
    assert len({dump_words(one) for one in found}) == len(found)


def dump_words(one: Proposal) -> str:
    return json.dumps(dump_plan(one.plan), sort_keys=True)


def test_horses_by_a_lane_see_the_fence_and_people_are_warned() -> None:
    plan = proposed("horses-lane")[0].plan
    assert max(made.width_mm for made in conductors_of(plan)) >= 20
    assert {"sign", "diverter", "gate"} <= kinds(plan)
    assert all(gate.under_cable for gate in plan.fixtures if gate.kind == "gate")


def test_sheep_on_forty_hectares_have_switches_and_test_points() -> None:
    assert {"switch", "test", "gate"} <= kinds(proposed("sheep-40ha")[0].plan)


def test_hives_have_room_and_a_cut_out() -> None:
    plan = proposed("hives-six")[0].plan
    assert sum(mark.kind == "hive" for mark in plan.landmarks) == 6
    assert plan.lead_out.switch
    xs = [x for x, _ in plan.runs[0].points]
    assert all(min(abs(mark.points[0][0] - x) for x in xs) >= 1 for mark in plan.landmarks)


def test_hens_get_netting_dry_cattle_earth_strands_and_rock_no_upright_rods() -> None:
    assert proposed("hens-netting")[0].plan.netting
    assert has_earth_strands(proposed("dry-two-strand")[0].plan)
    rods = proposed("bedrock")[0].plan.rods
    assert rods.slant_deg > 0 or rods.length_m <= 1.2


def test_who_is_new_to_the_fence_is_named_and_not_assumed_away() -> None:
    one = proposed("pigs-goats")[0]
    assert any("training pen" in row.why_none or "Train" in row.why_none for row in one.left)
    assert not next(herd for herd in one.plan.stock if herd.kind == "sow").schooled


def test_what_is_not_answered_is_named() -> None:
    assumed = Brief.model_validate(ONE).assumed
    assert len(assumed) == 5
    full = ONE | {"soil": {"feel": "ball", "dryness": "dries"}, "growth": "bare", "supply": {"kind": "mains"}}
    assert Brief.model_validate(full | {"life": "weeks"}).assumed == ()


def test_an_own_energizer_stays() -> None:
    plate = {"key": "own1", "label": "Barn", "stored_j": 4.3, "released_j": 3.0, "open_kv": 9.0, "kv_500": 6.3}
    found = design(Brief.model_validate(ONE | {"supply": {"kind": "own", "own": plate}}))
    unit = unit_of(found[0].plan)
    assert unit
    assert unit.label == "Barn"


def test_a_fence_that_nothing_carries_says_so_and_shows_the_nearest() -> None:
    long = ONE | {"shape": {"straight_m": 9000}, "growth": "tall", "supply": {"kind": "solar"}, "life": "seasons"}
    (nearest,) = design(Brief.model_validate(long))
    assert nearest.name == "nearest"
    assert nearest.fails
    assert all(row.why_none for row in nearest.fails)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"animals": []}, "animals: needs at least 1"),
        ({"shape": {"rectangle": {"width_m": 0, "depth_m": 5}}}, "shape.rectangle.width_m: must be 2 or more"),
        ({"shape": {}}, "give one of rectangle"),
        ({"animals": [{"kind": "hen"}], "shape": {"area_ha": 500}}, "500 ha of netting"),
        ({"animals": [{"kind": "bear", "purpose": "keep_in"}, {"kind": "hen"}]}, "bears are wild"),
        ({"animals": [{"kind": "cow"}, {"kind": "cow"}]}, "stand twice"),
        ({"animals": [{"kind": "unicorn"}]}, "unicorn"),
        ({"supply": {"kind": "own"}}, "give the plate"),
        ({"version": 9}, "made by a later Adze"),
    ],
)
def test_a_brief_that_cannot_be_is_refused_by_the_field(change: dict[str, Any], words: str) -> None:
    with pytest.raises(FormatError) as caught:
        read_brief_document(ONE | change)
    assert words in str(caught.value)


def test_a_file_that_is_no_brief_is_named() -> None:
    with pytest.raises(FormatError, match="adze-brief"):
        read_brief("{}")
    with pytest.raises(ValidationError):
        Brief.model_validate(ONE | {"colour": "red"})


def test_lines_as_drawn_keep_their_corners_and_gates_stand_by_the_energizer() -> None:
    lines = [[[0, 0], [120, 0], [120, 90], [0, 90], [0, 0]], [[60, 0], [60, 90]]]
    brief = Brief.model_validate(ONE | {"shape": {"lines": lines}, "gates": [{"width_m": 4}, {"width_m": 3}]})
    plan = design(brief)[0].plan
    assert [list(map(list, run.points)) for run in plan.runs] == lines
    gates = [fixture for fixture in plan.fixtures if fixture.kind == "gate"]
    assert [gate.run for gate in gates] == ["line1", "line2"]
    assert gates[0].at_m < 10
    assert len(fence_of(plan)) >= 2


def brief_with(**changes: object) -> Brief:
    base: dict[str, object] = {
        "animals": [{"kind": "bear"}],
        "shape": {"straight_m": 400},
        "soil": {"feel": "ribbon", "dryness": "dust"},
        "growth": "tall",
        "supply": {"kind": "solar"},
        "life": "weeks",
    }
    return Brief.model_validate(base | changes)


def test_where_nothing_holds_the_demand_that_breaks_it_is_said() -> None:
    (nearest,) = design(brief_with())
    assert nearest.name == "nearest"
    assert nearest.differs.startswith("No energizer on the list is enough. No solar unit is enough here")
    assert nearest.fails


def test_a_gate_goes_into_a_side_that_is_long_enough() -> None:
    around = {"shape": {"round": {"kind": "tree", "count": 1}}, "animals": [{"kind": "lamb"}]}
    with pytest.raises(ValueError, match=r"a gate of 6 m is wider than the longest side, 5 m"):
        laid_out(brief_with(**around, gates=[{"width_m": 6}]))
    plan = laid_out(brief_with(**around, gates=[{"width_m": 4}]))
    (gate,) = plan.fixtures
    assert 2 <= gate.at_m <= 3  # within the first side of 5 m


def test_hens_and_horses_are_told_apart_before_anything_is_designed() -> None:
    with pytest.raises(ValueError, match="plan a fence for each"):
        brief_with(animals=[{"kind": "hen", "count": 30}, {"kind": "horse"}])
    with pytest.raises(ValueError, match="ha of netting"):
        brief_with(animals=[{"kind": "hen"}], shape={"rectangle": {"width_m": 2000, "depth_m": 2500}})
