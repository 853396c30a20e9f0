"""The pages of the workbench, one row for each stage: its view, its layout and its scripts."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from adze.core.plan.stages import Stage
from adze.services.views.base import ViewRequest
from adze.services.views.build import build_view
from adze.services.views.earth import earth_stage_view
from adze.services.views.ground import ground_view
from adze.services.views.log import log_view
from adze.services.views.parts import parts_view
from adze.services.views.power import power_view
from adze.services.views.stock import drawn_kinds, stock_view
from adze.services.views.strands import strands_view
from adze.services.views.trace import trace_view
from adze.services.views.volts import grass_labels, volts_view


def _nothing() -> dict[str, Any]:
    return {}


_DRAWINGS = {"ground": "The ground", "side": "Side view", "herd": "The animals"}


@dataclass(frozen=True)
class StagePage:
    """A stage of the workbench.

    `view` gathers what the panel's template names, `layout` is the middle of the page, `scripts` are the modules below
    static/js that are mounted on it in this order, and `shared` is what they read beside the plan's state and the
    kinds of fixtures and landmarks, which every stage draws.
    """

    stage: Stage
    view: Callable[[ViewRequest], dict[str, Any]]
    layout: str
    scripts: tuple[str, ...]
    shared: Callable[[], dict[str, Any]] = _nothing

    @property
    def is_sheet(self) -> bool:
        """Whether the panel is the middle of the page itself."""
        return not self.drawing

    @property
    def drawing(self) -> str:
        """What the middle of the page draws, as its tab is called; empty where it draws nothing."""
        names = {script.rpartition("/")[2] for script in self.scripts}
        return next((words for script, words in _DRAWINGS.items() if script in names), "")

    @property
    def template(self) -> str:
        """The panel's template."""
        return f"plan/panels/{self.stage}.html"


def _page(
    stage: Stage,
    view: Callable[[ViewRequest], dict[str, Any]],
    layout: str,
    scripts: str,
    shared: Callable[[], dict[str, Any]] = _nothing,
) -> StagePage:
    """A stage whose own scripts stand between the panel's and those of strip, card and keys."""
    every = ("bench/panel", *scripts.split(), "strip/strip", "strip/card", "bench/keys")
    return StagePage(stage, view, f"plan/layouts/{layout}.html", every, shared)


def _drawn_kinds() -> dict[str, Any]:
    return {"kinds": drawn_kinds()}


_GROUND = "ground/ground draw/tools bench/inspector draw/importer draw/photo"
_BUILD = "ground/ground log/work log/thing_photos"
_LOG = "ground/ground log/logbook pages/push log/shed_use log/thing_photos"
_TRACE = "ground/ground trace/trace trace/trace_others log/shed_use log/thing_photos"
STAGE_PAGES: dict[Stage, StagePage] = {
    page.stage: page
    for page in (
        _page(Stage.STOCK, stock_view, "side", "strands/herd", _drawn_kinds),
        _page(Stage.GROUND, ground_view, "drawn_ground", _GROUND),
        _page(Stage.STRANDS, strands_view, "side", "strands/side", _drawn_kinds),
        _page(Stage.POWER, power_view, "ground", "ground/ground search/search"),
        _page(Stage.EARTH, earth_stage_view, "drawn_ground", "ground/ground draw/rods"),
        _page(Stage.VOLTS, volts_view, "grown_ground", "ground/ground", lambda: {"grasses": grass_labels()}),
        _page(Stage.PARTS, parts_view, "ground", "ground/ground ground/lit search/price_file"),
        _page(Stage.BUILD, build_view, "ground", _BUILD),
        _page(Stage.LOG, log_view, "ground", _LOG),
        _page(Stage.TRACE, trace_view, "ground", _TRACE),
    )
}
