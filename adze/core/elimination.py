"""Symmetric sparse elimination of complex systems, all frequencies at once.

The order and the places of fill-in are found once from the pattern; the numbers then run as
vectors over frequency. Trees give no fill-in.

Source: minimum degree after W. F. Tinney and J. W. Walker, Proc. IEEE 55 (1967), scheme 2.
"""

import heapq
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from adze.core.laplace import Complex

Index = NDArray[np.intp]


@dataclass(frozen=True)
class Pivot:
    """One step: the unknown, its diagonal place, its neighbours and the places that it changes."""

    unknown: int
    diagonal: int
    neighbours: Index
    column: Index
    targets: Index
    left: Index
    right: Index


@dataclass(frozen=True)
class Order:
    """Pivots in order, the place of each matrix entry, and how many places there are."""

    pivots: tuple[Pivot, ...]
    places: dict[tuple[int, int], int]
    size: int

    def place(self, i: int, j: int) -> int:
        """Place of entry (i, j) of the symmetric matrix."""
        return self.places[(i, j) if i <= j else (j, i)]


def elimination_order(unknowns: int, entries: Iterable[tuple[int, int]], last: Sequence[int] = ()) -> Order:
    """Minimum-degree order for a symmetric pattern; `last` are eliminated last (where the drive stands)."""
    graph: list[set[int]] = [set() for _ in range(unknowns)]
    places: dict[tuple[int, int], int] = {(i, i): i for i in range(unknowns)}

    def place(i: int, j: int) -> int:
        key = (i, j) if i <= j else (j, i)
        return places.setdefault(key, len(places))

    for i, j in entries:
        if i != j:
            graph[i].add(j)
            graph[j].add(i)
            place(i, j)
    late = set(last)
    heap = [(i in late, len(graph[i]), i) for i in range(unknowns)]
    heapq.heapify(heap)
    done = [False] * unknowns
    pivots = []
    while heap:
        _, degree, k = heapq.heappop(heap)
        if done[k] or degree != len(graph[k]):
            continue
        done[k] = True
        around = sorted(graph[k])
        pairs = [(a, b) for a in range(len(around)) for b in range(a, len(around))]
        for a, b in pairs:
            if a != b:
                graph[around[a]].add(around[b])
                graph[around[b]].add(around[a])
        pivots.append(
            Pivot(
                unknown=k,
                diagonal=places[(k, k)],
                neighbours=np.array(around, dtype=np.intp),
                column=np.array([place(k, j) for j in around], dtype=np.intp),
                targets=np.array([place(around[a], around[b]) for a, b in pairs], dtype=np.intp),
                left=np.array([a for a, _ in pairs], dtype=np.intp),
                right=np.array([b for _, b in pairs], dtype=np.intp),
            )
        )
        for j in around:
            graph[j].discard(k)
            heapq.heappush(heap, (j in late, len(graph[j]), j))
    return Order(tuple(pivots), places, len(places))


@dataclass(frozen=True)
class Factors:
    """A matrix taken apart: one inverse pivot and one multiplier column per step, over K frequencies."""

    order: Order
    inverse: Complex
    multipliers: tuple[Complex, ...]

    def part(self, frequencies: slice) -> "Factors":
        """The same for some of the frequencies (views, not copies)."""
        return Factors(self.order, self.inverse[:, frequencies], tuple(m[:, frequencies] for m in self.multipliers))


def factorise(order: Order, values: Complex) -> Factors:
    """Take apart a matrix whose entries stand at the order's places, shape (places, K). Consumes `values`."""
    inverse = np.empty((len(order.pivots), values.shape[1]), dtype=np.complex128)
    multipliers = []
    for step, pivot in enumerate(order.pivots):
        np.divide(1.0, values[pivot.diagonal], out=inverse[step])
        column = values[pivot.column]
        multiplier = column * inverse[step]
        multipliers.append(multiplier)
        if len(pivot.neighbours) == 1:
            values[pivot.targets[0]] -= multiplier[0] * column[0]
        elif len(pivot.neighbours):
            values[pivot.targets] -= multiplier[pivot.left] * column[pivot.right]
    return Factors(order, inverse, tuple(multipliers))


def solve(factors: Factors, drive: Mapping[int, Complex]) -> Complex:
    """Unknowns (n, K) for a drive given at a few unknowns as rows (K,)."""
    pivots = factors.order.pivots
    unknowns, frequencies = len(pivots), factors.inverse.shape[1]
    result = np.zeros((unknowns, frequencies), dtype=np.complex128)
    touched = set(drive)
    for unknown, row in drive.items():
        result[unknown] = row
    for step, pivot in enumerate(pivots):
        if pivot.unknown in touched:
            result[pivot.neighbours] -= factors.multipliers[step] * result[pivot.unknown]
            touched.update(pivot.neighbours.tolist())
    for step in range(unknowns - 1, -1, -1):
        pivot = pivots[step]
        row = result[pivot.unknown]
        if pivot.unknown in touched:
            row *= factors.inverse[step]
        if len(pivot.neighbours) == 1:
            row -= factors.multipliers[step][0] * result[pivot.neighbours[0]]
        elif len(pivot.neighbours):
            row -= np.einsum("mk,mk->k", factors.multipliers[step], result[pivot.neighbours])
    return result
