"""So much of a part, for a line or for the whole plan, before packs are bought."""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from adze.core.tables.prices import prices


@dataclass(frozen=True)
class CutPiece:
    """One piece that is cut in one length: for where, m."""

    where: str
    length_m: float


@dataclass(frozen=True)
class PartNeed:
    """So much of something: its group, label, unit, pack and price, how it was counted, and for which run.

    `part` is its key in the table of prices, empty for what has a table of its own; `run` empty for the whole plan.
    `pieces` are what it is cut into; `unbroken`: each of them is cut from the drum in one.
    """

    group: str
    label: str
    quantity: float
    unit: str
    pack: float
    price: float
    counted: str
    part: str = ""
    run: str = ""
    pieces: tuple[CutPiece, ...] = ()
    unbroken: bool = False

    def on(self, run: str) -> "PartNeed":
        """The same for a run."""
        return replace(self, run=run)


def priced(group: str, key: str, quantity: float, counted: str) -> PartNeed:
    """A need of what the table of prices has."""
    price = prices()[key]
    return PartNeed(group, price.label, quantity, price.unit, price.pack, price.price, counted, key)


# Spares: a share of what is built in, and never fewer than these. Source: trade practice.
_SPARE_SHARE = 0.05
_LEAST_SPARES = {"Insulators": 2, "Joints": 2, "Earth": 1}
_SPARE_PIECES = ("strainer", "gate_set", "gate_rope", "tape_tensioner", "earth_rod", "rod_clamp")


def spare_needs(needs: Iterable[PartNeed]) -> Iterator[PartNeed]:
    """A few more of what breaks or is lost: insulators, fasteners, a strainer, a gate's set, a rod.

    A spare rod also ties the fence to earth for the earth test.
    """
    rows: dict[str, list[PartNeed]] = {}
    for need in needs:
        if need.group in ("Insulators", "Joints") or need.part in _SPARE_PIECES:
            rows.setdefault(need.part or need.label, []).append(need)
    for own in rows.values():
        one, built = own[0], sum(need.quantity for need in own)
        least = _LEAST_SPARES.get(one.group, 1)
        more: float = 1 if one.part in _SPARE_PIECES else max(least, math.ceil(_SPARE_SHARE * built))
        if one.part == "earth_rod":
            why = "a spare rod; it also ties the fence to earth for the earth test"
        else:
            why = f"{more} to spare"
        if built:
            yield replace(one, quantity=more, counted=why, run="", pieces=())


def in_one(need: PartNeed, where: str) -> PartNeed:
    """The same, all of it in one unbroken piece."""
    return replace(need, pieces=(CutPiece(where, need.quantity),) if need.quantity > 0 else (), unbroken=True)
