"""Checks on any strands, and the smallest change that mends what fails. Lengths in cm.

One finding per animal and check, as in docs/strands.md. The limits are those of the design.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.animals.strand_rules import (
    SWING_CM,
    WOOLLY_CM,
    Animal,
    Duty,
    Limits,
    Purpose,
    Role,
    Strand,
    limits_of,
    narrowest_bridge_cm,
    nose_meets_live,
)
from adze.core.basics.cache import cached
from adze.core.basics.status import Status, rank

PULSE_S = 1.2  # between pulses (1-1.5; a night saver 2-3)
WARY_M_PER_S = 0.15  # (0.05-0.25)
BOLD_M_PER_S = 0.5  # (0.3-1)
NECK_REACH, PAW_REACH = 0.6, 1.05  # of the shoulder's height (0.5-0.7; 0.9-1.2)
_SLACK = 1.1


@dataclass(frozen=True)
class StrandFinding:
    """One judged fact: value against limit, in cm (pulse: s), why, and where in the fence."""

    animal: str
    check: str
    status: Status
    value: float | None
    limit: float | None
    reason: str
    gap: tuple[float, float] | None = None


@dataclass(frozen=True)
class Gap:
    """An opening between two edges that give a pulse; the ground is the lowest edge."""

    lower: float
    upper: float

    @property
    def cm(self) -> float:
        """Its width."""
        return self.upper - self.lower


def gaps(strands: tuple[Strand, ...]) -> tuple[Gap, ...]:
    """The openings that count, walking upward: each has a live edge."""
    found = []
    lower, lower_live = 0.0, False
    for strand in strands:
        if strand.role is Role.LIVE or (strand.role is Role.EARTH and lower_live):
            found.append(Gap(lower, strand.cm))
            lower, lower_live = strand.cm, strand.role is Role.LIVE
    return tuple(found)


def _above(value: float, limit: float) -> Status:
    """For what must be at least the limit."""
    if value >= limit:
        return Status.HOLDS
    return Status.MARGINAL if value >= limit * (2 - _SLACK) else Status.FAILS


def _below(value: float, limit: float) -> Status:
    """For what must be at most the limit."""
    if value <= limit:
        return Status.HOLDS
    return Status.MARGINAL if value <= limit * _SLACK else Status.FAILS


def _head(limit: Limits, openings: tuple[Gap, ...], top: float) -> StrandFinding:
    worst: tuple[int, float, Status, Gap, float] | None = None
    if top < limit.top_cm:
        # Over a top strand that is too low the way is open: as bad as the jump.
        status = _above(top, limit.top_cm)
        worst = (rank(status), math.inf, status, Gap(top, limit.top_cm), 0.0)
    for gap in openings:
        allowed = limit.gap_cm(gap.lower)
        if allowed is None:
            continue
        most = max(float(allowed), limit.lowest_cm - gap.lower) if limit.ducks else float(allowed)
        status = _below(gap.cm, most)
        forgiven = gap.lower >= 0.9 * limit.top_cm or (limit.ducks and gap.upper <= _SLACK * limit.lowest_cm)
        if status is Status.FAILS and forgiven:
            status = Status.MARGINAL
        row = (rank(status), gap.cm / most, status, gap, most)
        if worst is None or row[:2] > worst[:2]:
            worst = row
    if worst is None:
        return StrandFinding(limit.animal.kind, "head", Status.FAILS, None, limit.gap_at_nose_cm, "No live strand.")
    _, _, status, gap, most = worst
    says = "lets a head through untouched" if status is not Status.HOLDS else "is narrower than the head needs"
    words = f"The gap between {gap.lower:g} and {gap.upper:g} cm {says}."
    if not most:
        words = f"Above the top strand at {top:g} cm the way is open; strands up to {limit.top_cm} cm close it."
    elif not gap.lower:
        words = f"The gap under the strand at {gap.upper:g} cm {says}."
    return StrandFinding(limit.animal.kind, "head", status, gap.cm, most, words, (gap.lower, gap.upper))


def _pulse(limit: Limits, openings: tuple[Gap, ...], top: float, pulse_s: float) -> StrandFinding:
    a = limit.animal
    way = 2 * a.head_cm if a.fleece_cm > WOOLLY_CM else 0.6 * a.shoulder_cm
    contact_s = way / 100 / (WARY_M_PER_S if limit.sniffs or a.wild else BOLD_M_PER_S)
    ceiling = min(a.shoulder_cm, limit.top_cm)
    wide = top < ceiling or any(
        g.lower < ceiling and g.cm > a.head_cm and not (limit.ducks and g.upper <= limit.lowest_cm) for g in openings
    )
    if not wide:
        reason = "No gap lets a head in between two pulses."
        return StrandFinding(a.kind, "pulse", Status.HOLDS, pulse_s, pulse_s, reason)
    if contact_s >= pulse_s:
        return StrandFinding(
            a.kind, "pulse", Status.HOLDS, contact_s, pulse_s, "It touches the strands long enough to meet a pulse."
        )
    return StrandFinding(
        a.kind,
        "pulse",
        Status.MARGINAL,
        contact_s,
        pulse_s,
        f"It can slip through in {contact_s:.1f} s; the energizer pulses every {pulse_s:g} s.",
    )


def _bridge(limit: Limits, strands: tuple[Strand, ...]) -> StrandFinding:
    a = limit.animal
    narrow = narrowest_bridge_cm(limit, strands)
    most = limit.gap_at_nose_cm
    if narrow is not None and narrow <= most:
        says = "The head touches live and earth at once" if narrow <= a.head_cm else "It touches both as it sways"
        return StrandFinding(a.kind, "bridge", Status.HOLDS, narrow, most, f"{says}.")
    low_earth = any(s.role is Role.EARTH and s.cm <= 0.4 * a.shoulder_cm + a.head_cm for s in strands)
    if low_earth and nose_meets_live(limit, strands):
        return StrandFinding(
            a.kind, "bridge", Status.MARGINAL, narrow, most, "Only its legs touch the earth strand, if it pushes on."
        )
    return StrandFinding(a.kind, "bridge", Status.FAILS, narrow, most, "Its head cannot touch live and earth at once.")


def _under(limit: Limits, low: float) -> StrandFinding:
    words = f"The lowest live strand is at {low:g} cm; it creeps under more than {limit.lowest_cm} cm."
    return StrandFinding(limit.animal.kind, "under", _below(low, limit.lowest_cm), low, limit.lowest_cm, words)


def _lean(limit: Limits, top: float) -> StrandFinding:
    words = f"The top live strand at {top:g} cm meets its chest; it leans over less than {limit.chest_cm} cm."
    return StrandFinding(limit.animal.kind, "lean", _above(top, limit.chest_cm), top, limit.chest_cm, words)


def _jump(limit: Limits, top: float) -> StrandFinding:
    words = f"The top live strand is at {top:g} cm; it jumps less than {limit.top_cm} cm."
    return StrandFinding(limit.animal.kind, "jump", _above(top, limit.top_cm), top, limit.top_cm, words)


def reach(animal: Animal, guard_cm: float) -> StrandFinding:
    """Whether what lies so far behind the line is out of an animal's reach: a neck, or a climber's paws."""
    farthest = round((PAW_REACH if animal.climbs else NECK_REACH) * animal.shoulder_cm)
    words = f"What it wants lies {guard_cm:g} cm behind the line; it reaches {farthest}."
    return StrandFinding(animal.kind, "reach", _above(guard_cm, farthest), guard_cm, farthest, words)


def _touch(limit: Limits, nose: float) -> StrandFinding:
    words = f"Its nose comes {nose:g} cm from the nearest live strand."
    return StrandFinding(limit.animal.kind, "touch", _below(nose, limit.touch_cm), nose, limit.touch_cm, words)


def check_animal(
    animal: Animal, duty: Duty, strands: tuple[Strand, ...], guard_cm: float | None, pulse_s: float
) -> tuple[StrandFinding, ...]:
    """All findings for one animal, in the order head, pulse, under, lean, jump, reach, touch, bridge."""
    limit = limits_of(animal, duty)
    live = [s.cm for s in strands if s.role is Role.LIVE]
    if not live:
        return tuple(
            StrandFinding(animal.kind, check, Status.FAILS, None, None, "No live strand: nothing gives a pulse.")
            for check in ("head", "under", "lean", "jump", "touch")
        )
    openings = gaps(strands)
    low, top = min(live), max(live)
    nose = min(abs(cm - animal.nose_cm) for cm in live)
    return (
        _head(limit, openings, top),
        _pulse(limit, openings, top, pulse_s),
        _under(limit, low),
        _lean(limit, top),
        _jump(limit, top),
        *((reach(animal, guard_cm),) if guard_cm is not None else ()),
        _touch(limit, nose),
        *((_bridge(limit, strands),) if any(s.role is Role.EARTH for s in strands) else ()),
    )


@cached("strand checks", 8192)
def check(
    animals: tuple[Animal, ...],
    duty: Duty,
    strands: tuple[Strand, ...],
    guard_cm: float | None = None,
    pulse_s: float = PULSE_S,
) -> tuple[StrandFinding, ...]:
    """Findings of all animals on strands from the lowest up.

    Raises ValueError for heights out of order, not above ground or not finite.
    """
    validate_order(strands)
    return tuple(f for a in animals for f in check_animal(a, duty, strands, guard_cm, pulse_s))


def validate_order(strands: tuple[Strand, ...]) -> None:
    """Refuse strands out of order, not above ground or not finite, naming the strand."""
    below = 0.0
    for number, strand in enumerate(strands, 1):
        if not math.isfinite(strand.cm) or strand.cm <= 0:
            raise ValueError(f"strand {number}: height is {strand.cm:g} cm, must be above 0")
        if strand.cm <= below:
            raise ValueError(
                f"strand {number}: height {strand.cm:g} cm is not above strand {number - 1} at {below:g} cm; "
                "give the heights from the lowest up"
            )
        below = strand.cm


@dataclass(frozen=True)
class StrandMend:
    """The smallest change: `kind` live, move, add or advice; strand index from the lowest; heights in cm."""

    kind: str
    strand: int | None = None
    cm: float | None = None
    advice: str = ""

    def applied(self, strands: tuple[Strand, ...]) -> tuple[Strand, ...]:
        """The strands with the change made; none where it is only advice."""
        at, cm = self.strand or 0, self.cm or 0.0
        if self.kind == "live":
            return (*strands[:at], Strand(strands[at].cm, Role.LIVE), *strands[at + 1 :])
        if self.kind == "move":
            return (*strands[:at], Strand(cm, strands[at].role), *strands[at + 1 :])
        if self.kind == "add":
            return tuple(sorted((*strands, Strand(cm, Role.LIVE)), key=lambda strand: strand.cm))
        return ()

    def words(self) -> str:
        """The change in words."""
        if self.kind == "live":
            return f"Make strand {(self.strand or 0) + 1} live"
        if self.kind == "move":
            return f"Move strand {(self.strand or 0) + 1} to {self.cm:g} cm"
        if self.kind == "add":
            return f"Add a live strand at {self.cm:g} cm"
        return self.advice


def _candidates(strands: tuple[Strand, ...], finding: StrandFinding) -> Iterator[tuple[StrandMend, tuple[Strand, ...]]]:
    for role in (Role.DEAD, Role.EARTH):
        for i, s in enumerate(strands):
            if s.role is role:
                yield StrandMend("live", i), (*strands[:i], Strand(s.cm, Role.LIVE), *strands[i + 1 :])
    for step in range(1, 61):
        for i, s in enumerate(strands):
            for cm in (s.cm - step, s.cm + step):
                low = strands[i - 1].cm + SWING_CM if i else 1
                high = strands[i + 1].cm - SWING_CM if i + 1 < len(strands) else math.inf
                if low <= cm <= high:
                    yield StrandMend("move", i, cm), (*strands[:i], Strand(cm, s.role), *strands[i + 1 :])
    aim = sum(finding.gap) / 2 if finding.gap else finding.limit or 0.0
    for cm in sorted(range(1, 201), key=lambda h: (abs(h - aim), h)):
        if all(abs(cm - s.cm) >= SWING_CM for s in strands):
            i = sum(s.cm < cm for s in strands)
            yield StrandMend("add", i, float(cm)), (*strands[:i], Strand(cm, Role.LIVE), *strands[i:])


def smallest_mend(
    animals: tuple[Animal, ...],
    duty: Duty,
    strands: tuple[Strand, ...],
    finding: StrandFinding,
    guard_cm: float | None = None,
    pulse_s: float = PULSE_S,
) -> StrandMend:
    """The least change that makes one finding hold and no other worse."""
    if finding.check == "pulse":
        held = any(a.kind == finding.animal and a.purpose is Purpose.HOLD for a in animals)
        first = "Train it first" if held else "Set the strands closer there"
        return StrandMend("advice", advice=f"{first}, or let the energizer pulse faster")
    if finding.check == "reach":
        return StrandMend("advice", advice=f"Move what it wants to {finding.limit:g} cm behind the line")
    before = {(f.animal, f.check): rank(f.status) for f in check(animals, duty, strands, guard_cm, pulse_s)}
    key = (finding.animal, finding.check)
    for mend, changed in _candidates(strands, finding):
        after = {(f.animal, f.check): rank(f.status) for f in check(animals, duty, changed, guard_cm, pulse_s)}
        if after.get(key, 0) == 0 and all(after[k] <= before.get(k, after[k]) for k in after):
            return mend
    return StrandMend("advice", advice="More than one change is needed: use the computed design")
