"""What holds, strains and joins strands, true to what each is made of."""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.animals.strand_rules import Role, Strand
from adze.core.basics.units import counted
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.count import Count
from adze.core.build.materials import insulators_for
from adze.core.build.needs import PartNeed, priced
from adze.core.plan.document import Plan
from adze.core.tables.construction import Conductor, post_kinds

_OVER_TAIL_M = 0.15  # of the top strand's tail past the lowest live one
_INSULATOR_PACK = 25


@dataclass(frozen=True)
class Fitting:
    """What a kind of conductor takes: at an end, at a corner, to strain it, to join it; empty where nothing is.

    `splice` joins it to itself where a roll ends, `cable` joins a core to it.
    """

    end: str
    corner: str
    strain: str
    bond: str
    splice: str
    cable: str


_FITTINGS = {
    "wire": Fitting("end_insulator", "corner_insulator", "strainer", "joint_clamp", "crimp_sleeve", "joint_clamp"),
    "coated": Fitting("end_insulator", "corner_insulator", "strainer", "joint_clamp", "coated_joiner", "joint_clamp"),
    "barbed": Fitting("", "", "strainer", "", "crimp_sleeve", "joint_clamp"),
    "tape": Fitting("tape_end", "tape_corner", "tape_tensioner", "link_cable", "tape_buckle", "tape_clamp"),
    "rope": Fitting("rope_end", "rope_corner", "", "rope_clamp", "rope_clamp", "rope_clamp"),
    "polywire": Fitting("poly_end", "poly_corner", "", "poly_joiner", "poly_joiner", "poly_joiner"),
}


@dataclass(frozen=True)
class Strung:
    """A strand and what it is made of."""

    strand: Strand
    made: Conductor

    @property
    def fitting(self) -> Fitting:
        """What its kind of conductor takes."""
        return _FITTINGS[self.made.kind]

    @property
    def is_live(self) -> bool:
        """Whether it carries the pulse."""
        return self.strand.role is Role.LIVE


def strung(view: Plan) -> list[Strung]:
    """The strands of a fence with what each is made of."""
    return [Strung(s, c) for s, c in zip(fence_of(view), conductors_of(view), strict=True)]


def tail_m(view: Plan) -> float:
    """The top live strand's tail: down past the others to the lowest, and to tie off, m; 0 for one live strand."""
    live = [strand.cm for strand in fence_of(view) if strand.role is Role.LIVE]
    return (max(live) - min(live)) / 100 + _OVER_TAIL_M if len(live) > 1 else 0.0


def strain_needs(view: Plan, n: Count) -> Iterator[PartNeed]:
    """What strains each strand, and springs on long strains of steel."""
    rows = strung(view)
    for key in dict.fromkeys(row.fitting.strain for row in rows if row.fitting.strain):
        own = sum(row.fitting.strain == key for row in rows)
        yield priced("Conductor", key, own * n.sections, "1 a strand and strain")
    steel = sum(row.made.kind in ("wire", "coated") for row in rows)
    yield priced("Conductor", "spring", steel * n.long_sections, "1 a strand on strains over 300 m")


def insulator_needs(view: Plan, n: Count) -> Iterator[PartNeed]:
    """Insulators of the live strands on line posts, at ends and corners; clips of the others."""
    rows = strung(view)
    live = [row for row in rows if row.is_live]
    yield from _on_line_posts(view, n, live)
    ends = [row.fitting.end for row in live if row.fitting.end and view.end_insulators]
    for key in dict.fromkeys(ends):
        why = f"{ends.count(key)} live strands, both ends of each strain"
        yield priced("Insulators", key, 2 * ends.count(key) * n.sections, why)
    corners = [row.fitting.corner for row in live if row.fitting.corner]
    for key in dict.fromkeys(corners):
        why = f"{counted(corners.count(key), 'live strand')} at {counted(n.corners, 'corner')}"
        yield priced("Insulators", key, corners.count(key) * n.corners, why)
    earth = sum(row.strand.role is Role.EARTH for row in rows)
    yield priced("Insulators", "earth_clip", earth * n.line_posts, f"{earth} earth strands, clipped or stapled")
    dead = len(rows) - len(live) - earth
    yield priced("Insulators", "dead_tie", dead * n.line_posts, f"{dead} strands that carry nothing")


def _on_line_posts(view: Plan, n: Count, live: list[Strung]) -> Iterator[PartNeed]:
    if view.behind or not post_kinds()[view.post].insulators:
        return
    made = [row.made.kind for row in live]
    for kind, insulator in insulators_for(view):
        count, label = made.count(kind) * n.line_posts, insulator.label if insulator else "Line insulator"
        why = f"{made.count(kind)} live of {kind} on {n.line_posts} line posts"
        price = insulator.price if insulator else 0.0
        yield PartNeed("Insulators", label, count, "piece", _INSULATOR_PACK, _INSULATOR_PACK * price, why)


def most_used(view: Plan, role: Role) -> Fitting | None:
    """The fittings of what most strands of a role are made of, those that can be joined first; None without any."""
    own = [row.fitting for row in strung(view) if row.strand.role is role]
    own = [fitting for fitting in own if fitting.bond] or own
    return max(dict.fromkeys(own), key=own.count) if own else None
