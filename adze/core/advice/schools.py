"""Rules of thumb beside the computed answer: what each says, its reason, and what it gives here."""

import math
from dataclasses import dataclass

from adze.core.basics.units import M_PER_FT
from adze.core.tables.energizers import EnergizerModel


@dataclass(frozen=True)
class School:
    """One way people do it: its saying, its reason and what it gives for this plan."""

    says: str
    reason: str
    gives: str


SIX_FEET_M = 6 * M_PER_FT


@dataclass(frozen=True)
class RodSchool:
    """A rule for the number of rods: its saying, reason, how many of what length it asks here, and what it goes by.

    `count` None: the rule is not meant for a unit of this size, or gives no number (`gives` says so).
    """

    key: str
    says: str
    reason: str
    count: int | None
    length_m: float
    goes_by: str
    gives: str = ""


@dataclass(frozen=True)
class _RodRule:
    """A rod rule in words: what it says, why, and what it goes by."""

    says: str
    reason: str
    goes_by: str


_ROD_RULES = {
    "metres": _RodRule(
        "0.9 m of rod for each joule released, never under three of 1.8 m",
        "The rods must match the energizer's output.",
        "joules released",
    ),
    "pairs": _RodRule(
        "Three up to 6 J, then one more of 1.8 m for each 2 J",
        "The same sum as the first rule, easier to remember.",
        "joules released",
    ),
    "stored": _RodRule(
        "Stored joules over five, of 1.8 m each, from 15 J; never under three",
        "For large units; it goes by stored joules.",
        "joules stored",
    ),
    "steps": _RodRule(
        "Two at 1 J, three or four at 6 J, two more in free-draining soil",
        "Steps from practice; soil counts.",
        "joules released and soil",
    ),
    "eight": _RodRule(
        "Three for all but the biggest, which needs at least eight",
        "Three have always been enough; only a very strong unit pushes more through them.",
        "the size of the unit",
    ),
    "two": _RodRule("Two are enough on a smallholding", "Short fences, moist gardens.", "nothing but habit"),
    "one": _RodRule("One deep rod, 2.1 m in the ground; more only if it is dry", "Deep soil stays moist.", "depth"),
    "test": _RodRule("No rule: add rods until the test passes", "Soil decides, and no count knows it.", "the test"),
}


def _whole(count: float) -> int:
    return math.ceil(count - 1e-9)


def _steps(released_j: float, well_drained: bool) -> float:
    rods = 2 if released_j <= 1 else 3 if released_j <= 4 else 4 + max(0.0, released_j - 6) / 3
    return rods + (2 if well_drained else 0)


def rod_schools(unit: EnergizerModel, rod_m: float, *, well_drained: bool) -> tuple[RodSchool, ...]:
    """How many rods, by every school of docs/schools.md, DG-01, for an energizer and a rod length in m."""

    def school(key: str, count: int | None, length_m: float, gives: str = "") -> RodSchool:
        rule = _ROD_RULES[key]
        return RodSchool(key, rule.says, rule.reason, count, length_m, rule.goes_by, gives)

    out, stored = unit.released_j, unit.stored_j
    large = stored >= 15
    return (
        school("metres", _whole(max(3 * M_PER_FT * out, 3 * SIX_FEET_M) / SIX_FEET_M), SIX_FEET_M),
        school("pairs", 3 + _whole(max(0.0, out - 6) / 2), SIX_FEET_M),
        school(
            "stored",
            _whole(max(3.0, stored / 5)) if large else None,
            SIX_FEET_M,
            "" if large else "not meant for units this small",
        ),
        school("steps", _whole(_steps(out, well_drained)), rod_m),
        school("eight", 8 if out >= 15 else 3, rod_m),
        school("two", 2, rod_m),
        school("one", 1, 7 * M_PER_FT),
        school("test", None, rod_m, "as computed above"),
    )


def power_schools(fence_m: float, strand_m: float, unit: EnergizerModel, rolls: int = 0) -> tuple[School, ...]:
    """How large an energizer, by the schools of DG-20, for metres of fence and of live strand, and rolls of netting."""
    miles = fence_m / 1609.344
    netting = School(
        "0.2 J for each roll of netting",
        "Its lowest strands lie in the grass and its metal is thin, so each roll is a large load.",
        f"{0.2 * rolls:.1f} J released for {rolls} rolls",
    )
    return (
        *((netting,) if rolls else ()),
        School(
            "1 J for each mile of fence",
            "Charging one clean strand takes 0.39 J a mile, so this holds only for a clean single strand.",
            f"{miles:.1f} J released; this unit releases {unit.released_j:g}",
        ),
        School(
            "2 J for each km of temporary line",
            "Thin stainless strands in the grass lose more.",
            f"{2 * fence_m / 1000:.1f} J released",
        ),
        School(
            "1 J for each mile of live strand",
            "It counts every strand, which is too much where strands are joined at both ends.",
            f"{strand_m / 1609.344:.1f} J released",
        ),
    )
