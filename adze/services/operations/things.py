"""Operations on what stands on the lines and lies beside them: fixtures, landmarks, notes, blocks, the aerial photo."""

import math
from collections.abc import Callable, Mapping
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, FiniteFloat

from adze.core.build.construction import live_numbers
from adze.core.forecast.apart import strand_words
from adze.core.ground import edit
from adze.core.ground.blocks import stock_sides
from adze.core.ground.edit import Refused, fresh_id, run_by_id
from adze.core.ground.lines import length_m, point_at
from adze.core.plan.changes import changed, replaced
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import PhotoPoint, Run, StrandLink, StrandNumbers, Switch
from adze.core.plan.scalars import LengthM, Name, Position
from adze.core.tables.ground import fixture_kinds, landmark_kinds
from adze.services.operations.base import Done, Operation, row_of

Chosen = Annotated[tuple[tuple[str, str], ...], Field(min_length=1, max_length=2000)]
Outline = Annotated[tuple[Position, ...], Field(min_length=1, max_length=2000)]
_MOST_AT_ONCE = 200
_APART_M = 1.0  # two of a kind nearer than this would lie on one another
_BESIDE_M = 2.0  # a spot beside a line: nobody who stands at it meets the strands
_GONE = "That is no longer in the plan."


def tidy(point: Position) -> Position:
    """A spot to the millimetre."""
    return round(point[0], 3), round(point[1], 3)


def _count(rows: tuple[tuple[str, str], ...]) -> str:
    return f"{len(rows)} thing{'s' * (len(rows) != 1)}"


class CarryStrands(Operation):
    """The strands that a switch or a strand link is of, counted from the ground; none named: all of them."""

    blames: ClassVar[str] = "strands"
    do: Literal["carry_strands"]
    fixture: str
    strands: StrandNumbers

    def apply(self, plan: Plan) -> Done:
        """The plan with them."""
        i = row_of(plan.fixtures, self.fixture, _GONE)
        fixture = plan.fixtures[i]
        if not isinstance(fixture, Switch | StrandLink):
            raise Refused(f"{fixture.name} does not join or separate strands. Choose a switch or a strand link.")
        live = live_numbers(views_by_run(plan)[fixture.run])
        other = [n for n in self.strands if n not in live]
        if other:
            words = strand_words(tuple(other))
            are = "is not live" if len(other) == 1 else "are not live"
            raise Refused(f"{words.capitalize()} {are}: choose of {strand_words(live)}, from the ground.")
        named = () if set(self.strands) == set(live) else self.strands
        rows: list[Any] = [row.model_dump() for row in plan.fixtures]
        rows[i]["strands"] = named
        return Done(
            changed(plan, {"fixtures": rows}), f"{fixture.name}: {strand_words(named) if named else 'all strands'}"
        )


class Move(Operation):
    """What is chosen moved over the ground."""

    do: Literal["move"]
    chosen: Chosen
    east_m: Annotated[LengthM, Field(ge=-50_000, le=50_000)] = 0.0
    north_m: Annotated[LengthM, Field(ge=-50_000, le=50_000)] = 0.0

    def apply(self, plan: Plan) -> Done:
        """The plan with it moved."""
        made = edit.moved(plan, frozenset(self.chosen), self.east_m, self.north_m)
        return Done(made, f"Moved {_count(self.chosen)}")


class Remove(Operation):
    """What is chosen taken off."""

    do: Literal["remove"]
    chosen: Chosen

    def apply(self, plan: Plan) -> Done:
        """The plan without it."""
        return Done(edit.remove(plan, frozenset(self.chosen)), f"Took {_count(self.chosen)} off")


class PlaceFixture(Operation):
    """A fixture on a run."""

    do: Literal["place_fixture"]
    kind: str
    run: str
    at_m: FiniteFloat

    def apply(self, plan: Plan) -> Done:
        """The plan with the fixture, named by its kind and number."""
        if self.kind not in fixture_kinds():
            raise Refused(f"There is no {self.kind!r} to place; one of {', '.join(fixture_kinds())}.")
        run, words = run_by_id(plan, self.run), fixture_kinds()[self.kind].label
        key = fresh_id((f.id for f in plan.fixtures), self.kind)
        count = sum(f.kind == self.kind for f in plan.fixtures) + 1
        row = {"id": key, "kind": self.kind, "run": run.id, "at_m": round(self.at_m, 1), "name": f"{words} {count}"}
        made = changed(plan, {"fixtures": [*plan.fixtures, row]})
        return Done(made, f"Placed a {words.lower()} on {run.name}", f"fixture:{key}")


