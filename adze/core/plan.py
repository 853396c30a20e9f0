"""The plan: one design of a farm's fences as one versioned document.

Pydantic, because this is the document that files, the store and the browser exchange; everything
else in core is frozen dataclasses. Positions are metres east and north of the farm's origin.
"""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, FiniteFloat, field_validator, model_validator

from adze.core.strand_rules import Animal, Duty, Purpose, Role, Scheme, Strand
from adze.core.tables import (
    AnimalKind,
    animal_kinds,
    conductors,
    energizers,
    grasses,
    post_kinds,
    soils,
)
from adze.core.units import Units, parse_length_m

PLAN_VERSION = 1


def _length(value: Any) -> Any:
    return parse_length_m(value) if isinstance(value, str) else value


def _centimetres(value: Any) -> Any:
    return round(parse_length_m(value, "cm") * 100, 3) if isinstance(value, str) else value


LengthM = Annotated[FiniteFloat, BeforeValidator(_length)]
HeightCm = Annotated[FiniteFloat, BeforeValidator(_centimetres)]
Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
# Control characters can neither be read nor kept.
Name = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[^\x00-\x1f\x7f]*$")]
Coordinate = Annotated[FiniteFloat, Field(ge=-200_000, le=200_000)]
Position = tuple[Coordinate, Coordinate]


class Part(BaseModel):
    """A part of the document: frozen, no unknown keys."""

    model_config = ConfigDict(frozen=True, extra="forbid")


def _known(value: str, table: dict[str, Any], what: str) -> str:
    if value not in table:
        raise ValueError(f"there is no {what} {value!r}; one of {', '.join(table)}")
    return value


class Herd(Part):
    """A group of animals to hold in or keep out."""

    id: Id
    kind: str
    count: Annotated[int, Field(ge=1, le=100_000)] = 1
    schooled: bool = False
    woolled: bool = False
    young: bool = False

    @field_validator("kind")
    @classmethod
    def _kind(cls, value: str) -> str:
        return _known(value, animal_kinds(), "kind of animal")


class Run(Part):
    """A line of fence as drawn, from the end nearer the energizer."""

    id: Id
    name: Name
    points: Annotated[tuple[Position, ...], Field(min_length=2, max_length=2000)]
    soil: str | None = None
    grass: str | None = None

    @field_validator("soil")
    @classmethod
    def _soil(cls, value: str | None) -> str | None:
        return value and _known(value, soils(), "soil")

    @field_validator("grass")
    @classmethod
    def _grass(cls, value: str | None) -> str | None:
        return value and _known(value, grasses(), "growth")

    @model_validator(mode="after")
    def _has_length(self) -> "Run":
        for number, (a, b) in enumerate(zip(self.points, self.points[1:], strict=False), 1):
            if abs(a[0] - b[0]) < 0.01 and abs(a[1] - b[1]) < 0.01:
                raise ValueError(
                    f"{self.name}: points {number} and {number + 1} lie on one spot; a stretch needs a length, "
                    "move or delete one of them"
                )
        return self


class Fixture(Part):
    """What is fixed on a run at a distance from its start."""

    id: Id
    kind: Literal["gate", "switch"]
    run: Id
    at_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]
    name: Name
    is_open: bool = False
    width_m: Annotated[LengthM, Field(ge=0.5, le=20)] = 4.0
    under_cable: bool = True


class Landmark(Part):
    """What lies on the ground beside the fence."""

    id: Id
    kind: Literal["building", "path", "stream", "sand", "field", "wood", "water"]
    name: Annotated[str, Field(max_length=80, pattern=r"^[^\x00-\x1f\x7f]*$")] = ""
    points: Annotated[tuple[Position, ...], Field(min_length=1, max_length=500)]


class PlannedStrand(Part):
    """One strand: height above ground in cm and what it carries."""

    cm: Annotated[HeightCm, Field(gt=0, le=300)]
    role: Role = Role.LIVE


class Rods(Part):
    """The rods near the energizer."""

    count: Annotated[int, Field(ge=0, le=60)] = 3
    length_m: Annotated[LengthM, Field(ge=0.3, le=6)] = 2.0
    diameter_mm: Annotated[FiniteFloat, Field(ge=4, le=60)] = 16.0
    spacing_m: Annotated[LengthM, Field(ge=0.1, le=30)] = 3.0
    position: Position | None = None


