"""Operations on the earth: rods laid and moved, options taken, the soil as tested."""

import re
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from adze.core.advice.earth_here import with_rods
from adze.core.advice.earth_options import taken
from adze.core.advice.reroute import unit_at
from adze.core.basics.units import parse_length_m
from adze.core.build.rod_sites import placed
from adze.core.ground.edit import Refused
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position
from adze.core.soil.soil_tests import one_rod_ohm_m, sounding
from adze.core.tables.ground import soils
from adze.services.answers.earth import How, laid
from adze.services.operations.base import Done, Operation, length_unit
from adze.services.operations.things import tidy

SUBSOIL_M = 1.0  # where another soil begins until it is said


class LayRods(Operation):
    """Rods laid out: how, where, which proposal."""

    do: Literal["lay_rods"]
    how: How
    points: Annotated[tuple[Position, ...], Field(max_length=4)] = ()
    site: Annotated[int, Field(ge=0, le=10)] = 0

    def apply(self, plan: Plan) -> Done:
        """The plan with them."""
        return Done(*laid(plan, self.how, tuple(tidy(p) for p in self.points), self.site))


class PlaceRods(Operation):
    """The first rod at a spot: the row, or every rod that was placed, comes along."""

    do: Literal["place_rods"]
    at: Position
    keep: bool = False

    def apply(self, plan: Plan) -> Done:
        """The plan with the rods there; `keep` carries placed rods by as much as the first one moves."""
        at, old = tidy(self.at), plan.rods.position
        if not self.keep or old is None:
            return Done(with_rods(plan, position=at, places=[]), "Placed the rods")
        east, north = at[0] - old[0], at[1] - old[1]
        places = [tidy((x + east, y + north)) for x, y in plan.rods.places]
        return Done(with_rods(plan, position=at, places=places), "Moved the rods")


class MoveRod(Operation):
    """One rod moved; the others stay where they stand."""

    do: Literal["move_rod"]
    rod: Annotated[int, Field(ge=0, le=59)]
    at: Position

    def apply(self, plan: Plan) -> Done:
        """The plan with every rod placed by itself."""
        places = list(placed(plan))
        if self.rod >= len(places):
            raise Refused("That rod is no longer in the plan.")
        places[self.rod] = tidy(self.at)
        made = with_rods(plan, places=places, position=places[0], layout="row", count=len(places))
        return Done(made, f"Moved rod {self.rod + 1}")


class TakeEarthOption(Operation):
    """One of the earth's options by its key."""

    do: Literal["take_earth_option"]
    key: Annotated[str, Field(max_length=40)]

    def apply(self, plan: Plan) -> Done:
        """The plan with it done."""
        return Done(taken(plan, self.key), "Changed the earth")


class MoveUnit(Operation):
    """The energizer at another spot, led in at the nearest line, its rods with it."""

    do: Literal["move_unit"]
    at: Position

    def apply(self, plan: Plan) -> Done:
        """The plan with it there."""
        return Done(unit_at(plan, tidy(self.at)), "Moved the energizer and its rods")


class SetSubsoil(Operation):
    """Another soil below; none named: the same all the way."""

    do: Literal["set_subsoil"]
    soil: str = ""

    def apply(self, plan: Plan) -> Done:
        """The plan with it, from the depth that is known."""
        depth = plan.subsoil.depth_m if plan.subsoil else SUBSOIL_M
        row = {"soil": self.soil, "depth_m": depth} if self.soil else None
        return Done(changed(plan, {"subsoil": row}), "Another soil below")


class TestSoil(Operation):
    """A soil test as typed: rows of spacing and ohms, or one rod's ohms."""

    blames: ClassVar[str] = "text"
    do: Literal["test_soil"]
    kind: Literal["four", "rod"]
    text: Annotated[str, Field(max_length=2000)]

    def apply(self, plan: Plan) -> Done:
        """The plan with the soil that the test tells."""
        rows = [row for row in self.text.splitlines() if row.strip()]
        if self.kind == "rod":
            rods = plan.rods
            ohm = one_rod_ohm_m(rods.length_m, rods.diameter_mm / 1000, _figure(rows[0] if rows else "", "ohms"))
            made = changed(plan, {"soil_ohm_m": round(ohm, 1), "subsoil": None})
            return Done(made, "Soil from a test of one rod")
        found = sounding([_pair(row, number, length_unit(plan)) for number, row in enumerate(rows, 1)])
        update: dict[str, Any] = {"soil_ohm_m": round(found.upper_ohm_m, 1), "subsoil": None}
        lower = found.lower_ohm_m
        if found.depth_m is not None and lower is not None:
            near = min(soils().values(), key=lambda s: abs(s.ohm_m / (lower or 1) - 1))
            update["subsoil"] = {"soil": near.key, "depth_m": round(found.depth_m, 2), "ohm_m": round(lower, 1)}
        return Done(changed(plan, update), "Soil from a test with four pins")


def _pair(row: str, number: int, unit: str) -> tuple[float, float]:
    cells = [c for c in re.split(r"\s*[;,]\s*" if re.search("[;,]", row) else r"\s+", row.strip()) if c]
    if len(cells) != 2:
        raise ValueError(f"line {number}: {row.strip()!r} is not a spacing and ohms, such as 2 31.5")
    return parse_length_m(cells[0], unit), _figure(cells[1], f"line {number}")


def _figure(text: str, what: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise ValueError(f"{what}: {text!r} is not a number; write it as 31.5") from None
