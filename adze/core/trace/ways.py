"""The shortest ways over a farm: fence lines, joints and tracks as one graph."""

import math
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.sparse.csgraph import dijkstra

from adze.core.basics.types import Real

TOUCHES_M = 1e-3  # what a joint counts on a walk: sparse graphs know no edge of no length


def graph(edges: Iterable[tuple[int, int, float]], size: int) -> sparse.csr_matrix:
    """The graph of ways (from, to, m); of several between the same two the shortest counts."""
    shortest: dict[tuple[int, int], float] = {}
    for one, other, length_m in edges:
        if one != other:
            key = (min(one, other), max(one, other))
            shortest[key] = min(max(length_m, TOUCHES_M), shortest.get(key, math.inf))
    rows, columns = zip(*shortest, strict=True)
    return sparse.csr_matrix((list(shortest.values()), (rows, columns)), shape=(size, size))


def shortest_m(ways: sparse.csr_matrix, start: int | None = None) -> Real:
    """The metres of the shortest ways: from one, (N,), or between all, (N, N)."""
    whole: Real = dijkstra(ways, directed=False) if start is None else dijkstra(ways, directed=False, indices=[start])
    return whole if start is None else whole[0]


def steps_back(ways: sparse.csr_matrix, start: int) -> NDArray[np.int32]:
    """For each what comes before it on the shortest way from one, (N,); negative where none leads."""
    found: NDArray[np.int32] = dijkstra(ways, directed=False, indices=[start], return_predecessors=True)[1][0]
    return found
