"""The checks on strands as practice takes them: patterns that builders use with success never fail.

Source: trade practice, core/tables/data/patterns.csv; docs/strands.md, "What practice has shown".
"""

from collections.abc import Iterator
from dataclasses import replace

from adze.core.animals.strand_checks import PULSE_S, Gap, StrandFinding, check_animal, gaps, validate_order
from adze.core.animals.strand_rules import (
    MOST_STRANDS,
    SWING_CM,
    Animal,
    Duty,
    Purpose,
    Role,
    Scheme,
    Strand,
    design,
)
from adze.core.basics.cache import cached
from adze.core.basics.status import Status
from adze.core.tables.construction import PatternRow, patterns

TOLERANCE_CM, TOLERANCE_SHARE = 3.0, 0.05  # strands are set to a hand's breadth of it, and no two animals are alike
NEAR_CM, NEAR_SHARE = 2.0, 0.10  # a miss so small is never a failure
NEAR_WORDS = " That is within 5 %, at most 3 cm: strands are not set more exactly."
_ROLES = {"E": Role.EARTH, "D": Role.DEAD}


def strands_in(row: PatternRow) -> tuple[Strand, ...]:
    """The strands of a pattern."""
    return tuple(Strand(float(h.rstrip("ED")), _ROLES.get(h[-1], Role.LIVE)) for h in row.heights.split())


def is_learning(animal: Animal, duty: Duty) -> bool:
    """Whether an animal that is held is new to the fence, with more fence or time behind it to learn at."""
    return animal.purpose is Purpose.HOLD and not (animal.schooled or animal.bold) and duty is not Duty.LAST


def as_trained(animals: tuple[Animal, ...], duty: Duty) -> tuple[Animal, ...]:
    """The animals whose limits count: one that is new to the fence is trained first, and judged as it will be then."""
    return tuple(replace(a, schooled=True) if is_learning(a, duty) else a for a in animals)


@cached("practised checks", 8192)
def practised(
    animals: tuple[Animal, ...],
    duty: Duty,
    strands: tuple[Strand, ...],
    pulse_s: float = PULSE_S,
    *,
    netting: bool = False,
) -> tuple[StrandFinding, ...]:
    """The findings of all animals on strands from the lowest up, softened by what practice has shown.

    `netting`: the strands are the horizontals of a mesh. Raises ValueError as `strand_checks.check` does.
    """
    validate_order(strands)
    return tuple(
        finding for animal in as_trained(animals, duty) for finding in _of_one(animal, duty, strands, pulse_s, netting)
    )


def _of_one(
    animal: Animal, duty: Duty, strands: tuple[Strand, ...], pulse_s: float, netting: bool
) -> Iterator[StrandFinding]:
    used = known_pattern(animal, duty, strands)
    for finding in check_animal(animal, duty, strands, None, pulse_s):
        if netting and finding.check == "pulse":
            yield replace(
                finding, status=Status.HOLDS, value=pulse_s, limit=pulse_s, reason="The mesh holds the body back."
            )
        elif _misses_by_little(finding, TOLERANCE_CM, TOLERANCE_SHARE, least=True):
            yield replace(finding, status=Status.HOLDS, reason=finding.reason + NEAR_WORDS)
        elif finding.status is not Status.FAILS:
            yield finding
        elif used:
            words = f" Builders use it and it works: {used.label}, {used.heights.replace(' ', ', ')} cm."
            yield replace(finding, status=Status.MARGINAL, reason=finding.reason + words)
        elif _misses_by_little(finding, NEAR_CM, NEAR_SHARE, least=False):
            yield replace(finding, status=Status.MARGINAL)
        else:
            yield finding


def _misses_by_little(finding: StrandFinding, cm: float, share: float, *, least: bool) -> bool:
    """Whether a height misses its limit by at most a length and a share of it: by the lesser of the two, or either."""
    value, limit = finding.value, finding.limit
    if value is None or limit is None or finding.check == "pulse" or finding.status is Status.HOLDS:
        return False
    if least:
        return finding.status is Status.MARGINAL and abs(value - limit) <= min(cm, share * limit)
    return abs(value - limit) <= max(cm, share * limit)


def known_pattern(animal: Animal, duty: Duty, strands: tuple[Strand, ...]) -> PatternRow | None:
    """A pattern that builders use for a kind of animal, and that these strands keep to; None behind which nothing is.

    They keep to it where no opening is wider than the pattern's at its height and the top is no lower, by more than
    2 cm or a tenth.
    """
    if duty is Duty.LAST:
        return None
    rows = (row for row in patterns().values() if animal.kind in row.kinds.split())
    return next((row for row in rows if _keeps_to(strands, strands_in(row))), None)


def _keeps_to(strands: tuple[Strand, ...], pattern: tuple[Strand, ...]) -> bool:
    own, asked = gaps(strands), gaps(pattern)
    if not own or own[-1].upper < _less(asked[-1].upper):
        return False
    earthed = {s.role is Role.EARTH for s in pattern} <= {s.role is Role.EARTH for s in strands}
    return earthed and all(gap.cm <= _more(_there(asked, gap)) for gap in own if gap.lower < asked[-1].upper)


def a_head_apart(animals: tuple[Animal, ...], duty: Duty) -> tuple[Strand, ...]:
    """Live and earth strands in turn, from the lowest, so close that every head meets both at its nose.

    Over the highest nose they widen as the live design's do. Raises ValueError without animals.
    """
    live = design(animals, duty, Scheme.LIVE).strands
    step = min(a.head_cm for a in animals)
    nose = max(a.nose_cm for a in animals) + step
    heights = [live[0].cm]
    while heights[-1] + step < min(nose, live[-1].cm) and len(heights) < MOST_STRANDS - 1:
        heights.append(heights[-1] + max(step, 2 * SWING_CM))
    heights += [s.cm for s in live if s.cm >= heights[-1] + SWING_CM][-(MOST_STRANDS - len(heights)) :]
    return tuple(Strand(round(cm), Role.EARTH if i % 2 else Role.LIVE) for i, cm in enumerate(heights))


def _there(asked: tuple[Gap, ...], gap: Gap) -> float:
    """How wide a pattern's own opening is where the middle of a gap lies, cm."""
    middle = (gap.lower + gap.upper) / 2
    return next((one.cm for one in asked if middle <= one.upper), asked[-1].cm)


def _more(cm: float) -> float:
    return cm + max(NEAR_CM, NEAR_SHARE * cm)


def _less(cm: float) -> float:
    return cm - max(NEAR_CM, NEAR_SHARE * cm)
