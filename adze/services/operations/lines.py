"""Operations on the lines of the fence: drawn, set out by figures, shaped, cut, joined."""

from collections.abc import Sequence
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BeforeValidator, Field, FiniteFloat
from shapely import LineString

from adze.core.advice.beginnings import beginnings, begun
from adze.core.basics.units import format_length
from adze.core.ground import edit
from adze.core.ground.blocks import GrazingBlock, block_at, divide
from adze.core.ground.edit import Refused, add_runs, fresh_id, run_by_id
from adze.core.ground.lines import line_of, shape_of
from adze.core.ground.places import Place
from adze.core.ground.set_out import beside, lane, parse_bearing_deg, parse_legs, ring_around, square_around, walked
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, RunUse
from adze.core.plan.scalars import LengthM, Position
from adze.core.tables.animals import animal_kinds
from adze.services.operations.base import Done, Operation, length_unit, length_words

Bearing = Annotated[FiniteFloat, BeforeValidator(lambda v: parse_bearing_deg(v) if isinstance(v, str) else v)]
Line = Annotated[tuple[Position, ...], Field(min_length=2, max_length=2000)]
Parts = Annotated[int, Field(ge=2, le=60)]
BRACKET_M = 0.25  # what a strand stands off an old fence (0.2-0.3)
_USE_WORDS = {"fence": "Line", "cross": "Cross-fence", "spine": "Spine", "temporary": "Temporary line", "lane": "Lane"}


def line_name(plan: Plan, word: str = "Line") -> str:
    """A name that no line has yet."""
    if word == "Line" and not plan.runs:
        return "First line"
    names = {run.name for run in plan.runs}
    number = len(plan.runs) + 1 if word == "Line" else 1
    while f"{word} {number}" in names:
        number += 1
    return f"{word} {number}"


def landmark_by_id(plan: Plan, key: str) -> Landmark:
    """A landmark of a plan. Raises Refused."""
    found = next((m for m in plan.landmarks if m.id == key), None)
    if found is None:
        raise Refused("That is no longer in the plan.")
    return found


def _name_of(mark: Landmark) -> str:
    return mark.name or mark.kind.replace("_", " ")


class BeginFrom(Operation):
    """A blank plan begun from a site or a fence as the trade builds it."""

    do: Literal["begin"]
    beginning: str

    def apply(self, plan: Plan) -> Done:
        """The plan with it. Raises Refused where lines are drawn already."""
        if plan.runs:
            raise Refused("This plan already has lines. Start another plan for this.")
        if self.beginning not in beginnings():
            raise Refused(f"There is no {self.beginning!r} to begin from; one of {', '.join(beginnings())}.")
        return Done(begun(plan, self.beginning), f"Begun from: {beginnings()[self.beginning].label.lower()}")


class Reshape(Operation):
    """New points for a run."""

    do: Literal["reshape"]
    run: str
    points: Line

    def apply(self, plan: Plan) -> Done:
        """The run on its new points; what is fixed on it keeps its spot."""
        name = run_by_id(plan, self.run).name
        return Done(edit.reshaped(plan, self.run, self.points), f"Moved a point of {name}")


class Draw(Operation):
    """A line drawn by hand."""

    do: Literal["draw"] = "draw"
    points: Line
    use: RunUse = "fence"

    def apply(self, plan: Plan) -> Done:
        """The plan with the line; a first line brings its energizer."""
        made = add_runs(plan, [(line_name(plan, _USE_WORDS[self.use]), self.points)], self.use)
        if made.energizer_at is None and not plan.runs:
            # A first line wants its energizer near: it can be dragged from there.
            x, y = self.points[0]
            made = replaced(made, energizer_at=(round(x - 5, 3), round(y - 5, 3)))
        return Done(made, f"Drew a line of {length_words(plan, self.points)}")


class Lane(Operation):
    """Two lines at a width along a drawn middle."""

    do: Literal["lane"]
    points: Line
    width_m: Annotated[LengthM, Field(ge=1, le=60)]

    def apply(self, plan: Plan) -> Done:
        """The plan with both sides of the lane."""
        left, right = lane(self.points, self.width_m)
        name = line_name(plan, "Lane")
        made = add_runs(plan, [(f"{name}, left side", left), (f"{name}, right side", right)], "lane")
        return Done(made, f"Drew a lane {format_length(self.width_m, plan.units)} wide")


