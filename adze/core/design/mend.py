"""Everything mended that a change of the plan can mend: the worst finding by its cheapest fix, again and again."""

from dataclasses import dataclass, replace

from adze.core.advice.candidates import MISHAP_HOURS
from adze.core.basics.status import Status
from adze.core.design.fixes import FindingAnswer, Fix, answer, open_findings, tried
from adze.core.design.tries import Try
from adze.core.plan.document import Plan
from adze.core.verdict.actions import setting
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge import Judgement, judge

MOST_ROUNDS = 30
_LEAST_GAIN = 0.05  # of what is wanted: less is not worth a step
_MOST_STEPS = 6  # changes that are not enough alone, of which one is done first


@dataclass(frozen=True)
class Mended:
    """A plan mended: the fixes in the order in which they were done, and what is left with why nothing helps."""

    plan: Plan
    judgement: Judgement
    done: tuple[tuple[Finding, Fix], ...]
    left: tuple[FindingAnswer, ...]

    @property
    def fails(self) -> tuple[FindingAnswer, ...]:
        """What still fails."""
        return tuple(row for row in self.left if row.finding.status is Status.FAILS)

    @property
    def money(self) -> float:
        """What all fixes add to the parts list."""
        return sum(fix.money for _, fix in self.done)


def mend_everything(plan: Plan, most_rounds: int = MOST_ROUNDS) -> Mended:
    """Mend what fails or is marginal, the worst first, each by the cheapest fix that makes nothing worse.

    Where none is enough, one that leaves less failing than before is taken, so that several together may be.
    """
    judgement = judge(plan)
    done: list[tuple[Finding, Fix]] = []
    if plan.what_ifs:
        # What was tried on the plan is mended first, whatever that shows.
        first = _undone(plan, judgement)
        if first is not None:
            done.append(first)
            plan, judgement = first[1].plan, first[1].judgement
    stuck: dict[tuple[str, str, str], FindingAnswer] = {}
    for _ in range(most_rounds):
        waiting = [f for f in open_findings(judgement) if _name(f) not in stuck]
        if not waiting:
            break
        finding = waiting[0]
        found = answer(plan, judgement, finding, keepers=False, only_best=True)
        fix = found.best or _step_towards(found, judgement)
        if fix is None and finding.status is Status.FAILS:
            found = answer(plan, judgement, finding, only_best=True)
            fix = found.best or _step_towards(found, judgement)
        if fix is None:
            stuck[_name(finding)] = found
            continue
        done.append((finding, fix))
        plan, judgement = fix.plan, fix.judgement
        # What did not help before may help now, but for what is for the field.
        stuck = {name: row for name, row in stuck.items() if not row.fixes}
    still = {_name(f): f for f in open_findings(judgement)}
    left = tuple(replace(stuck.get(name) or FindingAnswer(f, (), f.mend), finding=f) for name, f in still.items())
    return Mended(plan, judgement, tuple(done), left)


def _undone(plan: Plan, judgement: Judgement) -> tuple[Finding, Fix] | None:
    """Everything joined and cleared that was set to have gone wrong."""
    worst = next(iter(open_findings(judgement)), None)
    if worst is None:
        return None
    one = Try(setting("plan", what_ifs="").key, "Mend the faults you set", MISHAP_HOURS * len(plan.what_ifs))
    fix = tried(plan, judgement, worst, one)
    return (worst, fix) if fix else None


def _name(finding: Finding) -> tuple[str, str, str]:
    return finding.stage.value, finding.title, "" if finding.limit_kv else finding.where


def _step_towards(found: FindingAnswer, judgement: Judgement) -> Fix | None:
    """A fix that is not enough but leaves fewer findings failing, or as many and more of what is wanted."""
    before = _count(judgement)
    # A whole judgement of each would cost most of the time: those that help most where the finding stands are enough.
    nearest = sorted(found.fixes, key=lambda fix: fix.gain_there, reverse=True)
    if found.finding.limit_kv:
        nearest = [fix for fix in nearest if fix.gain_there > 0][:_MOST_STEPS]
    better = [fix for fix in nearest if _count(fix.judgement) < before]
    if better:
        return min(better, key=lambda fix: (_count(fix.judgement), fix.worth))
    gains = [fix for fix in nearest if fix.gain > _LEAST_GAIN and _count(fix.judgement) <= before]
    return max(gains, key=lambda fix: fix.gain, default=None)


def _count(judgement: Judgement) -> tuple[int, int]:
    rows = [f.status for f in open_findings(judgement)]
    return rows.count(Status.FAILS), rows.count(Status.MARGINAL)
