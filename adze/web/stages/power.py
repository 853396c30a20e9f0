"""Power: the energizer and its supply."""

from adze.core.plan.stages import Stage
from adze.services.views.power import power_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.POWER,
    power_view,
    "plan/layouts/ground.html",
    ("panel", "ground", "search", "strip", "card", "keys"),
)
