"""Days that fit: the sun at the farm, hours that suit, and what speaks against a day."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from adze.core.tasks.windows import Asks, Hour, against, stops, sun_day, windows

DUBLIN = ZoneInfo("Europe/Dublin")
DAY = date(2027, 6, 11)


def hours(days: int = 2, **more: float) -> list[Hour]:
    begin = datetime(2027, 6, 11, tzinfo=UTC)
    usual = {"temp_c": 14.0, "wind_ms": 3.0, "rain_mm": 0.0} | more
    return [Hour(begin + timedelta(hours=h), **usual) for h in range(24 * days)]


def test_the_sun_of_a_known_day() -> None:
    """Greenwich at the March equinox: up and down within minutes of six."""
    found = sun_day(51.48, 0.0, date(2027, 3, 20), ZoneInfo("UTC"))
    assert found.rises
    assert found.sets
    assert abs((found.rises - datetime(2027, 3, 20, 6, 3, tzinfo=UTC)).total_seconds()) < 180
    assert abs((found.sets - datetime(2027, 3, 20, 18, 14, tzinfo=UTC)).total_seconds()) < 180


def test_where_the_sun_does_not_set_nothing_is_promised() -> None:
    assert sun_day(75.0, 20.0, DAY, ZoneInfo("UTC")).sets is None
    assert windows(hours(), Asks(2), 75.0, 20.0, ZoneInfo("UTC")) == []


def test_a_window_lies_in_the_light_and_ends_before_dusk() -> None:
    (first, second) = windows(hours(), Asks(3, before_dusk_h=3), 53.0, -6.0, DUBLIN)
    light = sun_day(53.0, -6.0, DAY, DUBLIN)
    assert light.rises
    assert light.sets
    assert first.begins >= light.rises
    assert first.ends <= light.sets - timedelta(hours=3)
    assert second.begins.date() == DAY + timedelta(days=1)


@pytest.mark.parametrize(
    ("hour", "asks", "words"),
    [
        ({"thunder": True}, Asks(1), "thunder"),
        ({"rain_mm": 0.5}, Asks(1, dry=True), "rain 0.5 mm"),
        ({"rain_mm": 0.5}, Asks(1), ""),
        ({"wind_ms": 9.0}, Asks(1, still=True), "wind 9 m/s"),
        ({"wind_ms": 9.0}, Asks(1), ""),
        ({"wind_ms": 13.0}, Asks(1), "wind 13 m/s"),
        ({"temp_c": 5.0}, Asks(1, mild=True), "cold, 5 °C"),
        ({"temp_c": 24.0}, Asks(1, mild=True), "hot, 24 °C"),
        ({"temp_c": 4.0}, Asks(1, no_frost=True), "too cold for concrete, 4 °C"),
        ({"temp_c": 5.5}, Asks(1, no_frost=True), ""),
        ({"rain_mm": 0.2}, Asks(1, dry=True), "rain 0.2 mm"),
    ],
)
def test_what_speaks_against_an_hour(hour: dict[str, float], asks: Asks, words: str) -> None:
    usual: dict[str, float] = {"temp_c": 14.0, "wind_ms": 3.0, "rain_mm": 0.0}
    assert against(Hour(datetime(2027, 6, 11, 12, tzinfo=UTC), **(usual | hour)), asks) == words


def test_a_shower_moves_the_window_behind_it() -> None:
    rows = [h if h.at.hour != 9 else Hour(h.at, 14, 3, 2.0) for h in hours(1)]
    (found,) = windows(rows, Asks(6, dry=True), 53.0, -6.0, DUBLIN)
    assert found.begins.hour == 10
    assert stops(rows, Asks(6, dry=True), DAY, 53.0, -6.0, DUBLIN) == ("rain 2.0 mm at 10:00",)


def test_a_day_without_a_forecast_is_said_to_be_so() -> None:
    assert stops(hours(1), Asks(1), DAY + timedelta(days=9), 53.0, -6.0, DUBLIN) == ("no forecast reaches this day",)
