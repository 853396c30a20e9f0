"""The plan: one design of a farm's fences as one versioned document.

Pydantic, because this is the document that files, the store and the browser exchange; everything
else in core is frozen dataclasses. Positions are metres east and north of the farm's origin.
"""

import math
from collections import Counter
from collections.abc import Mapping
from datetime import date
from enum import StrEnum
from typing import Annotated, Any, Literal, Self

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    FiniteFloat,
    ValidationInfo,
    field_validator,
    model_validator,
)

from adze.core.energizer import Catalogue, FitError, fit_pulse
from adze.core.strand_rules import SWING_CM, Duty, Role, Scheme, Strand
from adze.core.supply import CLEARNESS, Rate
from adze.core.tables import (
    animal_kinds,
    conductors,
    energizers,
    grasses,
    insulators,
    landmark_kinds,
    nettings,
    post_kinds,
    rod_metals,
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
Along = Annotated[FiniteFloat, Field(ge=0, le=1_000_000)]
Height = Annotated[FiniteFloat, Field(ge=-500, le=9000)]
LEAST_GROWTH_M = 0.5
SPOT_M = 0.01  # points nearer than this are one


class Part(BaseModel):
    """A part of the document: frozen, no unknown keys."""

    model_config = ConfigDict(frozen=True, extra="forbid")


def _known(value: str, table: dict[str, Any], what: str) -> str:
    if value not in table:
        raise ValueError(f"there is no {what} {value!r}; one of {', '.join(table)}")
    return value


_SMALLEST, _LARGEST = 0.35, 2.2  # of a kind's typical body: dwarfs and giants lie within
_BODY_WORDS = {"shoulder_cm": "withers or shoulder", "nose_cm": "nose when walking up", "head_cm": "width of the head"}


class Training(Part):
    """A group's days in the training pen: when they came, touches seen, when they were let out."""

    came: date
    touches: Annotated[int, Field(ge=0, le=10_000)] = 0
    released: date | None = None

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
        return _known(value, animal_kinds(), "kind of animal")

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


RunUse = Literal["fence", "cross", "spine", "temporary", "lane"]
Text = Annotated[str, Field(max_length=600, pattern=r"^[^\x00-\x08\x0b-\x1f\x7f]*$")]
MOST_POINTS = 100_000
Herds = Annotated[tuple[Id, ...], Field(max_length=40)]


class Run(Part):
    """A line of fence as drawn, from the end nearer the energizer.

    `profile` holds (distance along, height of the ground) in m where heights are known. `fence` names
    the way it is built where that is not the plan's own.
    """

    id: Id
    name: Name
    points: Annotated[tuple[Position, ...], Field(min_length=2, max_length=MOST_POINTS)]
    use: RunUse = "fence"
    fence: Id | None = None
    soil: str | None = None
    grass: str | None = None
    profile: Annotated[tuple[tuple[Along, Height], ...], Field(max_length=MOST_POINTS)] = ()
    note: Text = ""

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
            if abs(a[0] - b[0]) < SPOT_M and abs(a[1] - b[1]) < SPOT_M:
                raise ValueError(
                    f"{self.name}: points {number} and {number + 1} lie on one spot; a stretch needs a length, "
                    "move or delete one of them"
                )
        for (before, _), (at, _) in zip(self.profile, self.profile[1:], strict=False):
            if at <= before:
                raise ValueError(
                    f"{self.name}: the height at {at:g} m does not come after the one at {before:g} m; "
                    "give heights in the order of walking"
                )
        return self


class Fixture(Part):
    """What is fixed on a run at a distance from its start.

    A gate's strands are `feeds`: "both" carry the pulse on, "start" or "end" hang on that side only;
    `opens_at` is the side that is unhooked. A crossing goes under or over a road in cable. A rod
    site joins `rods` rods to the earth strand. A diverter's `earth`: the rods' farthest or middle, its own.
    """

    id: Id
    kind: Literal["gate", "switch", "crossing", "join", "strain", "rods", "diverter", "test", "sign"]
    run: Id
    at_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]
    name: Name
    is_open: bool = False
    width_m: Annotated[LengthM, Field(ge=0.5, le=60)] = 4.0
    under_cable: bool = True
    style: Literal["handle", "rope", "removable_post", "spring", "drive_over"] = "handle"
    feeds: Literal["both", "start", "end"] = "both"
    opens_at: Literal["start", "end"] = "end"
    over: bool = False
    rods: Annotated[int, Field(ge=1, le=20)] = 2
    earth: Literal["farthest", "middle", "own", "supply", "none"] = "farthest"
    note: Text = ""


