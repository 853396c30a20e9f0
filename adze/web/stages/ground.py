"""Ground: the fence as it lies."""

from adze.core.plan.stages import Stage
from adze.services.views.ground import ground_view, shared_kinds
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.GROUND,
    ground_view,
    "plan/layouts/drawn_ground.html",
    ("card", "ground", "strip", "panel", "tools", "inspector", "importer", "photo", "keys"),
    shared_kinds,
)