class Legs(Operation):
    """A line typed as lengths and bearings."""

    blames: ClassVar[str] = "text"
    do: Literal["legs"]
    start: Position
    text: Annotated[str, Field(max_length=20_000)]
    use: RunUse = "fence"

    def apply(self, plan: Plan) -> Done:
        """The plan with the line that is walked so."""
        points = walked(self.start, parse_legs(self.text, length_unit(plan)))
        made = Draw(points=points, use=self.use).apply(plan)
        return Done(made.plan, f"Typed a line of {length_words(plan, points)}")


class Ring(Operation):
    """A closed fence at a fixed distance round something."""

    blames: ClassVar[str] = "distance_m"
    do: Literal["ring"]
    landmark: str
    distance_m: Annotated[LengthM, Field(ge=0.2, le=500)]

    def apply(self, plan: Plan) -> Done:
        """The plan with the ring."""
        mark = landmark_by_id(plan, self.landmark)
        name = f"Round {_name_of(mark)}"[:80]
        made = add_runs(plan, [(name, ring_around(shape_of(mark), self.distance_m))])
        return Done(made, f"Set out a fence {name.lower()}")


class Square(Operation):
    """A square of a side round a spot."""

    do: Literal["square"]
    at: Position
    side_m: Annotated[LengthM, Field(ge=0.5, le=2000)]
    bearing_deg: Bearing = 0.0

    def apply(self, plan: Plan) -> Done:
        """The plan with the square."""
        points = square_around(self.at, self.side_m, self.bearing_deg)
        made = add_runs(plan, [(line_name(plan, "Square"), points)])
        return Done(made, f"Set out a square of {format_length(self.side_m, plan.units)}")


class Brackets(Operation):
    """A line on brackets along an old fence that carries it."""

    blames: ClassVar[str] = "landmark"
    do: Literal["brackets"]
    landmark: str
    left: bool

    def apply(self, plan: Plan) -> Done:
        """The plan with strands before the old fence."""
        mark = landmark_by_id(plan, self.landmark)
        if mark.kind != "old_fence":
            raise Refused("Brackets are set on an existing fence; mark one on the ground first.")
        if mark.condition == "climbable":
            raise Refused(f"{mark.name or 'This fence'} is marked climbable. Draw a separate fence beside it.")
        line = beside(LineString(mark.points), BRACKET_M, left=self.left)
        made = add_runs(plan, [(f"On {mark.name or 'old fence'}"[:80], line)])
        words = f"Set strands on brackets along {mark.name or 'an old fence'}"
        return Done(_built(made, "On brackets", "old_fence", ()), words)


class Pen(Operation):
    """A training pen: a square of live strands inside a solid barrier."""

    do: Literal["pen"]
    at: Position
    side_m: Annotated[LengthM, Field(ge=3, le=200)]
    bearing_deg: Bearing = 0.0

    def apply(self, plan: Plan) -> Done:
        """The plan with the pen, for the groups that do not know the fence yet."""
        square = square_around(self.at, self.side_m, self.bearing_deg)
        made = add_runs(plan, [(line_name(plan, "Pen"), square)])
        learning = [h.id for h in plan.stock if animal_kinds()[h.kind].purpose == "hold" and not h.schooled]
        words = f"Set out a training pen of {format_length(self.side_m, plan.units)}"
        return Done(_built(made, "Training pen", "barrier", learning), words)


def _built(plan: Plan, name: str, behind: str, herds: Sequence[str]) -> Plan:
    """The plan with its newest line built in front of something: as its construction of that kind, or a new one."""
    known = next((f for f in plan.fences if f.behind == behind), None)
    fences: list[Any] = list(plan.fences)
    key = known.id if known else fresh_id((f.id for f in fences), "fence")
    if known is None:
        own = {"id": key, "name": name, "behind": behind, "herds": list(herds) or list(plan.herds)}
        kept = ("conductor", "post", "post_spacing_m")
        fences.append(own | {part: getattr(plan, part) for part in kept})
    runs = [*plan.runs[:-1], replaced(plan.runs[-1], fence=key)]
    return changed(plan, {"runs": runs, "fences": fences})


