"""Symmetric sparse elimination of complex systems, all frequencies at once.

The order and the places of fill-in are found once from the pattern; the numbers then run as
vectors over frequency, in compiled loops (numba, kept on disk). Trees give no fill-in.

Source: minimum degree after W. F. Tinney and J. W. Walker, Proc. IEEE 55 (1967), scheme 2.
"""

import heapq
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit

from adze.core.basics.types import Complex, Index


@dataclass(frozen=True)
class Order:
    """Unknowns in the order they go, and for each its neighbours, their places and the places it changes.

    Neighbours of step k stand at starts[k]:starts[k+1] of `neighbours` and `columns`; `targets` holds
    for each step the places of all pairs of its neighbours, rows first, from target_starts[k] on.
    """

    unknowns: Index
    starts: Index
    neighbours: Index
    columns: Index
    target_starts: Index
    targets: Index
    places: dict[tuple[int, int], int]

    @property
    def size(self) -> int:
        """How many entries there are, fill-in included."""
        return len(self.places)

    def place(self, i: int, j: int) -> int:
        """Place of entry (i, j) of the symmetric matrix."""
        return self.places[(i, j) if i <= j else (j, i)]


def elimination_order(unknowns: int, entries: Iterable[tuple[int, int]], last: Sequence[int] = ()) -> Order:
    """Minimum-degree order for a symmetric pattern; `last` are eliminated last (where the drive stands).

    The place of the diagonal of unknown i is i.
    """
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
    order: list[int] = []
    done = [False] * unknowns
    starts, target_starts = [0], [0]
    neighbours: list[int] = []
    columns: list[int] = []
    targets: list[int] = []
    while heap:
        _, degree, k = heapq.heappop(heap)
        if done[k] or degree != len(graph[k]):
            continue
        done[k] = True
        order.append(k)
        around = sorted(graph[k])
        neighbours += around
        columns += [place(k, j) for j in around]
        starts.append(len(neighbours))
        for a, one in enumerate(around):
            targets += [place(one, other) for other in around[a:]]
            graph[one].update(around[a + 1 :])
            for other in around[a + 1 :]:
                graph[other].add(one)
        target_starts.append(len(targets))
        for j in around:
            graph[j].discard(k)
            heapq.heappush(heap, (j in late, len(graph[j]), j))

    def row(numbers: list[int]) -> Index:
        return np.array(numbers, dtype=np.intp)

    return Order(row(order), row(starts), row(neighbours), row(columns), row(target_starts), row(targets), places)


@dataclass(frozen=True)
class Factors:
    """A matrix taken apart, (places, K): inverse pivots on the diagonal, multipliers at the columns."""

    order: Order
    values: Complex

    def part(self, frequencies: slice) -> "Factors":
        """The same for some of the frequencies."""
        return Factors(self.order, np.ascontiguousarray(self.values[:, frequencies]))


def factorise(order: Order, values: Complex) -> Factors:
    """Take apart a matrix whose entries stand at the order's places, shape (places, K). Consumes `values`."""
    _factorise(
        order.unknowns,
        order.starts,
        order.columns,
        order.target_starts,
        order.targets,
        np.empty_like(values[:1]),
        values,
    )
    return Factors(order, values)


def solve(factors: Factors, drive: Mapping[int, Complex]) -> Complex:
    """Unknowns (n, K) for a drive given at a few unknowns as rows (K,)."""
    order = factors.order
    result = np.zeros((len(order.unknowns), factors.values.shape[1]), dtype=np.complex128)
    touched = np.zeros(len(order.unknowns), dtype=np.bool_)
    for unknown, row in drive.items():
        result[unknown] = row
        touched[unknown] = True
    _substitute(order.unknowns, order.starts, order.neighbours, order.columns, factors.values, touched, result)
    return result


@njit(cache=True, nogil=True)
def _factorise(unknowns, starts, columns, target_starts, targets, kept, values):  # type: ignore[no-untyped-def]
    frequencies = values.shape[1]
    for step in range(len(unknowns)):
        diagonal = values[unknowns[step]]
        for f in range(frequencies):
            diagonal[f] = 1.0 / diagonal[f]
        first, end = starts[step], starts[step + 1]
        target = target_starts[step]
        for a in range(first, end):
            column = values[columns[a]]
            # The column becomes its multiplier; the pairs to its right still need it as it was.
            for f in range(frequencies):
                kept[0, f] = column[f]
                column[f] = column[f] * diagonal[f]
            own = values[targets[target]]
            for f in range(frequencies):
                own[f] -= column[f] * kept[0, f]
            for b in range(a + 1, end):
                pair, other = values[targets[target + b - a]], values[columns[b]]
                for f in range(frequencies):
                    pair[f] -= column[f] * other[f]
            target += end - a


@njit(cache=True, nogil=True)
def _substitute(unknowns, starts, neighbours, columns, values, touched, result):  # type: ignore[no-untyped-def]
    frequencies = values.shape[1]
    for step in range(len(unknowns)):
        k = unknowns[step]
        if touched[k]:
            for a in range(starts[step], starts[step + 1]):
                row, multiplier = result[neighbours[a]], values[columns[a]]
                touched[neighbours[a]] = True
                for f in range(frequencies):
                    row[f] -= multiplier[f] * result[k, f]
    for step in range(len(unknowns) - 1, -1, -1):
        k = unknowns[step]
        if touched[k]:
            for f in range(frequencies):
                result[k, f] *= values[k, f]
        for a in range(starts[step], starts[step + 1]):
            row, multiplier = result[neighbours[a]], values[columns[a]]
            for f in range(frequencies):
                result[k, f] -= multiplier[f] * row[f]
