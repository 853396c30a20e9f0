"""The weather that is forecast for a farm: asked of a feed over the wire, or pasted."""

import json
import urllib.request
from collections.abc import Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from urllib.error import URLError
from urllib.parse import urlencode
from zoneinfo import ZoneInfo

from adze.core.log.weather_day import STORM_MS
from adze.core.plan.ground import Origin
from adze.core.tasks.windows import Hour
from adze.formats.errors import FormatError
from adze.formats.work.weather import read_rows, read_weather, weather_rows
from adze.services.plans.plans import read_written
from adze.store.build import work
from adze.store.connection import BeginTransaction
from adze.store.judging.verdicts import get_current
from adze.store.log import weather_days
from adze.store.log.weather_days import StoredDay

_WAITS_S, _LARGEST, _DAYS, _PAST_DAYS = 8.0, 400_000, 10, 14
_LEAST_HOURS = 18  # of a day that counts as heard


class NoFeed(ValueError):
    """The feed does not answer, or with what is no forecast; says what can be done."""


@dataclass(frozen=True)
class FarmPlace:
    """A farm that asks: its number, where it lies, its zone."""

    farm_id: int
    origin: Origin
    zone: ZoneInfo


def ask_feed(begin_transaction: BeginTransaction, farm: FarmPlace, url: str, day: date) -> int:
    """Ask the feed for the farm's own place: hours to come, and the days of the last two weeks for the record.

    How many hours are to come. Raises NoFeed.
    """
    if not url:
        raise NoFeed("No weather feed is set up here (ADZE_WEATHER_URL); paste a forecast instead.")
    past = _heard(url, farm.origin, day - timedelta(days=_PAST_DAYS), _PAST_DAYS)
    hours = _heard(url, farm.origin, day, _DAYS)
    _keep(begin_transaction, farm, hours, past)
    return len(hours)


def _heard(url: str, at: Origin, day: date, days: int) -> tuple[Hour, ...]:
    query = urlencode({"lat": at.lat, "lon": at.lon, "from": day.isoformat(), "days": days})
    try:
        # The address is the operator's own setting, never a visitor's.
        with urllib.request.urlopen(f"{url}?{query}", timeout=_WAITS_S) as answer:
            content = json.loads(answer.read(_LARGEST))
        return read_rows(content["hours"])
    except (URLError, OSError, ValueError, KeyError, TypeError, FormatError) as error:
        raise NoFeed(f"The weather feed gave no forecast ({error}); try again, or paste one.") from None


def paste_forecast(begin_transaction: BeginTransaction, farm: FarmPlace, text: str) -> int:
    """Keep the hours of a pasted forecast; how many. Raises FormatError naming the row."""
    hours = read_weather(text)
    _keep(begin_transaction, farm, hours)
    return len(hours)


def _keep(
    begin_transaction: BeginTransaction, farm: FarmPlace, hours: Sequence[Hour], past: Sequence[Hour] = ()
) -> None:
    """Hours to come as the forecast; every whole day, those to come too, as the record until it is heard again."""
    with begin_transaction() as connection:
        work.keep_forecast(connection, weather_rows(tuple(hours)), farm_id=farm.farm_id)
        weather_days.keep_days(connection, list(days_of((*past, *hours), farm.zone)), farm_id=farm.farm_id)


def days_of(hours: Iterable[Hour], zone: ZoneInfo) -> Iterator[StoredDay]:
    """The days of some hours in the farm's own time; one with less than three quarters of its hours is left out."""
    by_day: dict[date, list[Hour]] = {}
    for hour in hours:
        by_day.setdefault(hour.at.astimezone(zone).date(), []).append(hour)
    for day, own in sorted(by_day.items()):
        if len(own) >= _LEAST_HOURS:
            yield StoredDay(
                day=day,
                rain_mm=round(sum(hour.rain_mm for hour in own), 1),
                mean_c=round(sum(hour.temp_c for hour in own) / len(own), 1),
                is_stormy=any(hour.thunder or hour.wind_ms > STORM_MS for hour in own),
            )


def hear_all(begin_transaction: BeginTransaction, url: str) -> int:
    """Ask the feed for every farm that has ever asked it; how many answered. One that does not answer waits a day."""
    after = heard = 0
    while url:
        with begin_transaction() as connection:
            page = weather_days.list_hearing_farms(connection, after=after, most=100)
        for row in page:
            with begin_transaction() as connection:
                found = get_current(connection, plan_id=row.plan_id)
            zone = ZoneInfo(row.time_zone)
            with suppress(NoFeed, FormatError):
                if found is not None:
                    place = FarmPlace(row.farm_id, read_written(found).origin, zone)
                    ask_feed(begin_transaction, place, url, datetime.now(UTC).astimezone(zone).date())
                    heard += 1
        if not page:
            break
        after = page[-1].farm_id
    return heard
