"""Ground: the fence as it lies."""

from adze.core.plan.stages import Stage
from adze.services.views.ground import ground_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.GROUND,
    ground_view,
    "plan/layouts/drawn_ground.html",
    ("panel", "ground", "tools", "inspector", "importer", "photo", "strip", "card", "keys"),
)
