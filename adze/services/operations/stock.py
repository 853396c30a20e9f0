"""Operations on the animals."""

from typing import Annotated, Literal

from pydantic import Field

from adze.core.ground.edit import fresh_id
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.tables.animals import animal_kinds
from adze.services.operations.base import Done, Operation, row_of

USUAL_HERD = 10


class AddHerd(Operation):
    """A kind of animal more."""

    do: Literal["add_herd"]
    kind: str

    def apply(self, plan: Plan) -> Done:
        """The plan with a herd of the kind."""
        row = {"id": fresh_id((h.id for h in plan.stock), "herd"), "kind": self.kind, "count": USUAL_HERD}
        made = changed(plan, {"stock": [*plan.stock, row]})
        return Done(made, f"Added {animal_kinds()[self.kind].label}")


class RemoveHerd(Operation):
    """A herd taken off, wherever it is named."""

    do: Literal["remove_herd"]
    herd: str

    def apply(self, plan: Plan) -> Done:
        """The plan without it."""

        def left(herds: tuple[str, ...]) -> list[str]:
            return [key for key in herds if key != self.herd]

        update = {
            "stock": [h for h in plan.stock if h.id != self.herd],
            "herds": left(plan.herds),
            "fences": [f.model_dump() | {"herds": left(f.herds)} for f in plan.fences],
            "blocks": [b.model_dump() | {"herds": left(b.herds)} for b in plan.blocks],
        }
        return Done(changed(plan, update), "Took a kind off")


class NoteTraining(Operation):
    """A day of a herd's training, or the touches seen, as typed; an empty first day takes the log off."""

    do: Literal["note_training"]
    herd: str
    part: Literal["came", "touches", "released"]
    text: Annotated[str, Field(max_length=40)]

    def apply(self, plan: Plan) -> Done:
        """The plan with it noted."""
        number = row_of(plan.stock, self.herd, "Those animals are no longer on the plan.")
        row = plan.stock[number].model_dump()
        text = self.text.strip()
        if self.part == "came" and not text:
            row["training"] = None
        else:
            row["training"] = (row["training"] or {}) | {self.part: text or None}
        rows = [row if i == number else herd for i, herd in enumerate(plan.stock)]
        return Done(changed(plan, {"stock": rows}), "Training noted")
