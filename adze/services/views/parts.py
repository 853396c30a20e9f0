"""What Parts shows."""

from itertools import groupby
from typing import Any

from adze.core.build.joints import joints_of
from adze.core.build.parts import bill, parts_by_line
from adze.core.ground.lines import length_m
from adze.core.tasks.tools import tools_for
from adze.services.views.base import Asked


def parts_view(asked: Asked) -> dict[str, Any]:
    """The parts list by group."""
    found = bill(asked.plan)
    plan = asked.plan
    return {
        "bill": found,
        "own_count": sum(line.own for line in found.lines),
        "groups": [(name, list(lines)) for name, lines in groupby(found.lines, lambda x: x.group)],
        "by_line": parts_by_line(plan),
        "run_names": {run.id: run.name for run in plan.runs} | {"": "For all of it"},
        "lengths": {run.id: length_m(run) for run in plan.runs},
        "tools": tools_for(plan),
        "cuttings": [line for line in found.lines if line.cutting],
        "joints": tuple(joints_of(plan)) if plan.runs else (),
    }
