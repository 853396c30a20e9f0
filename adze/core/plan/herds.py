"""The plan's animals."""

from datetime import date
from typing import Annotated, Literal

from pydantic import (
    Field,
    ValidationInfo,
    field_validator,
    model_validator,
)

from adze.core.plan.scalars import HeightCm, Id, Name, Part, known
from adze.core.tables.animals import animal_kinds

_SMALLEST, _LARGEST = 0.35, 2.2  # of a kind's typical body: dwarfs and giants lie within
_BODY_WORDS = {"shoulder_cm": "withers or shoulder", "nose_cm": "nose when walking up", "head_cm": "width of the head"}


class TrainedAnimal(Part):
    """One animal in the training pen by name or number, and its touches: they differ."""

    name: Name
    touches: Annotated[int, Field(ge=0, le=1000)] = 0


class Training(Part):
    """A group's days in the training pen: when they came, touches seen, when they were let out.

    `animals` holds touches one by one where they are noted so; they count in place of `touches`.
    """

    came: date
    touches: Annotated[int, Field(ge=0, le=10_000)] = 0
    released: date | None = None
    animals: Annotated[tuple[TrainedAnimal, ...], Field(max_length=400)] = ()

    @model_validator(mode="after")
    def _in_order(self) -> "Training":
        if self.released and self.released < self.came:
            raise ValueError(f"training: let out on {self.released}, before they came on {self.came}")
        return self


class Herd(Part):
    """A group of animals to hold in or keep out. Sizes in cm where they differ from the kind's typical body."""

    id: Id
    kind: str
    count: Annotated[int, Field(ge=1, le=100_000)] = 1
    schooled: bool = False
    woolled: bool = False
    young: bool = False
    bold: bool = False
    thick_coated: bool = False
    sex: Literal["", "female", "castrated", "entire"] = ""
    age: Literal["", "growing", "grown"] = ""
    shoulder_cm: HeightCm | None = None
    nose_cm: HeightCm | None = None
    head_cm: HeightCm | None = None
    sheared: date | None = None
    training: Training | None = None

    @field_validator("kind")
    @classmethod
    def _kind(cls, value: str) -> str:
        return known(value, animal_kinds(), "kind of animal")

    @field_validator("shoulder_cm", "nose_cm", "head_cm")
    @classmethod
    def _has_a_body(cls, typed: float | None, info: ValidationInfo) -> float | None:
        kind = animal_kinds().get(info.data.get("kind", ""))
        if typed is None or kind is None:
            return typed
        usual: float = getattr(kind, info.field_name or "")
        if not _SMALLEST * usual <= typed <= _LARGEST * usual:
            raise ValueError(
                f"{kind.label}: {_BODY_WORDS[info.field_name or '']} {typed:g} cm; between {_SMALLEST * usual:.0f} and "
                f"{_LARGEST * usual:.0f} cm is taken (typical {usual:g})"
            )
        return typed
