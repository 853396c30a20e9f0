"""What holds, strains and joins strands, true to what each is made of."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.animals.strand_rules import Role, Strand
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.count import Count
from adze.core.build.materials import insulators_for
from adze.core.build.needs import PartNeed, priced
from adze.core.plan.document import Plan
from adze.core.tables.construction import Conductor, post_kinds

_WASTE = 1.05  # of the line's length: sag, bends, cuts
_TAIL_M = 0.5  # to tie off at each end of a strain
_OVER_TAIL_M = 0.15  # of the top strand's tail past the lowest live one
_REEL_M = 400.0
_INSULATOR_PACK = 25


@dataclass(frozen=True)
class Fitting:
    """What a kind of conductor takes: at an end, at a corner, to strain it, to join it; empty where nothing is."""

    end: str
    corner: str
    strain: str
    bond: str
    splice: str = ""


_FITTINGS = {
    "wire": Fitting("end_insulator", "corner_insulator", "strainer", "joint_clamp"),
    "coated": Fitting("end_insulator", "corner_insulator", "strainer", "joint_clamp", "coated_joiner"),
    "barbed": Fitting("", "", "strainer", ""),
    "tape": Fitting("tape_end", "tape_corner", "tape_tensioner", "link_cable", "tape_buckle"),
    "rope": Fitting("rope_end", "rope_corner", "", "rope_clamp", "rope_clamp"),
    "polywire": Fitting("poly_end", "poly_corner", "", "poly_joiner", "poly_joiner"),
}


@dataclass(frozen=True)
class _Strung:
    """A strand and what it is made of."""

    strand: Strand
    made: Conductor

    @property
    def fitting(self) -> Fitting:
        return _FITTINGS[self.made.kind]

    @property
    def is_live(self) -> bool:
        return self.strand.role is Role.LIVE


def _strung(view: Plan) -> list[_Strung]:
    return [_Strung(s, c) for s, c in zip(fence_of(view), conductors_of(view), strict=True)]


def tail_m(view: Plan) -> float:
    """The top live strand's tail: down past the others to the lowest, and to tie off, m; 0 for one live strand."""
    live = [strand.cm for strand in fence_of(view) if strand.role is Role.LIVE]
    return (max(live) - min(live)) / 100 + _OVER_TAIL_M if len(live) > 1 else 0.0


def conductor_needs(view: Plan, n: Count, length_m: float) -> Iterator[PartNeed]:
    """Rolls of what each strand is made of, and the tube of the tails that go past other strands."""
    rows = _strung(view)
    tail = tail_m(view)
    top = max((row for row in rows if row.is_live), key=lambda row: row.strand.cm, default=None)
    for made in dict.fromkeys(row.made for row in rows):
        own = [row for row in rows if row.made is made]
        roll = made.roll_m
        metres = len(own) * (length_m * _WASTE + 2 * _TAIL_M * n.sections)
        past = 2 * n.sections * tail if top is not None and top.made is made and made.kind == "wire" else 0.0
        why = f"{len(own)} strand{'s' * (len(own) > 1)} of {length_m:.0f} m, 5 % waste, tails of {100 * _TAIL_M:.0f} cm"
        price = roll * made.price_per_m
        yield PartNeed("Conductor", made.label, math.ceil(metres + past), "m", roll, price, why)
        spliced = len(own) * max(0, math.ceil(length_m / roll) - 1)
        if splice := _FITTINGS[made.kind].splice:
            yield priced("Joints", splice, spliced, f"{made.kind} joined where a roll of {roll:g} m ends")
        if made.kind in ("polywire", "rope") and view.service == "strip":
            yield priced("Conductor", "reel", len(own) * max(1, math.ceil(length_m / _REEL_M)), "1 a strand and 400 m")
    if tail and top is not None and top.made.kind == "wire":
        why = "the top strand's tail past the others, at both ends of each strain"
        yield priced("Conductor", "tube", round(2 * n.sections * tail, 1), why)


def strain_needs(view: Plan, n: Count) -> Iterator[PartNeed]:
    """What strains each strand, and springs on long strains of steel."""
    rows = _strung(view)
    for key in dict.fromkeys(row.fitting.strain for row in rows if row.fitting.strain):
        own = sum(row.fitting.strain == key for row in rows)
        yield priced("Conductor", key, own * n.sections, "1 a strand and strain")
    steel = sum(row.made.kind in ("wire", "coated") for row in rows)
    yield priced("Conductor", "spring", steel * n.long_sections, "1 a strand on strains over 300 m")


def insulator_needs(view: Plan, n: Count) -> Iterator[PartNeed]:
    """Insulators of the live strands on line posts, at ends and corners; clips of the others."""
    rows = _strung(view)
    live = [row for row in rows if row.is_live]
    yield from _on_line_posts(view, n, live)
    ends = [row.fitting.end for row in live if row.fitting.end and view.end_insulators]
    for key in dict.fromkeys(ends):
        why = f"{ends.count(key)} live strands, both ends of each strain"
        yield priced("Insulators", key, 2 * ends.count(key) * n.sections, why)
    corners = [row.fitting.corner for row in live if row.fitting.corner]
    for key in dict.fromkeys(corners):
        why = f"{corners.count(key)} live strands at {n.corners} corners"
        yield priced("Insulators", key, corners.count(key) * n.corners, why)
    earth = sum(row.strand.role is Role.EARTH for row in rows)
    yield priced("Insulators", "earth_clip", earth * n.line_posts, f"{earth} earth strands, clipped or stapled")
    dead = len(rows) - len(live) - earth
    yield priced("Insulators", "dead_tie", dead * n.line_posts, f"{dead} strands that carry nothing")


def _on_line_posts(view: Plan, n: Count, live: list[_Strung]) -> Iterator[PartNeed]:
    if view.behind or not post_kinds()[view.post].insulators:
        return
    made = [row.made.kind for row in live]
    for kind, insulator in insulators_for(view):
        count, label = made.count(kind) * n.line_posts, insulator.label if insulator else "Line insulator"
        why = f"{made.count(kind)} live of {kind} on {n.line_posts} line posts"
        price = insulator.price if insulator else 0.0
        yield PartNeed("Insulators", label, count, "piece", _INSULATOR_PACK, _INSULATOR_PACK * price, why)


def bond_needs(view: Plan, n: Count, links: int, branches: int) -> Iterator[PartNeed]:
    """What joins live strands to each other and earth strands likewise, at both ends, links and branches."""
    rows = _strung(view)
    for role in (Role.LIVE, Role.EARTH):
        own = [row.fitting.bond for row in rows if row.strand.role is role and row.fitting.bond]
        if not own:
            continue
        key = max(dict.fromkeys(own), key=own.count)
        bonds = (2 * n.sections + links) * (len(own) - 1) + branches * len(own)
        yield priced("Joints", key, bonds, f"{role.value} strands joined at both ends, at links and branches")
