"""What a file from outside brings: lines and spots in degrees, and how they become parts of a plan.

Files that Adze wrote carry each part's own words (`part`, as JSON) beside its geometry, so that a
round trip loses nothing; the geometry decides where somebody moved it meanwhile.
"""

import json
import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any

import numpy as np
from pydantic import ValidationError
from shapely import Point

from adze.core.ground.edit import fresh_id, thinned
from adze.core.ground.lines import line_of, point_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Origin, Run
from adze.core.plan.scalars import MOST_POINTS, SPOT_M, Position
from adze.formats.errors import FormatError, first_fault
from adze.formats.ground.projection import LonLat, to_metres
from adze.formats.plan.plan_upgrade import fixture_of_its_kind, upgraded

TOO_FAR_M = 100_000.0
MOST_LINES = 1000
_JUMP_LEAST_M = 50.0
_JUMP_TIMES = 15.0
_STILL_M = 5.0
_PROFILE_M = 0.1
_NAME = 80
Part = dict[str, Any]
Progress = Callable[[float, str], None]


def quiet(_share: float, _words: str) -> None:
    """Progress that nobody follows."""


@dataclass(frozen=True)
class Line:
    """A line as it came: its name, points, heights (None where unknown), its words if Adze wrote it."""

    name: str
    points: tuple[LonLat, ...]
    heights: tuple[float | None, ...] = ()
    closed: bool = False
    part: Part | None = None


@dataclass(frozen=True)
class ImportedSpot:
    """A single point as it came."""

    name: str
    point: LonLat
    part: Part | None = None


@dataclass(frozen=True)
class ImportedFeatures:
    """All that a file brings, what is to be said about it, and the plan's own words if Adze wrote it."""

    lines: tuple[Line, ...]
    spots: tuple[ImportedSpot, ...] = ()
    notes: tuple[str, ...] = ()
    plan: Part | None = None


class Swapped(FormatError):
    """Coordinates that would fit with latitude and longitude changed over."""


@dataclass(frozen=True)
class ImportChoice:
    """How a file is taken: thinned to a tolerance in m, degrees changed over, lines parted at jumps."""

    thin_m: float = 0.0
    swap: bool = False
    part_jumps: bool = False
    lines: frozenset[int] | None = field(default=None)


def part_of(text: object) -> Part | None:
    """A part's words as Adze writes them; None for anything else. Some programs turn the text into an object."""
    if isinstance(text, dict):
        return text if isinstance(text.get("part"), str) else None
    if not isinstance(text, str) or not text.startswith("{") or len(text) > 2_000_000:
        return None
    try:
        found = json.loads(text)
    except (json.JSONDecodeError, RecursionError):
        return None
    return found if isinstance(found, dict) and isinstance(found.get("part"), str) else None


def part_words(part: str, row: Part, *without: str) -> str:
    """The words of a part of a plan, without what its geometry says."""
    kept = {k: v for k, v in row.items() if k not in without and v not in (None, "", [], ())}
    return json.dumps({"part": part} | kept, separators=(",", ":"), ensure_ascii=False)


def plain_name(text: object, otherwise: str) -> str:
    """A name that a plan takes: no control characters, at most 80."""
    words = " ".join("".join(c if c.isprintable() else " " for c in str(text or "")).split())
    return words[:_NAME] or otherwise


def swapped(brought: ImportedFeatures) -> ImportedFeatures:
    """Latitude and longitude changed over everywhere."""
    return replace(
        brought,
        lines=tuple(replace(x, points=tuple((b, a) for a, b in x.points)) for x in brought.lines),
        spots=tuple(replace(x, point=(x.point[1], x.point[0])) for x in brought.spots),
    )


