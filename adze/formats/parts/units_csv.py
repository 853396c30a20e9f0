"""Energizers as rows of CSV: one a line, with or without a heading."""

import re
from typing import Any

from pydantic import ValidationError

from adze.core.plan.power import OwnEnergizer
from adze.formats.errors import FormatError, fault_words
from adze.formats.tables.rows_csv import csv_rows

COLUMNS = ("label", "supply", "stored_j", "released_j", "open_kv", "kv_500", "pulse_s", "price")
_NUMBERS = COLUMNS[2:]
_MOST = 40


def read_units(text: str) -> tuple[OwnEnergizer, ...]:
    """Energizers of a text, their keys made from their names. Raises FormatError naming line and column."""
    dialect = ";" if text.count(";") > text.count(",") else ","
    rows = [row for row in csv_rows(text.strip(), dialect) if any(cell.strip() for cell in row)]
    names = list(COLUMNS)
    if rows and not any(re.fullmatch(r"[\d.,\s]+", cell) for cell in rows[0][2:]):
        names = [cell.strip().lower().replace(" ", "_") for cell in rows.pop(0)]
        unknown = [name for name in names if name not in COLUMNS]
        if unknown:
            raise FormatError(f"heading: {unknown[0]!r} is no column; take {', '.join(COLUMNS)}")
    if not rows:
        raise FormatError(
            "energizers: there is no row; give one a line: name, supply, stored J, released J, open kV, kV on 500 ohm"
        )
    if len(rows) > _MOST:
        raise FormatError(f"energizers: {len(rows)} rows, at most {_MOST} are taken")
    found: list[OwnEnergizer] = []
    for number, row in enumerate(rows, 1):
        found.append(_unit(number, dict(zip(names, (cell.strip() for cell in row), strict=False)), found))
    return tuple(found)


def _unit(number: int, cells: dict[str, str], before: list[OwnEnergizer]) -> OwnEnergizer:
    values: dict[str, Any] = {name: text for name, text in cells.items() if text}
    for name in _NUMBERS:
        if name in values:
            try:
                values[name] = float(values[name].replace(",", "."))
            except ValueError:
                raise FormatError(f"line {number}, {name}: {values[name]!r} is not a number; write it as 4.3") from None
    stem = re.sub(r"[^a-z0-9]+", "_", values.get("label", "unit").lower()).strip("_")[:30] or "unit"
    taken = {unit.key for unit in before}
    key = next(k for i in range(1, _MOST + 2) if (k := f"csv_{stem}" if i == 1 else f"csv_{stem}_{i}") not in taken)
    try:
        return OwnEnergizer.model_validate(values | {"key": key})
    except ValidationError as error:
        first = error.errors()[0]
        column = str(first["loc"][0]) if first["loc"] else "row"
        raise FormatError(f"line {number}, {column}: {fault_words(first)}") from error
