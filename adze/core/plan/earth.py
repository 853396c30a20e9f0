"""The plan's rods, soil and what tests taught of it."""

import math
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import (
    Field,
    FiniteFloat,
    ValidationInfo,
    field_validator,
    model_validator,
)

from adze.core.plan.scalars import HeightCm, LengthM, Part, Position, known
from adze.core.tables.ground import rod_metals, soils

MOST_RODS = 200


class Rods(Part):
    """The rods near the energizer: a row from `position` along a bearing, a ring of it, or each where it is placed.

    `places` go before the row; what `count` asks beyond them carries on from the last. `bore_cm` is the
    width of a hole filled with conductive clay to `bore_m`, `slant_deg` the lean from the vertical,
    `bare_wire` the joining wire laid bare in the ground, `plate_m` the side of a square
    plate laid flat behind the first rod. A "strand" as lead goes on the posts.
    `monitor` is where the rod stands that watches.
    """

    count: Annotated[int, Field(ge=0, le=MOST_RODS)] = 3
    length_m: Annotated[LengthM, Field(ge=0.3, le=6)] = 2.0
    diameter_mm: Annotated[FiniteFloat, Field(ge=4, le=60)] = 16.0
    spacing_m: Annotated[LengthM, Field(ge=0.1, le=30)] = 3.0
    position: Position | None = None
    bearing_deg: Annotated[FiniteFloat, Field(ge=0, lt=360)] = 90.0
    layout: Literal["row", "ring"] = "row"
    places: Annotated[tuple[Position, ...], Field(max_length=MOST_RODS)] = ()
    slant_deg: Annotated[FiniteFloat, Field(ge=0, le=75)] = 0.0
    bore_cm: Annotated[HeightCm, Field(ge=3, le=40)] | None = None
    bore_m: Annotated[LengthM, Field(ge=0.3, le=6)] = 1.2
    bare_wire: bool = False
    plate_m: Annotated[LengthM, Field(ge=0.2, le=2)] | None = None
    metal: str = "galvanised"
    clamp: Literal["bolt", "hose", "claw", "none"] = "bolt"
    clamp_metal: Literal["same", "galvanised", "stainless", "copper"] = "same"
    lead: Literal["cable", "strand", "galvanised", "stainless", "copper", "household"] = "cable"
    tops: Literal["under", "proud", "last"] = "under"
    monitor: Position | None = None

    @field_validator("metal")
    @classmethod
    def _metal(cls, value: str) -> str:
        return known(value, dict(rod_metals()), "rod metal")

    @field_validator("bore_cm")
    @classmethod
    def _wider(cls, value: float | None, info: ValidationInfo) -> float | None:
        thick = info.data.get("diameter_mm", 16.0) / 10
        if value is not None and value <= thick:
            raise ValueError(f"a bore of {value:g} cm holds no clay round a rod of {thick:g} cm; bore 7 to 8 cm")
        return value

    @field_validator("places")
    @classmethod
    def _apart(cls, value: tuple[Position, ...], info: ValidationInfo) -> tuple[Position, ...]:
        least = 2 * info.data.get("diameter_mm", 16.0) / 1000
        for i, one in enumerate(value):
            for other in value[:i]:
                if math.dist(one, other) < least:
                    raise ValueError(f"two rods stand in one hole at {one[0]:g}, {one[1]:g}; set them 3 m apart")
        return value

    @model_validator(mode="after")
    def _holes_apart(self) -> "Rods":
        wide_m = (self.bore_cm or self.diameter_mm / 10) / 100
        if self.count > 1 and self.spacing_m < 2 * wide_m:
            what = "bores" if self.bore_cm else "rods"
            raise ValueError(
                f"{what} {wide_m:g} m wide run into each other at {self.spacing_m:g} m; set them 3 m apart"
            )
        return self


class Feel(StrEnum):
    """How a long screwdriver goes into the ground where the rods stand."""

    UNKNOWN = ""
    SINKS = "sinks"
    PUSHES = "pushes"
    BARELY = "barely"
    NEVER = "never"


class TestSchool(StrEnum):
    """What an earth test must show (docs/schools.md, DG-13)."""

    USUAL = "usual"
    STRICT = "strict"
    LENIENT = "lenient"


class Subsoil(Part):
    """Another soil below the top one, from a depth; `ohm_m` where it was measured."""

    soil: str
    depth_m: Annotated[LengthM, Field(ge=0.1, le=30)]
    ohm_m: Annotated[FiniteFloat, Field(ge=1, le=100_000)] | None = None

    @field_validator("soil")
    @classmethod
    def _soil(cls, value: str) -> str:
        return known(value, dict(soils()), "soil")


class Calibration(Part):
    """What readings have taught: factors on growth's leak and on the soil's ohm m, and how sure these are now.

    `leak_spread` is the factor by which growth may still leak more or less, `soil_share` how much of the
    soil table's range is left.
    """

    leak_factor: Annotated[FiniteFloat, Field(ge=0.1, le=10)] = 1.0
    soil_factor: Annotated[FiniteFloat, Field(ge=0.1, le=10)] = 1.0
    leak_spread: Annotated[FiniteFloat, Field(ge=1, le=4)] = 2.0
    soil_share: Annotated[FiniteFloat, Field(ge=0, le=1)] = 1.0
    readings: Annotated[int, Field(ge=0, le=100_000)] = 0
