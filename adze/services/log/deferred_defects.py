"""What is noted to be mended later: in the Log, or on the way of a search; and which of it the way passes."""

import math
from dataclasses import dataclass
from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

from adze.core.ground.places import Place, place_words
from adze.core.plan.document import Plan
from adze.core.trace.plan_farm import of_spot
from adze.core.trace.search import FaultSearch
from adze.services.log.readings import ReadingError, along_m
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log import upkeep
from adze.store.log.upkeep import Defect

MOST_WORDS = 300
NOWHERE = -1  # of places of a search
_PASSED_M = 15.0  # so near the way one stands before it


@dataclass(frozen=True)
class DeferredDefectTyped:
    """Something to be mended later, as typed; `idempotency_key` is the token of one that may be sent twice.

    `way` is how the input of its place is called: metres along, metres out.
    """

    run: str
    at_m: str
    words: str
    idempotency_key: str = ""
    way: str = "along"


def _today(opened: OpenPlan) -> date:
    return datetime.now(UTC).astimezone(ZoneInfo(opened.stored.time_zone)).date()


def note_defect(begin_transaction: BeginTransaction, opened: OpenPlan, typed: DeferredDefectTyped, by: int) -> None:
    """Keep it, once. Raises ReadingError naming the field."""
    if typed.run not in {row.id for row in opened.plan.runs}:
        raise ReadingError("run", "Choose a line of this plan.")
    place = (typed.run, along_m(opened.plan, typed.run, typed.at_m, typed.way))
    words = " ".join(typed.words.split())
    if not 0 < len(words) <= MOST_WORDS:
        raise ReadingError("words", f"What it is: write up to {MOST_WORDS} characters, such as cracked insulator.")
    noted_on = _today(opened)
    with begin_transaction() as connection:
        upkeep.add_defect(
            connection,
            plan_id=opened.id,
            place=place,
            words=words,
            noted_on=noted_on,
            by_account=by,
            idempotency_key=typed.idempotency_key[:60],
        )


def mend_defect(begin_transaction: BeginTransaction, opened: OpenPlan, defect_id: int) -> None:
    """It is mended; who was first counts."""
    with begin_transaction() as connection:
        upkeep.mend_defect(connection, plan_id=opened.id, defect_id=defect_id, mended_on=_today(opened))


def noted(begin_transaction: BeginTransaction, opened: OpenPlan) -> tuple[Defect, ...]:
    """What is still to be mended on lines that are there."""
    runs = {run.id for run in opened.plan.runs}
    with begin_transaction() as connection:
        rows = upkeep.list_defects(connection, plan_id=opened.id)
    return tuple(row for row in rows if row.run in runs)


@dataclass(frozen=True)
class LaterView:
    """What is noted for later, its number, where and what; `passed` is that along the way to the next place."""

    rows: tuple[tuple[int, str, str], ...]
    passed: tuple[tuple[int, str], ...] = ()


def later_view(plan: Plan, rows: tuple[Defect, ...], search: FaultSearch | None = None, to: int = NOWHERE) -> LaterView:
    """What is noted, and what of it lies on the way from where the person of a search stands to a place."""
    places = tuple((row.id, place_words(plan, Place(row.run, row.at_m)), row.words) for row in rows)
    if search is None or to == NOWHERE:
        return LaterView(places)
    grid, on_way = search.grid, set()
    for piece in grid.way(search.here, to):
        begins = of_spot(plan, grid.at(int(grid.a[piece]), grid.spans[grid.span[piece]].id), grid, NOWHERE)
        for number, row in enumerate(rows):
            off_m = row.at_m - begins.at_m if begins and begins.run == row.run else math.inf
            if -_PASSED_M <= off_m <= float(grid.length_m[piece]) + _PASSED_M:
                on_way.add(number)
    passed = (places[k] for k in sorted(on_way))
    return LaterView(places, tuple((number, f"{words}, {where}") for number, where, words in passed))
