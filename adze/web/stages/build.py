"""Build: who does what, in which order, on which day, and when to stop."""

from adze.core.plan.stages import Stage
from adze.services.views.build import build_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.BUILD,
    build_view,
    "plan/layouts/ground.html",
    ("panel", "ground", "work", "thing_photos", "strip", "card", "keys"),
)
