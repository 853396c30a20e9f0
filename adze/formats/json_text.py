"""JSON that somebody else wrote: limits on its size and number of values are kept before it is parsed."""

import json
from collections.abc import Callable
from typing import Any

from adze.formats.errors import FormatError

MOST_VALUES = 2_000_000  # parsed within a second; 500,000 points of a track have fewer


def values_within(text: str | bytes) -> int:
    """At most how many values a JSON text holds, counted without parsing: what separates and what opens them."""
    marks: tuple[Any, ...] = (",", "[", "{") if isinstance(text, str) else (b",", b"[", b"{")
    return 1 + sum(text.count(mark) for mark in marks)


def read_json(
    text: str | bytes, what: str, most_values: int = MOST_VALUES, constant: Callable[[str], Any] | None = None
) -> Any:
    """The content of a JSON text; `what` it is meant to be begins each refusal.

    `constant` gives what NaN and Infinity stand for. Raises FormatError for more values than are taken, for what is
    nested too deeply, and for what is no JSON.
    """
    if values_within(text) > most_values:
        raise FormatError(f"{what}: holds more than {most_values:,} values; split it, or simplify it")
    try:
        return json.loads(text, parse_constant=constant)
    except RecursionError as error:
        raise FormatError(f"{what}: is nested too deeply; that is no file of this kind") from error
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise FormatError(f"{what}: is not JSON ({error})") from error
