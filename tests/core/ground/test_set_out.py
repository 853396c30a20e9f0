"""Setting out: bearings, legs, squares, fixed distances, lanes, pegs."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon

from adze.core.ground.set_out import (
    bearing_deg,
    beside,
    lane,
    legs_of,
    parse_bearing_deg,
    parse_legs,
    pegs,
    ring_around,
    square_around,
    walked,
)


@pytest.mark.parametrize(
    ("text", "degrees"),
    [
        ("45", 45),
        ("45°", 45),
        ("NE", 45),
        ("n 30 e", 30),
        ("S30W", 210),
        ("N 10.5 W", 349.5),
        ("-90", 270),
        ("SSE", 157.5),
    ],
)
def test_bearings_as_people_write_them(text: str, degrees: float) -> None:
    assert parse_bearing_deg(text) == pytest.approx(degrees)


@pytest.mark.parametrize("text", ["", "north-ish", "400", "N 95 E", "E 30 N", "nan", "1e3"])
def test_what_is_no_bearing_is_refused(text: str) -> None:
    with pytest.raises(ValueError, match="bearing"):
        parse_bearing_deg(text)


def test_legs_take_any_length_and_name_the_line() -> None:
    legs = parse_legs("120 m NE\n5 ft 6 in N 30 E\n85, 310 | 40 @ S")
    assert [(round(a, 4), b) for a, b in legs] == [(120, 45), (1.6764, 30), (85, 310), (40, 180)]
    assert parse_legs("100 90", unit="ft")[0][0] == pytest.approx(30.48)
    with pytest.raises(ValueError, match=r"line 2: .*bearing"):
        parse_legs("10 N\n20 somewhere")
    for wrong in ("", "120", "0 N", "-5 N"):
        with pytest.raises(ValueError, match=r"\w"):
            parse_legs(wrong)


@given(st.lists(st.tuples(st.floats(1, 900), st.floats(0, 359.9)), min_size=1, max_size=8))
def test_walking_and_reading_back_agree(legs: list[tuple[float, float]]) -> None:
    back = legs_of(walked((10.0, -20.0), legs))
    for (length, bearing), (length_back, bearing_back) in zip(legs, back, strict=True):
        assert length_back == pytest.approx(length, abs=0.003)
        assert math.cos(math.radians(bearing - bearing_back)) == pytest.approx(1, abs=1e-5)


@given(st.floats(2, 60), st.floats(0, 359))
def test_a_square_is_square_and_its_pegs_say_so(side: float, turned: float) -> None:
    centre, rows, (one, other) = pegs(square_around((5.0, 5.0), side, turned))
    assert centre == pytest.approx((5, 5), abs=0.01)
    assert [r.side_m for r in rows] == pytest.approx([side] * 4, abs=0.01)
    assert one == pytest.approx(other, abs=0.01)
    assert one == pytest.approx(side * 2**0.5, abs=0.01)


@given(st.floats(0.5, 30))
def test_a_ring_keeps_its_distance(away: float) -> None:
    hive = Point(3, 4)
    assert LineString(ring_around(hive, away)).distance(hive) == pytest.approx(away, abs=0.002)
    hutch = Polygon([(0, 0), (6, 0), (6, 3), (0, 3)])
    ring = ring_around(hutch, away)
    assert ring[0] == ring[-1]
    assert LineString(ring).distance(hutch) == pytest.approx(away, abs=0.002)
    assert len(ring) == 5


@given(st.floats(0.5, 8), st.booleans())
def test_a_line_beside_another_keeps_its_distance(away: float, left: bool) -> None:
    border = LineString([(0, 0), (60, 5), (110, -30), (200, -30)])
    line = LineString(beside(border, away, left=left))
    assert line.distance(border) == pytest.approx(away, abs=0.01)
    middle = line.interpolate(0.5, normalized=True)
    side = (middle.y - border.interpolate(border.project(middle)).y) > 0
    assert side is left


def test_too_far_beside_a_bend_is_refused() -> None:
    with pytest.raises(ValueError, match="folds"):
        beside(LineString([(0, 0), (10, 0), (10, 10), (0, 10), (0, 1)]), 40, left=True)


def test_a_lane_has_its_width() -> None:
    left, right = lane([(0.0, 0.0), (100.0, 0.0), (150.0, 80.0)], 5)
    assert LineString(left).distance(LineString(right)) == pytest.approx(5, abs=0.01)


def test_the_first_side_of_a_square_leads_where_it_is_turned_to() -> None:
    for turned in (0.0, 30.0, 80.0):
        first, second, *_ = square_around((5.0, 5.0), 10.0, turned)
        assert bearing_deg(first, second) == pytest.approx(turned, abs=0.01)
