"""A changed plan: checked as a whole, its untouched rows kept as the objects they were."""

from collections.abc import Mapping
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, TypeAdapter

from adze.core.basics.cache import cached
from adze.core.plan.document import Plan

P = TypeVar("P", bound=BaseModel)


@cached("fields of parts", 512)
def _field(part: type[BaseModel], name: str) -> TypeAdapter[Any]:
    field = part.model_fields.get(name)
    if field is None:
        raise TypeError(f"{part.__name__} has no {name!r}; it has {', '.join(part.model_fields)}")
    checked: Any = Annotated[(field.annotation, *field.metadata)] if field.metadata else field.annotation
    return TypeAdapter(checked)


def replaced(part: P, **values: Any) -> P:
    """A part of the document with some of its values replaced, each checked by its own field.

    Raises TypeError for a name that the part does not have, ValidationError for a value that its field refuses.
    What holds between fields is not checked: `changed` does that for a plan that is to be kept.
    """
    kind = type(part)
    return part.model_copy(update={name: _field(kind, name).validate_python(v) for name, v in values.items()})


def changed(plan: Plan, update: Mapping[str, Any]) -> Plan:
    """A plan with some of its values replaced, checked as a whole. Raises ValidationError.

    Rows that are the plan's own stay the very objects they were: what is known of them is found again.
    """
    known = {id(row) for name in Plan.model_fields for row in _rows(plan, name)}

    def plain(value: Any) -> Any:
        if isinstance(value, BaseModel):
            return value if id(value) in known else value.model_dump()
        return [plain(row) for row in value] if isinstance(value, (tuple, list)) else value

    whole = {name: getattr(plan, name) for name in Plan.model_fields}
    return Plan.model_validate(whole | {name: plain(value) for name, value in update.items()})


def alike(plan: Plan, before: Plan) -> Plan:
    """A plan whose rows are those of the plan before it, object for object, where they are equal."""
    update = {}
    for name in Plan.model_fields:
        rows, old = _rows(plan, name), {row.id: row for row in _rows(before, name) if hasattr(row, "id")}
        if rows and old:
            same = tuple(old[r.id] if r.id in old and old[r.id] == r else r for r in rows)
            update[name] = getattr(before, name) if same == _rows(before, name) else same
    # Not checked again: the rows are the plan's own or equal to them, and checking would make new tuples of them.
    return plan.model_copy(update=update)


def _rows(plan: Plan, name: str) -> tuple[Any, ...]:
    value = getattr(plan, name)
    return value if isinstance(value, tuple) else ()
