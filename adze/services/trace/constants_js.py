"""Figures and words that a search on a device shares with the server, as a module of the scripts: written once, here.

`python -m adze.services.trace.constants_js` writes the file anew; a test holds it to what this gives.
"""

import ast
import inspect
import json
import textwrap
from importlib import import_module, resources
from pathlib import Path
from typing import Any, TypeGuard

# Modules whose figures and words the device's search has, each under its own name.
_MODULES = (
    "core.log.strand_compare",
    "core.practice.record",
    "core.pulse.discharge",
    "core.pulse.line",
    "core.pulse.one_way",
    "core.trace.belief",
    "core.trace.closing",
    "core.trace.explanation",
    "core.trace.hypotheses",
    "core.trace.mended",
    "core.trace.next_step",
    "core.trace.predicted",
    "core.trace.prior",
    "core.trace.pulse_base",
    "core.trace.search",
    "core.trace.suspects",
    "services.log.readings",
    "services.parts.shed_use",
    "services.trace.history",
    "services.trace.sentences",
    "services.trace.spurs",
    "services.trace.typed",
    "services.trace.words",
)
_HEAD = "// By the module that holds them: change them there, then run python -m adze.services.trace.constants_js.\n"


def _is_shared(value: Any) -> bool:
    """Whether a value is a figure or words, or a row or table of such."""
    if isinstance(value, dict):
        return all(isinstance(key, str) and _is_shared(part) for key, part in value.items())
    if isinstance(value, tuple):
        return bool(value) and all(_is_shared(part) for part in value)
    return isinstance(value, int | float | str) and not isinstance(value, bool)


def shared() -> dict[str, dict[str, Any]]:
    """Names and values of figures and words by module, without the underscore of what a module keeps to itself."""
    found: dict[str, dict[str, Any]] = {}
    for name in _MODULES:
        module = import_module(f"adze.{name}")
        own = {node.id for node in ast.walk(ast.parse(inspect.getsource(module))) if _is_assigned(node)}
        rows = {key: value for key, value in vars(module).items() if key in own and _is_shared(value)}
        if len({key.lstrip("_") for key in rows}) < len(rows):
            raise ValueError(f"{name}: two names are the same but for their underscore")
        first, *more = name.rpartition(".")[2].split("_")
        found[first + "".join(word.title() for word in more)] = {
            key: rows[own_key] for key, own_key in sorted((key.lstrip("_"), key) for key in rows)
        }
    return found


def _is_assigned(node: ast.AST) -> TypeGuard[ast.Name]:
    return isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store) and node.id.isupper()


def _literal(value: Any) -> str:
    """A value as the scripts write it; a long sentence in pieces that fit a line."""
    if not isinstance(value, str):
        return json.dumps(value, ensure_ascii=False)
    pieces = textwrap.wrap(value, 100, drop_whitespace=False, break_long_words=False)
    return " +\n    ".join(json.dumps(piece, ensure_ascii=False) for piece in pieces)


def constants_js() -> str:
    """The module as text."""
    parts = [_HEAD]
    for module, rows in shared().items():
        lines = "".join(f"  {name}: {_literal(value)},\n" for name, value in rows.items())
        parts.append(f"\nexport const {module} = {{\n{lines}}};\n")
    return "".join(parts)


def path() -> Path:
    """Where the scripts have it."""
    return Path(str(resources.files("adze.web"))) / "static" / "js" / "trace" / "constants.js"


if __name__ == "__main__":
    path().write_text(constants_js(), encoding="utf-8")
