"""What mends the worst finding of Volts."""

from adze.core.basics.status import Status
from adze.core.design.fixes import Fix, answer, paired
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.judge import judge


def volts_fixes(plan: Plan) -> tuple[Fix, ...]:
    """The fixes of a plan's worst finding of Volts, pairs included; none where all hold."""
    judged = judge(plan)
    worst = judged.verdicts[Stage.VOLTS].worst
    if worst is None or worst.status is Status.HOLDS:
        return ()
    return paired(plan, judged, answer(plan, judged, worst)).fixes
