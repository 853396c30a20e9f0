"""The plan: one design of a farm's fences as one versioned document.

Pydantic, because this is the document that files, the store and the browser exchange; everything
else in core is frozen dataclasses. Positions are metres east and north of the farm's origin.
"""

from collections import Counter
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import (
    Field,
    FiniteFloat,
    ValidationInfo,
    field_validator,
    model_validator,
)

from adze.core.basics.units import Units
from adze.core.plan.construction import Construction, Fence, WorkChoices
from adze.core.plan.earth import Calibration, Feel, Rods, Subsoil, TestSchool
from adze.core.plan.ground import (
    Block,
    Fixture,
    Growth,
    Landmark,
    LeadOut,
    Meeting,
    Moves,
    Note,
    Origin,
    Run,
    Underlay,
    WhatIf,
)
from adze.core.plan.herds import Herd
from adze.core.plan.power import OwnEnergizer, Supply
from adze.core.plan.prices import Allowance, OwnPrice, Quote, ShedTake
from adze.core.plan.scalars import LengthM, Name, Position, known
from adze.core.plan.tester import Tester
from adze.core.tables.energizers import energizers
from adze.core.tables.ground import grasses, soils

PLAN_VERSION = 3


class Plan(Construction):
    """One design of a farm's fences. Lengths in m (strands in cm), positions in m from `origin`.

    The plan's own construction is that of every line that names no other.
    """

    format: Literal["adze-plan"] = "adze-plan"
    version: Literal[3] = 3
    name: Name
    units: Units = Units.METRIC
    origin: Origin = Origin()
    stock: Annotated[tuple[Herd, ...], Field(max_length=40)] = ()
    loss: Literal["", "straying", "ground_predator", "bird", "both_predators", "browsing", "digging"] = ""
    trouble: Literal["", "rubbing", "leaning", "fighting", "browsing"] = ""
    service: Literal["", "strip", "season", "years"] = ""
    on_date: date | None = None
    runs: Annotated[tuple[Run, ...], Field(max_length=1000)] = ()
    fixtures: Annotated[tuple[Fixture, ...], Field(max_length=2000)] = ()
    growths: Annotated[tuple[Growth, ...], Field(max_length=400)] = ()
    what_ifs: Annotated[tuple[WhatIf, ...], Field(max_length=60)] = ()
    landmarks: Annotated[tuple[Landmark, ...], Field(max_length=1000)] = ()
    meetings: Annotated[tuple[Meeting, ...], Field(max_length=1000)] = ()
    blocks: Annotated[tuple[Block, ...], Field(max_length=500)] = ()
    moves: Annotated[tuple[Moves, ...], Field(max_length=50)] = ()
    notes: Annotated[tuple[Note, ...], Field(max_length=500)] = ()
    underlay: Underlay | None = None
    fences: Annotated[tuple[Fence, ...], Field(max_length=40)] = ()
    own_energizers: Annotated[tuple[OwnEnergizer, ...], Field(max_length=40)] = ()
    energizer: str | None = None
    half_power: bool = False
    supply: Supply = Supply()
    energizer_at: Position | None = None
    feed_at: Position | None = None
    lead_out: LeadOut = LeadOut()
    soil: str = "loam"
    soil_ohm_m: Annotated[FiniteFloat, Field(ge=1, le=100_000)] | None = None
    grass: str = "moderate"
    subsoil: Subsoil | None = None
    soil_feel: Feel = Feel.UNKNOWN
    frost_m: Annotated[LengthM, Field(ge=0, le=3)] = 0.0
    calibration: Calibration = Calibration()
    rods: Rods = Rods()
    earth_school: TestSchool = TestSchool.USUAL
    tester: Tester = Tester()
    own_prices: Annotated[tuple[OwnPrice, ...], Field(max_length=400)] = ()
    allowance: Allowance = Allowance()
    work: WorkChoices = WorkChoices()
    vat_percent: Annotated[FiniteFloat, Field(ge=0, le=40)] = 0.0
    quotes: Annotated[tuple[Quote, ...], Field(max_length=4)] = ()
    from_shed: Annotated[tuple[ShedTake, ...], Field(max_length=400)] = ()

    @field_validator("soil", "grass")
    @classmethod
    def _named(cls, value: str | None, info: ValidationInfo) -> str | None:
        tables: dict[str, dict[str, Any]] = {
            "soil": dict(soils()),
            "grass": dict(grasses()),
        }
        return None if value is None else known(value, tables[info.field_name or ""], info.field_name or "")

    @model_validator(mode="after")
    def _fits(self) -> "Plan":
        lists: dict[str, tuple[Any, ...]] = {
            "herd": self.stock,
            "run": self.runs,
            "fixture": self.fixtures,
            "growth": self.growths,
            "what-if": self.what_ifs,
            "landmark": self.landmarks,
            "meeting": self.meetings,
            "block": self.blocks,
            "fence": self.fences,
            "moves": self.moves,
            "note": self.notes,
        }
        for what, rows in lists.items():
            twice = [i for i, n in Counter(row.id for row in rows).items() if n > 1]
            if twice:
                raise ValueError(f"{what} id {twice[0]!r} is there twice; give each its own")
        runs = {run.id for run in self.runs}
        for fixture in self.fixtures:
            if fixture.run not in runs:
                raise ValueError(f"{fixture.name}: its run {fixture.run!r} is not on the plan")
        ways: tuple[Growth | WhatIf, ...] = (*self.growths, *self.what_ifs)
        for row in ways:
            if row.run not in runs:
                raise ValueError(f"{row.id}: its run {row.run!r} is not on the plan")
        own = {row.key: row.label for row in self.own_energizers}
        if len(own) < len(self.own_energizers):
            raise ValueError("two of your energizers have one key; give each its own")
        if self.energizer is not None and self.energizer not in own:
            known(self.energizer, dict(energizers()), "energizer")
        self._names_what_is_there()
        return self

    def _names_what_is_there(self) -> None:
        fences, herds = {fence.id for fence in self.fences}, {herd.id for herd in self.stock}
        for run in self.runs:
            if run.fence is not None and run.fence not in fences:
                raise ValueError(f"{run.name}: the fence {run.fence!r} that it is built as is not on the plan")
        met = [(self.name, self.herds), *((fence.name, fence.herds) for fence in self.fences)]
        for name, keys in (*met, *((block.name, block.herds) for block in self.blocks)):
            unknown = [key for key in keys if key not in herds]
            if unknown:
                raise ValueError(f"{name}: the animals {unknown[0]!r} are not on the plan; take them off here too")
