"""The plan's ground: runs, what is fixed on them, what lies beside."""

import math
from typing import Annotated, Any, Literal

from pydantic import (
    AfterValidator,
    Discriminator,
    Field,
    FiniteFloat,
    Tag,
    ValidationInfo,
    WithJsonSchema,
    field_validator,
    model_validator,
)
from shapely import LineString

from adze.core.plan.scalars import (
    KIND_TAG,
    LEAST_GROWTH_M,
    MOST_POINTS,
    SPOT_M,
    Along,
    EndKind,
    Height,
    HeightCm,
    Herds,
    Id,
    LengthM,
    Name,
    Part,
    Position,
    Text,
    known,
)
from adze.core.tables.ground import fixture_kinds, grasses, landmark_kinds, mishap_kinds, soils

RunUse = Literal["fence", "cross", "spine", "temporary", "lane"]
Joined = Literal["along", "near", "both", "none"]
# Strands of a line, counted from the ground, all roles counted; none named: all of them.
StrandNumbers = Annotated[
    tuple[Annotated[int, Field(ge=1, le=12)], ...],
    Field(max_length=12),
    AfterValidator(lambda numbers: tuple(sorted(set(numbers)))),
]


class Run(Part):
    """A line of fence as drawn, from the end nearer the energizer.

    `profile` holds (distance along, height of the ground) in m where heights are known. `fence` names
    the way it is built where that is not the plan's own. `joined`: where its live strands are joined to each other:
    all along, at the end that the pulse comes in by, at both ends, or nowhere (the top strand alone is fed).
    `start_end` and `far_end`: the kind of its own ends where one differs from the fence's.
    """

    id: Id
    name: Name
    points: Annotated[tuple[Position, ...], Field(min_length=2, max_length=MOST_POINTS)]
    use: RunUse = "fence"
    fence: Id | None = None
    soil: str | None = None
    grass: str | None = None
    joined: Joined = "along"
    start_end: EndKind = ""
    far_end: EndKind = ""
    profile: Annotated[tuple[tuple[Along, Height], ...], Field(max_length=MOST_POINTS)] = ()
    note: Text = ""

    @field_validator("soil")
    @classmethod
    def _soil(cls, value: str | None) -> str | None:
        return None if value is None else known(value, soils(), "soil")

    @field_validator("grass")
    @classmethod
    def _grass(cls, value: str | None) -> str | None:
        return None if value is None else known(value, grasses(), "growth")

    @model_validator(mode="after")
    def _has_length(self) -> "Run":
        for number, (a, b) in enumerate(zip(self.points, self.points[1:], strict=False), 1):
            if abs(a[0] - b[0]) < SPOT_M and abs(a[1] - b[1]) < SPOT_M:
                raise ValueError(
                    f"{self.name}: points {number} and {number + 1} are in one place; move or delete one of them"
                )
        for (before, _), (at, _) in zip(self.profile, self.profile[1:], strict=False):
            if at <= before:
                raise ValueError(
                    f"{self.name}: the height at {at:g} m does not come after the one at {before:g} m; give heights "
                    "in the order in which you walk"
                )
        return self


GatewayM = Annotated[LengthM, Field(ge=0.5, le=60)]
FixtureKey = Annotated[
    str,
    AfterValidator(lambda key: known(key, fixture_kinds(), "fixture")),
    WithJsonSchema({"type": "string", "enum": list(fixture_kinds())}),
]


class OnRun(Part):
    """What is fixed on a run at a distance from its start. The kinds of all: core/tables/data/fixtures.csv."""

    id: Id
    run: Id
    at_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]
    name: Name
    note: Text = ""


class Gate(OnRun):
    """A way through. `feeds`: its strands carry the pulse on from "both", or hang on the "start" or "end" side only.

    `opens_at` is the side that is unhooked; `mostly_open`: it stands open for most of the season; `posts`: the kind of
    end that its two posts are, where that differs from the fence's.
    """

    kind: Literal["gate"]
    is_open: bool = False
    width_m: GatewayM = 4.0
    under_cable: bool = True
    style: Literal["handle", "rope", "removable_post", "spring", "drive_over"] = "handle"
    feeds: Literal["both", "start", "end"] = "both"
    opens_at: Literal["start", "end"] = "end"
    mostly_open: bool = False
    posts: EndKind = ""

    @property
    def opens(self) -> bool:
        """Whether it is opened at all: a drive-over is not."""
        return self.style != "drive_over"


class Switch(OnRun):
    """A cut-out switch in the strands, or in those of them that it names."""

    kind: Literal["switch"]
    is_open: bool = False
    strands: StrandNumbers = ()


class RoadCrossing(OnRun):
    """The fence passes a road in cable: in a duct under it, or over it on tall posts."""

    kind: Literal["crossing"]
    width_m: GatewayM = 4.0
    over: bool = False


class RodSite(OnRun):
    """Rods that are joined to the earth strand."""

    kind: Literal["rods"]
    rods: Annotated[int, Field(ge=1, le=20)] = 2


class Diverter(OnRun):
    """A lightning diverter and what its earth side is tied to."""

    kind: Literal["diverter"]
    earth: Literal["farthest", "middle", "own", "supply", "none"] = "farthest"


