"""Trace: where the fault lies, and what to do next."""

from adze.core.plan.stages import Stage
from adze.services.views.trace import trace_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.TRACE,
    trace_view,
    "plan/layouts/ground.html",
    ("panel", "ground", "trace", "trace_others", "shed_use", "thing_photos", "strip", "card", "keys"),
)
