"""What a plan's animals feel where they stand."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.animals.touch import Path
from adze.core.basics.status import Status
from adze.core.forecast.touches import Touch, needs, touches
from adze.core.forecast.volts import probe_at
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan

DRY, WET = Weather(Season.DRY), Weather(Season.WET)
THREE = [{"cm": 30}, {"cm": 45, "role": "earth"}, {"cm": 60}, {"cm": 90}]


def felt(plan: Plan, weather: Weather, soil: str | None = None) -> dict[str, Touch]:
    probe = probe_at(plan, weather, Place("line1", 1600))
    return {t.animal.kind: t for t in touches(plan, probe.equivalent, weather, soil)}


def herd(kind: str, **changes: object) -> list[dict[str, object]]:
    return [{"id": "a", "kind": kind, "schooled": True} | changes]


def test_sand_keeps_the_pulse_from_a_cow_and_an_earth_strand_gives_it_back() -> None:
    cow = herd("ewe")
    by_soil = felt(simple_plan(stock=cow, soil="dry_sand", energizer="mains_6"), DRY)["ewe"]
    by_strand = felt(simple_plan(stock=cow, soil="dry_sand", energizer="mains_6", strands=THREE), DRY)["ewe"]
    assert by_soil.path is Path.SOIL
    assert by_soil.status is Status.FAILS
    assert by_strand.path is Path.EARTH_STRAND
    assert by_strand.body_kv > 4 * by_soil.body_kv


def test_fleece_costs_kv_and_shearing_gives_it_back() -> None:
    woolled, shorn = (felt(simple_plan(stock=herd("ewe", woolled=w)), WET)["ewe"] for w in (True, False))
    assert woolled.body_kv < shorn.body_kv - 0.5


def test_a_schooled_cow_needs_less_than_a_new_one() -> None:
    schooled, new = (felt(simple_plan(stock=herd("cow", schooled=s)), WET)["cow"] for s in (True, False))
    assert schooled.body_kv == pytest.approx(new.body_kv)
    assert schooled.wanted_kv < new.wanted_kv


def test_a_large_unit_leaves_more_joules_in_a_touch() -> None:
    small, large = (
        felt(simple_plan(stock=herd("cow"), energizer=key), WET)["cow"] for key in ("battery_1", "mains_15")
    )
    assert 0 < small.body_j < large.body_j < 15


def test_the_touch_loads_the_strand() -> None:
    plan = simple_plan(stock=herd("cow"), energizer="battery_025")
    probe = probe_at(plan, WET, Place("line1", 1600))
    assert felt(plan, WET)["cow"].strand_kv < probe.live_kv


def test_the_soil_of_the_line_counts_not_that_of_the_rods() -> None:
    plan = simple_plan(stock=herd("cow"), soil="wet_clay")
    assert felt(plan, DRY, "dry_sand")["cow"].body_kv < 0.5 * felt(plan, DRY)["cow"].body_kv


@settings(max_examples=25)
@given(st.floats(20, 5000), st.floats(1.0, 20.0), st.sampled_from(["cow", "ewe", "goat", "sow", "horse"]))
def test_a_drier_surface_never_raises_the_touch_through_soil(soil: float, drier: float, kind: str) -> None:
    one, other = (
        felt(simple_plan(stock=herd(kind), soil_ohm_m=x), DRY)[kind] for x in (soil, min(soil * drier, 99_000))
    )
    assert one.path is other.path is Path.SOIL
    # The strand's own kV may rise a little where dry rods and growth draw less: the share that reaches the body falls.
    assert other.body_kv / other.strand_kv <= one.body_kv / one.strand_kv + 1e-9


@pytest.mark.parametrize("soil", ["wet_clay", "loam", "dry_sand"])
@pytest.mark.parametrize("kind", ["cow", "ewe", "goat", "alpaca"])
@pytest.mark.parametrize("weather", [DRY, WET], ids=["dry", "wet"])
def test_an_earth_strand_costs_its_charge_at_the_most_and_makes_dry_sand_work(
    soil: str, kind: str, weather: Weather
) -> None:
    # Each fence solved as it stands: one more strand takes charge, so where soil carries well the touch falls a little.
    with_earth, without = (
        felt(simple_plan(stock=herd(kind), soil=soil, energizer="mains_6", strands=strands), weather)[kind]
        for strands in (THREE, [s for s in THREE if s.get("role") != "earth"])
    )
    assert without.path is Path.SOIL
    assert with_earth.body_kv > 0.93 * without.body_kv
    if soil == "dry_sand":
        assert with_earth.path is Path.EARTH_STRAND
        assert with_earth.body_kv > 1.9 * without.body_kv


def test_what_is_needed_falls_with_wet_ground_and_with_an_earth_strand() -> None:
    (ewe,) = needs(simple_plan(stock=herd("ewe", woolled=True), soil="dry_sand"))
    assert ewe.soil_kv[Season.DRY] > 15 > ewe.soil_kv[Season.WET] > ewe.strands_kv
    (cow,) = needs(simple_plan(stock=herd("cow"), soil="loam", soil_ohm_m=100))
    assert cow.soil_kv[Season.USUAL] == pytest.approx(1.9, abs=0.12)


@given(st.floats(10, 5000), st.floats(1.0, 10.0), st.sampled_from(["cow", "ewe", "goat", "horse"]))
@settings(max_examples=30)
def test_a_drier_soil_never_needs_less(soil: float, drier: float, kind: str) -> None:
    one, other = (needs(simple_plan(stock=herd(kind), soil_ohm_m=x))[0] for x in (soil, soil * drier))
    assert all(other.soil_kv[s] >= one.soil_kv[s] for s in Season)
    assert other.strands_kv == one.strands_kv
