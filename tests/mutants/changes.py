"""Every small wrong change of a module: a figure a quarter larger, an operator or a comparison the other way about."""

import ast
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

FIGURE = 1.25  # times; a tensioned strand is never strained to between one and that: tests/figures.csv
_SWAPPED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.Lt: ast.GtE,
    ast.GtE: ast.Lt,
    ast.Gt: ast.LtE,
    ast.LtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.And: ast.Or,
    ast.Or: ast.And,
}
_NAMES = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Change:
    """A change: the line that it is on, what it is, the figure's name where it is one, and how the tree takes it."""

    line: int
    words: str
    figure: str
    make: Callable[[], None]


def _number(node: ast.expr) -> ast.Constant | None:
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        node = node.operand
    is_number = isinstance(node, ast.Constant) and type(node.value) in (int, float)
    return node if is_number and isinstance(node, ast.Constant) else None


def assigned(tree: ast.Module) -> Iterator[tuple[str, ast.Constant]]:
    """The named figures of a module: each name that it assigns a number at its top, with the number."""
    for node in tree.body:
        pairs: list[tuple[ast.expr, ast.expr]] = []
        match node:
            case ast.Assign(targets=[ast.Tuple(elts=names)], value=ast.Tuple(elts=values)):
                pairs = list(zip(names, values, strict=False))
            case ast.Assign(targets=[ast.Name() as name], value=value):
                pairs = [(name, value)]
            case ast.AnnAssign(target=ast.Name() as name, value=ast.expr() as value):
                pairs = [(name, value)]
        for name, value in pairs:
            number = _number(value)
            if isinstance(name, ast.Name) and number is not None:
                yield name.id, number


def _larger(number: ast.Constant, times: float = FIGURE) -> Callable[[], None]:
    def make() -> None:
        value = number.value
        assert isinstance(value, int | float)
        number.value = math.ceil(value * times) if isinstance(value, int) else value * times

    return make


def _swap(holder: ast.AST, field: str, other: ast.AST | str, at: int | None = None) -> Callable[[], None]:
    def make() -> None:
        if at is None:
            setattr(holder, field, other)
        else:
            getattr(holder, field)[at] = other

    return make


def figure(tree: ast.Module, name: str, times: float = FIGURE) -> Change:
    """The change that makes a named figure larger. Raises ValueError where the module has none of that name."""
    found = [number for own, number in assigned(tree) if own == name]
    if len(found) != 1:
        raise ValueError(f"there is no figure {name}")
    return Change(found[0].lineno, f"{name} x {times:g}", name, _larger(found[0], times))


def changes(tree: ast.Module) -> list[Change]:
    """Every change of a module, in the order of its lines."""
    found = [figure(tree, name) for name, _ in assigned(tree)]
    for function in ast.walk(tree):
        if isinstance(function, ast.FunctionDef):
            for node in ast.walk(function):
                found += _of_node(node)
    seen: dict[tuple[int, str], Change] = {(row.line, row.words): row for row in found}
    return sorted(seen.values(), key=lambda row: (row.line, row.words))


def _words(node: ast.expr, old: ast.AST, new: ast.AST) -> str:
    return f"{type(old).__name__} to {type(new).__name__} at {node.lineno}:{node.col_offset}"


def _of_node(node: ast.AST) -> Iterator[Change]:
    match node:
        case ast.BinOp(op=op) | ast.BoolOp(op=op) if type(op) in _SWAPPED:
            # What joins texts is no arithmetic.
            if not any(isinstance(part, ast.JoinedStr) for part in ast.walk(node)):
                other = _SWAPPED[type(op)]()
                yield Change(node.lineno, _words(node, op, other), "", _swap(node, "op", other))
        case ast.Compare(ops=ops):
            for number, op in enumerate(ops):
                if type(op) in _SWAPPED:
                    other = _SWAPPED[type(op)]()
                    yield Change(node.lineno, _words(node, op, other), "", _swap(node, "ops", other, number))
        case ast.Call(func=ast.Name(id=name) as func) if name in _NAMES:
            words = f"{name} to {_NAMES[name]} at {node.lineno}:{node.col_offset}"
            yield Change(node.lineno, words, "", _swap(func, "id", _NAMES[name]))
