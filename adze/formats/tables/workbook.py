"""Sheets of a workbook: heads, rows, and texts that run nothing."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

from openpyxl import Workbook
from openpyxl.cell import Cell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet


def as_file(book: Workbook) -> bytes:
    """The workbook as an XLSX file."""
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def head(sheet: Worksheet, words: tuple[str, ...], wide: tuple[int, ...]) -> None:
    """A first row in bold that stays in sight, and how wide the columns are."""
    sheet.append(words)
    for number, width in enumerate(wide, 1):
        sheet.cell(1, number).font = Font(bold=True)
        sheet.column_dimensions[get_column_letter(number)].width = width
    sheet.freeze_panes = "A2"


def row(sheet: Worksheet, values: tuple[object, ...]) -> None:
    """A row below the last one."""
    number = sheet.max_row + 1
    for column, value in enumerate(values, 1):
        cell = sheet.cell(number, column)
        if isinstance(value, str):
            text(cell, value)
        else:
            cell.value = value  # type: ignore[assignment]


def text(cell: object, words: str) -> None:
    """A text as text: a name that begins like a formula runs nothing."""
    if isinstance(cell, Cell):
        cell.value = words
        cell.data_type = "s"


@dataclass(frozen=True)
class SheetRows:
    """A sheet: its name, the head with how wide each column is, and rows."""

    name: str
    columns: tuple[tuple[str, int], ...]
    rows: tuple[tuple[object, ...], ...]


def workbook_of(sheets: Sequence[SheetRows]) -> bytes:
    """Sheets of plain rows as an XLSX file; at least one."""
    book = Workbook()
    for number, made in enumerate(sheets):
        sheet = book.create_sheet(made.name) if number else book.active
        assert isinstance(sheet, Worksheet)
        sheet.title = made.name
        head(sheet, tuple(words for words, _ in made.columns), tuple(wide for _, wide in made.columns))
        for values in made.rows:
            row(sheet, values)
    return as_file(book)
