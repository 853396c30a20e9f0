"""What mends a plan and what is designed from a brief, kept by the plan's own object and by the brief."""

from adze.core.basics.cache import cached
from adze.core.design.brief import Brief
from adze.core.design.designer import Proposal, design
from adze.core.design.fixes import FindingAnswer, answer, open_findings
from adze.core.design.mend import Mended, mend_everything
from adze.core.plan.document import Plan
from adze.core.verdict.findings import Finding
from adze.services.answers.forecasts import judgement_of

_KEPT = 32


def findings_of(plan: Plan) -> tuple[Finding, ...]:
    """What fails or is marginal, the worst first."""
    return open_findings(judgement_of(plan))


@cached("answers to findings", 256, identity_args=1)
def answer_of(plan: Plan, number: int) -> FindingAnswer:
    """The fixes of one of a plan's open findings, by its place in the list. Raises IndexError."""
    return answer(plan, judgement_of(plan), findings_of(plan)[number])


@cached("mended plans", _KEPT, identity_args=1)
def mended_of(plan: Plan) -> Mended:
    """A plan with everything mended that can be."""
    return mend_everything(plan)


@cached("designs of briefs", _KEPT)
def proposals_of(brief: Brief) -> tuple[Proposal, ...]:
    """The proposals of a brief. Raises ValueError."""
    return design(brief)
