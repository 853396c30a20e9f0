"""A day that fits: hours of a weather forecast that suit a job, between the sun's rise and its setting.

The sun's times come from astral (NOAA's equations), at the farm's own place.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from astral import Observer
from astral.sun import sun

# What work in the field bears. Source: trade practice; thunder stops all wire work.
WINDY_MS, VERY_WINDY_MS = 8.0, 12.0
COLD_C = 5.0  # concrete sets too slowly below
MILD_C = (8.0, 20.0)  # for an animal that is off its eggs
WETTING_MM_H = 0.2


@dataclass(frozen=True)
class Hour:
    """An hour of a forecast: when, air in °C, wind in m/s, rain in mm, whether thunder is about."""

    at: datetime
    temp_c: float
    wind_ms: float
    rain_mm: float
    thunder: bool = False


@dataclass(frozen=True)
class Asks:
    """What a job asks: hours on end, dry, still, mild, no frost, and hours that must remain of the day."""

    hours: float
    dry: bool = False
    still: bool = False
    mild: bool = False
    no_frost: bool = False
    before_dusk_h: float = 0.0


@dataclass(frozen=True)
class FieldWindow:
    """Hours that suit a job, with what the weather is in them."""

    begins: datetime
    ends: datetime
    coldest_c: float
    warmest_c: float
    windiest_ms: float
    rain_mm: float
    sunset: datetime


@dataclass(frozen=True)
class SunDay:
    """A day's rise and set; None where the sun does not do it (far north, far south)."""

    rises: datetime | None
    sets: datetime | None


def sun_day(lat: float, lon: float, day: date, zone: ZoneInfo) -> SunDay:
    """When the sun rises and sets at a place, in the farm's own time."""
    try:
        found = sun(Observer(lat, lon), date=day, tzinfo=zone)
    except ValueError:
        return SunDay(None, None)
    return SunDay(found["sunrise"], found["sunset"])


def against(hour: Hour, asks: Asks) -> str:
    """What speaks against working in an hour; empty where nothing does."""
    faults = (
        (hour.thunder, "thunder"),
        (asks.dry and hour.rain_mm >= WETTING_MM_H, f"rain {hour.rain_mm:.1f} mm"),
        (hour.wind_ms > (WINDY_MS if asks.still else VERY_WINDY_MS), f"wind {hour.wind_ms:.0f} m/s"),
        (asks.mild and hour.temp_c < MILD_C[0], f"cold, {hour.temp_c:.0f} °C"),
        (asks.mild and hour.temp_c > MILD_C[1], f"hot, {hour.temp_c:.0f} °C"),
        (asks.no_frost and hour.temp_c < COLD_C, f"too cold for concrete, {hour.temp_c:.0f} °C"),
    )
    return next((words for is_so, words in faults if is_so), "")


def windows(
    hours: Sequence[Hour], asks: Asks, lat: float, lon: float, zone: ZoneInfo, most: int = 3
) -> list[FieldWindow]:
    """The next stretches of daylight in which a job's hours on end suit it, one for each day."""
    found: list[FieldWindow] = []
    rows = sorted(hours, key=lambda hour: hour.at)
    days = sorted({hour.at.astimezone(zone).date() for hour in rows})
    for day in days:
        light = sun_day(lat, lon, day, zone)
        if light.rises is None or light.sets is None:
            continue
        last = light.sets - timedelta(hours=asks.before_dusk_h)
        stretch = _first([h for h in rows if light.rises <= h.at and h.at + timedelta(hours=1) <= last], asks)
        if stretch:
            found.append(_window(stretch, asks, light.sets))
        if len(found) == most:
            break
    return found


def _first(hours: list[Hour], asks: Asks) -> list[Hour]:
    """The first hours on end that are enough and have nothing against them."""
    run: list[Hour] = []
    for hour in hours:
        follows = not run or hour.at - run[-1].at <= timedelta(hours=1)
        run = [*run, hour] if follows and not against(hour, asks) else [] if against(hour, asks) else [hour]
        if len(run) >= asks.hours:
            return run
    return []


def _window(hours: list[Hour], asks: Asks, sunset: datetime) -> FieldWindow:
    temps = [hour.temp_c for hour in hours]
    return FieldWindow(
        begins=hours[0].at,
        ends=hours[0].at + timedelta(hours=asks.hours),
        coldest_c=min(temps),
        warmest_c=max(temps),
        windiest_ms=max(hour.wind_ms for hour in hours),
        rain_mm=round(sum(hour.rain_mm for hour in hours), 1),
        sunset=sunset,
    )


def stops(hours: Sequence[Hour], asks: Asks, day: date, lat: float, lon: float, zone: ZoneInfo) -> tuple[str, ...]:
    """What speaks against a day, hour by hour of its light, each reason once; empty where it suits."""
    light = sun_day(lat, lon, day, zone)
    if light.rises is None or light.sets is None:
        return ("the sun does not rise or does not set on this day",)
    own = [h for h in hours if light.rises <= h.at < light.sets]
    if not own:
        return ("no forecast reaches this day",)
    rows = [(words, hour) for hour in own if (words := against(hour, asks))]
    kinds = dict.fromkeys(words.split()[0] for words, _ in rows)
    return tuple(next(f"{w} at {h.at.astimezone(zone):%H:%M}" for w, h in rows if w.startswith(kind)) for kind in kinds)
