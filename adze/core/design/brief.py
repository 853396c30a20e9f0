"""The brief: what a farmer answers before a fence is designed, as one versioned document.

An answer that is left out means "not sure": the usual one is taken in its place and named on the result.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, FiniteFloat, field_validator, model_validator
from shapely import Polygon

from adze.core.plan.ground import GatewayM
from adze.core.plan.herds import Herd
from adze.core.plan.power import OwnEnergizer
from adze.core.plan.scalars import LengthM, Name, Part, Position, known
from adze.core.tables.animals import animal_kinds

BRIEF_VERSION = 1
_ALSO_CALLED = {"wild_boar": "boar", "red_deer": "deer", "dairy_cow": "cow", "bee": "hive"}
_MOST_NETTING_HA = 4.0  # a roll is 50 m: beyond it nobody carries netting
SideM = Annotated[LengthM, Field(ge=2, le=20_000)]
AroundKind = Literal["hive", "nest", "tree", "hutch"]


class BriefAnimal(Part):
    """A kind of animal: how many, held in or kept out, whether it knows electric fence, with young at foot."""

    kind: str
    count: Annotated[int, Field(ge=1, le=100_000)] = 1
    purpose: Literal["keep_in", "keep_out"] | None = None
    trained: bool | None = None
    young: bool = False

    @field_validator("kind")
    @classmethod
    def _kind(cls, value: str) -> str:
        return known(_ALSO_CALLED.get(value, value), animal_kinds(), "kind of animal")

    @model_validator(mode="after")
    def _purpose_fits(self) -> Self:
        kind = animal_kinds()[self.kind]
        if kind.wild and self.purpose == "keep_in":
            raise ValueError(f"{kind.plural} are wild and are kept out, not in; take keep_out, or leave them off")
        return self


class Rectangle(Part):
    """Width and depth, m."""

    width_m: SideM
    depth_m: SideM


class Around(Part):
    """What the fence goes round, and how many of them."""

    kind: AroundKind
    count: Annotated[int, Field(ge=1, le=200)] = 1


class Shape(Part):
    """Where the fence goes: exactly one of these is given."""

    rectangle: Rectangle | None = None
    lines: Annotated[tuple[tuple[Position, ...], ...], Field(min_length=1, max_length=60)] | None = None
    straight_m: SideM | None = None
    area_ha: Annotated[FiniteFloat, Field(ge=0.0004, le=2000)] | None = None
    round: Around | None = None

    @model_validator(mode="after")
    def _one(self) -> Self:
        given = [name for name in type(self).model_fields if getattr(self, name) is not None]
        if len(given) != 1:
            raise ValueError(f"give one of {', '.join(type(self).model_fields)}; {len(given)} are given")
        if any(len(line) < 2 for line in self.lines or ()):
            raise ValueError("lines: a line has two points or more")
        return self

    @property
    def size_ha(self) -> float:
        """What it holds, ha; 0 for a line that closes nothing."""
        if self.area_ha is not None:
            return self.area_ha
        if self.rectangle:
            return self.rectangle.width_m * self.rectangle.depth_m / 10_000
        rings = [line for line in self.lines or () if len(line) > 3 and line[0] == line[-1]]
        return sum(Polygon(line).area for line in rings) / 10_000


class BriefGate(Part):
    """A way through, m wide."""

    width_m: GatewayM = 4.0


class BriefSoil(Part):
    """What a handful of the ground does, how dry it gets in the worst month, and how deep rock lies, m."""

    feel: Literal["crumbles", "ball", "ribbon", "stones"] | None = None
    dryness: Literal["moist", "dries", "dust"] | None = None
    rock_m: Annotated[LengthM, Field(ge=0.1, le=30)] | None = None


class BriefSupply(Part):
    """What feeds the energizer; `own` holds the plate of one that is there already."""

    kind: Literal["mains", "battery", "solar", "own"]
    own: OwnEnergizer | None = None

    @model_validator(mode="after")
    def _plate(self) -> Self:
        if (self.kind == "own") != (self.own is not None):
            raise ValueError('supply: give the plate as "own" where the kind is own, and nowhere else')
        return self


class Brief(Part):
    """The answers. Lengths in m, areas in ha, money in the farm's own currency."""

    format: Literal["adze-brief"] = "adze-brief"
    version: Literal[1] = 1
    name: Name = "New fence"
    animals: Annotated[tuple[BriefAnimal, ...], Field(min_length=1, max_length=12)]
    shape: Shape
    gates: Annotated[tuple[BriefGate, ...], Field(max_length=20)] = (BriefGate(),)
    beside: Annotated[tuple[Literal["lane", "road", "path"], ...], Field(max_length=3)] = ()
    soil: BriefSoil = BriefSoil()
    growth: Literal["bare", "grazed", "tall"] | None = None
    supply: BriefSupply | None = None
    life: Literal["weeks", "seasons", "decades"] | None = None
    budget: Annotated[FiniteFloat, Field(ge=0)] | None = None

    @model_validator(mode="after")
    def _can_be(self) -> Self:
        kinds = [animal.kind for animal in self.animals]
        twice = [kind for kind in kinds if kinds.count(kind) > 1]
        if twice:
            raise ValueError(f"animals: {animal_kinds()[twice[0]].plural} stand twice; give each kind once")
        birds = [animal for animal in self.animals if wants_netting(animal)]
        horses = [kind for kind in kinds if animal_kinds()[kind].touch_class == "horse"]
        if birds and horses:
            raise ValueError(
                f"{animal_kinds()[birds[0].kind].plural} are held by netting, and {animal_kinds()[horses[0]].plural} "
                "get caught in it; plan a fence for each"
            )
        size_ha = self.shape.size_ha
        if birds and size_ha > _MOST_NETTING_HA:
            raise ValueError(
                f"{size_ha:.3g} ha of netting is more than anybody puts up; up to "
                f"{_MOST_NETTING_HA:g} ha is taken for {animal_kinds()[birds[0].kind].plural}, or leave them off"
            )
        return self

    @property
    def herds(self) -> tuple[Herd, ...]:
        """The animals as a plan has them."""
        return tuple(
            Herd(
                id=animal.kind,
                kind=animal.kind,
                count=animal.count,
                schooled=bool(animal.trained) and not animal_kinds()[animal.kind].wild,
                young=animal.young,
                woolled=animal_kinds()[animal.kind].fleece_cm > 0,
            )
            for animal in self.animals
        )

    @property
    def assumed(self) -> tuple[str, ...]:
        """What was not answered and is taken in its place, one sentence each."""
        rows = [
            f"The {animal_kinds()[a.kind].plural} do not know electric fence."
            for a in self.animals
            if a.trained is None and not animal_kinds()[a.kind].wild
        ]
        answers = (
            (self.soil.feel, "The ground makes a ball in the hand: loam."),
            (self.soil.dryness, "It dries in the worst month."),
            (self.growth, "The line is grazed: short grass in it."),
            (self.supply, "There is mains beside the first corner."),
            (self.life, "It must last for twenty years."),
        )
        return (*rows, *(words for answer, words in answers if answer is None))


def wants_netting(animal: BriefAnimal) -> bool:
    """Whether only netting holds it: poultry that is held in."""
    kind = animal_kinds()[animal.kind]
    return kind.touch_class == "bird" and kind.purpose == "hold"
