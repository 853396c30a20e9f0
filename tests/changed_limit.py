"""A pytest plugin that changes one named figure before any test module is imported: see tests/test_limits.py.

`ADZE_CHANGED_LIMIT` holds the module, the name and the factor, with spaces between.
"""

import importlib
import os

_module, _name, _factor = os.environ["ADZE_CHANGED_LIMIT"].split()
_owner = importlib.import_module(_module)
_before = getattr(_owner, _name)
_after = _before * float(_factor)
setattr(_owner, _name, round(_after) if isinstance(_before, int) else _after)
if getattr(_owner, _name) == _before:
    raise ValueError(f"{_module}.{_name} did not change")
