"""Strands: heights, roles, conductors, posts."""

from adze.core.plan.stages import Stage
from adze.services.views.stock import drawn_kinds
from adze.services.views.strands import strands_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.STRANDS,
    strands_view,
    "plan/layouts/side.html",
    ("panel", "side", "strip", "card", "keys"),
    lambda: {"kinds": drawn_kinds()},
)