class Growth(Part):
    """What grows along a part of a run, where that differs from the rest of it."""

    id: Id
    run: Id
    from_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]
    to_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]
    grass: str

    @field_validator("grass")
    @classmethod
    def _grass(cls, value: str) -> str:
        return _known(value, grasses(), "growth")

    @model_validator(mode="after")
    def _has_length(self) -> "Growth":
        if self.to_m - self.from_m < LEAST_GROWTH_M:
            raise ValueError(f"growth from {self.from_m:g} to {self.to_m:g} m: give a stretch of half a metre or more")
        return self


class WhatIf(Part):
    """Something gone wrong on a run, tried on the plan; what it leaves stands in core.circuit."""

    id: Id
    kind: Literal["branch", "insulator", "post", "tangle", "cut"]
    run: Id
    at_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]


class Landmark(Part):
    """What lies on the ground beside the fence; kinds: core/data/landmarks.csv.

    `soil` is a soil area's, `line_kv` an overhead line's, `condition` an existing fence's.
    """

    id: Id
    kind: str
    name: Annotated[str, Field(max_length=80, pattern=r"^[^\x00-\x1f\x7f]*$")] = ""
    points: Annotated[tuple[Position, ...], Field(min_length=1, max_length=20_000)]
    soil: str | None = None
    line_kv: Annotated[FiniteFloat, Field(gt=0, le=1200)] | None = None
    condition: Literal["sound", "climbable", "keep", "carry"] | None = None
    note: Text = ""

    @field_validator("kind")
    @classmethod
    def _kind(cls, value: str) -> str:
        return _known(value, landmark_kinds(), "kind of landmark")

    @field_validator("soil")
    @classmethod
    def _soil(cls, value: str | None) -> str | None:
        return value and _known(value, soils(), "soil")


class Meeting(Part):
    """What is said of a spot where two lines meet or cross: joined there, or kept apart."""

    id: Id
    first: Id
    second: Id
    at: Position
    joined: bool


class Block(Part):
    """A name for the grazing block around a spot, and the herds that graze it."""

    id: Id
    name: Name
    at: Position
    herds: Herds = ()


class Moves(Part):
    """A block grazed in strips: a temporary line moved so many times across it."""

    id: Id
    name: Name
    at: Position
    strips: Annotated[int, Field(ge=2, le=60)] = 4
    bearing_deg: Annotated[FiniteFloat, Field(ge=0, lt=360)] = 0.0
    days: Annotated[FiniteFloat, Field(gt=0, le=60)] = 1.0


class Note(Part):
    """Words and photos about a spot on the ground."""

    id: Id
    name: Name
    at: Position
    text: Text = ""
    photos: Annotated[tuple[int, ...], Field(max_length=12)] = ()


class PhotoPoint(Part):
    """A spot in the aerial photo (pixels right and down) and where it truly lies."""

    pixel: tuple[FiniteFloat, FiniteFloat]
    at: Position


class Underlay(Part):
    """An aerial photo under the plan, held by known points."""

    picture: Annotated[int, Field(ge=1)]
    width_px: Annotated[int, Field(ge=1, le=20_000)]
    height_px: Annotated[int, Field(ge=1, le=20_000)]
    points: Annotated[tuple[PhotoPoint, ...], Field(min_length=2, max_length=20)]
    opacity: Annotated[FiniteFloat, Field(ge=0.1, le=1)] = 0.7

    @model_validator(mode="after")
    def _apart(self) -> "Underlay":
        for i, one in enumerate(self.points):
            for other in self.points[i + 1 :]:
                if math.dist(one.pixel, other.pixel) < 5 or math.dist(one.at, other.at) < 1:
                    raise ValueError("two of the photo's known points lie on one spot; choose points far apart")
        return self


