"""Sparse elimination against dense solves."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.pulse.elimination import elimination_order, factorise, solve


@st.composite
def patterns(draw: st.DrawFn) -> tuple[int, list[tuple[int, int]]]:
    n = draw(st.integers(2, 14))
    tree = [(draw(st.integers(0, i - 1)), i) for i in range(1, n)]
    extra = draw(st.lists(st.tuples(st.integers(0, n - 1), st.integers(0, n - 1)), max_size=6))
    return n, [*tree, *((min(p), max(p)) for p in extra if p[0] != p[1])]


@settings(max_examples=60)
@given(patterns(), st.integers(0, 2**31))
def test_solves_as_the_dense_system_does(pattern: tuple[int, list[tuple[int, int]]], seed: int) -> None:
    n, entries = pattern
    random = np.random.default_rng(seed)
    order = elimination_order(n, entries, last=[0])
    matrix = np.zeros((3, n, n), complex)
    values = np.zeros((order.size, 3), complex)
    for i, j in {*entries, *((i, i) for i in range(n))}:
        drawn = random.normal(size=3) + 1j * random.normal(size=3) + (8 * n if i == j else 0)
        values[order.place(i, j)] = matrix[:, i, j] = matrix[:, j, i] = drawn
    rhs = random.normal(size=(n, 3)) + 0j
    found = solve(factorise(order, values), dict(enumerate(rhs)))
    assert found == pytest.approx(np.linalg.solve(matrix, rhs.T[..., None])[..., 0].T, rel=1e-9)


def test_a_tree_fills_nothing_in() -> None:
    entries = [(i // 2, i) for i in range(1, 200)]
    assert elimination_order(200, entries).size == 200 + len(entries)


def test_a_ring_fills_less_than_one_entry_a_node() -> None:
    entries = [(i, (i + 1) % 100) for i in range(100)]
    assert elimination_order(100, entries).size <= 300


def test_the_last_are_last() -> None:
    order = elimination_order(6, [(0, i) for i in range(1, 6)], last=[3, 5])
    assert set(order.unknowns[-2:].tolist()) == {3, 5}
