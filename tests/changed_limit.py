"""A pytest plugin that multiplies one named figure of a module as it is imported: see tests/test_limits.py.

`ADZE_CHANGED_LIMIT` holds the module, the name and the factor, with spaces between. The module's source is
changed, not its attribute, so that defaults and tables made of the figure follow it.
"""

import ast
import math
import os
import sys
from collections.abc import Iterator, Sequence
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec, PathFinder, SourceFileLoader
from types import CodeType, ModuleType

_MODULE, _NAME, _FACTOR = os.environ["ADZE_CHANGED_LIMIT"].split()


def _assigned(tree: ast.Module) -> Iterator[tuple[ast.expr, ast.expr]]:
    """Each name that the module assigns at its top, with its value."""
    for node in tree.body:
        if isinstance(node, ast.Assign):
            (target,) = node.targets
            if isinstance(target, ast.Tuple) and isinstance(node.value, ast.Tuple):
                yield from zip(target.elts, node.value.elts, strict=True)
            else:
                yield target, node.value


class _Changed(SourceFileLoader):
    def get_code(self, fullname: str) -> CodeType:
        """The module's code with the figure multiplied. Raises ValueError where there is no such figure."""
        tree = ast.parse(self.get_data(self.get_filename(fullname)))
        found = [value for name, value in _assigned(tree) if isinstance(name, ast.Name) and name.id == _NAME]
        if len(found) != 1 or not isinstance(found[0], ast.Constant):
            raise ValueError(f"{_MODULE} has no figure {_NAME}")
        before = found[0].value
        after = before * float(_FACTOR)
        found[0].value = math.ceil(after) if isinstance(before, int) else after
        return compile(tree, self.get_filename(fullname), "exec")


class _Finder(MetaPathFinder):
    def find_spec(
        self, fullname: str, path: Sequence[str] | None, target: ModuleType | None = None
    ) -> ModuleSpec | None:
        spec = PathFinder.find_spec(fullname, path, target) if fullname == _MODULE else None
        if spec is not None and spec.origin:
            spec.loader = _Changed(fullname, spec.origin)
        return spec


if _MODULE in sys.modules:
    raise RuntimeError(f"{_MODULE} is imported already: load this plugin by -p")
sys.meta_path.insert(0, _Finder())
