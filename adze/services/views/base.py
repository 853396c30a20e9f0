"""What a stage is asked with."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.judge import Judgement
from adze.services.answers.forecasts import judgement_of
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction


class Pane(StrEnum):
    """The lists of the ground's panel that can be long: each is made when it is looked at."""

    FINDINGS = "findings"
    LINES = "lines"
    FEED = "feed"
    BLOCKS = "blocks"


@dataclass(frozen=True)
class ViewRequest:
    """An opened plan, the list of the ground and the construction that are on screen, and the database."""

    opened: OpenPlan
    begin_transaction: BeginTransaction
    pane: Pane = Pane.FINDINGS
    fence: str | None = None

    @property
    def plan(self) -> Plan:
        """The plan."""
        return self.opened.plan

    @property
    def judged(self) -> Judgement:
        """Its verdicts."""
        return judgement_of(self.opened.plan)


def common(asked: ViewRequest, stage: Stage) -> dict[str, Any]:
    """What every stage names."""
    judged = asked.judged
    return {
        "plan_id": asked.opened.id,
        "plan": asked.plan,
        "verdict": judged.verdicts.get(stage),
        "judged": judged,
        "units": asked.plan.units,
    }