class PlannedStrand(Part):
    """One strand: height above ground in cm, what it carries, and its conductor where it is not the plan's."""

    cm: Annotated[HeightCm, Field(gt=0, le=300)]
    role: Role = Role.LIVE
    conductor: str | None = None

    @field_validator("conductor")
    @classmethod
    def _conductor(cls, value: str | None) -> str | None:
        return value and _known(value, conductors(), "conductor")


MOST_RODS = 60


class Rods(Part):
    """The rods near the energizer: a row from `position` along a bearing, a ring of it, or each where it is placed.

    `places` go before the row; what `count` asks beyond them carries on from the last. `bore_cm` is the
    width of a hole filled with conductive clay to `bore_m`, `slant_deg` the lean from the vertical,
    `bare_wire` the joining wire laid bare in the ground, `plate_m` the side of a square
    plate laid flat behind the first rod. `monitor` is where the rod stands that watches.
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
    lead: Literal["cable", "galvanised", "stainless", "copper", "household"] = "cable"
    tops: Literal["under", "proud", "last"] = "under"
    monitor: Position | None = None

    @field_validator("metal")
    @classmethod
    def _metal(cls, value: str) -> str:
        return _known(value, dict(rod_metals()), "rod metal")

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
        return _known(value, dict(soils()), "soil")


Joules = Annotated[FiniteFloat, Field(ge=0.01, le=200)]


Load = tuple[Annotated[FiniteFloat, Field(ge=5, le=1e6)], Annotated[FiniteFloat, Field(ge=0.01, le=20)]]


class OwnEnergizer(Part):
    """An energizer as its plate tells: joules stored and released, kV without load and on 500 ohm, s between pulses.

    `loads` are peaks measured on resistances, (ohm, kV) each.
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
                f"{value:g} J released of {stored:g} J stored cannot be; what is stored is more than what comes out. "
                "Check which of the two the plate means"
            )
        return value

    @field_validator("kv_500")
    @classmethod
    def _can_be(cls, value: float, info: ValidationInfo) -> float:
        stored, released, open_kv = (info.data.get(name) for name in ("stored_j", "released_j", "open_kv"))
        if stored is None or released is None or open_kv is None:
            return value
        if value >= open_kv:
            raise ValueError(
                f"{value:g} kV on 500 Ω cannot reach the {open_kv:g} kV without load; check whether the two are "
                "exchanged"
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


class Supply(Part):
    """What feeds a unit: battery, pulse rate, the coldest it gets, how clear the sky is; on mains a surge strip."""

    battery_ah: Annotated[FiniteFloat, Field(ge=1, le=2000)] = 75.0
    deep_cycle: bool = True
    rate: Rate = Rate.FULL
    coldest_c: Annotated[FiniteFloat, Field(ge=-40, le=50)] = 5.0
    clearness: Annotated[FiniteFloat, Field(ge=0.05, le=0.8)] = CLEARNESS
    surge: bool = True


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


class Origin(Part):
    """Where the plan's zero lies on the earth, degrees."""

    lat: Annotated[FiniteFloat, Field(ge=-85, le=85)] = 52.0
    lon: Annotated[FiniteFloat, Field(ge=-180, le=180)] = -30.0


class Construction(Part):
    """How a line is built: who meets it (none named: all animals), what stands beyond it, strands, posts.

    Without strands of its own they are left to the rules. `netting` takes their place up to its top.
    `behind` is what the strands stand off from: a solid barrier (a training pen), or an old fence that
    carries them on brackets. `apron`: bare mesh laid on the ground before the line, joined to its earth.
    """

    herds: Herds = ()
    duty: Duty = Duty.HOLD
    scheme: Scheme = Scheme.LIVE
    strands: Annotated[tuple[PlannedStrand, ...], Field(max_length=12)] = ()
    bottom_off: bool = False
    conductor: str = "steel_25"
    post: str = "steel_t"
    post_spacing_m: Annotated[LengthM, Field(ge=1, le=30)] = 6.0
    post_cm: Annotated[HeightCm, Field(ge=20, le=260)] | None = None
    insulator: str | None = None
    netting: str | None = None
    behind: Literal["", "barrier", "old_fence"] = ""
    apron: bool = False

    @field_validator("conductor", "post", "insulator", "netting")
    @classmethod
    def _made_of(cls, value: str | None, info: ValidationInfo) -> str | None:
        tables: dict[str, dict[str, Any]] = {
            "conductor": dict(conductors()),
            "post": dict(post_kinds()),
            "insulator": dict(insulators()),
            "netting": dict(nettings()),
        }
        return value and _known(value, tables[info.field_name or ""], info.field_name or "")

    @model_validator(mode="after")
    def _stands(self) -> Self:
        net = nettings().get(self.netting or "")
        if net and self.strands and self.strands[0].cm < net.top_cm + SWING_CM:
            raise ValueError(
                f"strand 1: {self.strands[0].cm:g} cm lies within the netting, which reaches {net.top_cm:g} cm; set "
                f"strands at {net.top_cm + SWING_CM:g} cm or above, or take the netting off"
            )
        below = 0.0
        for number, strand in enumerate(self.strands, 1):
            if strand.cm <= below:
                raise ValueError(
                    f"strand {number}: {strand.cm:g} cm is not above strand {number - 1} at {below:g} cm; "
                    "give the heights from the lowest up"
                )
            below = strand.cm
            if strand.role is Role.LIVE and not conductors()[strand.conductor or self.conductor].may_be_live:
                raise ValueError(
                    f"strand {number}: barbed wire is never made live, it holds what it catches; make it dead, "
                    "or take a smooth conductor"
                )
        if not self.strands and not conductors()[self.conductor].may_be_live:
            raise ValueError(
                "conductor: barbed wire is never made live, it holds what it catches; take a smooth conductor and set "
                "barbed wire for the strand that is dead"
            )
        return self


class Fence(Construction):
    """Another way to build, for the lines that name it."""

    id: Id
    name: Name


class Plan(Construction):
    """One design of a farm's fences. Lengths in m (strands in cm), positions in m from `origin`.

    The plan's own construction is that of every line that names no other.
    """

    format: Literal["adze-plan"] = "adze-plan"
    version: Literal[1] = 1
    name: Name
    units: Units = Units.METRIC
    origin: Origin = Origin()
    stock: Annotated[tuple[Herd, ...], Field(max_length=40)] = ()
    loss: Literal["", "straying", "ground_predator", "bird", "both_predators", "browsing", "digging"] = ""
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
    soil: str = "loam"
    soil_ohm_m: Annotated[FiniteFloat, Field(ge=1, le=100_000)] | None = None
    grass: str = "moderate"
    subsoil: Subsoil | None = None
    soil_feel: Feel = Feel.UNKNOWN
    frost_m: Annotated[LengthM, Field(ge=0, le=3)] = 0.0
    calibration: Calibration = Calibration()
    rods: Rods = Rods()
    earth_school: TestSchool = TestSchool.USUAL

    @field_validator("soil", "grass")
    @classmethod
    def _named(cls, value: str | None, info: ValidationInfo) -> str | None:
        tables: dict[str, dict[str, Any]] = {
            "soil": dict(soils()),
            "grass": dict(grasses()),
        }
        return value and _known(value, tables[info.field_name or ""], info.field_name or "")

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
                raise ValueError(f"{what} id {twice[0]!r} stands twice; give each its own")
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
        if self.energizer and self.energizer not in own:
            _known(self.energizer, dict(energizers()), "energizer")
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
    return plan.model_copy(update=update)


def _rows(plan: Plan, name: str) -> tuple[Any, ...]:
    value = getattr(plan, name)
    return value if isinstance(value, tuple) else ()


def strands_of(plan: Plan) -> tuple[Strand, ...]:
    """The plan's own strands as the rules want them; empty while they are left to the rules."""
    return tuple(Strand(s.cm, s.role) for s in plan.strands)
