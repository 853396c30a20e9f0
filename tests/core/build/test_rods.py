"""The plan's rods: where they stand, their ground, metals, clay and wire; rules of thumb; places; options."""

import math

import numpy as np
import pytest
from pydantic import ValidationError

from adze.core.advice.earth_here import EarthHere, knee
from adze.core.advice.earth_options import options, taken
from adze.core.advice.schools import rod_schools
from adze.core.basics.status import Status
from adze.core.basics.units import kv_words
from adze.core.build.parts import bill
from adze.core.build.rod_sites import placed, proposed, refusals, snapped
from adze.core.build.rods import CLAY_OHM_M, array, electrodes_of, layers_of, lead_m, lead_ohm, places_of, rods_ohm
from adze.core.build.supply_parts import earth_needs
from adze.core.forecast.circuit import circuit
from adze.core.forecast.earth_test import earth_test
from adze.core.forecast.volts import solved
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.season import Guess, Season, Weather
from adze.core.plan.stages import Stage
from adze.core.soil.earth import RodField, backfilled_rod_ohm, rod_ohm
from adze.core.soil.electrodes import Layers
from adze.core.tables.energizers import EnergizerModel, energizers
from adze.core.tables.ground import rod_metals
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan

DRY, USUAL = Weather(Season.DRY), Weather(Season.USUAL)


def with_rods(**rods: object) -> Plan:
    return simple_plan(rods={"count": 4, "position": (0, 40), **rods}, energizer="mains_6", soil="clay_loam")


def test_a_row_follows_its_bearing_a_ring_keeps_its_spacing_and_placed_rods_carry_on() -> None:
    north = places_of(Rods(count=3, bearing_deg=0, position=(10, 10)))
    assert np.allclose(north, [(10, 10), (10, 13), (10, 16)])
    ring = places_of(Rods(count=6, layout="ring", spacing_m=3))
    assert all(math.dist(a, b) == pytest.approx(3) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True))
    own = places_of(Rods(count=4, places=((0, 0), (0, 5)), bearing_deg=90))
    assert np.allclose(own, [(0, 0), (0, 5), (3, 5), (6, 5)])
    assert places_of(Rods(count=1, places=((7, 7), (9, 9)))) == ((7, 7),)


def test_plain_rods_are_the_closed_form_with_their_lead() -> None:
    plan = with_rods()
    soil = layers_of(plan, DRY).upper_ohm_m
    closed = RodField.row(4, 3, 2, 0.016).ohm(soil)
    assert rods_ohm(plan, DRY) == pytest.approx(closed + lead_ohm(plan))
    assert circuit(plan, DRY).rods_ohm == pytest.approx(rods_ohm(plan, DRY))


def test_clay_is_the_closed_form_of_its_bore_and_helps_most_in_dry_ground() -> None:
    rods = Rods(count=1, bore_cm=8, bore_m=2)
    for soil in (100.0, 1000.0):
        closed = backfilled_rod_ohm(soil, CLAY_OHM_M, 2, 0.016, 0.08)
        assert array(rods, Layers(soil)).ohm == pytest.approx(closed, rel=0.02)


def test_a_film_is_shared_out_over_a_bore_and_the_bare_rod_below_it() -> None:
    def film_ohm(**rods: float) -> float:
        films, clean = (electrodes_of(Rods(count=1, **rods), 100.0, film) for film in (1.5, 1.0))
        return 1 / sum(1 / (f.series_ohm - c.series_ohm) for f, c in zip(films, clean, strict=True))

    assert film_ohm(bore_cm=8, bore_m=0.8) == pytest.approx(film_ohm())
    assert film_ohm() == pytest.approx(0.5 * rod_ohm(100.0, 2.0, 0.016))


def test_the_shell_of_clay_is_that_of_a_coaxial_cylinder() -> None:
    bore, rod = electrodes_of(Rods(count=1, bore_cm=8, bore_m=0.8), 100.0, 1.0)
    assert bore.series_ohm == pytest.approx(CLAY_OHM_M * math.log(0.08 / 0.016) / (2 * math.pi * 0.8))
    assert (bore.end_m[2], rod.start_m[2], rod.series_ohm) == (0.8, 0.8, 0.0)


