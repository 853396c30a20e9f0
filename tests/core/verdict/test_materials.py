"""What the fence is made of, and the ways to build it: what goes together, what does not, and why."""

from itertools import combinations_with_replacement

import pytest
from pydantic import ValidationError

from adze.core.advice.ways import WayKind, chosen_way, conductors_here, judged_patterns, ways
from adze.core.animals.practice import practised, strands_in
from adze.core.animals.strand_checks import check
from adze.core.animals.strand_rules import Duty, design
from adze.core.basics.status import Status
from adze.core.build.construction import conductors_of
from adze.core.build.materials import farthest_m, insulators_for, post_of
from adze.core.build.parts import bill
from adze.core.forecast.volts import volts
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stock import animal_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors, insulators, patterns, post_kinds
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge import judge
from adze.core.verdict.judge_fence import judge_strands
from adze.core.verdict.judge_materials import material_findings
from tests.conftest import simple_plan

WET = Weather(Season.WET)
STEEL_AND_TAPE = [{"cm": 45}, {"cm": 80}, {"cm": 115, "conductor": "tape_40"}]


def found(**changes: object) -> dict[str, Finding]:
    return {f.title: f for f in material_findings(simple_plan(**changes))}


def end_kv(plan: Plan) -> float:
    return volts(plan, WET).worst[1]


def test_steel_below_carries_tape_on_top() -> None:
    mixed = simple_plan(strands=STEEL_AND_TAPE, grass="moderate")
    tape = simple_plan(strands=[{"cm": s["cm"]} for s in STEEL_AND_TAPE], conductor="tape_40", grass="moderate")
    steel = simple_plan(strands=[{"cm": s["cm"]} for s in STEEL_AND_TAPE], grass="moderate")
    assert [c.key for c in conductors_of(mixed)] == ["steel_25", "steel_25", "tape_40"]
    assert end_kv(tape) < end_kv(mixed) < 1.1 * end_kv(steel)
    labels = {line.label: line.quantity for line in bill(mixed).lines if line.group == "Conductor"}
    assert labels["2.5 mm high-tensile steel"] == pytest.approx(2 * labels["Tape 40 mm, stainless"], rel=0.01)


def test_barbed_wire_is_never_live() -> None:
    with pytest.raises(ValidationError, match="strand 2: barbed wire is never made live"):
        simple_plan(strands=[{"cm": 40}, {"cm": 90, "conductor": "steel_barbed"}])
    with pytest.raises(ValidationError, match="conductor: barbed wire is never made live"):
        simple_plan(conductor="steel_barbed", strands=[])
    dead = simple_plan(strands=[{"cm": 40}, {"cm": 90, "role": "dead", "conductor": "steel_barbed"}])
    assert conductors_of(dead)[1].kind == "barbed"


@pytest.mark.parametrize(
    ("changes", "title", "status"),
    [
        ({"strands": [{"cm": 40}, {"cm": 118}], "post_cm": 120}, "Posts too short", Status.FAILS),
        ({"conductor": "tape_40", "insulator": "clip_front"}, "Wrong insulator for tape", Status.FAILS),
        ({"insulator": "ring"}, "Wrong insulator for wire", Status.FAILS),
        ({"conductor": "tape_40", "post_spacing_m": 7}, "Posts far apart", Status.MARGINAL),
        ({"post": "plastic"}, "Light posts under tight wire", Status.MARGINAL),
        ({"stock": [{"id": "h", "kind": "horse"}]}, "Can a horse see it?", Status.MARGINAL),
        (
            {"stock": [{"id": "h", "kind": "horse"}], "post_cm": 110, "strands": [{"cm": 90}]},
            "Posts too low for horses",
            Status.MARGINAL,
        ),
    ],
)
def test_what_does_not_go_together_is_said_with_a_mend(changes: dict[str, object], title: str, status: Status) -> None:
    finding = found(**changes)[title]
    assert finding.status is status
    assert finding.mend


def test_what_goes_together_is_left_alone() -> None:
    assert found() == {}
    seen = found(stock=[{"id": "h", "kind": "horse"}], strands=STEEL_AND_TAPE, post="timber", post_spacing_m=5)
    assert all(f.status is Status.HOLDS for f in seen.values())
    assert post_of(simple_plan(strands=STEEL_AND_TAPE)) == 120


def test_every_conductor_has_an_insulator_on_some_post_and_every_post_one_for_steel() -> None:
    for conductor in conductors().values():
        fits = [i for i in insulators().values() for post in post_kinds() if i.fits(conductor.kind, post)]
        assert fits or not conductor.may_be_live, conductor.key
    for key, post in post_kinds().items():
        if post.insulators:
            assert insulators_for(simple_plan(post=key))[0][1] is not None


