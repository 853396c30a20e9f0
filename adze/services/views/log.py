"""What Log shows."""

from typing import Any

from adze.services.readings import reading_words
from adze.services.views.base import Asked
from adze.store.readings import list_readings


def log_view(asked: Asked) -> dict[str, Any]:
    """The readings, each against its forecast."""
    with asked.transaction() as connection:
        rows = list_readings(connection, plan_id=asked.opened.id)
    return {"readings": [reading_words(asked.plan, row) for row in rows]}