class PlaceEvery(Operation):
    """Fixtures of one kind along a whole run, or spots of one kind beside it, at equal steps from its start."""

    do: Literal["place_every"]
    kind: str
    run: str
    every_m: Annotated[LengthM, Field(ge=1)]

    def apply(self, plan: Plan) -> Done:
        """The plan with one at every step, none at the run's ends nor where one of its kind stands already."""
        spot = landmark_kinds().get(self.kind)
        if self.kind not in fixture_kinds() and (spot is None or spot.shape != "point"):
            raise Refused(f"There is no {self.kind!r} to place; one of {', '.join(fixture_kinds())}.")
        run = run_by_id(plan, self.run)
        words = spot.label if spot else fixture_kinds()[self.kind].label
        field, row_at = ("landmarks", _beside(plan, run)) if spot else ("fixtures", _on(run))
        present: tuple[Any, ...] = getattr(plan, field)
        standing = [row for row in present if row.kind == self.kind]
        free = [
            made
            for made in map(row_at, _steps_m(run, self.every_m))
            if not any(_is_near(made, other) for other in standing)
        ]
        if not free:
            raise Refused(f"A {words.lower()} is at each of these places already. Give another distance.")
        keys, rows = {row.id for row in present}, []
        for number, made in enumerate(free, len(standing) + 1):
            key = fresh_id(keys, self.kind)
            keys.add(key)
            rows.append({"id": key, "kind": self.kind, "name": f"{words} {number}", **made})
        done = changed(plan, {field: [*present, *rows]})
        where = "beside" if spot else "on"
        return Done(done, f"Placed {len(free)} × {words.lower()} {where} {run.name}, every {self.every_m:g} m")


def _steps_m(run: Run, every_m: float) -> list[float]:
    """Distances along a run at equal steps, its ends left out. Refuses none and too many."""
    long_m = length_m(run)
    steps = math.ceil(long_m / every_m) - 1
    if steps < 1:
        raise Refused(f"{run.name} is {long_m:.0f} m long: less than two steps of {every_m:g} m. Give a shorter step.")
    if steps > _MOST_AT_ONCE:
        raise Refused(
            f"{steps} at once are too many; at most {_MOST_AT_ONCE}: give {long_m / _MOST_AT_ONCE:.0f} m or more."
        )
    return [round(every_m * step, 1) for step in range(1, steps + 1)]


def _on(run: Run) -> Callable[[float], dict[str, Any]]:
    """A fixture's place on a run."""
    return lambda at_m: {"run": run.id, "at_m": at_m}


def _beside(plan: Plan, run: Run) -> Callable[[float], dict[str, Any]]:
    """A spot on the stock's side of a run, on its left where no stock is; out of the strands' reach."""
    way = -1.0 if stock_sides(plan).get(run.id) == "right" else 1.0

    def row(at_m: float) -> dict[str, Any]:
        (x0, y0), (x1, y1) = point_at(run, at_m - 0.5), point_at(run, at_m + 0.5)
        long = math.hypot(x1 - x0, y1 - y0) or 1.0
        east, north = point_at(run, at_m)
        off = way * _BESIDE_M / long
        return {"points": [tidy((east - off * (y1 - y0), north + off * (x1 - x0)))]}

    return row


def _is_near(made: Mapping[str, Any], other: Any) -> bool:
    """Whether something of the kind stands there already."""
    if "run" in made:
        return bool(other.run == made["run"] and abs(other.at_m - made["at_m"]) < _APART_M)
    return math.dist(other.points[0], made["points"][0]) < _APART_M


class PlaceLandmark(Operation):
    """Something that lies on the ground."""

    do: Literal["place_landmark"]
    kind: str
    points: Outline

    def apply(self, plan: Plan) -> Done:
        """The plan with it."""
        key = fresh_id((m.id for m in plan.landmarks), self.kind)
        row = {"id": key, "kind": self.kind, "points": [tidy(p) for p in self.points]}
        made = changed(plan, {"landmarks": [*plan.landmarks, row]})
        return Done(made, f"Placed {landmark_kinds()[self.kind].label.lower()}", f"landmark:{key}")


class ShapeLandmark(Operation):
    """New points for something on the ground."""

    do: Literal["shape_landmark"]
    landmark: str
    points: Outline

    def apply(self, plan: Plan) -> Done:
        """The plan with it on its new points."""
        number = row_of(plan.landmarks, self.landmark, _GONE)
        rows = list(plan.landmarks)
        rows[number] = replaced(rows[number], points=tuple(tidy(p) for p in self.points))
        name = rows[number].name or landmark_kinds()[rows[number].kind].label
        return Done(changed(plan, {"landmarks": rows}), f"Moved a point of {name}")


