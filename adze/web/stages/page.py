"""What a stage's page is made of."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from adze.core.plan.stages import Stage
from adze.services.views.base import Asked


def _nothing() -> dict[str, Any]:
    return {}


_DRAWINGS = {"ground": "The ground", "side": "Side view", "herd": "The animals"}


@dataclass(frozen=True)
class StagePage:
    """A stage of the workbench.

    `template` is its panel, `view` gathers what the panel names, `layout` is the middle of the page, `scripts` are
    the modules that are mounted on it in this order, and `shared` is what they read beside the plan's state
    and the kinds of fixtures and landmarks, which every stage draws.
    """

    stage: Stage
    view: Callable[[Asked], dict[str, Any]]
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
        return next((words for script, words in _DRAWINGS.items() if script in self.scripts), "")

    @property
    def template(self) -> str:
        """The panel's template."""
        return f"plan/panels/{self.stage}.html"
