"""The plan's own energizers and their supply."""

from typing import Annotated, Literal

from pydantic import (
    Field,
    FiniteFloat,
    ValidationInfo,
    field_validator,
)

from adze.core.energizer.fit import FitError, check_joules, fit_pulse
from adze.core.energizer.supply import CLEARNESS, Rate
from adze.core.plan.scalars import Id, Name, Part
from adze.core.tables.energizers import Catalogue, energizers

Joules = Annotated[FiniteFloat, Field(ge=0.01, le=200)]
Load = tuple[Annotated[FiniteFloat, Field(ge=5, le=1e6)], Annotated[FiniteFloat, Field(ge=0.01, le=20)]]


class OwnEnergizer(Part):
    """An energizer as its plate tells: joules stored and released, kV without load and on 500 ohm, s between pulses.

    `loads` are peaks measured on resistances, (ohm, kV) each. Rarely on a plate: `j_500`, J that a pulse leaves in 500
    ohm, and `peak_500_us`, us to the peak there.
    """

    key: Id
    label: Name
    supply: Literal["mains", "battery", "solar", "mains or battery"] = "mains"
    stored_j: Joules
    released_j: Joules
    open_kv: Annotated[FiniteFloat, Field(ge=0.5, le=20)]
    kv_500: Annotated[FiniteFloat, Field(ge=0.05, le=20)]
    pulse_s: Annotated[FiniteFloat, Field(ge=1, le=10)] = 1.3
    price: Annotated[FiniteFloat, Field(ge=0, le=100_000)] = 0.0
    loads: Annotated[tuple[Load, ...], Field(max_length=12)] = ()
    output: Literal["low impedance", "high impedance", "continuous"] = "low impedance"
    j_500: Annotated[FiniteFloat, Field(ge=0.01, le=200)] | None = None
    peak_500_us: Annotated[FiniteFloat, Field(ge=2, le=120)] | None = None

    @field_validator("key")
    @classmethod
    def _its_own(cls, value: str) -> str:
        if value in energizers():
            raise ValueError(f"there is an energizer {value!r} already; give yours another key")
        return value

    @field_validator("released_j")
    @classmethod
    def _less_than_stored(cls, value: float, info: ValidationInfo) -> float:
        stored = info.data.get("stored_j")
        if stored is not None and stored <= value:
            raise ValueError(
                f"{value:g} J released cannot come from {stored:g} J stored; more is stored than comes out. Check "
                "which of the two the plate means"
            )
        try:
            check_joules(value, stored)
        except FitError as error:
            raise ValueError(str(error)) from error
        return value

    @field_validator("kv_500")
    @classmethod
    def _can_be(cls, value: float, info: ValidationInfo) -> float:
        stored, released, open_kv = (info.data.get(name) for name in ("stored_j", "released_j", "open_kv"))
        if stored is None or released is None or open_kv is None:
            return value
        if value >= open_kv:
            raise ValueError(
                f"{value:g} kV on 500 Ω must be less than the {open_kv:g} kV without load; check whether the two "
                "are exchanged"
            )
        try:
            fit_pulse(Catalogue(released, open_kv * 1000, value * 1000, stored))
        except FitError as error:
            raise ValueError(str(error)) from error
        return value

    @field_validator("loads")
    @classmethod
    def _falls(cls, value: tuple[Load, ...], info: ValidationInfo) -> tuple[Load, ...]:
        open_kv = info.data.get("open_kv")
        for ohm, kv in value:
            if open_kv is not None and kv > open_kv:
                raise ValueError(f"{kv:g} kV on {ohm:g} Ω is more than the {open_kv:g} kV without load; check the two")
        return tuple(sorted(value))

    @field_validator("j_500")
    @classmethod
    def _no_more_than_released(cls, value: float | None, info: ValidationInfo) -> float | None:
        released = info.data.get("released_j")
        if value is not None and released is not None and value > released:
            raise ValueError(
                f"{value:g} J on 500 Ω is more than the {released:g} J released on the best load; check the two"
            )
        return value


class Supply(Part):
    """What feeds a unit: battery, pulse rate, the coldest it gets, how clear the sky is; on mains a surge strip."""

    battery_ah: Annotated[FiniteFloat, Field(ge=1, le=2000)] = 75.0
    deep_cycle: bool = True
    rate: Rate = Rate.FULL
    coldest_c: Annotated[FiniteFloat, Field(ge=-40, le=50)] = 5.0
    clearness: Annotated[FiniteFloat, Field(ge=0.05, le=0.8)] = CLEARNESS
    surge: bool = True