def test_a_school_is_judged_with_as_many_rods_as_it_says() -> None:
    plan = with_rods()
    for row in EarthHere(plan).schools():
        if row.school.count is not None:
            rods = Rods(count=row.school.count, length_m=row.school.length_m, position=(0, 40))
            assert row.ohm == pytest.approx(array(rods, layers_of(plan, DRY)).ohm + lead_ohm(plan), rel=1e-6)


def test_bare_wire_film_frost_and_rock_each_move_the_ohms_the_right_way() -> None:
    plain = rods_ohm(with_rods(), USUAL)
    assert rods_ohm(with_rods(bare_wire=True), USUAL) < 0.95 * plain
    rust = with_rods(metal="rebar")
    film = rod_metals()["rebar"]
    assert rods_ohm(rust, USUAL) > plain
    assert (
        rods_ohm(rust, USUAL, film=film.film_low) < rods_ohm(rust, USUAL) < rods_ohm(rust, USUAL, film=film.film_high)
    )
    assert 0.55 * plain < rods_ohm(with_rods(plate_m=1), USUAL) < 0.9 * plain
    frozen = changed(with_rods(), {"frost_m": 0.5})
    assert rods_ohm(frozen, USUAL, frozen=True) > 1.1 * plain
    assert rods_ohm(frozen, USUAL) == pytest.approx(plain)
    both = changed(frozen, {"subsoil": {"soil": "gravel", "depth_m": 0.8}})
    assert rods_ohm(both, USUAL, frozen=True) > 1.1 * rods_ohm(both, USUAL)
    rock = changed(with_rods(), {"subsoil": {"soil": "gravel", "depth_m": 0.8}})
    clay = changed(with_rods(), {"subsoil": {"soil": "wet_clay", "depth_m": 0.8}})
    assert rods_ohm(rock, USUAL) > 1.5 * plain > rods_ohm(clay, USUAL)


def test_the_soil_is_what_the_screwdriver_the_pins_and_the_area_say() -> None:
    feels = ("sinks", "", "barely", "never")
    soils = [layers_of(changed(with_rods(), {"soil_feel": feel}), USUAL).upper_ohm_m for feel in feels]
    assert soils == sorted(soils)
    measured = changed(with_rods(), {"soil_ohm_m": 77.0, "soil_feel": "never"})
    assert layers_of(measured, USUAL).upper_ohm_m == pytest.approx(77)
    corners = [[-5, 30], [20, 30], [20, 50], [-5, 50]]
    bank = {"id": "s", "kind": "soil", "soil": "dry_sand", "points": corners}
    assert layers_of(changed(with_rods(), {"landmarks": [bank]}), USUAL).upper_ohm_m == 2000


@pytest.mark.parametrize(
    ("rods", "says"),
    [
        ({"length_m": 0}, "greater than or equal to 0.3"),
        ({"length_m": 30}, "less than or equal to 6"),
        ({"spacing_m": -3}, "greater than or equal to 0.1"),
        ({"places": [[1, 1], [1, 1.01]]}, "one hole"),
        ({"bore_cm": 3, "diameter_mm": 40}, "holds no clay"),
        ({"metal": "gold"}, "no rod metal"),
    ],
)
def test_rods_that_cannot_be_are_refused_in_words(rods: dict[str, object], says: str) -> None:
    with pytest.raises(ValidationError, match=says):
        with_rods(**rods)


@pytest.mark.parametrize("ohm", [0, 1e7])
def test_soils_that_cannot_be_are_refused(ohm: float) -> None:
    with pytest.raises(ValidationError, match="soil_ohm_m"):
        simple_plan(soil_ohm_m=ohm)


def unit(stored: float, released: float) -> EnergizerModel:
    return EnergizerModel("x", "X", "mains", stored, released, 9.0, 7.0, 1.3, 0.0)