class PlaceEnergizer(Operation):
    """Where the energizer hangs."""

    do: Literal["place_energizer"]
    at: Position

    def apply(self, plan: Plan) -> Done:
        """The plan with it there."""
        words = "Placed the energizer" if plan.energizer_at is None else "Moved the energizer"
        return Done(changed(plan, {"energizer_at": tidy(self.at)}), words)


class PlaceNote(Operation):
    """A note about a spot."""

    do: Literal["place_note"]
    at: Position

    def apply(self, plan: Plan) -> Done:
        """The plan with an empty note there."""
        key = fresh_id((n.id for n in plan.notes), "note")
        made = changed(plan, {"notes": [*plan.notes, {"id": key, "name": "Note", "at": tidy(self.at)}]})
        return Done(made, "Placed a note", f"note:{key}")


class AddPhoto(Operation):
    """A kept picture shown with a note."""

    do: Literal["add_photo"]
    note: str
    picture: int

    def apply(self, plan: Plan) -> Done:
        """The plan with the note showing it."""
        number = row_of(plan.notes, self.note, _GONE)
        rows: list[Any] = list(plan.notes)
        rows[number] = rows[number].model_dump() | {"photos": [*rows[number].photos, self.picture]}
        return Done(changed(plan, {"notes": rows}), "Added a photo")


class NameBlock(Operation):
    """A name for the block around a spot, or another name for one that has one."""

    do: Literal["name_block"]
    name: Name
    block: str = ""
    at: Position | None = None

    def apply(self, plan: Plan) -> Done:
        """The plan with the block named."""
        rows: list[Any] = list(plan.blocks)
        if self.block:
            number = row_of(plan.blocks, self.block, _GONE)
            rows[number] = replaced(rows[number], name=self.name.strip())
        elif self.at is None:
            raise Refused("Give the block by its id or by a spot in it.")
        else:
            rows.append({"id": fresh_id((b.id for b in rows), "block"), "name": self.name.strip(), "at": self.at})
        return Done(changed(plan, {"blocks": rows}), "Named a block")


class GrazeBlock(Operation):
    """Whether a herd grazes a block."""

    do: Literal["graze_block"]
    block: str
    herd: str
    grazes: bool

    def apply(self, plan: Plan) -> Done:
        """The plan with the herd in the block, or out of it."""
        number = row_of(plan.blocks, self.block, _GONE)
        rows = list(plan.blocks)
        others = [key for key in rows[number].herds if key != self.herd]
        rows[number] = replaced(rows[number], herds=(*others, self.herd) if self.grazes else tuple(others))
        return Done(changed(plan, {"blocks": rows}), "Who grazes a block")


class LayPhoto(Operation):
    """A kept picture laid under the plan, from its lower left to its upper right corner."""

    do: Literal["lay_photo"]
    picture: int
    width_px: int
    height_px: int
    lower_left: Position
    upper_right: Position

    def apply(self, plan: Plan) -> Done:
        """The plan with the picture, held by two corners until it is pinned."""
        points = [
            {"pixel": (0, self.height_px), "at": self.lower_left},
            {"pixel": (self.width_px, 0), "at": self.upper_right},
        ]
        row = {"picture": self.picture, "width_px": self.width_px, "height_px": self.height_px, "points": points}
        return Done(changed(plan, {"underlay": row}), "Laid an aerial photo")


class PinPhoto(Operation):
    """Known points of the aerial photo: in place of those it has, or added to them."""

    do: Literal["pin_photo"]
    points: Annotated[tuple[PhotoPoint, ...], Field(min_length=1, max_length=20)]
    add: bool = False

    def apply(self, plan: Plan) -> Done:
        """The plan with the photo held by them."""
        if plan.underlay is None:
            raise Refused("There is no aerial photo to pin.")
        kept = plan.underlay.points if self.add else ()
        row = plan.underlay.model_dump() | {"points": [p.model_dump() for p in (*kept, *self.points)]}
        return Done(changed(plan, {"underlay": row}), "Pinned the aerial photo")


class TakePhotoOff(Operation):
    """No aerial photo."""

    do: Literal["take_photo_off"]

    def apply(self, plan: Plan) -> Done:
        """The plan without its photo."""
        return Done(changed(plan, {"underlay": None}), "Took the aerial photo off")
