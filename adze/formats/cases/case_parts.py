"""What every part of a case file is: its own keys, annotations, answers, and no others."""

import re
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, ConfigDict, Field, model_validator

Text = Annotated[str, Field(min_length=1)]
# What a case may carry for its reader, and nothing is computed from: titles, sources and tolerances.
ANNOTATION = re.compile(r"title|note|compare|expected_by|tol_(?:\w+_)?pct")


class CasePart(BaseModel):
    """A part of a case. A key that is neither its own, an annotation nor an answer is refused: it may be misspelt."""

    model_config = ConfigDict(populate_by_name=True, frozen=True, extra="forbid")
    answers: ClassVar[frozenset[str]] = frozenset()
    is_apart: ClassVar[bool] = False  # of a file of its own: its keys are not meant by those of other cases

    @model_validator(mode="before")
    @classmethod
    def _without_annotations(cls, given: Any) -> Any:
        if not isinstance(given, dict):
            return given
        return {
            key: value for key, value in given.items() if not (ANNOTATION.fullmatch(str(key)) or key in cls.answers)
        }

    @classmethod
    def keys(cls) -> list[str]:
        """The keys of the file, as they are written there."""
        return [field.alias or name for name, field in cls.model_fields.items()]


class BaseCase(CasePart):
    """What every case has."""

    id: Text
    expected: dict[str, Any] = {}


def known_keys() -> list[str]:
    """Every key that any case may hold."""
    todo, keys = [CasePart], set()
    while todo:
        model = todo.pop()
        if model.is_apart:
            continue
        todo += model.__subclasses__()
        keys |= {*model.keys(), *model.answers}
    return sorted(keys)
