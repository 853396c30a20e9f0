"""The wrong changes are wrong: each makes another program of the same one."""

import ast

import pytest

from tests.mutants.changes import changes, figure

CODE = """
LIMIT_M, _MOST = 3.0, 4

def over(a, b):
    return max(a - b, 0) * 2 > LIMIT_M and a != b
"""


def changed(number: int) -> str:
    tree = ast.parse(CODE)
    changes(tree)[number].make()
    return ast.unparse(ast.fix_missing_locations(tree))


def test_every_change_makes_another_program() -> None:
    count = len(changes(ast.parse(CODE)))
    assert count == 8  # two figures; max, -, *, >, and, !=
    made = {changed(number) for number in range(count)}
    assert len(made) == count
    assert ast.unparse(ast.parse(CODE)) not in made


def test_a_figure_is_changed_by_its_name() -> None:
    tree = ast.parse(CODE)
    figure(tree, "_MOST", 1.25).make()
    assert "LIMIT_M, _MOST = (3.0, 5)" in ast.unparse(tree)
    with pytest.raises(ValueError, match="no figure _LEAST"):
        figure(tree, "_LEAST")
