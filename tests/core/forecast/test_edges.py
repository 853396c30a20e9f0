"""Each judged limit of this room, just inside and just outside of it."""

import pytest

from adze.core.basics.status import Status
from adze.core.forecast.earth_reading import TestRead as Read
from adze.core.forecast.earth_reading import implied
from adze.core.forecast.earth_test import earth_test, judged, peg_at, short_place
from adze.core.forecast.stray import Stray
from adze.core.forecast.volts import solved, volts
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.earth import TestSchool as School
from adze.core.plan.ground import Landmark
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan


def farm() -> Plan:
    return simple_plan(rods={"count": 3, "position": (0, 40)}, energizer="mains_6", strands=[{"cm": 40}, {"cm": 80}])


@pytest.mark.parametrize(
    ("volts", "pipe", "status"),
    [(4.9, "", Status.HOLDS), (5.4, "Main", Status.HOLDS), (5.6, "", Status.MARGINAL), (5.6, "Main", Status.FAILS)],
)
def test_cattle_refuse_five_volts_by_a_metal_pipe(volts: float, pipe: str, status: Status) -> None:
    trough = Landmark(id="t", kind="trough", points=((0, 0),))
    assert Stray(trough, 10.0, {"wet": volts}, 0.0, None, pipe).status is status


@pytest.mark.parametrize(
    ("kv", "status"), [(0.29, Status.HOLDS), (0.31, Status.MARGINAL), (0.49, Status.MARGINAL), (0.51, Status.FAILS)]
)
def test_the_usual_school_of_the_earth_test(kv: float, status: Status) -> None:
    assert judged(kv, School.USUAL) is status


def test_the_earth_test_is_made_with_the_fence_at_one_and_a_half_kv_and_a_peg_at_ten_metres() -> None:
    test = earth_test(solved(farm(), Weather(Season.DRY)))
    assert test.fence_kv == pytest.approx(1.5, abs=0.02)
    assert peg_at(Rods(count=1, position=(0, 40))) == pytest.approx((10, 40))


def test_the_fence_is_shorted_a_hundred_metres_out() -> None:
    place = short_place(farm())
    assert place is not None
    assert place.at_m == pytest.approx(100, abs=1)


@pytest.mark.parametrize(("fence_kv", "deep"), [(1.95, True), (2.05, False)])
def test_a_reading_over_a_shallow_short_is_no_proof(fence_kv: float, deep: bool) -> None:
    assert implied(farm(), Read(Place("line1", 100), Season.DRY, 0.2, fence_kv, 10.0)).is_deep == deep


def test_a_broad_tape_that_lies_on_the_ground_is_solved() -> None:
    plan = simple_plan(conductor="tape_40", strands=[{"cm": 1}, {"cm": 60}])
    assert volts(plan, Weather(Season.USUAL)).worst[1] > 0
