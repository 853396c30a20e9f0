"""Everything a person does to the ground in one move: each says what it did, for the history."""

from collections.abc import Callable, Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, FiniteFloat, TypeAdapter
from shapely import LineString

from adze.core.basics.units import Units, format_length
from adze.core.ground import edit
from adze.core.ground.blocks import block_at, divide
from adze.core.ground.edit import Chosen, Refused, add_runs, run_by_id
from adze.core.ground.lines import line_of, shape_of
from adze.core.ground.places import Place
from adze.core.ground.set_out import beside, lane, parse_bearing_deg, parse_legs, ring_around, square_around, walked
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark
from adze.core.plan.scalars import LengthM, Position
from adze.core.tables.animals import animal_kinds

_Bearing = Annotated[FiniteFloat, BeforeValidator(lambda v: parse_bearing_deg(v) if isinstance(v, str) else v)]
_Line = Annotated[tuple[Position, ...], Field(min_length=2, max_length=2000)]
_Use = Literal["fence", "cross", "spine", "temporary", "lane"]


class _Do(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Reshape(_Do):
    """New points for a run."""

    do: Literal["reshape"]
    run: str
    points: _Line


class Draw(_Do):
    """A line drawn by hand."""

    do: Literal["draw"]
    points: _Line
    use: _Use = "fence"


class Lane(_Do):
    """Two lines at a width along a drawn middle."""

    do: Literal["lane"]
    points: _Line
    width_m: Annotated[LengthM, Field(ge=1, le=60)]


class Legs(_Do):
    """A line typed as lengths and bearings."""

    do: Literal["legs"]
    start: Position
    text: Annotated[str, Field(max_length=20_000)]
    use: _Use = "fence"


class Ring(_Do):
    """A closed fence at a fixed distance round something."""

    do: Literal["ring"]
    landmark: str
    distance_m: Annotated[LengthM, Field(ge=0.2, le=500)]


class Square(_Do):
    """A square of a side round a spot."""

    do: Literal["square"]
    at: Position
    side_m: Annotated[LengthM, Field(ge=0.5, le=2000)]
    bearing_deg: _Bearing = 0.0


class Brackets(_Do):
    """A line on brackets along an old fence that carries it."""

    do: Literal["brackets"]
    landmark: str
    left: bool


class Pen(_Do):
    """A training pen: a square of live strands inside a solid barrier."""

    do: Literal["pen"]
    at: Position
    side_m: Annotated[LengthM, Field(ge=3, le=200)]
    bearing_deg: _Bearing = 0.0


class Beside(_Do):
    """A line at a fixed distance from a boundary, another landmark's line, or a run."""

    do: Literal["beside"]
    of: str
    distance_m: Annotated[LengthM, Field(ge=0.2, le=500)]
    left: bool


class Divide(_Do):
    """Lines that cut a block into equal parts."""

    do: Literal["divide"]
    at: Position
    parts: Annotated[int, Field(ge=2, le=60)]
    bearing_deg: _Bearing
    use: Literal["cross", "temporary"] = "cross"


class PlanMoves(_Do):
    """A block grazed in strips behind one temporary line that moves."""

    do: Literal["moves"]
    at: Position
    parts: Annotated[int, Field(ge=2, le=60)]
    bearing_deg: _Bearing


class Split(_Do):
    """A run cut in two at a distance."""

    do: Literal["split"]
    run: str
    at_m: FiniteFloat


class Join(_Do):
    """Two runs that meet, made one."""

    do: Literal["join"]
    first: str
    second: str


class Reverse(_Do):
    """A run walked from its other end."""

    do: Literal["reverse"]
    run: str


class Thin(_Do):
    """Points taken off a run that lie within a tolerance."""

    do: Literal["thin"]
    run: str
    tolerance_m: Annotated[LengthM, Field(ge=0.05, le=100)]


class Move(_Do):
    """What is chosen moved over the ground."""

    do: Literal["move"]
    chosen: Annotated[tuple[tuple[str, str], ...], Field(min_length=1, max_length=2000)]
    east_m: Annotated[LengthM, Field(ge=-50_000, le=50_000)] = 0.0
    north_m: Annotated[LengthM, Field(ge=-50_000, le=50_000)] = 0.0


class Remove(_Do):
    """What is chosen taken off."""

    do: Literal["remove"]
    chosen: Annotated[tuple[tuple[str, str], ...], Field(min_length=1, max_length=2000)]


class Heights(_Do):
    """Heights of the ground along a run, typed as distance and height, one pair a line."""

    do: Literal["heights"]
    run: str
    text: Annotated[str, Field(max_length=60_000)]


Edit = Annotated[
    Reshape
    | Draw
    | Lane
    | Legs
    | Ring
    | Square
    | Beside
    | Brackets
    | Pen
    | Divide
    | PlanMoves
    | Split
    | Join
    | Reverse
    | Thin
    | Move
    | Remove
    | Heights,
    Field(discriminator="do"),
]
_ADAPTER: TypeAdapter[Any] = TypeAdapter(Edit)


def read_edit(row: object) -> Any:
    """One edit from what the browser sends. Raises pydantic.ValidationError."""
    return _ADAPTER.validate_python(row)


def edited(plan: Plan, wish: Any) -> tuple[Plan, str]:
    """The plan with an edit done, and what was done. Raises ValueError in words, or ValidationError."""
    deeds: dict[type[Any], Callable[[Plan, Any], tuple[Plan, str]]] = {
        Reshape: _reshape,
        Draw: _draw,
        Lane: _lane,
        Legs: _legs,
        Ring: _ring,
        Square: _square,
        Beside: _beside,
        Brackets: _brackets,
        Pen: _pen,
        Divide: _divide,
        PlanMoves: _moves,
        Split: _split,
        Join: _join,
        Reverse: _reverse,
        Thin: _thin,
        Move: _move,
        Remove: _remove,
        Heights: _heights,
    }
    return deeds[type(wish)](plan, wish)


def _words(plan: Plan, metres: float) -> str:
    return format_length(metres, plan.units)


def _line_name(plan: Plan, word: str = "Line") -> str:
    if word == "Line" and not plan.runs:
        return "First line"
    names = {run.name for run in plan.runs}
    number = len(plan.runs) + 1 if word == "Line" else 1
    while f"{word} {number}" in names:
        number += 1
    return f"{word} {number}"


_USE_WORDS = {"fence": "Line", "cross": "Cross-fence", "spine": "Spine", "temporary": "Temporary line", "lane": "Lane"}


def _reshape(plan: Plan, wish: Reshape) -> tuple[Plan, str]:
    return edit.reshaped(plan, wish.run, wish.points), f"Moved a point of {run_by_id(plan, wish.run).name}"


def _draw(plan: Plan, wish: Draw) -> tuple[Plan, str]:
    name = _line_name(plan, _USE_WORDS[wish.use])
    made = add_runs(plan, [(name, wish.points)], wish.use)
    if made.energizer_at is None and not plan.runs:
        # A first line wants its energizer near: it can be dragged from there.
        x, y = wish.points[0]
        made = replaced(made, energizer_at=(round(x - 5, 3), round(y - 5, 3)))
    return made, f"Drew a line of {_words(plan, LineString(wish.points).length)}"


def _lane(plan: Plan, wish: Lane) -> tuple[Plan, str]:
    left, right = lane(wish.points, wish.width_m)
    name = _line_name(plan, "Lane")
    made = add_runs(plan, [(f"{name}, left side", left), (f"{name}, right side", right)], "lane")
    return made, f"Drew a lane {_words(plan, wish.width_m)} wide"


def _legs(plan: Plan, wish: Legs) -> tuple[Plan, str]:
    points = walked(wish.start, parse_legs(wish.text, "ft" if plan.units is Units.IMPERIAL else "m"))
    made, _ = _draw(plan, Draw(do="draw", points=points, use=wish.use))
    return made, f"Typed a line of {_words(plan, LineString(points).length)}"


def _mark(plan: Plan, landmark: str) -> Landmark:
    found = next((m for m in plan.landmarks if m.id == landmark), None)
    if found is None:
        raise Refused("That is no longer on the plan.")
    return found


def _ring(plan: Plan, wish: Ring) -> tuple[Plan, str]:
    mark = _mark(plan, wish.landmark)
    name = f"Round {mark.name or mark.kind.replace('_', ' ')}"[:80]
    return add_runs(plan, [(name, ring_around(shape_of(mark), wish.distance_m))]), f"Set out a fence {name.lower()}"


def _square(plan: Plan, wish: Square) -> tuple[Plan, str]:
    points = square_around(wish.at, wish.side_m, wish.bearing_deg)
    return add_runs(plan, [(_line_name(plan, "Square"), points)]), f"Set out a square of {_words(plan, wish.side_m)}"


def _beside(plan: Plan, wish: Beside) -> tuple[Plan, str]:
    run = next((r for r in plan.runs if r.id == wish.of), None)
    if run is not None:
        line, name = line_of(run), run.name
    else:
        mark = _mark(plan, wish.of)
        if len(mark.points) < 2:
            raise Refused("A single spot has no side; set out a ring round it instead.")
        line, name = LineString(mark.points), mark.name or mark.kind.replace("_", " ")
    made = add_runs(plan, [(f"Beside {name}"[:80], beside(line, wish.distance_m, left=wish.left))])
    return made, f"Set out a line {_words(plan, wish.distance_m)} beside {name}"


BRACKET_M = 0.25  # what a strand stands off an old fence (0.2-0.3)


def _brackets(plan: Plan, wish: Brackets) -> tuple[Plan, str]:
    mark = _mark(plan, wish.landmark)
    if mark.kind != "old_fence":
        raise Refused("Brackets are set on an existing fence; mark one on the ground first.")
    if mark.condition == "climbable":
        raise Refused(f"{mark.name or 'This fence'} is marked climbable, a step over: it wants a fence of its own.")
    line = beside(LineString(mark.points), BRACKET_M, left=wish.left)
    made = add_runs(plan, [(f"On {mark.name or 'old fence'}"[:80], line)])
    return _built(made, "On brackets", "old_fence", ()), f"Set strands on brackets along {mark.name or 'an old fence'}"


def _pen(plan: Plan, wish: Pen) -> tuple[Plan, str]:
    made = add_runs(plan, [(_line_name(plan, "Pen"), square_around(wish.at, wish.side_m, wish.bearing_deg))])
    learning = [h.id for h in plan.stock if animal_kinds()[h.kind].purpose == "hold" and not h.schooled]
    return _built(made, "Training pen", "barrier", learning), f"Set out a training pen of {_words(plan, wish.side_m)}"


def _built(plan: Plan, name: str, behind: str, herds: Sequence[str]) -> Plan:
    """The plan with its newest line built in front of something: as its fence of that kind, or a new one."""
    known = next((f for f in plan.fences if f.behind == behind), None)
    fences: list[Any] = list(plan.fences)
    key = known.id if known else edit.fresh_id((f.id for f in fences), "fence")
    if known is None:
        own = {"id": key, "name": name, "behind": behind, "herds": list(herds) or list(plan.herds)}
        kept = ("conductor", "post", "post_spacing_m")
        fences.append(own | {part: getattr(plan, part) for part in kept})
    runs = [*plan.runs[:-1], replaced(plan.runs[-1], fence=key)]
    return changed(plan, {"runs": runs, "fences": fences})


def _divide(plan: Plan, wish: Divide) -> tuple[Plan, str]:
    block = block_at(plan, wish.at)
    if block is None:
        raise Refused("That spot lies in no closed block; close the lines around it first.")
    lines = divide(block.shape, wish.parts, wish.bearing_deg)
    word = _USE_WORDS[wish.use]
    known = {run.name for run in plan.runs}
    names = [n for i in range(1, 400) if (n := f"{word} {i}") not in known]
    rows = [
        (name, tuple((round(x, 3), round(y, 3)) for x, y in line.coords))
        for name, line in zip(names, lines, strict=False)
    ]
    return add_runs(plan, rows, wish.use), f"Divided {block.name} into {wish.parts} equal parts"


def _moves(plan: Plan, wish: PlanMoves) -> tuple[Plan, str]:
    block = block_at(plan, wish.at)
    if block is None:
        raise Refused("That spot lies in no closed block; close the lines around it first.")
    row = {
        "id": edit.fresh_id((m.id for m in plan.moves), "moves"),
        "name": f"Moves in {block.name}"[:80],
        "at": wish.at,
        "strips": wish.parts,
        "bearing_deg": wish.bearing_deg,
    }
    return changed(plan, {"moves": (*plan.moves, row)}), f"Planned moves in {block.name}"


def _split(plan: Plan, wish: Split) -> tuple[Plan, str]:
    return edit.split(plan, Place(wish.run, wish.at_m)), f"Split {run_by_id(plan, wish.run).name}"


def _join(plan: Plan, wish: Join) -> tuple[Plan, str]:
    names = [run_by_id(plan, key).name for key in (wish.first, wish.second)]
    return edit.join(plan, wish.first, wish.second), f"Joined {names[0]} and {names[1]}"


def _reverse(plan: Plan, wish: Reverse) -> tuple[Plan, str]:
    return edit.reverse(plan, wish.run), f"Reversed {run_by_id(plan, wish.run).name}"


def _thin(plan: Plan, wish: Thin) -> tuple[Plan, str]:
    run = run_by_id(plan, wish.run)
    points = edit.thinned(run.points, wish.tolerance_m)
    return edit.reshaped(plan, run.id, points), f"Took {len(run.points) - len(points)} points off {run.name}"


def _chosen(rows: tuple[tuple[str, str], ...]) -> Chosen:
    return frozenset(rows)


def _count(rows: tuple[tuple[str, str], ...]) -> str:
    return f"{len(rows)} thing{'s' * (len(rows) != 1)}"


def _move(plan: Plan, wish: Move) -> tuple[Plan, str]:
    return edit.moved(plan, _chosen(wish.chosen), wish.east_m, wish.north_m), f"Moved {_count(wish.chosen)}"


def _remove(plan: Plan, wish: Remove) -> tuple[Plan, str]:
    return edit.remove(plan, _chosen(wish.chosen)), f"Took {_count(wish.chosen)} off"


def _heights(plan: Plan, wish: Heights) -> tuple[Plan, str]:
    run, unit = run_by_id(plan, wish.run), "ft" if plan.units is Units.IMPERIAL else "m"
    profile = edit.parse_heights(wish.text, unit)
    runs = [replaced(r, profile=profile) if r.id == run.id else r for r in plan.runs]
    return changed(plan, {"runs": runs}), f"Heights along {run.name}"


# Where on the page a refusal belongs that comes from doing an edit, not from reading it.
_INPUTS = {
    "brackets": "brackets.landmark",
    "legs": "legs.text",
    "ring": "ring.distance_m",
    "beside": "beside.distance_m",
    "heights": "heights.text",
}


def input_of(wish: Any) -> str:
    """The input that a refused edit belongs to; empty where it belongs to none."""
    return _INPUTS.get(wish.do, "")
