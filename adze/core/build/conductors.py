"""What strands are strung of: pieces by strain, rolls, reels, and the tube of the tails."""

import math
from collections.abc import Iterator

from adze.core.basics.units import counted
from adze.core.build.count import Count, strain_lengths_m
from adze.core.build.fittings import strung, tail_m
from adze.core.build.needs import CutPiece, PartNeed, priced
from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Run

_REEL_M = 400.0


def strand_pieces(view: Plan, run: Run, fixtures: list[Fixture]) -> Iterator[tuple[str, CutPiece]]:
    """Each strand of each strain in one piece, waste and tails with it, and the label of what it is made of.

    The top live strand's tails go down past the others.
    """
    rows, given = strung(view), view.allowance
    top = max((row.strand.cm for row in rows if row.is_live), default=0.0)
    for number, length in enumerate(strain_lengths_m(fixtures, run), 1):
        for row in rows:
            past = 2 * tail_m(view) if row.is_live and row.strand.cm == top and row.made.kind == "wire" else 0.0
            metres = length * (1 + given.waste_percent / 100) + 2 * given.tail_cm / 100 + past
            yield row.made.label, CutPiece(f"{run.name}, strain {number}, {row.strand.cm:g} cm", round(metres, 2))


def conductor_needs(view: Plan, run: Run, fixtures: list[Fixture], n: Count) -> Iterator[PartNeed]:
    """Rolls of what each strand is made of, reels, and the tube of the tails that go past other strands."""
    rows, given = strung(view), view.allowance
    by_label: dict[str, list[CutPiece]] = {}
    for label, piece in strand_pieces(view, run, fixtures):
        by_label.setdefault(label, []).append(piece)
    metres = length_m(run)
    for made in dict.fromkeys(row.made for row in rows):
        own = sum(row.made is made for row in rows)
        pieces = tuple(by_label.get(made.label, ()))
        why = (
            f"{counted(own, 'strand')} of {metres:.0f} m, {given.waste_percent:g} % waste, "
            f"tails of {given.tail_cm:g} cm"
        )
        total, price = math.ceil(round(sum(p.length_m for p in pieces), 6)), made.roll_m * made.price_per_m
        yield PartNeed("Conductor", made.label, total, "m", made.roll_m, price, why, pieces=pieces)
        if made.kind in ("polywire", "rope") and view.service == "strip":
            yield priced("Conductor", "reel", own * max(1, math.ceil(metres / _REEL_M)), "1 a strand and 400 m")
    top = max((row for row in rows if row.is_live), key=lambda row: row.strand.cm, default=None)
    if tail_m(view) and top is not None and top.made.kind == "wire":
        why = "the top strand's tail past the others, at both ends of each strain"
        yield priced("Conductor", "tube", round(2 * n.sections * tail_m(view), 1), why)
