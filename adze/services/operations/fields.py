"""Operations on single values of the document, by their path."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from adze.core.basics.units import Units
from adze.core.ground.edit import Refused
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.tasks.as_built import as_built
from adze.services.operations.base import Done, Operation

# With another of these the strands of one's own no longer stand: they are left to the rules.
_CLEARS_STRANDS = ("scheme", "netting")


class TakeAsBuilt(Operation):
    """What stands otherwise than drawn, figure by figure, made the plan."""

    do: Literal["take_as_built"]
    figures: Annotated[dict[str, Annotated[str, Field(max_length=200)]], Field(min_length=1, max_length=400)]

    def apply(self, plan: Plan) -> Done:
        """The plan as it stands."""
        return Done(as_built(plan, self.figures), "The plan as it was built")


Path = Annotated[str, Field(min_length=1, max_length=120, pattern=r"^[a-z_0-9]+(\.[a-z_0-9]+)*$")]


class SetField(Operation):
    """A value of the document by its path, such as rods.count or runs.0.name."""

    do: Literal["set_field"]
    path: Path
    value: Any
    label: Annotated[str, Field(max_length=180)] = "A value"

    def apply(self, plan: Plan) -> Done:
        """The plan with the value, checked as a whole."""
        return Done(changed(plan, _update(plan, {}, self.path, self.value)), f"{self.label.strip()} changed")


class SetFields(Operation):
    """Values that need one another, judged together: each may be wrong without the others."""

    do: Literal["set_fields"]
    fields: Annotated[dict[Path, Any], Field(min_length=1, max_length=40)]
    label: Annotated[str, Field(max_length=180)] = "Values"

    def apply(self, plan: Plan) -> Done:
        """The plan with all of them, checked as a whole."""
        update: dict[str, Any] = {}
        for path, value in self.fields.items():
            update = _update(plan, update, path, value)
        return Done(changed(plan, update), f"{self.label.strip()} changed")


def _update(plan: Plan, update: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """An update of the plan's fields, and the value at a path with it."""
    top, *rest = path.split(".")
    if top not in Plan.model_fields:
        raise Refused(f"A plan has no {top!r}.")
    more = {top: _with(update.get(top, getattr(plan, top)), rest, value)}
    if rest and top == "fences" and rest[-1] in _CLEARS_STRANDS:
        more[top] = _with(more[top], [rest[0], "strands"], ())
    elif top in _CLEARS_STRANDS:
        more["strands"] = ()
    return update | more


def _with(part: Any, keys: list[str], value: Any) -> Any:
    """A part of the document with the value at a path of keys; rows beside it stay the objects they were."""
    if not keys:
        return value
    key, *rest = keys
    if isinstance(part, (tuple, list)):
        number = int(key) if key.isdigit() else -1
        if not 0 <= number < len(part):
            raise Refused("That is no longer in the plan.")
        return [_with(row, rest, value) if i == number else row for i, row in enumerate(part)]
    if isinstance(part, BaseModel):
        part = {name: getattr(part, name) for name in type(part).model_fields}
    if not isinstance(part, dict) or key not in part:
        raise Refused(f"There is no {key!r} to set here.")
    return part | {key: _with(part[key], rest, value)}


class SetUnits(Operation):
    """Metres or feet."""

    do: Literal["set_units"]
    units: Units

    def apply(self, plan: Plan) -> Done:
        """The plan shown in them."""
        words = "metres" if self.units is Units.METRIC else "feet"
        return Done(changed(plan, {"units": self.units}), f"Lengths in {words}")
