"""Netting, strands that stand off something solid, and mesh on the ground."""

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from adze.core.advice.plan_changes import apply_remedy
from adze.core.advice.ways import conductors_here
from adze.core.animals.strand_checks import check
from adze.core.animals.strand_rules import SWING_CM, Duty, Role, stood_off
from adze.core.animals.touch import Path
from adze.core.basics.status import Status
from adze.core.build.construction import bottom_group_of, conductors_of, fence_of
from adze.core.build.parts import bill
from adze.core.forecast.circuit import APRON_M
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import probe_at, volts
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animal_of
from adze.core.soil.earth import laid_strip_s_per_m
from adze.core.soil.electrodes import Buried, Field, Layers
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors, nettings
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan
from tests.core.volts_fixes import volts_fixes

SHORT = [{"id": "line1", "name": "First line", "points": [[0, 0], [400, 0]]}]
DRY, WET = Weather(Season.DRY), Weather(Season.WET)


def herd(*kinds: str) -> list[dict[str, object]]:
    return [{"id": kind, "kind": kind, "schooled": True} for kind in kinds]


def test_netting_is_its_own_strands_and_brings_its_posts() -> None:
    net = nettings()["sheep_90"]
    plan = simple_plan(runs=SHORT, strands=[], netting="sheep_90", stock=herd("ewe"))
    assert [s.cm for s in fence_of(plan)] == [5, 15, 30, 45, 60, 75, 90]
    assert [s.role for s in fence_of(plan)][:2] == [Role.DEAD, Role.LIVE]
    assert {c.key for c in conductors_of(plan)} == {net.conductor}
    assert bottom_group_of(plan) == ()
    lines = {line.label: line for line in bill(plan).lines}
    assert lines[net.label].packs == 8
    assert not any(line.group in ("Posts", "Insulators") for line in bill(plan).lines)
    assert judge(plan).verdicts[Stage.STRANDS].status is Status.HOLDS


def test_strands_stand_over_netting_with_posts_of_their_own() -> None:
    plan = simple_plan(runs=SHORT, strands=[{"cm": 120}], netting="poultry_105", stock=herd("goose") + herd("fox"))
    assert fence_of(plan)[-1].cm == 120
    assert conductors_of(plan)[-1].key == "steel_25"
    groups = {line.group for line in bill(plan).lines}
    assert {"Posts", "Insulators"} <= groups
    (clips,) = [line for line in bill(plan).lines if line.label.startswith("Clip on the front")]
    assert clips.quantity == 400 // 6


def test_growth_leaks_three_times_as_much_from_netting() -> None:
    rows = [{"cm": s.cm, "role": s.role.value} for s in fence_of(simple_plan(strands=[], netting="sheep_90"))]
    same = simple_plan(runs=SHORT, strands=rows, conductor="poly_steel_3", grass="heavy")
    woven = simple_plan(runs=SHORT, strands=[], netting="sheep_90", grass="heavy")
    clean = [
        simple_plan(runs=SHORT, strands=p.strands, netting=p.netting, conductor=p.conductor) for p in (same, woven)
    ]
    assert volts(woven, WET).worst[1] < 0.7 * volts(same, WET).worst[1]
    assert volts(clean[0], WET).worst[1] == pytest.approx(volts(clean[1], WET).worst[1])