def test_tape_brings_posts_closer_than_steel() -> None:
    assert farthest_m(simple_plan(conductor="tape_40")) == 5.0
    assert farthest_m(simple_plan()) == post_kinds()["steel_t"].high_m


def test_a_pattern_of_earth_strands_alone_fails() -> None:
    plan = simple_plan(
        stock=[{"id": "e", "kind": "ewe"}], strands=[{"cm": 30, "role": "earth"}, {"cm": 60, "role": "earth"}]
    )
    assert judge_strands(plan).worst.title == "No live strand"  # type: ignore[union-attr]
    assert "Make one live" in judge(plan).blocked


def test_each_pattern_holds_who_it_is_built_for_when_they_know_it() -> None:
    for row in patterns().values():
        assert strands_in(row) == tuple(sorted(strands_in(row), key=lambda s: s.cm))
        kind = animal_kinds()[row.kinds.split()[0]]
        animal = animal_of(kind, schooled=True, fleece_cm=kind.shorn_cm)
        duty = Duty.INNER if row.key in ("single_cattle", "earth_cattle", "guard_three") else Duty.HOLD
        fails = {f.check for f in practised((animal,), duty, strands_in(row)) if f.status is Status.FAILS}
        assert not fails, (row.key, fails)


def test_patterns_are_judged_for_these_animals_best_first() -> None:
    rows = judged_patterns(simple_plan(stock=[{"id": "e", "kind": "ewe", "schooled": True, "young": True}]))
    held = [p.row.key for p in rows if p.status is Status.HOLDS]
    assert rows[0].status is Status.HOLDS
    assert "single_cattle" not in held
    assert next(p for p in rows if p.row.key == "single_cattle").worst


def test_every_pair_of_kinds_has_a_design_that_passes_or_is_named() -> None:
    refused = set()
    for pair in combinations_with_replacement(animal_kinds().values(), 2):
        animals = tuple(animal_of(k, schooled=True, fleece_cm=k.fleece_cm) for k in dict.fromkeys(pair))
        pattern = design(animals, Duty.HOLD)
        if pattern.refusal:
            refused.add(frozenset(k.key for k in pair))
            assert all(word in pattern.refusal for word in ("needs gaps of", "Use netting")) or len(animals) == 1
            continue
        fails = [f for f in check(animals, Duty.HOLD, pattern.strands) if f.status is Status.FAILS]
        assert not fails, (pair, fails)
    # Alone every kind has one; deer and the smallest pull too far apart.
    assert not [pair for pair in refused if len(pair) == 1]
    assert frozenset(("deer", "rabbit")) in refused


def test_dry_sand_takes_strands_in_turn_and_moist_clay_all_live() -> None:
    alpacas = [{"id": "a", "kind": "alpaca", "schooled": True}]
    for soil, earth in (("dry_sand", True), ("wet_clay", False)):
        rows = ways(simple_plan(stock=alpacas, soil=soil, energizer="mains_6"))
        assert [w.kind for w in rows][:2] == [WayKind.LIVE, WayKind.TURN]
        best = chosen_way(rows)
        assert best is not None
        assert (best.kind is not WayKind.LIVE) == earth, soil
        assert best.dry_share == max(w.dry_share for w in rows) or not earth
    assert ways(simple_plan()) == ()


def test_conductors_here_rank_by_what_reaches_the_end() -> None:
    rows = {r.key: r for r in conductors_here(simple_plan(strands=[{"cm": 50}, {"cm": 90}]))}
    assert "steel_barbed" not in rows
    assert rows["poly_steel_3"].wet_kv < rows["poly_steel_9"].wet_kv < rows["poly_mixed"].wet_kv
    assert rows["poly_steel_3"].wet_kv < rows["steel_25"].wet_kv
    assert rows["steel_25"].cost == pytest.approx(2 * 1600 * conductors()["steel_25"].price_per_m)


def test_an_insulator_for_tape_leaves_steel_its_own() -> None:
    mixed = simple_plan(strands=STEEL_AND_TAPE, insulator="tape_steel", post_spacing_m=5)
    assert {kind: i.key for kind, i in insulators_for(mixed) if i} == {"wire": "clip_front", "tape": "tape_steel"}
    assert list(material_findings(mixed)) == []


def test_conductors_are_compared_with_the_bottom_off_as_the_plan_has_it() -> None:
    strands = [{"cm": cm} for cm in (15, 30, 60, 90)]
    plan = simple_plan(strands=strands, bottom_off=True, grass="moderate")
    here = next(r for r in conductors_here(plan) if r.key == plan.conductor)
    assert here.wet_kv == pytest.approx(end_kv(plan))
