"""A pytest plugin that makes one small wrong change of a module as it is imported: load it by -p.

`ADZE_MUTANT` holds the module, and the number of the change (`tests/mutants/changes.py`) or the name of a figure and
what it is multiplied by, with spaces between. The module's source is changed, not its attribute, so that defaults and
tables made of a figure follow it.
"""

import ast
import os
import sys
from collections.abc import Sequence
from importlib.abc import MetaPathFinder
from importlib.machinery import ModuleSpec, PathFinder, SourceFileLoader
from types import CodeType, ModuleType

from tests.mutants.changes import changes, figure

_MODULE, _CHANGE, *_TIMES = os.environ["ADZE_MUTANT"].split()


class _Changed(SourceFileLoader):
    def get_code(self, fullname: str) -> CodeType:
        """The module's code with the change. Raises ValueError, IndexError where there is no such change."""
        tree = ast.parse(self.get_data(self.get_filename(fullname)))
        change = figure(tree, _CHANGE, float(_TIMES[0])) if _TIMES else changes(tree)[int(_CHANGE)]
        change.make()
        return compile(ast.fix_missing_locations(tree), self.get_filename(fullname), "exec")


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
