"""Rules of thumb beside the computed answer: what each says, its reason, and what it gives here."""

import math
from dataclasses import dataclass

from adze.core.tables import EnergizerModel

M_PER_FT = 0.3048


@dataclass(frozen=True)
class School:
    """One way people do it: its saying, its reason and what it gives for this plan."""

    says: str
    reason: str
    gives: str


def rod_schools(unit: EnergizerModel, rod_m: float, *, well_drained: bool) -> tuple[School, ...]:
    """How many rods, by four schools (docs/schools.md, DG-01), for an energizer and a rod length in m."""
    six_feet = 6 * M_PER_FT

    def rods(count: float) -> str:
        whole = math.ceil(count - 1e-9)
        return f"{whole} rods of {rod_m:g} m"

    metres = max(3 * M_PER_FT * unit.released_j, 3 * six_feet)
    steps = 2 if unit.released_j <= 1 else 3 if unit.released_j <= 4 else 4 + max(0, unit.released_j - 6) / 3
    return (
        School(
            "0.9 m of rod for each joule released, never under three of 1.8 m",
            "The field must match the output.",
            rods(metres / rod_m),
        ),
        School(
            "Three up to 6 J, then one more for each 2 J",
            "The same sum as the first, easier to remember.",
            rods((3 + max(0.0, unit.released_j - 6) / 2) * six_feet / rod_m),
        ),
        School(
            "Stored joules over five, from 15 J",
            "Large units; goes by what is stored.",
            rods(max(3.0, unit.stored_j / 5)) if unit.stored_j >= 15 else "not meant for units this small",
        ),
        School(
            "Two at 1 J, three or four at 6 J, two more in free-draining soil",
            "Steps from practice; soil counts.",
            rods(steps + (2 if well_drained else 0)),
        ),
    )


def power_schools(fence_m: float, strand_m: float, unit: EnergizerModel, rolls: int = 0) -> tuple[School, ...]:
    """How large an energizer, by the schools of DG-20, for metres of fence and of live strand, and rolls of netting."""
    miles = fence_m / 1609.344
    netting = School(
        "0.2 J for each roll of netting",
        "Its lowest horizontals lie in the grass and its metal is thin: each roll is a large load.",
        f"{0.2 * rolls:.1f} J released for {rolls} rolls",
    )
    return (
        *((netting,) if rolls else ()),
        School(
            "1 J for each mile of fence",
            "Charging one clean strand takes 0.39 J a mile; holds only for a clean single strand.",
            f"{miles:.1f} J released; this unit releases {unit.released_j:g}",
        ),
        School(
            "2 J for each km of temporary line",
            "Thin stainless strands in the grass eat more.",
            f"{2 * fence_m / 1000:.1f} J released",
        ),
        School(
            "1 J for each mile of live strand",
            "Counts every strand; too much where strands are joined at both ends.",
            f"{strand_m / 1609.344:.1f} J released",
        ),
    )
