"""A weather forecast as text: hours as JSON rows or CSV; what a feed answers with, and what can be pasted.

Fields: at (ISO 8601 with its zone), temp_c, wind_ms, rain_mm, and thunder (0 or 1).
"""

import json
import math
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from adze.core.tasks.windows import Hour
from adze.formats.errors import FormatError
from adze.formats.tables.rows_csv import csv_rows

COLUMNS = ("at", "temp_c", "wind_ms", "rain_mm", "thunder")
_LIMITS = {"temp_c": (-70.0, 60.0), "wind_ms": (0.0, 120.0), "rain_mm": (0.0, 500.0)}
_MOST = 24 * 21


def read_weather(text: str) -> tuple[Hour, ...]:
    """Hours of a forecast. Raises FormatError naming the row, the field, the limit and the mend."""
    plain = text.strip()
    if not plain:
        raise FormatError(f"forecast: there is no row; paste a CSV with the heading {','.join(COLUMNS)}, or JSON rows")
    if plain[0] in "[{":
        return read_rows(_json_rows(plain))
    head, *rows = csv_rows(plain)
    return read_rows([dict(zip(head, row, strict=False)) for row in rows if row])


def read_rows(rows: list[Any]) -> tuple[Hour, ...]:
    """Hours of rows that were read. Raises FormatError naming the row, the field, the limit and the mend."""
    if not rows or len(rows) > _MOST:
        raise FormatError(f"forecast: {len(rows)} hours; give 1 to {_MOST}")
    return tuple(sorted((_hour(number, row) for number, row in enumerate(rows, 1)), key=lambda hour: hour.at))


def _json_rows(text: str) -> list[Any]:
    try:
        found = json.loads(text)
    except json.JSONDecodeError as error:
        raise FormatError(f"forecast: is no JSON ({error.msg} in line {error.lineno})") from None
    rows = found.get("hours") if isinstance(found, dict) else found
    if not isinstance(rows, list):
        raise FormatError("forecast: give a list of hours, or an object with them under 'hours'")
    return rows


def _hour(number: int, row: Any) -> Hour:
    if not isinstance(row, dict):
        raise FormatError(f"row {number}: is no row with the fields {', '.join(COLUMNS)}")
    try:
        at = datetime.fromisoformat(str(row["at"]))
    except (KeyError, ValueError):
        raise FormatError(f"row {number}, at: {row.get('at')!r} is not a time such as 2027-05-12T08:00+00:00") from None
    if at.tzinfo is None:
        raise FormatError(f"row {number}, at: {row['at']} names no zone; add one such as +00:00 or Z")
    temp_c, wind_ms, rain_mm = (_figure(number, name, row.get(name)) for name in _LIMITS)
    return Hour(at, temp_c, wind_ms, rain_mm, str(row.get("thunder", "0")).lower() in ("1", "true", "yes"))


def _figure(number: int, name: str, typed: Any) -> float:
    low, high = _LIMITS[name]
    try:
        value = float(str(typed))
    except ValueError:
        raise FormatError(f"row {number}, {name}: {typed!r} is not a number") from None
    if not math.isfinite(value) or not low <= value <= high:
        raise FormatError(f"row {number}, {name}: {typed} is not from {low:g} to {high:g}")
    return value


def weather_rows(hours: Iterable[Hour]) -> list[dict[str, Any]]:
    """Hours as JSON rows."""
    return [
        {"at": h.at.isoformat(), "temp_c": h.temp_c, "wind_ms": h.wind_ms, "rain_mm": h.rain_mm, "thunder": h.thunder}
        for h in hours
    ]
