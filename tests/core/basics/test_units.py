"""Typed lengths and rounding."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.basics.rounding import round_half_up, significant
from adze.core.basics.units import (
    Units,
    band_words,
    bearing_words,
    exact_metres,
    figure_words,
    format_height,
    format_length,
    joule_words,
    kv_words,
    parse_length_m,
)


@pytest.mark.parametrize(
    ("text", "metres"),
    [
        ("5 ft 6 in", 1.6764),
        ("5'6\"", 1.6764),
        ("5'6", 1.6764),
        ("1.7m", 1.7),
        ("1,7 m", 1.7),
        ("66 in", 1.6764),
        ("170 cm", 1.7),
        ("1.2 km", 1200),
        ("0.5 mi", 804.672),
        ("12 yd", 10.9728),
        (" 12 ", 12),
        ("-3 m", -3),
    ],
)
def test_lengths_are_understood(text: str, metres: float) -> None:
    unit = "ft" if "'" in text else "m"
    assert parse_length_m(text, unit) == pytest.approx(metres)


def test_a_bare_number_takes_the_unit_of_its_box() -> None:
    assert parse_length_m("66", "in") == pytest.approx(1.6764)
    assert parse_length_m("90", "cm") == pytest.approx(0.9)


@pytest.mark.parametrize(
    "text", ["", "abc", "5 furlongs", "1 m -2 m", "nan", "inf", "1e9", "9" * 50, "1 m 2 m 3 m", "--5"]
)
def test_what_is_not_a_length_is_refused_in_words(text: str) -> None:
    with pytest.raises(ValueError, match=r"write a length|is not a unit|sign|parts"):
        parse_length_m(text)


@given(st.floats(0.01, 5000))
def test_feet_there_and_back(metres: float) -> None:
    assert parse_length_m(f"{metres / 0.3048:.9f}", "ft") == pytest.approx(metres, abs=1e-6)


def test_lengths_are_said_as_people_say_them() -> None:
    assert format_length(1240, Units.METRIC) == "1.24 km"
    assert format_length(12.4, Units.METRIC) == "12 m"
    assert format_length(100, Units.IMPERIAL) == "328 ft"
    assert format_length(3218.688, Units.IMPERIAL) == "2.00 mi"
    assert format_height(105, Units.METRIC) == "105 cm"
    assert format_height(167.64, Units.IMPERIAL) == "5 ft 6 in"
    assert format_height(25, Units.IMPERIAL) == "9.75 in"


@pytest.mark.parametrize(("value", "whole"), [(2.5, 3), (3.5, 4), (2.4999, 2), (-0.5, 0), (27.5, 28)])
def test_halves_go_up(value: float, whole: int) -> None:
    assert round_half_up(value) == whole


@pytest.mark.parametrize(("value", "shown"), [(3.449, 3.4), (0.3149, 0.31), (12.6, 13), (0, 0)])
def test_two_significant_figures(value: float, shown: float) -> None:
    assert significant(value) == shown


@pytest.mark.parametrize(("metres", "text"), [(12345.678, "12345.678"), (-0.5, "-0.5"), (40.0, "40"), (0.0004, "0")])
def test_metres_are_shown_as_they_can_be_typed_back(metres: float, text: str) -> None:
    assert exact_metres(metres) == text


@pytest.mark.parametrize(
    ("value", "words"),
    [(0, "0"), (0.00123, "0.0012"), (0.2, "0.2"), (3.44, "3.4"), (9.96, "10"), (100, "100"), (123456, "120000")],
)
def test_figures_have_two_places_and_no_exponent(value: float, words: str) -> None:
    assert figure_words(value) == words


@given(st.floats(1e-9, 1e9))
def test_no_figure_is_said_with_an_exponent(value: float) -> None:
    assert "e" not in figure_words(value)
    assert float(figure_words(value)) == pytest.approx(value, rel=0.06)


def test_next_to_nothing_is_said_as_such() -> None:
    assert joule_words(7.2e-7) == "under 0.001 J"
    assert joule_words(0) == "0 J"
    assert joule_words(0.0022) == "0.0022 J"
    assert kv_words(1e-5) == "0"


def test_a_band_is_never_said_from_a_figure_to_itself() -> None:
    assert band_words("8.2", "8.2") == "8.2"
    assert band_words("8.2", "8.4") == "8.2 to 8.4"


@pytest.mark.parametrize(
    ("degrees", "words"), [(0, "000° N"), (45, "045° NE"), (270.4, "270° W"), (359.7, "000° N"), (-90, "270° W")]
)
def test_a_bearing_is_said_for_the_compass_and_the_eye(degrees: float, words: str) -> None:
    assert bearing_words(degrees) == words
