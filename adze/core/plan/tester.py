"""The tester that a farm reads its kV with: how fast it follows, what it is clipped to, where its scale ends."""

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field, FiniteFloat

from adze.core.plan.scalars import Part


class TesterKind(StrEnum):
    """A good digital handheld, a row of lamps, one whose time constant is known, or the true peak."""

    HANDHELD = "handheld"
    LAMPS = "lamps"
    OWN = "own"
    TRUE = "true"


TESTER_WORDS = {
    TesterKind.HANDHELD: "good handheld (follows within 5 µs)",
    TesterKind.LAMPS: "row of lamps (follows within 10 µs)",
    TesterKind.OWN: "own, by its time constant",
    TesterKind.TRUE: "none: show the true peak",
}
_RESPONSE_US = {TesterKind.HANDHELD: 5.0, TesterKind.LAMPS: 10.0, TesterKind.TRUE: 0.0}


class Tester(Part):
    """`own_us` counts for an own tester; `against` is what its other lead is put on; `most_kv` is its scale's end."""

    kind: TesterKind = TesterKind.HANDHELD
    own_us: Annotated[FiniteFloat, Field(ge=0.2, le=50)] = 5.0
    against: Literal["remote", "rods"] = "remote"
    most_kv: Annotated[FiniteFloat, Field(ge=2, le=20)] = 9.9

    @property
    def response_s(self) -> float:
        """The time constant of its input, s (S13)."""
        return 1e-6 * _RESPONSE_US.get(self.kind, self.own_us)