def test_hopeless_is_called_hopeless() -> None:
    eight = simple_plan(runs=SHORT, strands=[], netting="sheep_90", energizer="battery_025", grass="moderate")
    assert volts(eight, WET).worst[1] < 1.5


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"netting": "sheep_90", "strands": [{"cm": 60}]}, "lies within the netting.*95 cm or above"),
        ({"netting": "fishing"}, "no netting 'fishing'"),
    ],
)
def test_strands_within_netting_are_refused(changes: dict[str, object], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        simple_plan(**changes)


def test_netting_and_horses_do_not_go_together() -> None:
    plan = simple_plan(runs=SHORT, strands=[], netting="sheep_90", stock=herd("horse"))
    found = {f.title: f.status for f in judge(plan).verdicts[Stage.STRANDS].findings}
    assert found["Netting with horses"] is Status.FAILS


KINDS = st.lists(st.sampled_from(sorted(animal_kinds())), min_size=1, max_size=4, unique=True)


@given(KINDS, st.sampled_from(Duty), st.booleans())
def test_before_something_solid_every_nose_meets_a_strand(kinds: list[str], duty: Duty, schooled: bool) -> None:
    animals = tuple(animal_of(animal_kinds()[k], schooled=schooled, fleece_cm=0) for k in kinds)
    strands = stood_off(animals, duty)
    assert all(b.cm - a.cm >= SWING_CM for a, b in pairwise(strands))
    assert len(strands) <= len(animals)
    found = [f for f in check(animals, duty, strands) if f.check == "touch"]
    assert all(f.status is Status.HOLDS for f in found)


def test_one_strand_on_brackets_holds_cattle_off_an_old_fence() -> None:
    plan = simple_plan(runs=SHORT, strands=[], behind="old_fence", stock=herd("cow"))
    (strand,) = fence_of(plan)
    assert strand.cm == pytest.approx(2 / 3 * animal_kinds()["cow"].shoulder_cm, abs=1)
    lines = {line.label.split(",")[0] for line in bill(plan).lines}
    assert "Stand-off bracket with insulator" in lines
    assert "Steel T-post" not in lines
    assert judge(plan).verdicts[Stage.STRANDS].status is Status.HOLDS


def mesh(**changes: object) -> Plan:
    base = {"soil": "dry_sand", "energizer": "mains_6", "stock": herd("alpaca"), "strands": [{"cm": 40}, {"cm": 80}]}
    return simple_plan(**(base | changes))


def test_mesh_on_dry_ground_brings_the_pulse_through_the_hooves() -> None:
    bare, laid = (
        touches(p, probe_at(p, DRY, Place("line1", 800)).equivalent, DRY, None)[0] for p in (mesh(), mesh(apron=True))
    )
    assert (bare.path, laid.path) == (Path.SOIL, Path.APRON)
    assert laid.body_kv > 5 * bare.body_kv
    (trace,) = volts(mesh(apron=True), DRY).traces
    assert trace.has_earth
    lines = {line.label: line.quantity for line in bill(mesh(apron=True)).lines}
    assert lines["Bare galvanised mesh, 60 cm wide"] == 1600


def test_the_mesh_is_offered_as_a_mend_and_does_what_it_says() -> None:
    plan = mesh()
    mend = next(m for m in volts_fixes(plan) if m.key == "apron:on")
    again = [t for _, t in judge(apply_remedy(plan, mend.key)).touches[Season.DRY]]
    told_kv = float(mend.effect.rpartition("→ ")[2].split()[0])
    assert min(t.body_kv for t in again) == pytest.approx(told_kv, rel=0.15)


@pytest.mark.parametrize("soil", [50.0, 6000.0])
def test_a_strip_on_the_soil_leaks_as_a_long_wire_at_the_surface(soil: float) -> None:
    length, radius = 100.0, APRON_M / 4
    wire = Buried((0.0, 0.0, 1e-3), (length, 0.0, 1e-3), 2 * radius)
    per_m = 1 / (Field((wire,), Layers(soil)).ohm * length)
    assert laid_strip_s_per_m(soil, APRON_M) == pytest.approx(per_m, rel=0.05)
    assert laid_strip_s_per_m(2 * soil, APRON_M) == pytest.approx(laid_strip_s_per_m(soil, APRON_M) / 2)
    assert math.isfinite(laid_strip_s_per_m(soil, 0.01))


def test_netting_of_ten_horizontals_has_its_mends_all_the_same() -> None:
    plan = simple_plan(runs=SHORT, strands=[], netting="poultry_105", stock=herd("goose", "fox"), grass="heavy")
    found = volts_fixes(plan)
    assert {m.key.split(":")[0] for m in found} & {"grass", "energizer"}
    with pytest.raises(ValueError, match="no longer in the plan"):
        apply_remedy(plan, "apron:on@gone")


def test_only_what_is_strung_over_netting_can_be_of_another_metal() -> None:
    alone = simple_plan(runs=SHORT, strands=[], netting="sheep_90")
    over = simple_plan(runs=SHORT, strands=[{"cm": 120}], netting="sheep_90")
    assert conductors_here(alone) == ()
    rows = {row.key: row for row in conductors_here(over)}
    assert rows["steel_25"].cost == pytest.approx(400 * conductors()["steel_25"].price_per_m)
