"""Operations on the animals."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from adze.core.build.materials import farthest_m
from adze.core.ground.edit import Refused, fresh_id
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.tables.animals import animal_kinds
from adze.core.tables.services import SERVICE_LIVES
from adze.services.operations.base import Done, Operation, row_of

USUAL_HERD = 10


class AddHerd(Operation):
    """A kind of animal more."""

    do: Literal["add_herd"]
    kind: str

    def apply(self, plan: Plan) -> Done:
        """The plan with a herd of the kind."""
        kind = animal_kinds().get(self.kind)
        count = USUAL_HERD if kind is None or kind.purpose == "hold" else 1
        row = {"id": fresh_id((h.id for h in plan.stock), "herd"), "kind": self.kind, "count": count}
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
        number = row_of(plan.stock, self.herd, "Those animals are no longer in the plan.")
        row = plan.stock[number].model_dump()
        text = self.text.strip()
        if self.part == "came" and not text:
            row["training"] = None
        else:
            row["training"] = (row["training"] or {}) | {self.part: text or None}
        rows = [row if i == number else herd for i, herd in enumerate(plan.stock)]
        return Done(changed(plan, {"stock": rows}), "Training noted")


class NoteTouches(Operation):
    """Touches animal by animal: a name and a number to a line; an empty text goes back to one count for all."""

    blames: ClassVar[str] = "text"
    do: Literal["note_touches"]
    herd: str
    text: Annotated[str, Field(max_length=20_000)]

    def apply(self, plan: Plan) -> Done:
        """The plan with them noted."""
        number = row_of(plan.stock, self.herd, "Those animals are no longer in the plan.")
        row = plan.stock[number].model_dump()
        if row["training"] is None:
            raise Refused("First give the day on which they came into the pen.")
        row["training"]["animals"] = [
            _touched(i, line) for i, line in enumerate(self.text.splitlines(), 1) if line.strip()
        ]
        rows = [row if i == number else herd for i, herd in enumerate(plan.stock)]
        return Done(changed(plan, {"stock": rows}), "Touches noted")


def _touched(number: int, line: str) -> dict[str, object]:
    name, _, touches = line.strip().replace(",", " ").rpartition(" ")
    if not name or not touches.isdigit():
        raise Refused(f"line {number}: {line.strip()!r}; write a name and how many touches, such as: Bella 2")
    return {"name": name.strip(), "touches": int(touches)}


class SetService(Operation):
    """How long the fence is to stand; `takes` takes the usual parts for it."""

    do: Literal["set_service"]
    service: Literal["", "strip", "season", "years"]
    takes: bool = False

    def apply(self, plan: Plan) -> Done:
        """The plan for that service."""
        update: dict[str, object] = {"service": self.service}
        if self.takes and self.service:
            life = SERVICE_LIVES[self.service]
            rods = replaced(plan.rods, length_m=life.rod_m, metal="galvanised")
            parts = {"conductor": life.conductor, "post": life.post, "insulator": None}
            strands = [s.model_dump() | {"conductor": None} for s in plan.strands]
            made = replaced(plan, conductor=life.conductor, post=life.post, strands=plan.strands)
            apart = min(life.post_spacing_m, farthest_m(made))
            update |= parts | {"strands": strands, "post_spacing_m": apart, "rods": rods.model_dump()}
        return Done(changed(plan, update), "How long it is to stand")
