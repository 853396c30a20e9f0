"""What Log shows."""

from typing import Any

from adze.services.plans import OpenPlan
from adze.services.readings import reading_words
from adze.services.views.base import Asked
from adze.store.connection import Transaction
from adze.store.readings import list_readings

NEWEST = 50
_A_PAGE = 100


def log_view(asked: Asked) -> dict[str, Any]:
    """The newest readings, each against its forecast, and whether there are older ones."""
    with asked.transaction() as connection:
        rows = list_readings(connection, plan_id=asked.opened.id, most=NEWEST + 1)
    return {
        "readings": [reading_words(asked.plan, row, asked.opened.stored.time_zone) for row in rows[:NEWEST]],
        "has_older": len(rows) > NEWEST,
    }


def readings_view(transaction: Transaction, opened: OpenPlan, page: int) -> dict[str, Any]:
    """A page of a plan's readings, newest first, and whether there are older ones."""
    page = max(1, page)
    with transaction() as connection:
        rows = list_readings(connection, plan_id=opened.id, most=_A_PAGE + 1, skip=_A_PAGE * (page - 1))
    words = [reading_words(opened.plan, row, opened.stored.time_zone) for row in rows[:_A_PAGE]]
    return {"readings": words, "page_number": page, "has_more": len(rows) > _A_PAGE}
