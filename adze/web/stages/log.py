"""Log: readings against the forecast."""

from adze.core.plan.stages import Stage
from adze.services.views.log import log_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.LOG,
    log_view,
    "plan/layouts/ground.html",
    ("panel", "ground", "logbook", "push", "shed_use", "thing_photos", "strip", "card", "keys"),
)