@pytest.mark.parametrize(
    ("key", "energizer", "rod_m", "drained", "count"),
    [
        ("metres", unit(1.4, 1.0), 1.8288, False, 3),
        ("metres", unit(8.6, 6.0), 1.8288, False, 3),
        ("metres", unit(14, 10.0), 1.8288, False, 5),
        ("metres", unit(14, 10.0), 2.4, False, 5),
        ("pairs", unit(8.6, 6.0), 2.4, False, 3),
        ("pairs", unit(14, 10.0), 2.4, False, 5),
        ("pairs", unit(22, 15.0), 2.4, False, 8),
        ("stored", unit(14.9, 10.0), 2.0, False, None),
        ("stored", unit(21.5, 15.0), 2.0, False, 5),
        ("stored", unit(36, 25.0), 2.0, False, 8),
        ("steps", unit(1.4, 1.0), 2.0, False, 2),
        ("steps", unit(8.6, 6.0), 2.0, False, 4),
        ("steps", unit(8.6, 6.0), 2.0, True, 6),
        ("eight", unit(8.6, 6.0), 2.0, False, 3),
        ("eight", unit(36, 25.0), 2.0, False, 8),
        ("two", unit(36, 25.0), 2.0, False, 2),
        ("one", unit(36, 25.0), 2.0, False, 1),
        ("test", unit(36, 25.0), 2.0, False, None),
    ],
)
def test_every_school_gives_its_own_number_to_the_rod(
    key: str, energizer: EnergizerModel, rod_m: float, drained: bool, count: int | None
) -> None:
    row = next(s for s in rod_schools(energizer, rod_m, well_drained=drained) if s.key == key)
    assert row.count == count
    assert row.count or row.gives


def test_seasons_counts_and_rules_are_what_the_whole_model_says() -> None:
    plan = with_rods()
    here = EarthHere(plan)
    by_name = {row.name: row for row in here.seasons()}
    for season in (Season.DRY, Season.WET):
        test = earth_test(solved(plan, Weather(season)))
        assert by_name[season.value].test_kv == pytest.approx(test.rods_kv, rel=1e-3)
        assert by_name[season.value].ohm == pytest.approx(test.rods_ohm)
    assert by_name["dry"].low_ohm < by_name["dry"].ohm < by_name["dry"].high_ohm
    counts = here.counts()
    assert [c.ohm for c in counts] == sorted((c.ohm for c in counts), reverse=True)
    assert [c.test_kv for c in counts] == sorted((c.test_kv for c in counts), reverse=True)
    assert 1 < knee(counts) <= counts[-1].count
    three = next(s for s in here.schools() if s.school.key == "eight")
    other = changed(plan, {"rods": {**plan.rods.model_dump(), "count": three.school.count}})
    assert three.test_kv == pytest.approx(earth_test(solved(other, DRY)).rods_kv, rel=1e-3)
    assert (three.status is not Status.HOLDS) == ("not by" in three.why)
    frost = EarthHere(changed(plan, {"frost_m": 0.4})).seasons()
    assert frost[-1].name == "frozen"
    assert frost[-1].ohm > by_name["usual"].ohm


def test_an_option_gives_what_it_promised_and_costs_what_it_said() -> None:
    plan = with_rods()
    rows = {o.key: o for o in options(plan, EarthHere(plan))}
    assert {"as-is", "more-1", "longer", "wider", "clay", "bare"} <= set(rows)
    for key in ("more-2", "longer", "wider", "clay", "bare", "plate"):
        done = taken(plan, key)
        assert earth_test(solved(done, DRY)).rods_kv == pytest.approx(rows[key].test_kv, rel=1e-3)
        assert max(0.0, bill(done).total - bill(plan).total) == pytest.approx(rows[key].money, abs=0.01)
        assert rows[key].ohm < rows["as-is"].ohm
    with pytest.raises(ValueError, match="no longer"):
        taken(plan, "gold")