class StrandLink(OnRun):
    """A jumper that joins live strands to each other, or those of them that it names."""

    kind: Literal["join"]
    strands: StrandNumbers = ()


class PlainFixture(OnRun):
    """A fixture whose kind has nothing of its own to say: strain end, test point, sign."""

    kind: FixtureKey


def _fixture_tag(row: Any) -> str:
    kind = row.get("kind") if isinstance(row, dict) else getattr(row, "kind", None)
    return KIND_TAG + (kind if kind in ("gate", "switch", "crossing", "rods", "diverter", "join") else "")


Fixture = Annotated[
    Annotated[Gate, Tag(KIND_TAG + "gate")]
    | Annotated[Switch, Tag(KIND_TAG + "switch")]
    | Annotated[RoadCrossing, Tag(KIND_TAG + "crossing")]
    | Annotated[RodSite, Tag(KIND_TAG + "rods")]
    | Annotated[Diverter, Tag(KIND_TAG + "diverter")]
    | Annotated[StrandLink, Tag(KIND_TAG + "join")]
    | Annotated[PlainFixture, Tag(KIND_TAG)],
    Discriminator(_fixture_tag),
]


def stands_open(fixture: Fixture) -> bool:
    """Whether a gate or a switch is open now; nothing else opens."""
    return isinstance(fixture, (Gate, Switch)) and fixture.is_open


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
        return known(value, grasses(), "growth")

    @model_validator(mode="after")
    def _has_length(self) -> "Growth":
        if self.to_m - self.from_m < LEAST_GROWTH_M:
            raise ValueError(f"growth from {self.from_m:g} to {self.to_m:g} m: give a stretch of half a metre or more")
        return self


MOST_OLD_FENCE_CM = 400

MishapKey = Annotated[
    str,
    AfterValidator(lambda key: known(key, mishap_kinds(), "mishap")),
    WithJsonSchema({"type": "string", "enum": list(mishap_kinds())}),
]


class WhatIf(Part):
    """Something gone wrong on a run, tried on the plan; kinds: core/tables/data/mishaps.csv.

    `strand`, counted from the ground, where it is on one alone; it counts where that strand is apart from the others.
    """

    id: Id
    kind: MishapKey
    run: Id
    at_m: Annotated[LengthM, Field(ge=0, le=1_000_000)]
    strand: Annotated[int, Field(ge=1, le=12)] | None = None


class Landmark(Part):
    """What lies on the ground beside the fence; kinds: core/tables/data/landmarks.csv.

    `soil` is a soil area's, `line_kv` an overhead line's; an existing fence has its `condition`, what it is `made` of,
    and `whose` it is; `tall_cm` is its height, or that of a tree or a building.
    """

    id: Id
    kind: str
    name: Annotated[str, Field(max_length=80, pattern=r"^[^\x00-\x1f\x7f]*$")] = ""
    points: Annotated[tuple[Position, ...], Field(min_length=1, max_length=20_000)]
    soil: str | None = None
    line_kv: Annotated[FiniteFloat, Field(gt=0, le=1200)] | None = None
    condition: Literal["sound", "climbable", "keep", "carry"] | None = None
    made: Literal["", "woven", "barbed", "mesh", "rail", "panel", "hedge"] = ""
    tall_cm: Annotated[HeightCm, Field(ge=20, le=6000)] | None = None
    whose: Literal["", "mine", "neighbour"] = ""
    note: Text = ""

    @field_validator("kind")
    @classmethod
    def _kind(cls, value: str) -> str:
        return known(value, landmark_kinds(), "kind of landmark")

    @field_validator("soil")
    @classmethod
    def _soil(cls, value: str | None) -> str | None:
        return None if value is None else known(value, soils(), "soil")

    @field_validator("tall_cm")
    @classmethod
    def _tall(cls, value: float | None, info: ValidationInfo) -> float | None:
        if value is not None and value > MOST_OLD_FENCE_CM and info.data.get("kind") == "old_fence":
            raise ValueError(f"an old fence is at most {MOST_OLD_FENCE_CM} cm tall; measure it again")
        return value


class LeadOut(Part):
    """The way of the lead-out from the energizer to the fence, by the points between the two.

    On posts or in the ground; `sleeve` under wheels, `conduit` where it leaves a building through the wall, `switch`: a
    cut-out where it meets the fence.
    """

    points: Annotated[tuple[Position, ...], Field(max_length=200)] = ()
    way: Literal["posts", "buried"] = "posts"
    sleeve: bool = False
    conduit: bool = False
    switch: bool = True

    @field_validator("points")
    @classmethod
    def _once(cls, value: tuple[Position, ...]) -> tuple[Position, ...]:
        if len(value) > 1 and not LineString(value).is_simple:
            raise ValueError("the lead-out crosses itself; draw it again without the loop")
        return value


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
                    raise ValueError("two of the photo's known points are in one place; choose points far apart")
        return self


class Origin(Part):
    """Where the plan's zero lies on the earth, degrees."""

    lat: Annotated[FiniteFloat, Field(ge=-85, le=85)] = 52.0
    lon: Annotated[FiniteFloat, Field(ge=-180, le=180)] = -30.0