class Beside(Operation):
    """A line at a fixed distance from a boundary, another landmark's line, or a run."""

    blames: ClassVar[str] = "distance_m"
    do: Literal["beside"]
    of: str
    distance_m: Annotated[LengthM, Field(ge=0.2, le=500)]
    left: bool

    def apply(self, plan: Plan) -> Done:
        """The plan with the line beside it."""
        run = next((r for r in plan.runs if r.id == self.of), None)
        if run is not None:
            line, name = line_of(run), run.name
        else:
            mark = landmark_by_id(plan, self.of)
            if len(mark.points) < 2:
                raise Refused("A single spot has no side. Set out a ring round it instead.")
            line, name = LineString(mark.points), _name_of(mark)
        made = add_runs(plan, [(f"Beside {name}"[:80], beside(line, self.distance_m, left=self.left))])
        return Done(made, f"Set out a line {format_length(self.distance_m, plan.units)} beside {name}")


def _block(plan: Plan, at: Position) -> GrazingBlock:
    block = block_at(plan, at)
    if block is None:
        raise Refused("That spot is not in a closed block. Close the lines around it first.")
    return block


class Divide(Operation):
    """Lines that cut a block into equal parts."""

    do: Literal["divide"]
    at: Position
    parts: Parts
    bearing_deg: Bearing
    use: Literal["cross", "temporary"] = "cross"

    def apply(self, plan: Plan) -> Done:
        """The plan with the dividing lines."""
        block = _block(plan, self.at)
        lines = divide(block.shape, self.parts, self.bearing_deg)
        word = _USE_WORDS[self.use]
        known = {run.name for run in plan.runs}
        names = [n for i in range(1, 400) if (n := f"{word} {i}") not in known]
        rows = [
            (name, tuple((round(x, 3), round(y, 3)) for x, y in line.coords))
            for name, line in zip(names, lines, strict=False)
        ]
        return Done(add_runs(plan, rows, self.use), f"Divided {block.name} into {self.parts} equal parts")


class PlanMoves(Operation):
    """A block grazed in strips behind one temporary line that moves."""

    do: Literal["moves"]
    at: Position
    parts: Parts
    bearing_deg: Bearing

    def apply(self, plan: Plan) -> Done:
        """The plan with the moves."""
        block = _block(plan, self.at)
        row = {
            "id": fresh_id((m.id for m in plan.moves), "moves"),
            "name": f"Moves in {block.name}"[:80],
            "at": self.at,
            "strips": self.parts,
            "bearing_deg": self.bearing_deg,
        }
        return Done(changed(plan, {"moves": (*plan.moves, row)}), f"Planned moves in {block.name}")


class Split(Operation):
    """A run cut in two at a distance."""

    do: Literal["split"]
    run: str
    at_m: FiniteFloat

    def apply(self, plan: Plan) -> Done:
        """The plan with the run in two."""
        name = run_by_id(plan, self.run).name
        return Done(edit.split(plan, Place(self.run, self.at_m)), f"Split {name}")


class JoinLines(Operation):
    """Two runs that meet, made one."""

    do: Literal["join"]
    first: str
    second: str

    def apply(self, plan: Plan) -> Done:
        """The plan with one run in place of two."""
        names = [run_by_id(plan, key).name for key in (self.first, self.second)]
        return Done(edit.join(plan, self.first, self.second), f"Joined {names[0]} and {names[1]}")


class Reverse(Operation):
    """A run walked from its other end."""

    do: Literal["reverse"]
    run: str

    def apply(self, plan: Plan) -> Done:
        """The plan with the run turned."""
        return Done(edit.reverse(plan, self.run), f"Reversed {run_by_id(plan, self.run).name}")


class Thin(Operation):
    """Points taken off a run that lie within a tolerance."""

    do: Literal["thin"]
    run: str
    tolerance_m: Annotated[LengthM, Field(ge=0.05, le=100)]

    def apply(self, plan: Plan) -> Done:
        """The plan with fewer points on the run."""
        run = run_by_id(plan, self.run)
        points = edit.thinned(run.points, self.tolerance_m)
        words = f"Took {len(run.points) - len(points)} points off {run.name}"
        return Done(edit.reshaped(plan, run.id, points), words)


class Heights(Operation):
    """Heights of the ground along a run, typed as distance and height, one pair a line."""

    blames: ClassVar[str] = "text"
    do: Literal["heights"]
    run: str
    text: Annotated[str, Field(max_length=60_000)]

    def apply(self, plan: Plan) -> Done:
        """The plan with the run's heights."""
        run = run_by_id(plan, self.run)
        profile = edit.parse_heights(self.text, length_unit(plan))
        runs = [replaced(r, profile=profile) if r.id == run.id else r for r in plan.runs]
        return Done(changed(plan, {"runs": runs}), f"Heights along {run.name}")
