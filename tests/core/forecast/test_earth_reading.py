"""An earth test read and undone: the rods come back, a near peg and a shallow short are corrected."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.basics.status import Status
from adze.core.build.rods import array, layers_of
from adze.core.energizer.fit import peak_on_load_v
from adze.core.forecast.circuit import ENERGIZER
from adze.core.forecast.earth_reading import ReadingFault, implied
from adze.core.forecast.earth_reading import TestRead as Read
from adze.core.forecast.earth_test import MOST_STAKES, earth_test, judged, peg_at, reaches, short_place, stakes_for
from adze.core.forecast.volts import equivalent_at, solved
from adze.core.ground.places import Place
from adze.core.plan.catalogue import pulse_of, unit_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.earth import TestSchool as School
from adze.core.plan.season import Season, Weather
from adze.core.pulse.network import Port, Terminal
from tests.conftest import simple_plan

DRY = Weather(Season.DRY)


def farm(**more: object) -> Plan:
    base = {"rods": {"count": 3, "position": (0, 40)}, "energizer": "mains_6", "soil": "loam"}
    return simple_plan(**(base | {"strands": [{"cm": 40}, {"cm": 80}]} | more))


def read_on(plan: Plan, short_ohm: float, peg_m: float) -> Read:
    """What a tester would show on a plan whose fence is shorted with so many ohm."""
    found, place = solved(plan, DRY), short_place(plan)
    assert place is not None
    equivalent = equivalent_at(found, place)
    fence = float(found.shown_kv(equivalent.load_v(short_ohm, Terminal.LIVE)))
    rise = float(found.shown_kv(equivalent.elsewhere_v(short_ohm, Port(ENERGIZER, Terminal.EARTH))))
    share = array(plan.rods, layers_of(plan, DRY)).peg_fraction(peg_at(plan.rods, peg_m))
    return Read(place, Season.DRY, rise * share, fence, peg_m)


@settings(max_examples=12)
@given(st.floats(0.4, 4.0), st.floats(10, 60), st.sampled_from([1.0, 5.0, 10.0, 30.0]))
def test_the_rods_come_back_whatever_soil_short_and_peg(soil: float, short_ohm: float, peg_m: float) -> None:
    truth = farm(calibration={"soil_factor": round(soil, 3)})
    says = implied(farm(), read_on(truth, short_ohm, peg_m))
    mine = solved(truth, DRY).circuit.rods_ohm
    assert says.rods_ohm == pytest.approx(mine, rel=0.02)
    assert says.low_ohm <= says.rods_ohm <= says.high_ohm
    assert says.soil_ohm_m == pytest.approx(layers_of(truth, DRY).upper_ohm_m, rel=0.03)
    assert says.full_kv == pytest.approx(earth_test(solved(truth, DRY)).rods_kv, rel=0.03)


def test_a_near_peg_alone_would_pass_rods_that_fail() -> None:
    plan = farm(energizer="mains_15")
    read = read_on(plan, 20.0, 0.5)
    says = implied(plan, read)
    assert read.rods_kv < 0.75 * says.full_kv
    assert says.peg_share < 0.75


@pytest.mark.parametrize(("soil", "is_doubtful"), [(1.3, False), (1.6, True)])
def test_rods_far_over_their_forecast_make_one_doubt_a_joint(soil: float, is_doubtful: bool) -> None:
    says = implied(farm(), read_on(farm(calibration={"soil_factor": soil}), 20.0, 10.0))
    assert says.is_joint_doubtful == is_doubtful


def test_what_a_near_peg_hides_is_added() -> None:
    read = read_on(farm(), 20.0, 0.5)
    says = implied(farm(), read)
    assert says.true_kv(read.rods_kv) == pytest.approx(read_on(farm(), 20.0, 1000.0).rods_kv, rel=0.02)


def test_a_shallow_short_is_told_and_corrected() -> None:
    plan = farm()
    read = read_on(plan, 150.0, 10.0)
    assert read.fence_kv > 2
    says = implied(plan, read)
    assert not says.is_deep
    assert says.full_kv > read.rods_kv


def test_so_many_more_rods_bring_it_to_the_school_and_one_less_does_not() -> None:
    plan = farm(soil="clay_loam")
    says = implied(plan, read_on(plan, 20.0, 10.0))
    assert says.status is Status.FAILS
    assert says.rods is not None
    for count, passes in ((says.rods, True), (says.rods - 1, False)):
        more = changed(plan, {"rods": {**plan.rods.model_dump(), "count": count}})
        assert (earth_test(solved(more, DRY)).status is Status.HOLDS) == passes


@pytest.mark.parametrize(
    ("rods_kv", "fence_kv", "before_kv", "field"),
    [
        (12.0, 1.5, None, "rods_kv"),
        (0.5, 11.0, None, "fence_kv"),
        (0.5, 3.0, 2.0, "fence_kv"),
        (6.0, 1.5, 5.5, "rods_kv"),
        (0.5, 0.0, None, "fence_kv"),
    ],
)
def test_readings_that_cannot_be_are_refused_where_they_were_typed(
    rods_kv: float, fence_kv: float, before_kv: float | None, field: str
) -> None:
    with pytest.raises(ReadingFault) as fault:
        implied(farm(), Read(Place("line1", 100), Season.DRY, rods_kv, fence_kv, 10.0, before_kv))
    assert fault.value.field == field


def test_the_fence_is_shorted_a_hundred_metres_out_where_stakes_bite() -> None:
    plan = farm()
    assert short_place(plan) == Place("line1", 100)
    assert short_place(plan, 320) == Place("line1", 320)
    sand = {"id": "s", "kind": "soil", "soil": "wet_clay", "points": [[-10, 50], [10, 50], [10, 300], [-10, 300]]}
    two = {
        "runs": [
            {"id": "a", "name": "A", "points": [[0, 0], [400, 0]]},
            {"id": "b", "name": "B", "points": [[0, 0], [0, 400]]},
        ],
        "landmarks": [sand],
    }
    assert short_place(farm(**two)) == Place("b", 100)


def test_stakes_are_counted_and_never_more_than_are_carried() -> None:
    count, ohm = stakes_for(30.0, 50.0)
    assert 1 < count < MOST_STAKES
    assert ohm <= 30 < stakes_for(1e9, 50.0)[1]
    assert stakes_for(5.0, 5000.0)[0] == MOST_STAKES


def test_schools_judge_one_reading_each_in_its_way() -> None:
    assert [judged(0.4, school) for school in (School.USUAL, School.STRICT, School.LENIENT)] == [
        Status.MARGINAL,
        Status.FAILS,
        Status.HOLDS,
    ]


def test_the_peg_stands_outward_past_the_last_rod() -> None:
    assert peg_at(Rods(count=3, position=(0, 0)), 10) == pytest.approx((16, 0))
    assert peg_at(Rods(count=1, position=(0, 0), bearing_deg=0), 5) == pytest.approx((0, 5))
    unit = unit_of(farm())
    assert unit is not None
    assert peak_on_load_v(pulse_of(unit), 500.0) > 0


def test_a_small_ring_is_tested_half_way_round_and_a_short_line_at_its_end() -> None:
    square = [[0, 0], [15, 0], [15, 15], [0, 15], [0, 0]]
    ring = farm(runs=[{"id": "r", "name": "R", "points": square}])
    place = short_place(ring)
    assert place is not None
    assert place.at_m == pytest.approx(30, abs=1)
    assert not reaches(ring)
    assert short_place(farm(runs=[{"id": "s", "name": "S", "points": [[0, 0], [40, 0]]}])) == Place("s", 40.0)
    assert reaches(farm())