def checked(brought: ImportedFeatures) -> ImportedFeatures:
    """A file's content, refused where it cannot lie on the earth. Raises FormatError, or Swapped."""
    for line in brought.lines:
        for number, point in enumerate(line.points, 1):
            _on_earth(point, f"point {number} of {line.name}")
    for spot in brought.spots:
        _on_earth(spot.point, spot.name)
    if not brought.lines and not brought.spots:
        raise FormatError("holds no line or point to take")
    if len(brought.lines) > MOST_LINES:
        raise FormatError(f"holds {len(brought.lines)} lines, at most {MOST_LINES} are taken; split the file")
    longest = max((len(line.points) for line in brought.lines), default=0)
    if longest > MOST_POINTS:
        raise FormatError(f"a line has {longest} points, at most {MOST_POINTS} are taken; split it")
    return brought


def _on_earth(point: LonLat, where: str) -> None:
    lon, lat = point
    if not (math.isfinite(lon) and math.isfinite(lat)):
        raise FormatError(f"{where} has no finite coordinates")
    if abs(lon) <= 180 and abs(lat) <= 90:
        return
    shown = f"{where} is longitude {lon:g}, latitude {lat:g}"
    if abs(lat) <= 180 and abs(lon) <= 90:
        raise Swapped(f"{shown}: latitude and longitude look swapped; take them the other way round")
    raise FormatError(
        f"{shown}: metres of some projection, not degrees; export it again as WGS84 longitude and latitude (EPSG:4326)"
    )


def jumps(points: Sequence[Position]) -> list[int]:
    """Indices after which a walked line jumps: steps of 50 m and 15 times the usual step."""
    steps = [math.dist(a, b) for a, b in pairwise(points)]
    if len(steps) < 5:
        return []
    usual = float(np.median(steps))
    return [
        i for i, step in enumerate(steps) if step >= _JUMP_LEAST_M and step > _JUMP_TIMES * max(usual, _STILL_M / 5)
    ]


@dataclass(frozen=True)
class TakenLine:
    """A line ready for the plan: metres, profile along it, and what was left out."""

    name: str
    points: tuple[Position, ...]
    profile: tuple[tuple[float, float], ...]
    came: int
    part: Part | None
    closed: bool


def lines_in_metres(
    brought: ImportedFeatures, origin: Origin, choice: ImportChoice
) -> tuple[list[TakenLine], list[str]]:
    """A file's lines in metres as chosen, and notes on what was changed."""
    found: list[TakenLine] = []
    notes = list(brought.notes)
    for line in brought.lines:
        points = to_metres(origin, line.points)
        _refuse_far(line.name, points)
        for number, (low, high) in enumerate(_stretches(points, choice), 1):
            name = line.name if number == 1 else f"{line.name[: _NAME - 9]}, part {number}"
            heights = line.heights[low:high] if line.heights else ()
            taken = _taken(replace(line, name=name), points[low:high], heights, choice)
            if len(taken.points) < 2:
                notes.append(f"{name} has no length and is left out")
                continue
            found.append(taken)
        leaps = [] if choice.part_jumps else jumps(points)
        if leaps:
            far = max(math.dist(points[i], points[i + 1]) for i in leaps)
            notes.append(
                f"{line.name} jumps {len(leaps)} time{'s' * (len(leaps) > 1)}, the farthest {far:.0f} m: "
                "the receiver was off or astray there; part it at the jumps or mend it by hand"
            )
    doubled = sum(t.came for t in found if choice.thin_m == 0) - sum(len(t.points) for t in found if choice.thin_m == 0)
    if doubled > 0:
        notes.append(f"{doubled} doubled point{'s' * (doubled > 1)} left out: they lay on the spot of the one before")
    return found, notes


def _stretches(points: Sequence[Position], choice: ImportChoice) -> Iterator[tuple[int, int]]:
    stops = [0, *(i + 1 for i in jumps(points)), len(points)] if choice.part_jumps else [0, len(points)]
    yield from pairwise(stops)


def _refuse_far(name: str, points: Iterable[Position]) -> None:
    if any(math.hypot(*p) > TOO_FAR_M for p in points):
        raise FormatError(f"{name} lies more than 100 km from this plan; begin a new plan for it")


