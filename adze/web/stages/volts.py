"""Volts: kV everywhere, what is felt, what would mend it."""

from adze.core.plan.stages import Stage
from adze.services.views.volts import grass_labels, volts_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.VOLTS,
    volts_view,
    "plan/layouts/grown_ground.html",
    ("panel", "ground", "strip", "card", "keys"),
    lambda: {"grasses": grass_labels()},
)
