"""Tools and what is worn."""

from dataclasses import dataclass
from functools import cache
from typing import Literal

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class Tool:
    """A tool: needed, handy or worn (ppe); price to buy, and to hire for a day (0: not hired out)."""

    key: str
    label: str
    kind: str
    price: float
    hire_day: float

    @property
    def shed_key(self) -> str:
        """What the shed calls it: beside parts, whose keys are their own."""
        return f"tool:{self.key}"


ToolKind = Literal["needed", "handy", "ppe"]


@cache
def tools() -> dict[str, Tool]:
    """All tools by key."""
    return read_table("tools.csv", Tool)
