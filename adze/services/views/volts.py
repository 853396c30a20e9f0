"""What Volts shows."""

from typing import Any

from adze.core.build.construction import has_earth_strands
from adze.core.forecast.apart import are_apart
from adze.core.plan.constructions import views_by_run
from adze.core.plan.stock import wanted_by
from adze.core.plan.tester import TESTER_WORDS
from adze.core.tables.ground import grasses, mishap_kinds
from adze.services.views.base import ViewRequest


def volts_view(asked: ViewRequest) -> dict[str, Any]:
    """Growth, what can go wrong, which lines have earth strands."""
    plan = asked.plan
    return {
        "grasses": grasses(),
        "mishaps": mishap_kinds(),
        "wanted_by": wanted_by(plan),
        "testers": TESTER_WORDS,
        "returns": [run for run, view in views_by_run(plan).items() if has_earth_strands(view)],
        "names": {run.id: run.name for run in plan.runs},
        "apart": [run.id for run in plan.runs if are_apart(plan, run)],
    }


def grass_labels() -> dict[str, str]:
    """Kinds of growth, least first, as they are drawn on the strip."""
    return {key: grass.label for key, grass in grasses().items()}
