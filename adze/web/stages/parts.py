"""Parts: the list."""

from adze.core.plan.stages import Stage
from adze.services.views.parts import parts_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.PARTS,
    parts_view,
    "plan/layouts/ground.html",
    ("panel", "ground", "lit", "price_file", "strip", "card", "keys"),
)