class Origin(Part):
    """Where the plan's zero lies on the earth, degrees."""

    lat: Annotated[FiniteFloat, Field(ge=-85, le=85)] = 52.0
    lon: Annotated[FiniteFloat, Field(ge=-180, le=180)] = -30.0


class Plan(Part):
    """One design of a farm's fences. Lengths in m (strands in cm), positions in m from `origin`."""

    format: Literal["adze-plan"] = "adze-plan"
    version: Literal[1] = 1
    name: Name
    units: Units = Units.METRIC
    origin: Origin = Origin()
    stock: Annotated[tuple[Herd, ...], Field(max_length=40)] = ()
    duty: Duty = Duty.HOLD
    scheme: Scheme = Scheme.LIVE
    runs: Annotated[tuple[Run, ...], Field(max_length=300)] = ()
    fixtures: Annotated[tuple[Fixture, ...], Field(max_length=500)] = ()
    landmarks: Annotated[tuple[Landmark, ...], Field(max_length=300)] = ()
    strands: Annotated[tuple[PlannedStrand, ...], Field(max_length=12)] = ()
    bottom_off: bool = False
    conductor: str = "steel_25"
    post: str = "steel_t"
    post_spacing_m: Annotated[LengthM, Field(ge=1, le=30)] = 6.0
    energizer: str | None = None
    energizer_at: Position | None = None
    soil: str = "loam"
    soil_ohm_m: Annotated[FiniteFloat, Field(ge=1, le=100_000)] | None = None
    grass: str = "moderate"
    rods: Rods = Rods()

    @field_validator("conductor", "post", "energizer", "soil", "grass")
    @classmethod
    def _named(cls, value: str | None, info: Any) -> str | None:
        tables: dict[str, dict[str, Any]] = {
            "conductor": dict(conductors()),
            "post": dict(post_kinds()),
            "energizer": dict(energizers()),
            "soil": dict(soils()),
            "grass": dict(grasses()),
        }
        return value and _known(value, tables[info.field_name], info.field_name)

    @model_validator(mode="after")
    def _fits(self) -> "Plan":
        for what, rows in (("herd", self.stock), ("run", self.runs), ("fixture", self.fixtures)):
            ids = [row.id for row in rows]
            twice = next((i for i in ids if ids.count(i) > 1), None)
            if twice:
                raise ValueError(f"{what} id {twice!r} stands twice; give each its own")
        below = 0.0
        for number, strand in enumerate(self.strands, 1):
            if strand.cm <= below:
                raise ValueError(
                    f"strand {number}: {strand.cm:g} cm is not above strand {number - 1} at {below:g} cm; "
                    "give the heights from the lowest up"
                )
            below = strand.cm
        runs = {run.id for run in self.runs}
        for fixture in self.fixtures:
            if fixture.run not in runs:
                raise ValueError(f"{fixture.name}: its run {fixture.run!r} is not on the plan")
        return self


def animal_of(kind: AnimalKind, *, schooled: bool, woolled: bool) -> Animal:
    """A kind as the strand rules want it."""
    return Animal(
        kind=kind.key,
        nose_cm=kind.nose_cm,
        shoulder_cm=kind.shoulder_cm,
        head_cm=kind.head_cm,
        spring_cm=kind.spring_cm,
        digs=kind.digs,
        climbs=kind.climbs,
        smooth=kind.smooth,
        fleece_cm=kind.fleece_cm if woolled else kind.shorn_cm,
        kv_new=kind.kv_new,
        kv_schooled=kind.kv_schooled,
        wild=kind.wild,
        purpose=Purpose(kind.purpose),
        schooled=schooled and kind.purpose == Purpose.HOLD,
    )


def animals_of(plan: Plan) -> tuple[Animal, ...]:
    """The animals that the fence must meet; young at foot know what the dam knows (rule 2)."""
    found: dict[Animal, None] = {}
    for herd in plan.stock:
        kind = animal_kinds()[herd.kind]
        found[animal_of(kind, schooled=herd.schooled, woolled=herd.woolled)] = None
        if herd.young and kind.young:
            found[animal_of(animal_kinds()[kind.young], schooled=herd.schooled, woolled=False)] = None
    return tuple(found)


def strands_of(plan: Plan) -> tuple[Strand, ...]:
    """The plan's own strands as the rules want them; empty while they are left to the rules."""
    return tuple(Strand(s.cm, s.role) for s in plan.strands)
