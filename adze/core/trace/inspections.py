"""What looking has ruled out: at a place, and in each half of every piece."""

from dataclasses import dataclass, replace

import numpy as np

from adze.core.basics.types import Real
from adze.core.trace.grid import Grid
from adze.core.trace.pulse_base import CUT, LE, FaultPorts


@dataclass(frozen=True)
class Inspections:
    """What is left of a fault at each place (P,) and of a cut in each half of each piece (B, 2), 1 to 0."""

    place: Real
    half: Real

    def looked(self, grid: Grid, place: int, finds: float) -> "Inspections":
        """After a look at a place that found nothing: it, and the near half of each piece that meets it."""
        at, half = self.place.copy(), self.half.copy()
        at[place] *= 1 - finds
        half[grid.a == place, 0] *= 1 - finds
        half[grid.b == place, 1] *= 1 - finds
        return Inspections(at, half)

    def passed(self, grid: Grid, pieces: list[int], finds: float) -> "Inspections":
        """After walking along pieces and seeing nothing: fully against cuts in them, by half against their ends."""
        at, half = self.place.copy(), self.half.copy()
        for piece in pieces:
            half[piece] *= 1 - finds
            at[grid.a[piece]] *= 1 - finds / 2
            at[grid.b[piece]] *= 1 - finds / 2
        return Inspections(at, half)

    def faded(self, power: float) -> "Inspections":
        """The same believed less."""
        return replace(self, place=self.place**power, half=self.half**power)

    def of_faults(self, faults: FaultPorts) -> Real:
        """What is left of each fault port, (F,)."""
        left = np.ones(len(faults.kind))
        shunts, cuts = faults.kind <= LE, faults.kind == CUT
        left[shunts] = self.place[faults.place[shunts]]
        left[cuts] = self.half[faults.piece[cuts]].mean(axis=1)
        return left


def unlooked(grid: Grid) -> Inspections:
    """Nothing has been looked at."""
    return Inspections(np.ones(len(grid.spots)), np.ones((len(grid.a), 2)))
