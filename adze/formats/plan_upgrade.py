"""Plan documents of earlier versions brought to the present one, a version at a time.

Each step takes a document of its version and gives one of the next. It changes what it knows and leaves all
else as it is: what cannot be read is said by the document's own check, with its path.
"""

from collections.abc import Callable, Mapping
from typing import Any

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


_STEPS: dict[int, Callable[[_Document], _Document]] = {1: _fixtures_by_kind}


def upgraded(document: _Document) -> _Document:
    """A document as the present version would say it; one of the present version is left alone.

    Without a version it is taken for the present one.
    """
    version = document.get("version")
    while isinstance(version, int) and version in _STEPS:
        document = {**_STEPS[version](document), "version": version + 1}
        version += 1
    return document
