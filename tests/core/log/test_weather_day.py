"""A fence's day by the weather: bounds, what rain, drought, frost and a cut do, and what the record lacks."""

import math
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.log.weather_day import (
    FULL_DEGREE_DAYS,
    LEAST_GROWTH,
    MOST_GROWTH,
    WeatherDay,
    day_state,
    grown,
    kv_of_day,
    storms,
)

DAY = date(2027, 6, 30)


def record(*rows: tuple[float, float]) -> dict[date, WeatherDay]:
    """Days up to DAY, each with its rain in mm and mean in °C."""
    first = DAY - timedelta(days=len(rows) - 1)
    days = [WeatherDay(first + timedelta(days=n), rain, mean) for n, (rain, mean) in enumerate(rows)]
    return {row.day: row for row in days}


def test_without_that_day_and_the_one_before_nothing_is_said() -> None:
    assert day_state({}, DAY, None) is None
    assert day_state(record((0, 15)), DAY, None) is None
    assert day_state(record((0, 15), (0, 15)), DAY, None) is not None


def test_rain_wets_drought_dries_frost_counts_as_dry() -> None:
    rain = day_state(record(*[(0.0, 15.0)] * 20, (12.0, 15.0)), DAY, None)
    drought = day_state(record((9.0, 15.0), *[(0.0, 15.0)] * 30), DAY, None)
    frost = day_state(record(*[(3.0, -6.0)] * 5), DAY, None)
    assert rain is not None
    assert drought is not None
    assert frost is not None
    assert (rain.wet, rain.dry, rain.rainless_days) == (1.0, 0.0, 0)
    assert (drought.wet, drought.dry, drought.rainless_days) == (0.0, 1.0, 30)
    assert (frost.wet, frost.dry, frost.is_frozen) == (0.0, 1.0, True)


def test_growth_follows_degree_days_in_closed_form_and_starts_anew_at_a_cut() -> None:
    days = record(*[(2.0, 15.0)] * 60)
    cut = DAY - timedelta(days=42)
    expected = LEAST_GROWTH + (MOST_GROWTH - LEAST_GROWTH) * (1 - math.exp(-42 * 10 / FULL_DEGREE_DAYS))
    assert grown(days, cut, DAY) == pytest.approx(expected)
    assert grown(days, DAY, DAY) == LEAST_GROWTH
    assert grown({}, cut, DAY) is None  # nothing is known of what has grown
    just = day_state(days, DAY, DAY - timedelta(days=1))
    assert just is not None
    assert just.growth < 0.4
    assert just.since_cut_days == 1


def test_a_gauge_alone_says_nothing_of_growth_or_frost() -> None:
    rain = {day: WeatherDay(day, row.rain_mm, None) for day, row in record(*[(2.0, -9.0)] * 40).items()}
    state = day_state(rain, DAY, DAY - timedelta(days=30))
    assert state is not None
    assert (state.growth, state.since_cut_days, state.is_frozen) == (1.0, None, False)


def test_in_a_drought_and_in_the_cold_little_grows() -> None:
    cut = DAY - timedelta(days=30)
    wet, dry, cold = (record(*[row] * 50) for row in ((2.0, 16.0), (0.1, 16.0), (2.0, 4.0)))
    stands = [grown(days, cut, DAY) or 0.0 for days in (cold, dry, wet)]
    assert stands[0] == pytest.approx(LEAST_GROWTH)
    assert stands[0] < stands[1] < stands[2]


def test_days_that_the_record_lacks_count_as_those_that_it_has() -> None:
    whole = record(*[(2.0, 15.0)] * 60)
    holes = {day: row for day, row in whole.items() if day.day % 3}
    cut = DAY - timedelta(days=40)
    assert grown(holes, cut, DAY) == pytest.approx(grown(whole, cut, DAY))


@given(
    st.lists(st.tuples(st.floats(0, 80), st.floats(-20, 35)), min_size=2, max_size=40),
    st.tuples(*[st.floats(0.5, 10.0)] * 3),
    st.integers(0, 60),
)
def test_a_day_lies_between_its_seasons_and_its_growth(
    rows: list[tuple[float, float]], kv: tuple[float, float, float], ago: int
) -> None:
    state = day_state(record(*rows), DAY, DAY - timedelta(days=ago))
    assert state is not None
    assert 0 <= state.wet <= 1
    assert 0 <= state.dry <= 1
    assert state.wet + state.dry <= 1 + 1e-9
    assert LEAST_GROWTH - 1e-9 <= state.growth <= MOST_GROWTH
    assert min(kv) - 1e-9 <= kv_of_day(state, kv, 0.0) <= max(kv) + 1e-9
    assert (
        kv_of_day(state, kv, -0.3) * (1 if state.growth >= 1 else -1)
        <= kv_of_day(state, kv, 0.0) * (1 if state.growth >= 1 else -1) + 1e-9
    )


def test_the_last_storm_of_the_record() -> None:
    days = record(*[(0.0, 15.0)] * 5)
    assert storms(days, DAY) is None
    stormy = DAY - timedelta(days=3)
    days[stormy] = WeatherDay(stormy, 20.0, 15.0, is_stormy=True)
    assert storms(days, DAY) == stormy
    assert storms(days, stormy - timedelta(days=1)) is None
    earlier = stormy - timedelta(days=1)
    assert storms(days | {earlier: WeatherDay(earlier, 20.0, 15.0, is_stormy=True)}, DAY) == stormy
