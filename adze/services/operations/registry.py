"""All operations by the name that the wire gives them."""

from inspect import isclass
from types import ModuleType
from typing import Annotated, Any, Union, get_args

from pydantic import Field, TypeAdapter

from adze.services.operations import earth, fields, lines, parts, power, stock, strands, things, volts
from adze.services.operations.base import Operation

_SUBJECTS = (fields, stock, lines, things, strands, power, earth, volts, parts)


def _of(module: ModuleType) -> list[type[Operation]]:
    """The operations that a module defines: those that name themselves by `do`."""
    own = (x for x in vars(module).values() if isclass(x) and issubclass(x, Operation))
    return [x for x in own if x.__module__ == module.__name__ and "do" in x.model_fields]


OPERATIONS: dict[str, type[Operation]] = {
    get_args(operation.model_fields["do"].annotation)[0]: operation for module in _SUBJECTS for operation in _of(module)
}
_UNION: Any = Annotated[Union[tuple(OPERATIONS.values())], Field(discriminator="do")]  # noqa: UP007
_ANY: TypeAdapter[Operation] = TypeAdapter(_UNION)


def read_operation(row: Any) -> Operation:
    """One operation from what the browser sends. Raises pydantic.ValidationError."""
    return _ANY.validate_python(row)
