"""What Parts shows."""

from itertools import groupby
from typing import Any

from adze.core.build.parts import bill
from adze.services.views.base import Asked


def parts_view(asked: Asked) -> dict[str, Any]:
    """The parts list by group."""
    found = bill(asked.plan)
    return {"bill": found, "groups": [(name, list(lines)) for name, lines in groupby(found.lines, lambda x: x.group)]}
