"""So much of a part, for a line or for the whole plan, before packs are bought."""

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


def in_one(need: PartNeed, where: str) -> PartNeed:
    """The same, all of it in one unbroken piece."""
    return replace(need, pieces=(CutPiece(where, need.quantity),) if need.quantity > 0 else (), unbroken=True)
