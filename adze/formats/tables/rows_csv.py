"""Rows of CSV: read whatever ends their lines, written so that a spreadsheet runs nothing in them."""

import csv
import io
from collections.abc import Iterable, Sequence

from adze.formats.errors import FormatError

_LONGEST_CELL = 4_000_000  # a line of a map is one cell
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def harmless(value: object) -> object:
    """A value that no spreadsheet takes for a formula: a text that begins like one gets an apostrophe before it."""
    return f"'{value}" if isinstance(value, str) and value.startswith(_FORMULA) else value


def unguarded(text: str) -> str:
    """A text as it was before `harmless`."""
    return text[1:] if text.startswith("'") and text[1:].startswith(_FORMULA) else text


def csv_rows(text: str, delimiter: str = ",") -> list[list[str]]:
    """Rows of cells. Raises FormatError."""
    csv.field_size_limit(_LONGEST_CELL)
    try:
        return list(csv.reader(io.StringIO(text, newline=None), delimiter=delimiter))
    except csv.Error as error:
        raise FormatError(f"CSV: cannot be read ({error})") from error


def rows_csv(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """CSV with a head; None is an empty cell."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(head)
    writer.writerows([harmless("" if value is None else value) for value in row] for row in rows)
    return out.getvalue()
