"""The aerial photo: two points decide, more are averaged, no shear and no mirror."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from adze.core.ground.underlay import laid
from adze.core.plan.ground import Underlay

PIXELS = [(0.0, 800.0), (1000.0, 780.0), (400.0, 20.0)]


def photo(pixels: list[tuple[float, float]], places: list[tuple[float, float]]) -> Underlay:
    points = [{"pixel": p, "at": a} for p, a in zip(pixels, places, strict=True)]
    return Underlay.model_validate({"picture": 1, "width_px": 1000, "height_px": 800, "points": points})


def turned(pixel: tuple[float, float], size: float, angle: float, shift: tuple[float, float]) -> tuple[float, float]:
    x, y = pixel[0], -pixel[1]
    c, s = math.cos(angle), math.sin(angle)
    return size * (c * x - s * y) + shift[0], size * (s * x + c * y) + shift[1]


@given(st.floats(0.05, 5), st.floats(-3, 3), st.tuples(st.floats(-900, 900), st.floats(-900, 900)), st.integers(2, 3))
def test_a_turned_and_sized_photo_is_found_again(
    size: float, angle: float, shift: tuple[float, float], count: int
) -> None:
    found = laid(photo(PIXELS[:count], [turned(p, size, angle, shift) for p in PIXELS[:count]]))
    assert max(found.misses_m) < 1e-6
    assert found.metres_per_pixel == pytest.approx(size)
    assert found.place((123.0, 456.0)) == pytest.approx(turned((123.0, 456.0), size, angle, shift), abs=1e-6)


def test_a_point_that_lies_off_is_told_by_its_miss() -> None:
    places = [turned(p, 0.5, 0.2, (10, 20)) for p in PIXELS]
    places[2] = places[2][0] + 6, places[2][1]
    found = laid(photo(PIXELS, places))
    assert max(found.misses_m) == found.misses_m[2]
    assert 1 < max(found.misses_m) < 6


def test_two_points_on_one_spot_are_refused() -> None:
    with pytest.raises(ValidationError, match="far apart"):
        photo([(0, 0), (2, 2)], [(0, 0), (50, 50)])
