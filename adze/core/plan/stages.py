"""The stages of a plan, and what a plan that cannot be solved yet is missing."""

from enum import StrEnum


class Stage(StrEnum):
    """The stages in the order practitioners work."""

    STOCK = "stock"
    GROUND = "ground"
    STRANDS = "strands"
    POWER = "power"
    EARTH = "earth"
    VOLTS = "volts"
    PARTS = "parts"
    BUILD = "build"
    LOG = "log"
    TRACE = "trace"

    @property
    def label(self) -> str:
        """What a person reads; addresses and documents keep the value."""
        return "Animals" if self is Stage.STOCK else self.value.capitalize()


class Incomplete(ValueError):
    """A plan from which no pulse can be computed yet; `stage` is where to mend it."""

    def __init__(self, stage: Stage, message: str) -> None:
        super().__init__(message)
        self.stage = stage
