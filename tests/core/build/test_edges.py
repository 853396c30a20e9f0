"""Each limit and rate of this room, just inside and just outside of it, or as a worked figure."""

import math

import pytest

from adze.core.build.count import count, sign_count
from adze.core.build.parts import bill
from adze.core.build.rod_sites import refusals, snapped
from adze.core.build.rods import electrodes_of, lead_ohm, rods_ohm
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan

STEM = {"id": "r0", "name": "Stem", "points": [[0, 0], [400, 0]]}


def quantity(plan: Plan, part: str) -> float:
    return next((line.quantity for line in bill(plan).lines if line.part == part), 0.0)


@pytest.mark.parametrize(("away_m", "signs"), [(19, 4 + 6), (21, 4)])
def test_signs_along_a_path_beside_the_fence(away_m: float, signs: int) -> None:
    path = {"id": "p", "kind": "path", "points": [[0, away_m], [500, away_m]]}
    stem = STEM | {"points": [[0, 0], [500, 0]]}
    assert sign_count(simple_plan(runs=[stem], landmarks=[path])) == signs


@pytest.mark.parametrize(("length_m", "springs"), [(299, 0), (301, 1)])
def test_a_long_strain_takes_a_spring(length_m: float, springs: int) -> None:
    assert count(simple_plan(runs=[STEM | {"points": [[0, 0], [length_m, 0]]}])).long_sections == springs


def test_wire_of_one_strand_over_400_m() -> None:
    """5 % waste and a tail of half a metre at each end of the strain."""
    (wire,) = [line for line in bill(simple_plan(runs=[STEM])).lines if line.label.startswith("2.5 mm")]
    assert wire.quantity == pytest.approx(421)


@pytest.mark.parametrize(("away_m", "refused"), [(4.9, True), (5.1, False)])
def test_no_rod_stands_in_a_gateway(away_m: float, refused: bool) -> None:
    gate = {"id": "g", "kind": "gate", "run": "r0", "at_m": 200, "name": "Gate"}
    (why,) = refusals(simple_plan(runs=[STEM], fixtures=[gate]), [(200.0, away_m)])
    assert (why is not None) == refused


def test_a_rod_is_moved_to_three_metres_from_the_next() -> None:
    moved = snapped(simple_plan(rods={"count": 1, "position": (50, 50)}), (51.0, 50.0))
    assert math.dist(moved, (50, 50)) == pytest.approx(3, abs=0.02)


def test_a_loose_earth_lead_is_twenty_clamps() -> None:
    """3 m of cable of 35 milliohm a metre, and a clamp of 50 milliohm."""
    assert lead_ohm(simple_plan(rods={"count": 1})) == pytest.approx(0.105 + 0.05)
    assert lead_ohm(simple_plan(rods={"count": 1, "clamp": "none"})) == pytest.approx(0.105 + 1.0)


def test_clay_of_3_ohm_m_in_a_bore_adds_its_shell() -> None:
    """The shell between rod and bore in series with the bore as one thick electrode (Sunde, ch. 3)."""
    (bored,) = electrodes_of(Rods(count=1, length_m=2, diameter_mm=16, bore_cm=16, bore_m=2), 300.0, 1.0)
    assert bored.diameter_m == pytest.approx(0.16)
    assert bored.series_ohm == pytest.approx(3.0 * math.log(10) / (2 * math.pi * 2))


def test_frost_multiplies_the_soil_by_seven() -> None:
    """A rod wholly in frozen ground reads seven times its ohms."""
    plan = simple_plan(rods={"count": 1, "length_m": 0.6}, frost_m=2.5)
    weather = Weather(Season.USUAL)
    thawed, frozen = (rods_ohm(plan, weather, frozen=cold) - lead_ohm(plan) for cold in (False, True))
    assert 5.5 < frozen / thawed < 7.0
