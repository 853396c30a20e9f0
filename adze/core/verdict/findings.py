"""A judged fact, a stage's verdict, and the verdict of the plan."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from adze.core.basics.status import Status, rank
from adze.core.ground.places import Place
from adze.core.plan.season import Season
from adze.core.plan.stages import Stage
from adze.core.verdict.actions import Action


class Cause(StrEnum):
    """What takes most of the pulse where it falls short."""

    MISHAP = "what went wrong"
    GROWTH = "growth"
    STRANDS = "strands"
    UNIT = "unit"
    RODS = "rods"
    HOOVES = "hooves"


@dataclass(frozen=True)
class Finding:
    """One judged fact: the figure, the limit, where and when it is worst, why, and what mends it.

    `action` is what the plan itself can do about it (core.advice.ground_remedies). `strand_kv` is what stands
    on the strand where an animal touches it from soil, `cause` what takes most of the pulse where volts fall short.
    `repeats`: another stage tells it first. `fence`: the way of building that it stands for, by its id.
    """

    stage: Stage
    title: str
    status: Status
    reason: str
    mend: str = ""
    figure: str = ""
    limit: str = ""
    action: Action | None = None
    place: Place | None = None
    where: str = ""
    season: Season | None = None
    value_kv: float = 0.0
    limit_kv: float = 0.0
    animal: str | None = None
    strand_kv: float = 0.0
    cause: Cause | None = None
    repeats: bool = False
    fence: str = ""

    @property
    def action_key(self) -> str:
        """The key of its action on the way of building that it stands for; empty without an action."""
        if self.action is None:
            return ""
        return self.action.key + (f"@{self.fence}" if self.fence else "")

    @property
    def severity(self) -> tuple[int, float]:
        """Order of badness: the status, then how far the figure falls short."""
        return rank(self.status), 1 - self.value_kv / self.limit_kv if self.limit_kv else 0.0


@dataclass(frozen=True)
class Verdict:
    """How a stage stands: the worst of its findings, in a short line; cautions stand beside it."""

    stage: Stage
    line: str
    findings: tuple[Finding, ...] = ()
    cautions: tuple[str, ...] = ()
    unknown: str = ""
    status: Status = field(init=False)

    def __post_init__(self) -> None:
        """The worst finding decides; without knowledge nothing is claimed."""
        worst = Status.UNKNOWN if self.unknown else Status.HOLDS
        for finding in self.findings:
            if rank(finding.status) > rank(worst):
                worst = finding.status
        object.__setattr__(self, "status", worst)

    @property
    def badness(self) -> tuple[int, int, int]:
        """Order of verdicts on one stage: its status, then how many things fail, then how many are marginal.

        What is found alike on several lines counts once: a line that is built in a way of its own repeats it.
        """
        counted = Counter(status for _, status in {(finding.title, finding.status) for finding in self.findings})
        return rank(self.status), counted[Status.FAILS], counted[Status.MARGINAL]

    @property
    def ranked(self) -> tuple[Finding, ...]:
        """The findings, worst first."""
        return tuple(sorted(self.findings, key=lambda f: f.severity, reverse=True))

    @property
    def worst(self) -> Finding | None:
        """The finding that decides; None when all hold."""
        bad = [f for f in self.findings if f.status is not Status.HOLDS]
        return max(bad, key=lambda f: f.severity) if bad else None


def without_repeats(findings: Sequence[Finding], most_alike: int = 4) -> tuple[tuple[Finding, int], ...]:
    """Findings in their order, at most so many of one title; with the last of these how many more there are."""
    alike = Counter((f.title, f.status) for f in findings)
    told: Counter[tuple[str, Status]] = Counter()
    found = []
    for finding in findings:
        kind = finding.title, finding.status
        told[kind] += 1
        if told[kind] <= most_alike:
            found.append((finding, alike[kind] - most_alike if told[kind] == most_alike else 0))
    return tuple(found)
