"""Stock: who is held in, who is kept out."""

from adze.core.plan.stages import Stage
from adze.services.views.stock import drawn_kinds, stock_view
from adze.web.stages.page import StagePage

PAGE = StagePage(
    Stage.STOCK,
    stock_view,
    "plan/layouts/side.html",
    ("panel", "herd", "strip", "card", "keys"),
    lambda: {"kinds": drawn_kinds()},
)
