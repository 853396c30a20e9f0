"""What every operation shares."""

from dataclasses import dataclass
from typing import ClassVar

from pydantic import BaseModel, ConfigDict
from shapely import LineString

from adze.core.basics.units import Units, format_length
from adze.core.ground.edit import Refused
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position


@dataclass(frozen=True)
class Done:
    """A changed plan, what was done for its history, and the key of what was made, such as run:line2."""

    plan: Plan
    summary: str
    made: str = ""


class Operation(BaseModel):
    """A change of a plan; `do` names it on the wire, `blames` the input that a refusal belongs to."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    blames: ClassVar[str] = ""

    def apply(self, plan: Plan) -> Done:
        """The plan changed. Raises Refused or ValueError in words, ValidationError by path."""
        raise NotImplementedError


def length_unit(plan: Plan) -> str:
    """The unit of a bare length that is typed into a page of the plan."""
    return "ft" if plan.units is Units.IMPERIAL else "m"


def length_words(plan: Plan, points: tuple[Position, ...]) -> str:
    """The length of a drawn line in words."""
    return format_length(LineString(points).length, plan.units)


def row_of(rows: tuple[object, ...], key: str, gone: str) -> int:
    """The number of a row by its id. Raises Refused with `gone`."""
    for number, row in enumerate(rows):
        if getattr(row, "id", None) == key:
            return number
    raise Refused(gone)
