"""Plan documents of earlier versions brought to the present one, a version at a time.

Each step takes a document of its version and gives one of the next. It changes what it knows and leaves all
else as it is: what cannot be read is said by the document's own check, with its path.
"""

import math
from collections.abc import Callable, Mapping
from typing import Any

from adze.core.energizer.fit import LEAST_EFFICIENT, MOST_EFFICIENT, RATIO_500

_Document = Mapping[str, Any]

# Version 1 kept every value of every kind on each fixture; what a kind says of itself since version 2.
_OWN_VALUES = {
    "gate": {"is_open", "width_m", "under_cable", "style", "feeds", "opens_at"},
    "switch": {"is_open"},
    "crossing": {"width_m", "over"},
    "rods": {"rods"},
    "diverter": {"earth"},
}
_ANY_KIND = {"is_open", "width_m", "under_cable", "style", "feeds", "opens_at", "over", "rods", "earth"}


def fixture_of_its_kind(row: _Document) -> dict[str, Any]:
    """A fixture without the values that only other kinds have."""
    useless = _ANY_KIND - _OWN_VALUES.get(str(row.get("kind")), set())
    return {key: value for key, value in row.items() if key not in useless}


def _fixtures_by_kind(document: _Document) -> _Document:
    """Version 2: a fixture holds the values of its own kind."""
    rows = document.get("fixtures")
    if not isinstance(rows, (list, tuple)):
        return document
    return {**document, "fixtures": [fixture_of_its_kind(row) if isinstance(row, Mapping) else row for row in rows]}


def _own_energizers_within_limits(document: _Document) -> _Document:
    """Version 3: figures of own energizers that no circuit has are brought to the nearest that one can have."""
    rows = document.get("own_energizers")
    if not isinstance(rows, (list, tuple)):
        return document
    return {**document, "own_energizers": [_within(row) if isinstance(row, Mapping) else row for row in rows]}


def _within(row: _Document) -> dict[str, Any]:
    figures = [row.get(key) for key in ("released_j", "stored_j", "open_kv", "kv_500")]
    if not all(isinstance(x, (int, float)) and math.isfinite(x) and x > 0 for x in figures):
        return dict(row)
    released, stored, open_kv, kv_500 = (float(x) for x in figures if x is not None)
    stored = min(max(stored, released / MOST_EFFICIENT), released / LEAST_EFFICIENT)
    low, high = RATIO_500
    kv_500 = min(max(kv_500, low * open_kv), high * open_kv * _SAFELY)
    return {**row, "stored_j": stored, "kv_500": kv_500}


_SAFELY = 0.999  # within a limit that is not allowed itself
_STEPS: dict[int, Callable[[_Document], _Document]] = {1: _fixtures_by_kind, 2: _own_energizers_within_limits}


def upgraded(document: _Document) -> _Document:
    """A document as the present version would say it; one of the present version is left alone.

    Without a version it is taken for the present one.
    """
    version = document.get("version")
    while isinstance(version, int) and version in _STEPS:
        document = {**_STEPS[version](document), "version": version + 1}
        version += 1
    return document
