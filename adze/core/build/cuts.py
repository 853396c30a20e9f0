"""Pieces to be cut, and how they are laid into rolls with the least waste."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.optimize import Bounds, LinearConstraint, milp

from adze.core.basics.cache import cached
from adze.core.build.needs import CutPiece

_EXACT_PIECES, _EXACT_S = 14, 0.5  # more pieces are laid longest first


@dataclass(frozen=True)
class Cutting:
    """Pieces of one part laid into rolls of a length; `least` rolls that any laying needs.

    A strand longer than a roll is joined on the way: its whole rolls are counted in `whole`, and its rest is a piece.
    """

    roll_m: float
    whole: int
    rolls: tuple[tuple[CutPiece, ...], ...]
    least: int

    @property
    def bought(self) -> int:
        """Rolls to buy."""
        return self.whole + len(self.rolls)

    @property
    def waste_m(self) -> float:
        """What is left over of the rolls that are begun, m."""
        return sum(self.roll_m - sum(piece.length_m for piece in roll) for roll in self.rolls)


@cached("layings", 256)
def laid(rows: tuple[CutPiece, ...], roll_m: float) -> Cutting:
    """Pieces of one part in as few rolls as can be: exactly for a few pieces, else longest first.

    Raises ValueError for a roll without length.
    """
    if roll_m <= 0:
        raise ValueError(f"a roll of {roll_m:g} m holds nothing; give its length")
    whole = sum(int(piece.length_m // roll_m) for piece in rows if piece.length_m > roll_m)
    rest = [CutPiece(p.where + ", the rest of it", p.length_m % roll_m) if p.length_m > roll_m else p for p in rows]
    rest = sorted((p for p in rest if p.length_m > 0), key=lambda p: -p.length_m)
    least = math.ceil(round(sum(p.length_m for p in rest) / roll_m, 9))
    found = _longest_first(rest, roll_m)
    if len(found) > least and len(rest) <= _EXACT_PIECES:
        found = _fewest(rest, roll_m, len(found)) or found
    return Cutting(roll_m, whole, tuple(tuple(roll) for roll in found), least)


def _longest_first(rows: Sequence[CutPiece], roll_m: float) -> list[list[CutPiece]]:
    rolls: list[list[CutPiece]] = []
    for piece in rows:
        fitting = next((r for r in rolls if sum(p.length_m for p in r) + piece.length_m <= roll_m + 1e-9), None)
        if fitting is None:
            rolls.append([piece])
        else:
            fitting.append(piece)
    return rolls


def _fewest(rows: Sequence[CutPiece], roll_m: float, most: int) -> list[list[CutPiece]] | None:
    """Bin packing by branch and bound (scipy's milp): which roll each piece comes from, the fewest rolls."""
    n = len(rows)
    cost = np.concatenate([np.zeros(n * most), np.ones(most)])
    once = sparse.hstack([sparse.kron(sparse.eye(n), np.ones((1, most))), sparse.csr_matrix((n, most))])
    lengths = np.array([[piece.length_m for piece in rows]])
    full = sparse.hstack([sparse.kron(lengths, sparse.eye(most)), -roll_m * sparse.eye(most)])
    found = milp(
        cost,
        constraints=[LinearConstraint(once, 1, 1), LinearConstraint(full, -np.inf, 0)],
        integrality=np.ones(len(cost), dtype=np.int64),
        bounds=Bounds(0, 1),
        options={"time_limit": _EXACT_S},
    )
    if found.x is None:
        return None
    chosen = found.x[: n * most].reshape(n, most).argmax(axis=1)
    rolls = [[piece for piece, own in zip(rows, chosen, strict=True) if own == roll] for roll in range(most)]
    return [roll for roll in rolls if roll]


@dataclass(frozen=True)
class Offer:
    """A pack that a shop sells: how much is in it, what it costs."""

    size: float
    price: float


@cached("cheapest packs", 512)
def cheapest_packs(quantity: float, offers: tuple[Offer, ...]) -> tuple[int, ...]:
    """How many of each pack to buy for the least money: exact, by integer programme.

    Raises ValueError without offers. Source: the unbounded knapsack as a covering problem (G. B. Dantzig, 1957).
    """
    if not offers:
        raise ValueError("no pack is offered; give one with its size and price")
    if quantity <= 0:
        return (0,) * len(offers)
    sizes, prices = np.array([o.size for o in offers]), np.array([o.price for o in offers])
    enough = LinearConstraint(sizes[None, :], round(quantity, 6), np.inf)
    most = np.ceil(round(quantity, 6) / sizes)
    found = milp(
        prices,
        constraints=enough,
        integrality=[1] * len(offers),
        bounds=Bounds(0, most),
        options={"mip_rel_gap": 0.0},
    )
    return tuple(int(n) for n in np.rint(np.asarray(found.x)))
