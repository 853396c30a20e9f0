"""How a line is built: strands, conductor, posts, netting."""

from typing import Annotated, Any, Literal, Self

from pydantic import (
    Field,
    ValidationInfo,
    field_validator,
    model_validator,
)

from adze.core.animals.strand_rules import SWING_CM, Duty, Role, Scheme
from adze.core.plan.scalars import EndKind, HeightCm, Herds, Id, LengthM, Name, Part, known
from adze.core.tables.construction import conductors, end_posts, insulators, nettings, post_kinds


class PlannedStrand(Part):
    """One strand: height above ground in cm, what it carries, and its conductor where it is not the plan's.

    `switched`: whether it hangs on the bottom switch; None: as the rule says, by the growth it stands in.
    `stands`: on the fence's own posts, on brackets of an old fence, or over the top of its posts; empty: as the fence.
    """

    cm: Annotated[HeightCm, Field(ge=1, le=300)]
    role: Role = Role.LIVE
    conductor: str | None = None
    stands: Literal["", "post", "bracket", "over"] = ""
    switched: bool | None = None

    @field_validator("conductor")
    @classmethod
    def _conductor(cls, value: str | None) -> str | None:
        return None if value is None else known(value, conductors(), "conductor")


class Construction(Part):
    """How a line is built: who meets it (none named: all animals), what stands beyond it, strands, posts.

    Without strands of its own they are left to the rules. `netting` takes their place up to its top.
    `behind` is what the strands stand off from: a solid barrier (a training pen), or an old fence that
    carries them on brackets of `bracket_cm`. `apron`: bare mesh laid on the ground before the line, joined to
    its earth. `end_post` is what ends and strains are made of; without `end_insulators` strands are tied to it
    bare. `least_rows` is a rule of the user's own: rows that a rider body or an insurer asks.
    """

    herds: Herds = ()
    duty: Duty = Duty.HOLD
    scheme: Scheme = Scheme.LIVE
    strands: Annotated[tuple[PlannedStrand, ...], Field(max_length=12)] = ()
    bottom_off: bool = False
    least_rows: Annotated[int, Field(ge=1, le=12)] | None = None
    conductor: str = "steel_25"
    post: str = "steel_t"
    post_spacing_m: Annotated[LengthM, Field(ge=1, le=30)] = 6.0
    post_cm: Annotated[HeightCm, Field(ge=20, le=260)] | None = None
    insulator: str | None = None
    end_post: str = "timber"
    end_insulators: bool = True
    end_kind: EndKind = ""
    netting: str | None = None
    behind: Literal["", "barrier", "old_fence"] = ""
    bracket_cm: Annotated[HeightCm, Field(ge=5, le=60)] = 25.0
    apron: bool = False

    @field_validator("conductor", "post", "insulator", "netting", "end_post")
    @classmethod
    def _made_of(cls, value: str | None, info: ValidationInfo) -> str | None:
        tables: dict[str, dict[str, Any]] = {
            "conductor": dict(conductors()),
            "post": dict(post_kinds()),
            "insulator": dict(insulators()),
            "netting": dict(nettings()),
            "end_post": dict(end_posts()),
        }
        return None if value is None else known(value, tables[info.field_name or ""], info.field_name or "")

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
        live = [strand for strand in self.strands if strand.role is Role.LIVE]
        if live and all(strand.switched for strand in live):
            raise ValueError(
                "strands: all live ones hang on the bottom switch, and nothing would be left; leave one off it"
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


class WorkChoices(Part):
    """How the work is done where builders differ, and whether the fence is put up or taken down.

    `turns` finish a tie; `tension` by the hand's press, no slack alone, or by the figure; `first` is the strand that is
    pulled first; `repairs`: small jobs with the fence off, or live with insulated handles; `rods`: driven by hand or by
    a rotary hammer.
    """

    turns: Annotated[int, Field(ge=3, le=9)] = 5
    tension: Literal["press", "no_slack", "figure"] = "press"
    first: Literal["top", "two", "bottom"] = "top"
    joint: Literal["clamp", "crimp", "twist", "split_bolt"] = "clamp"
    repairs: Literal["off", "live"] = "off"
    rods: Literal["driver", "rotary"] = "driver"
    taking_down: bool = False
