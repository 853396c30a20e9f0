"""Pieces to be cut, and how they are laid into rolls with the least waste."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.optimize import Bounds, LinearConstraint, milp

from adze.core.build.construction import conductors_of, fence_of, has_earth_strands
from adze.core.build.count import strain_lengths_m
from adze.core.build.fittings import tail_m
from adze.core.build.passages import core_m
from adze.core.build.rods import lead_m
from adze.core.ground.feed import feed
from adze.core.ground.wiring import cable_m
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, RoadCrossing, Run
from adze.core.tables.prices import prices

_EXACT_PIECES, _EXACT_S = 14, 2.0  # more pieces are laid longest first
CABLE_SPARE_M = 5.0  # of the lead-out and the earth lead: slack at both ends, a mistake


@dataclass(frozen=True)
class CutPiece:
    """One piece in one length: of what, for where, m."""

    stuff: str
    where: str
    length_m: float


@dataclass(frozen=True)
class Cutting:
    """Pieces of one stuff laid into rolls of a length; `least` rolls that any laying needs.

    A strand longer than a roll is joined on the way: its whole rolls are counted in `whole`, and its rest is a piece.
    """

    stuff: str
    roll_m: float
    whole: int
    rolls: tuple[tuple[CutPiece, ...], ...]
    least: int

    @property
    def waste_m(self) -> float:
        """What is left over of the rolls that are begun, m."""
        return sum(self.roll_m - sum(piece.length_m for piece in roll) for roll in self.rolls)


def pieces(plan: Plan) -> Iterator[CutPiece]:
    """Every piece of strand and cable, run by run; the lead-out and the earth lead in one piece each."""
    views = views_by_run(plan)
    for run in plan.runs:
        view = views[run.id]
        if not view.netting or view.strands:
            yield from _strands(view, run)
        cores = 2 if has_earth_strands(view) else 1
        for f in view.fixtures:
            if f.run == run.id and isinstance(f, (Gate, RoadCrossing)) and cable_m(f) > 0:
                for number in range(1, cores + 1):
                    words = f"{f.name}, core {number}" if cores > 1 else f.name
                    yield CutPiece(prices()["under_gate_cable"].label, words, round(core_m(view, f), 2))
    start = feed(plan)
    if start is not None:
        yield CutPiece(prices()["lead_out"].label, "lead-out", round(start.lead_m + CABLE_SPARE_M, 2))
    if plan.rods.count:
        yield CutPiece(prices()["earth_lead"].label, "to the rods", round(lead_m(plan) + CABLE_SPARE_M, 2))


def _strands(view: Plan, run: Run) -> Iterator[CutPiece]:
    fixtures = [f for f in view.fixtures if f.run == run.id]
    fence, made = fence_of(view), conductors_of(view)
    live_top = max((s.cm for s in fence if s.role == "live"), default=0.0)
    for number, length in enumerate(strain_lengths_m(fixtures, run), 1):
        for strand, conductor in zip(fence, made, strict=True):
            extra = 2 * tail_m(view) if strand.cm == live_top and conductor.kind == "wire" else 0.0
            words = f"{run.name}, strain {number}, {strand.cm:g} cm"
            yield CutPiece(conductor.label, words, round(length * 1.01 + 1.0 + extra, 2))


def cuttings(plan: Plan) -> tuple[Cutting, ...]:
    """All pieces laid into rolls, by what they are of."""
    rolls = {made.label: made.roll_m for view in views_by_run(plan).values() for made in conductors_of(view)}
    packs = {price.label: price.pack for price in prices().values()}
    by_stuff: dict[str, list[CutPiece]] = {}
    for piece in pieces(plan):
        by_stuff.setdefault(piece.stuff, []).append(piece)
    unbroken = (prices()["lead_out"].label, prices()["earth_lead"].label)
    found = []
    for stuff, rows in by_stuff.items():
        roll_m = rolls.get(stuff) or packs[stuff]
        if stuff in unbroken:
            # In one length: cut from the drum, in whole packs of it.
            roll_m *= math.ceil(max(piece.length_m for piece in rows) / roll_m)
        found.append(laid(rows, roll_m))
    return tuple(found)


def laid(rows: Sequence[CutPiece], roll_m: float) -> Cutting:
    """Pieces of one stuff in as few rolls as can be: exactly for a few pieces, else longest first.

    Raises ValueError for a roll without length.
    """
    if roll_m <= 0:
        raise ValueError(f"a roll of {roll_m:g} m holds nothing; give its length")
    whole = sum(int(piece.length_m // roll_m) for piece in rows if piece.length_m > roll_m)
    rest = [
        CutPiece(p.stuff, p.where + (", the rest of it" if p.length_m > roll_m else ""), p.length_m % roll_m)
        if p.length_m > roll_m
        else p
        for p in rows
    ]
    rest = sorted((p for p in rest if p.length_m > 0), key=lambda p: -p.length_m)
    least = math.ceil(round(sum(p.length_m for p in rest) / roll_m, 9))
    found = _longest_first(rest, roll_m)
    if len(found) > least and len(rest) <= _EXACT_PIECES:
        found = _fewest(rest, roll_m, len(found)) or found
    return Cutting(rows[0].stuff, roll_m, whole, tuple(tuple(roll) for roll in found), least)


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
