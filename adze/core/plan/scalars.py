"""Scalars of the plan document: lengths, ids, names, positions, with their limits."""

from typing import Annotated, Any, Literal

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    FiniteFloat,
)

from adze.core.basics.units import parse_length_m


def _length(value: Any) -> Any:
    return parse_length_m(value) if isinstance(value, str) else value


def _centimetres(value: Any) -> Any:
    return round(parse_length_m(value, "cm") * 100, 3) if isinstance(value, str) else value


LengthM = Annotated[FiniteFloat, BeforeValidator(_length)]
EndKind = Literal["", "braced", "block", "concreted", "prop", "stiff"]  # empty: by the strain on it
HeightCm = Annotated[FiniteFloat, BeforeValidator(_centimetres)]
Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
# Control characters can neither be read nor kept.
Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^\x00-\x1f\x7f]*$")]
Coordinate = Annotated[FiniteFloat, Field(ge=-200_000, le=200_000)]
Position = tuple[Coordinate, Coordinate]
Along = Annotated[FiniteFloat, Field(ge=0, le=1_000_000)]
Height = Annotated[FiniteFloat, Field(ge=-500, le=9000)]
LEAST_GROWTH_M = 0.5
SPOT_M = 0.01  # points nearer than this are one


KIND_TAG = "kind:"  # opens the tag of a union by kind: left out of the path of a fault


class Part(BaseModel):
    """A part of the document: frozen, no unknown keys."""

    model_config = ConfigDict(frozen=True, extra="forbid")


def known(value: str, table: dict[str, Any], what: str) -> str:
    """A key that its table has. Raises ValueError, which names the keys there are."""
    if value not in table:
        raise ValueError(f"there is no {what} {value!r}; one of {', '.join(table)}")
    return value


Text = Annotated[str, Field(max_length=600, pattern=r"^[^\x00-\x08\x0b-\x1f\x7f]*$")]
MOST_POINTS = 100_000
Herds = Annotated[tuple[Id, ...], Field(max_length=40)]