def _taken(line: Line, points: Sequence[Position], heights: Sequence[float | None], choice: ImportChoice) -> TakenLine:
    own = [0] if points else []
    for i in range(1, len(points)):
        before, here = points[own[-1]], points[i]
        if abs(before[0] - here[0]) >= SPOT_M or abs(before[1] - here[1]) >= SPOT_M:
            own.append(i)
    distinct = tuple(points[i] for i in own)
    kept = thinned(distinct, choice.thin_m)
    profile = _profile(distinct, kept, [heights[i] for i in own] if heights else [], thin=choice.thin_m > 0)
    return TakenLine(line.name, kept, profile, len(points), line.part, line.closed)


def _profile(
    points: Sequence[Position], kept: Sequence[Position], heights: Sequence[float | None], *, thin: bool
) -> tuple[tuple[float, float], ...]:
    """Heights by distance along the kept line; each stretch between kept points is stretched to fit."""
    if not heights or all(h is None for h in heights) or len(kept) < 2:
        return ()
    walked = np.concatenate([[0.0], np.cumsum([math.dist(a, b) for a, b in pairwise(points)])])
    along = np.concatenate([[0.0], np.cumsum([math.dist(a, b) for a, b in pairwise(kept)])])
    at_kept, i = [], 0
    for point in kept:
        while points[i] != point:
            i += 1
        at_kept.append(float(walked[i]))
        i += 1
    at = np.interp(walked, at_kept, along)
    rows: list[tuple[float, float]] = []
    for d, h in zip(at.tolist(), heights, strict=True):
        if h is not None and math.isfinite(h) and (not rows or d - rows[-1][0] >= SPOT_M):
            rows.append((round(d, 3), round(float(h), 2)))
    return thinned(tuple(rows), _PROFILE_M) if thin else tuple(rows)


def near_swapped(brought: ImportedFeatures, origin: Origin) -> bool:
    """Whether a file lies far from a plan but would lie near with its degrees changed over."""
    points = [p for line in brought.lines for p in line.points[:1]] + [spot.point for spot in brought.spots]
    if not points:
        return False

    def near(rows: list[LonLat]) -> bool:
        if any(abs(lat) > 89 for _, lat in rows):
            return False
        return all(math.hypot(*p) <= TOO_FAR_M for p in to_metres(origin, rows))

    return not near(points) and near([(b, a) for a, b in points])


def _middle(brought: ImportedFeatures) -> Origin:
    points = [p for line in brought.lines for p in line.points] + [spot.point for spot in brought.spots]
    lon, lat = np.array(points).T
    middle = Origin.model_construct(lat=round(float(lat.min() + lat.max()) / 2, 6), lon=round(float(lon[0]), 6))
    if abs(middle.lat) > 85:
        raise FormatError("The file lies nearer to a pole than a plan can: beyond 85 degrees of latitude")
    return Origin(lat=middle.lat, lon=round(float(lon.min() + lon.max()) / 2, 6))


def into_plan(
    brought: ImportedFeatures, plan: Plan | None, choice: ImportChoice, name: str
) -> tuple[Plan, tuple[str, ...]]:
    """A file's content added to a plan, or as a plan of its own; and what is to be said about it.

    Raises FormatError; Swapped when the degrees would fit changed over.
    """
    if choice.swap:
        brought = swapped(brought)
    brought = checked(brought)
    own = plan is None or not (plan.runs or plan.landmarks)
    origin = plan.origin if plan is not None and not own else _origin_of(brought)
    if not own and near_swapped(brought, origin):
        raise Swapped(
            "lies far from this plan, but near it with latitude and longitude swapped; take them the other way round"
        )
    lines, notes = lines_in_metres(brought, origin, choice)
    if choice.lines is not None:
        lines = [line for i, line in enumerate(lines) if i in choice.lines]
    if not lines and not brought.spots:
        raise FormatError("no line has a length; all points of each lie on one spot")
    base = (plan or _written(brought, name)).model_dump()
    base["origin"] = origin.model_dump()
    try:
        _Adding(base, origin).add(lines, brought.spots)
        return Plan.model_validate(base), tuple(notes)
    except ValidationError as error:
        raise FormatError(first_fault(error)) from error


