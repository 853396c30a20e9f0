"""Stray volts: near and far, load and soil, pipes, the rod that watches."""

import numpy as np
import pytest

from adze.core.basics.status import Status
from adze.core.build.rods import array, layers_of
from adze.core.forecast.stray import Rise, monitor_v, strays
from adze.core.forecast.volts import solved
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan


def farm(*away_m: float, **more: object) -> Plan:
    marks = [{"id": f"t{i}", "kind": "trough", "name": f"T{i}", "points": [[-m, 40]]} for i, m in enumerate(away_m)]
    base = {"rods": {"count": 3, "position": (0, 40)}, "energizer": "mains_6", "soil": "loam", "landmarks": marks}
    return simple_plan(**(base | {"strands": [{"cm": 25}, {"cm": 50}, {"cm": 80}], "grass": "moderate"} | more))


def test_it_falls_with_distance_and_rises_with_growth() -> None:
    rows = strays(farm(4, 20, 80, 300))
    worst = [row.worst_v for row in rows]
    assert worst == sorted(worst, reverse=True)
    assert [round(row.away_m) for row in rows] == [4, 20, 80, 300]
    assert rows[0].volts["worst load"] > rows[0].volts["wet"]
    assert rows[0].step_v > rows[2].step_v
    assert rows[0].status is Status.MARGINAL


def test_more_rods_hardly_help_far_off_but_distance_does() -> None:
    few, many = (strays(farm(60, rods={"count": n, "position": (0, 40)}))[0] for n in (3, 9))
    assert many.worst_v > 0.6 * few.worst_v
    far = strays(farm(60 + 120))[0]
    assert far.worst_v < 0.5 * few.worst_v


def test_beside_the_rods_alone_it_is_eq_18() -> None:
    plan, weather = farm(5), Weather(Season.DRY)
    field = array(plan.rods, layers_of(plan, weather))
    far_fence = np.array([[1e7, 1e7]])
    point = np.array([[-5.0, 40.0]])
    rise = Rise(field, 1000.0, far_fence).volts(point)[0]
    assert rise == pytest.approx(1000 * (1 - field.peg_fraction((-5.0, 40.0))), rel=1e-3)


def test_what_comes_back_to_the_fence_lowers_the_ground_between() -> None:
    plan, weather = farm(5), Weather(Season.DRY)
    field, layers = array(plan.rods, layers_of(plan, weather)), layers_of(plan, weather)
    point, fence = np.array([[-5.0, 40.0]]), np.array([[95.0, 40.0]])
    back_ohm = layers.upper_ohm_m / (2 * np.pi * 100)  # a point's current into a half space, 100 m off
    expected = 1000 * (field.rise_ohm(point)[0] - back_ohm) / field.ohm
    assert Rise(field, 1000.0, fence).volts(point)[0] == pytest.approx(expected, rel=0.01)


def test_a_metal_pipe_past_the_rods_is_named() -> None:
    pipe = {"id": "p", "kind": "pipe", "name": "Main", "points": [[-200, 40], [-3, 45]]}
    plan = farm(200)
    with_pipe = changed(plan, {"landmarks": [*(m.model_dump() for m in plan.landmarks), pipe]})
    assert strays(with_pipe)[0].by_pipe == "Main"
    assert strays(plan)[0].by_pipe == ""


def test_without_water_or_placed_rods_there_is_nothing_to_say() -> None:
    assert strays(farm()) == ()
    assert strays(farm(10, rods={"count": 3})) == ()


def test_the_rod_that_watches_shows_nearly_all_of_the_rise_from_afar() -> None:
    assert monitor_v(farm(), Season.DRY) is None
    near, far = (
        monitor_v(farm(rods={"count": 3, "position": (0, 40), "monitor": (-m, 40)}), Season.DRY) for m in (2, 60)
    )
    assert near is not None
    assert far is not None
    assert near < 0.85 * far
    assert far > 0
    assert solved(farm(), Weather(Season.DRY)).circuit.rods_ohm > 0
