"""What mends a plan and what is designed from a brief, kept by the plan's own object and by the brief."""

from typing import Any

from adze.core.basics.cache import cached
from adze.core.design.brief import Brief
from adze.core.design.designer import Proposal, design
from adze.core.design.fixes import FindingAnswer, Fix, answer, open_findings, paired
from adze.core.design.mend import Mended, mend_everything
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Finding
from adze.services.answers.forecasts import judgement_of, known_judgement

_KEPT = 32


def findings_of(plan: Plan) -> tuple[Finding, ...]:
    """What fails or is marginal, the worst first."""
    return open_findings(judgement_of(plan))


def first_at(plan: Plan, stage: Stage) -> int | None:
    """The number of a stage's worst open finding, of Volts' where it only repeats that; None where nothing is open."""
    verdict = judgement_of(plan).verdicts.get(stage)  # Build, Log and Trace have none
    if verdict is not None and verdict.worst is not None and verdict.worst.repeats:
        stage = Stage.VOLTS
    return next((number for number, finding in enumerate(findings_of(plan)) if finding.stage is stage), None)


@cached("best fixes of findings", 256, identity_args=1)
def best_of(plan: Plan, number: int) -> FindingAnswer:
    """The cheapest fix that is enough for one of a plan's open findings; every fix where none is. Raises IndexError."""
    judged = judgement_of(plan)
    return paired(plan, judged, answer(plan, judged, findings_of(plan)[number], only_best=True))


@cached("answers to findings", 256, identity_args=1)
def answer_of(plan: Plan, number: int) -> FindingAnswer:
    """Every fix of one of a plan's open findings, by its place in the list. Raises IndexError."""
    found = best_of(plan, number)
    return answer(plan, judgement_of(plan), found.finding) if found.best else found


def title_of(plan: Plan, key: str) -> str:
    """What a fix does that was offered for a plan; empty where that is not kept."""
    judged = known_judgement(plan)
    numbers = range(len(open_findings(judged)) if judged else 0)
    offered = [found for n in numbers for found in (best_of.known(plan, n), answer_of.known(plan, n)) if found]
    return next((fix.title for found in offered for fix in found.fixes if fix.key == key), "")


@cached("mended plans", _KEPT, identity_args=1)
def mended_of(plan: Plan) -> Mended:
    """A plan with everything mended that can be."""
    return mend_everything(plan)


@cached("designs of briefs", _KEPT)
def proposals_of(brief: Brief) -> tuple[Proposal, ...]:
    """The proposals of a brief. Raises ValueError."""
    return design(brief)


def _fixes_of_volts(plan: Plan) -> tuple[Fix, ...]:
    number = first_at(plan, Stage.VOLTS)
    return () if number is None else answer_of(plan, number).fixes


def verdict_json(plan: Plan) -> dict[str, Any]:
    """The verdict for the command line: overall, by stage, the worst finding and the mends."""
    judged = judgement_of(plan)
    worst = judged.worst
    return {
        "plan": plan.name,
        "status": judged.status.value,
        "blocked": judged.blocked or None,
        "wanted_kv": judged.wanted_kv,
        "worst": worst and _finding_json(worst),
        "stages": {
            stage.value: {
                "status": v.status.value,
                "line": v.line,
                "unknown": v.unknown or None,
                "findings": [_finding_json(f) for f in v.findings if f.status.value != "holds"],
                "cautions": list(v.cautions),
            }
            for stage, v in judged.verdicts.items()
            if stage not in (Stage.BUILD, Stage.LOG, Stage.TRACE)
        },
        "mends": [
            {
                "title": fix.title,
                "effect": fix.effect,
                "status": fix.status.value,
                "is_enough": fix.is_enough,
                "cost": fix.money,
                "hours": fix.hours,
            }
            for fix in _fixes_of_volts(plan)
        ],
    }


def _finding_json(f: Finding) -> dict[str, Any]:
    return {
        "stage": f.stage.value,
        "title": f.title,
        "status": f.status.value,
        "figure": f.figure,
        "limit": f.limit,
        "where": f.where,
        "season": f.season and f.season.value,
        "reason": f.reason,
        "mend": f.mend,
    }