def test_places_are_refused_with_the_reason_and_damp_ones_proposed() -> None:
    marks = [
        {"id": "e", "kind": "supply_earth", "name": "House earth", "points": [[0, 42]]},
        {"id": "t", "kind": "track", "name": "Track", "points": [[-200, 60], [200, 60]]},
        {"id": "w", "kind": "hollow", "name": "Wet hollow", "points": [[60, 20], [90, 20], [90, 45], [60, 45]]},
    ]
    plan = changed(with_rods(), {"landmarks": marks})
    near, wheels, free = refusals(plan, [(3, 40), (50, 61), (75, 30)])
    assert near
    assert "House earth" in near.words
    assert near.is_clearance
    assert wheels
    assert "wheels" in wheels.words
    assert not wheels.is_clearance
    assert free is None
    best, *_ = proposed(plan)
    assert any("Wet hollow" in reason for reason in best.reasons)
    assert not any(refusals(plan, best.row(plan.rods)))
    findings = {f.title for f in judge(plan).verdicts[Stage.EARTH].findings}
    assert "Rods near supply's earth" in findings


def test_a_rod_placed_too_near_is_moved_off_to_three_metres() -> None:
    plan = with_rods()
    spot = snapped(plan, (0.5, 40.4))
    assert min(math.dist(spot, other) for other in placed(plan)) >= 2.99
    assert snapped(plan, (0, 80)) == (0, 80)


@pytest.mark.parametrize(
    ("rods", "title", "status"),
    [
        ({"metal": "rebar"}, "Rebar for rods", Status.MARGINAL),
        ({"metal": "copper", "lead": "galvanised"}, "Lead of another metal", Status.MARGINAL),
        ({"metal": "galvanised", "clamp_metal": "copper"}, "Clamp of another metal", Status.MARGINAL),
        ({"metal": "stainless", "clamp_metal": "galvanised"}, "Clamp of another metal", None),
        ({"lead": "household"}, "Household cable as earth lead", Status.FAILS),
        ({"clamp": "none"}, "Wire twisted round the rods", Status.MARGINAL),
        ({"spacing_m": 1.2}, "Rods too near each other", Status.MARGINAL),
        ({}, "Rods too near each other", None),
    ],
)
def test_materials_and_spacing_are_judged(rods: dict[str, object], title: str, status: Status | None) -> None:
    found = {f.title: f.status for f in judge(with_rods(**rods)).verdicts[Stage.EARTH].findings}
    assert found.get(title) == status


def test_an_earth_lead_on_the_posts_saves_its_trench_and_is_told_as_no_dead_wire() -> None:
    buried, strung = with_rods(), with_rods(lead="strand")
    assert lead_ohm(strung) == lead_ohm(buried)
    judged = judge(strung)
    told = next(words for words in judged.verdicts[Stage.EARTH].cautions if "trench" in words)
    assert f"{lead_m(strung):.0f} m of trench" in told
    assert f"{kv_words(judged.earth_tests[Season.DRY].rods_kv)} kV" in told
    assert not any("trench" in words for words in judge(buried).verdicts[Stage.EARTH].cautions)

    def needed(plan: Plan, part: str) -> float:
        return sum(need.quantity for need in earth_needs(plan) if need.part == part)

    home_m = lead_m(strung) + strung.allowance.lead_m
    assert (needed(buried, "bare_lead"), needed(strung, "earth_lead")) == (0, 0)
    assert needed(strung, "bare_lead") == pytest.approx(needed(buried, "earth_lead"))
    assert needed(strung, "earth_clip") == math.ceil(home_m / strung.post_spacing_m)


def test_the_guesses_ends_lie_on_both_sides() -> None:
    plan = with_rods()
    low, likely, high = (rods_ohm(plan, Weather(Season.DRY, g)) for g in (Guess.HIGH, Guess.LIKELY, Guess.LOW))
    assert low < likely < high
    assert unit_of(plan) == energizers()["mains_6"]
    assert rod_ohm(layers_of(plan, DRY).upper_ohm_m, 2, 0.016) > likely
