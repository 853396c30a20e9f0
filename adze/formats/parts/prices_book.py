"""A price list as a workbook: out to be typed over, in as a shop sends it."""

import io
import zlib
from datetime import date, datetime
from zipfile import BadZipFile, ZipFile

from openpyxl import load_workbook

from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.parts.prices_csv import COLUMNS, price_rows
from adze.formats.tables.rows_csv import rows_csv
from adze.formats.tables.workbook import SheetRows, workbook_of

_WIDE = (24, 44, 10, 10, 12, 16)
_MOST_BYTES, _MOST_TAGS = 10_000_000, 300_000  # unpacked; ten sheets of 1,000 full rows have fewer
_MOST_ROWS, _MOST_COLUMNS, _HEAD_WITHIN = 1000, 40, 20


def prices_workbook(plan: Plan) -> bytes:
    """The price list of a plan as an XLSX file."""
    return workbook_of([SheetRows("Prices", tuple(zip(COLUMNS, _WIDE, strict=True)), tuple(price_rows(plan)))])


def price_list_text(content: bytes) -> str:
    """A price list of a file as CSV: a workbook's first sheet that has the columns part and price, or the text it is.

    Raises FormatError where it is neither.
    """
    if content.startswith(b"PK"):
        return _of_book(content)
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FormatError(
            "price list: it is neither a workbook (XLSX) nor text in UTF-8; save it as one of them"
        ) from error


def _of_book(content: bytes) -> str:
    try:
        with ZipFile(io.BytesIO(content)) as packed:
            is_small = sum(entry.file_size for entry in packed.infolist()) <= _MOST_BYTES
            is_small = is_small and sum(packed.read(name).count(b"<") for name in packed.namelist()) <= _MOST_TAGS
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True) if is_small else None
    except (BadZipFile, KeyError, ValueError, OSError, NotImplementedError, RuntimeError, zlib.error) as error:
        raise FormatError("price list: the workbook cannot be opened; save it again as XLSX") from error
    if book is None:
        raise FormatError(
            f"price list: the workbook is too large (unpacked at most {_MOST_BYTES // 1_000_000} MB and {_MOST_TAGS:,} "
            "cells and marks are taken); keep the sheet with the prices alone"
        )
    for sheet in book.worksheets:
        rows = sheet.iter_rows(max_row=_MOST_ROWS + _HEAD_WITHIN, max_col=_MOST_COLUMNS, values_only=True)
        found: list[tuple[str, ...]] = []
        for number, cells in enumerate(rows):
            row = tuple(_shown(cell) for cell in cells)
            heads = {cell.strip().lower() for cell in row}
            if found or {"part", "price"} <= heads:
                found.append(row)
            elif number >= _HEAD_WITHIN:
                break
        if found:
            filled = [row for row in found if any(row)]
            return rows_csv(filled[0], filled[1:])
    raise FormatError("price list: no sheet has a row with the headings part and price within its first 20 rows")


def _shown(cell: object) -> str:
    """A cell as it is read: nothing for an empty one, numbers without a unit."""
    if cell is None:
        return ""
    if isinstance(cell, float):
        return f"{cell:.10g}"
    if isinstance(cell, (datetime, date)):
        return cell.isoformat()
    return str(cell)
