"""Plans of a farm beside each other, and the account's farms with how each plan stands."""

from typing import Any

from adze.core.verdict.compare import option, part_rows
from adze.formats.sketch import sketch
from adze.services.forecasts import judgement_of
from adze.services.plans import OpenPlan, list_plans
from adze.store import farms
from adze.store.connection import Transaction

SIDE_BY_SIDE = 5


def comparison_view(transaction: Transaction, opened: OpenPlan) -> dict[str, Any]:
    """The newest plans of the same farm beside each other, this one first."""
    every = list_plans(transaction, account_id=opened.account_id)
    mine = [(row, plan) for row, plan in every if row.farm_id == opened.stored.farm_id]
    mine.sort(key=lambda pair: pair[0].id != opened.id)
    shown = mine[:SIDE_BY_SIDE]
    options = [option(plan, judgement_of(plan)) for _, plan in shown]
    return {
        "stored": opened.stored,
        "plan_id": opened.id,
        "options": options,
        "rows": part_rows(options),
        "ids": [row.id for row, _ in shown],
    }


def farms_view(transaction: Transaction, account_id: int) -> dict[str, Any]:
    """All farms of an account with their plans: sketch and verdict of each."""
    rows: dict[int, list[dict[str, object]]] = {}
    for row, plan in list_plans(transaction, account_id=account_id):
        judged = judgement_of(plan)
        shown = {"row": row, "sketch": sketch(plan), "judged": judged, "units": plan.units}
        rows.setdefault(row.farm_id, []).append(shown)
    with transaction() as connection:
        return {"farms": farms.list_farms(connection, account_id=account_id), "plans": rows}
