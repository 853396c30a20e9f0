"""Plans of a farm beside each other."""

from typing import Any

from adze.core.verdict.compare import option, part_rows
from adze.services.answers.forecasts import judgement_of
from adze.services.plans.plans import OpenPlan, list_plans
from adze.store.connection import BeginTransaction

SIDE_BY_SIDE = 5


def comparison_view(begin_transaction: BeginTransaction, opened: OpenPlan) -> dict[str, Any]:
    """The newest plans of the same farm beside each other, this one first."""
    # Who looks at one plan by a link sees that one alone.
    others = [(row.id, plan) for row, plan in list_plans(begin_transaction, opened) if row.id != opened.id]
    shown = [(opened.id, opened.plan), *others][:SIDE_BY_SIDE]
    options = [option(plan, judgement_of(plan)) for _, plan in shown]
    return {
        "stored": opened.stored,
        "plan_id": opened.id,
        "options": options,
        "rows": part_rows(options),
        "ids": [plan_id for plan_id, _ in shown],
    }
