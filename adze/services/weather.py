"""The weather that is forecast for a farm: asked of a feed over the wire, or pasted."""

import json
import urllib.request
from datetime import date
from urllib.error import URLError
from urllib.parse import urlencode

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.weather import read_rows, read_weather, weather_rows
from adze.store import work
from adze.store.connection import Transaction

_WAITS_S, _LARGEST, _DAYS = 8.0, 400_000, 10


class NoFeed(ValueError):
    """The feed does not answer, or with what is no forecast; says what can be done."""


def ask_feed(transaction: Transaction, farm_id: int, plan: Plan, url: str, day: date) -> int:
    """Ask the feed for the farm's own place and keep its hours; how many. Raises NoFeed."""
    if not url:
        raise NoFeed("No weather feed is set up here (ADZE_WEATHER_URL); paste a forecast instead.")
    query = urlencode({"lat": plan.origin.lat, "lon": plan.origin.lon, "from": day.isoformat(), "days": _DAYS})
    try:
        # The address is the operator's own setting, never a visitor's.
        with urllib.request.urlopen(f"{url}?{query}", timeout=_WAITS_S) as answer:
            content = json.loads(answer.read(_LARGEST))
        hours = read_rows(content["hours"])
    except (URLError, OSError, ValueError, KeyError, TypeError, FormatError) as error:
        raise NoFeed(f"The weather feed gave no forecast ({error}); try again, or paste one.") from None
    with transaction() as connection:
        work.keep_forecast(connection, weather_rows(hours), farm_id=farm_id)
    return len(hours)


def paste_forecast(transaction: Transaction, farm_id: int, text: str) -> int:
    """Keep the hours of a pasted forecast; how many. Raises FormatError naming the row."""
    hours = read_weather(text)
    with transaction() as connection:
        work.keep_forecast(connection, weather_rows(hours), farm_id=farm_id)
    return len(hours)
