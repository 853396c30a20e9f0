"""Reads a named parameter set from its CSV file. Each file's first line says units and source."""

import csv
from dataclasses import MISSING, fields
from importlib import resources
from typing import Any, TypeVar

Row = TypeVar("Row")


def read_table(name: str, row: type[Row]) -> dict[str, Row]:
    """The rows of a file of adze/core/tables/data by their key, each cast to the types of the dataclass `row`.

    Raises ValueError that names the file and the row for one that lacks a column, or has a cell of another type.
    """
    text = resources.files("adze.core.tables").joinpath("data", name).read_text(encoding="utf-8")
    lines = [line for line in text.splitlines() if not line.startswith("#")]
    needed = [f.name for f in fields(row) if f.default is MISSING]  # type: ignore[arg-type]
    casts = {f.name: f.type for f in fields(row)}  # type: ignore[arg-type]

    def cast(key: str, value: str) -> Any:
        kind = casts[key]
        if kind is bool:
            return value == "yes"
        return value if kind is str else kind(value)  # type: ignore[operator]

    def made(cells: dict[str, str]) -> Row:
        missing = [column for column in needed if cells.get(column) is None]
        if missing or None in cells:
            wrong = f"lacks {', '.join(missing)}" if missing else "has more cells than columns"
            raise ValueError(f"{name}: {cells.get('key') or 'a row'} {wrong}")
        try:
            return row(**{column: cast(column, value) for column, value in cells.items()})
        except ValueError as error:
            raise ValueError(f"{name}: {cells['key']}: {error}") from None

    return {cells["key"]: made(cells) for cells in csv.DictReader(lines)}


def word_parts(text: str) -> dict[str, float | str | bool]:
    """Spaced words as parts: `name=1.5` is a number, `name=text` a text, a word alone is true."""
    parts: dict[str, float | str | bool] = {}
    for word in text.split():
        name, equals, value = word.partition("=")
        parts[name] = _value(value) if equals else True
    return parts


def _value(text: str) -> float | str:
    try:
        return float(text)
    except ValueError:
        return text
