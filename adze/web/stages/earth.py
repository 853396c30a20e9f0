"""Earth: rods, soil, the test."""

from adze.core.plan.stages import Stage
from adze.services.views.earth import earth_stage_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.EARTH,
    earth_stage_view,
    "plan/layouts/drawn_ground.html",
    ("panel", "ground", "rods", "strip", "card", "keys"),
)