def _origin_of(brought: ImportedFeatures) -> Origin:
    if brought.plan and isinstance(brought.plan.get("origin"), dict):
        try:
            return Origin.model_validate(brought.plan["origin"])
        except ValidationError:
            pass
    return _middle(brought)


def _written(brought: ImportedFeatures, name: str) -> Plan:
    """The plan whose words a file carries, without its ground; a bare one otherwise."""
    row = {k: v for k, v in (brought.plan or {}).items() if k != "part"}
    try:
        return Plan.model_validate(upgraded({"name": plain_name(name, "Imported")} | row))
    except ValidationError:
        return Plan(name=plain_name(name, "Imported"))


class _Adding:
    """Parts added to a plan's document, ids made fresh where they are taken."""

    def __init__(self, base: dict[str, Any], origin: Origin) -> None:
        self._base, self._origin = base, origin
        self._ids: dict[str, str] = {}
        self._own_marks = len(base["landmarks"])

    def _id(self, rows: list[dict[str, Any]], wanted: object, stem: str) -> str:
        taken = {row["id"] for row in rows}
        return wanted if isinstance(wanted, str) and wanted and wanted not in taken else fresh_id(taken, stem)

    def _rows(self, key: str) -> list[dict[str, Any]]:
        self._base[key] = list(self._base[key])
        rows: list[dict[str, Any]] = self._base[key]
        return rows

    def add(self, lines: list[TakenLine], spots: tuple[ImportedSpot, ...]) -> None:
        """All lines, then all spots: fixtures need their runs."""
        runs, marks = self._rows("runs"), self._rows("landmarks")
        for line in lines:
            words = _words(line.part)
            if line.part and line.part["part"] == "landmark":
                own = line.points[:-1] if line.closed else line.points
                marks.append(words | {"id": self._id(marks, words.get("id"), "mark"), "points": own})
                continue
            key = self._id(runs, words.get("id"), "line")
            if "id" in words:
                self._ids[words["id"]] = key
            profile = line.profile or words.get("profile", ())
            row = {"name": plain_name(line.name, f"Line {len(runs) + 1}")} | words
            runs.append(row | {"id": key, "points": line.points, "profile": profile})
        for spot in spots:
            self._spot(spot, to_metres(self._origin, [spot.point])[0])
        marks = self._rows("landmarks")
        fresh = sorted(marks[self._own_marks :], key=lambda row: row.get("number", math.inf))
        marks[self._own_marks :] = [{k: v for k, v in row.items() if k != "number"} for row in fresh]

    def _spot(self, spot: ImportedSpot, at: Position) -> None:
        words, part = _words(spot.part), (spot.part or {}).get("part")
        if part == "fixture" and self._fixture(words, at):
            return
        if part == "energizer":
            self._base["energizer_at"] = at
        elif part == "rods":
            self._base["rods"] = dict(self._base["rods"]) | {"position": at}
        elif part == "note":
            rows = self._rows("notes")
            row = {"name": plain_name(spot.name, "Note")} | words
            rows.append(row | {"id": self._id(rows, words.get("id"), "note"), "at": at, "photos": ()})
        else:
            rows = self._rows("landmarks")
            row = words if part == "landmark" else {"kind": "mark", "name": plain_name(spot.name, "")}
            rows.append(row | {"id": self._id(rows, words.get("id"), "mark"), "points": (at,)})

    def _fixture(self, words: Part, at: Position) -> bool:
        run_id = self._ids.get(str(words.get("run")), words.get("run"))
        row = next((r for r in self._base["runs"] if r["id"] == run_id), None)
        if row is None:
            return False
        run = Run.model_validate(row)
        said = words.get("at_m")
        if not isinstance(said, (int, float)) or math.dist(point_at(run, float(said)), at) > 0.05:
            said = round(float(line_of(run).project(Point(at))), 2)
        rows = self._rows("fixtures")
        rows.append(
            fixture_of_its_kind(words) | {"id": self._id(rows, words.get("id"), "fixture"), "run": run_id, "at_m": said}
        )
        return True


def _words(part: Part | None) -> Part:
    return {k: v for k, v in (part or {}).items() if k != "part"}
