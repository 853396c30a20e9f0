"""Operations on the energizer: one's own units, where it leads in, a design that was found."""

import math
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from adze.core.advice.designs import Choice, chosen
from adze.core.ground.edit import Refused, fresh_id
from adze.core.ground.lines import point_at, run_of
from adze.core.ground.places import nearest_place
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position
from adze.formats.parts.units_csv import read_units
from adze.services.operations.base import Done, Operation
from adze.services.operations.things import tidy

_AT_IT_M = 3.0  # a click this near the energizer or the fence means it
# What a plate might say: a beginning that is typed over.
_BLANK = {"supply": "mains", "stored_j": 4.3, "released_j": 3, "open_kv": 9, "kv_500": 6.3}


class AddEnergizer(Operation):
    """An energizer of one's own, to be described by its plate."""

    do: Literal["add_energizer"]

    def apply(self, plan: Plan) -> Done:
        """The plan with it."""
        key = fresh_id((u.key for u in plan.own_energizers), "own")
        row = {"key": key, "label": f"My energizer {key.removeprefix('own')}", **_BLANK}
        return Done(changed(plan, {"own_energizers": [*plan.own_energizers, row]}), "Added an energizer")


class RemoveEnergizer(Operation):
    """An energizer of one's own less."""

    do: Literal["remove_energizer"]
    key: str

    def apply(self, plan: Plan) -> Done:
        """The plan without it, and without a unit where it was the chosen one."""
        left = [u for u in plan.own_energizers if u.key != self.key]
        unit = None if plan.energizer == self.key else plan.energizer
        return Done(changed(plan, {"own_energizers": left, "energizer": unit}), "Took an energizer off")


class BringEnergizers(Operation):
    """Rows of energizers, typed or pasted."""

    blames: ClassVar[str] = "text"
    do: Literal["bring_energizers"]
    text: Annotated[str, Field(max_length=20_000)]

    def apply(self, plan: Plan) -> Done:
        """The plan with them among its own; a row of a known key takes its place."""
        made = read_units(self.text)
        keys = {unit.key for unit in made}
        kept = [unit for unit in plan.own_energizers if unit.key not in keys]
        rows = (*kept, *(unit.model_dump() for unit in made))
        return Done(changed(plan, {"own_energizers": rows}), f"Brought in {len(made)} energizers")


class LeadIn(Operation):
    """Where the pulse is led into the fence; nowhere named: at the nearest place."""

    do: Literal["lead_in"]
    at: Position | None = None

    def apply(self, plan: Plan) -> Done:
        """The plan with the lead-out there."""
        words = "Led in elsewhere" if self.at else "Led in at the nearest place"
        return Done(changed(plan, {"feed_at": tidy(self.at) if self.at else None}), words)


class DrawLeadOut(Operation):
    """The way of the lead-out as drawn; what was clicked at the energizer and on the fence is their own place."""

    do: Literal["draw_lead_out"]
    points: Annotated[tuple[Position, ...], Field(max_length=200)] = ()

    def apply(self, plan: Plan) -> Done:
        """The plan with it; no points: straight again."""
        if plan.energizer_at is None or not plan.runs:
            raise Refused("A lead-out needs both ends: place the energizer and draw the fence first.")
        points = [tidy(point) for point in self.points]
        while points and math.dist(points[0], plan.energizer_at) < _AT_IT_M:
            points.pop(0)
        onto = nearest_place(plan.runs, points[-1]) if points else None
        update: dict[str, object] = {}
        if onto is not None and onto[1] < _AT_IT_M:
            update["feed_at"] = tidy(point_at(run_of(plan, onto[0].run), onto[0].at_m))
            points.pop()
        update["lead_out"] = plan.lead_out.model_dump() | {"points": points}
        return Done(changed(plan, update), "Drew the lead-out" if points else "The lead-out goes straight")


class TakeDesign(Operation):
    """A design that was found."""

    do: Literal["take_design"]
    choice: Choice

    def apply(self, plan: Plan) -> Done:
        """The plan built so."""
        return Done(chosen(plan, self.choice), "Took a design from the search")
