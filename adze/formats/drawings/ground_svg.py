"""The ground on paper: true to scale, in millimetres, over as many sheets as it takes."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from xml.sax.saxutils import escape

from adze.core.basics.units import M_PER_FT, Units, format_length
from adze.core.build.rod_sites import placed
from adze.core.ground.feed import feed, lead_out_points
from adze.core.ground.lines import length_m, point_at
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture
from adze.core.plan.scalars import Position
from adze.core.tables.ground import fixture_kinds, landmark_kinds

PAPERS_MM = {"A4": (297.0, 210.0), "A3": (420.0, 297.0), "Letter": (279.4, 215.9), "Tabloid": (431.8, 279.4)}
SCALES = (100, 200, 250, 500, 1000, 1250, 2000, 2500, 5000, 10_000, 20_000, 25_000, 50_000)
MOST_SHEETS = 40
_MARGIN_MM = 10.0
_SIGN_MM = 3.6
_FOOT_MM = 24.0
_OVERLAP_MM = 10.0


@dataclass(frozen=True)
class Sheet:
    """One sheet of paper: its drawing as SVG in mm, and where it stands among the others."""

    svg: str
    column: int
    row: int


@dataclass(frozen=True)
class Sheets:
    """The ground on paper at one scale."""

    paper: str
    scale: int
    width_mm: float
    height_mm: float
    sheets: tuple[Sheet, ...]


class TooMany(ValueError):
    """A scale that would take too much paper."""


def _extent(plan: Plan) -> tuple[float, float, float, float]:
    points = [p for run in plan.runs for p in run.points]
    # What lies on the ground may reach far beyond the farm: spots and buildings count, scenery does not.
    points += [
        p
        for m in plan.landmarks
        if landmark_kinds()[m.kind].shape == "point" or m.kind in ("building", "yard", "milk_house")
        for p in m.points
    ]
    points += [p for p in (plan.energizer_at, *placed(plan)) if p]
    if not points:
        return 0.0, 0.0, 100.0, 70.0
    east, north = [p[0] for p in points], [p[1] for p in points]
    return min(east), min(north), max(east), max(north)


def ground_sheets(plan: Plan, paper: str = "A4", scale: int | None = None) -> Sheets:
    """The plan's ground on sheets of a paper, at a scale or the largest one that fits one sheet.

    Raises KeyError for an unknown paper and TooMany for a scale that takes more than 40 sheets.
    """
    width, height = PAPERS_MM[paper]
    inner = width - 2 * _MARGIN_MM, height - 2 * _MARGIN_MM - _FOOT_MM
    west, south, east, north = _extent(plan)
    room = 8.0  # mm for labels around
    wide, high = max(east - west, 1.0), max(north - south, 1.0)
    if scale is None:
        need = 1000 * max(wide / (inner[0] - 2 * room), high / (inner[1] - 2 * room))
        scale = next((s for s in SCALES if s >= need), math.ceil(need / 10_000) * 10_000)
    mm_per_m = 1000 / scale
    columns = _count(wide * mm_per_m + 2 * room, inner[0])
    rows = _count(high * mm_per_m + 2 * room, inner[1])
    if columns * rows > MOST_SHEETS:
        raise TooMany(
            f"At 1:{scale} it takes {columns * rows} sheets of {paper}, at most {MOST_SHEETS} are drawn; "
            "choose a smaller scale or larger paper."
        )
    step = (inner[0] - _OVERLAP_MM) / mm_per_m, (inner[1] - _OVERLAP_MM) / mm_per_m
    total = (columns - 1) * step[0] + inner[0] / mm_per_m, (rows - 1) * step[1] + inner[1] / mm_per_m
    left, top = (west + east - total[0]) / 2, (south + north + total[1]) / 2
    sheets = tuple(
        Sheet(
            _Drawing(plan, paper, scale, (left + c * step[0], top - r * step[1]), inner, (c, r, columns, rows)).svg(),
            c + 1,
            r + 1,
        )
        for r in range(rows)
        for c in range(columns)
    )
    return Sheets(paper, scale, width, height, sheets)


def _count(needed_mm: float, sheet_mm: float) -> int:
    return 1 if needed_mm <= sheet_mm else math.ceil((needed_mm - _OVERLAP_MM) / (sheet_mm - _OVERLAP_MM))


_AREA = {"building": "#d9d5c7", "milk_house": "#d9d5c7", "water": "#dfe8ea", "wood": "#e6ebda", "sand": "#f3ecda"}
_AREA |= {"soil": "#efe6d0", "rock": "#e4e1da", "hollow": "#e2ebea", "yard": "#eceae2", "field": "#f1f4e6"}
_DASH = {"path": "0.6 1.6", "overhead": "6 1.5 1 1.5", "buried": "2 1.2", "pipe": "4 1.2", "boundary": "8 2 2 2"}
_WIDE = {"stream": ("#b9ccd0", 1.2), "road": ("#c9c3b2", 1.6), "track": ("#c9c3b2", 1.0)}
_DASH |= {"old_fence": "3 1", "other_fence": "1 1", "road": "", "track": "5 2", "stream": ""}


class _Drawing:
    """One sheet: paper millimetres from the top left, north up."""

    def __init__(
        self,
        plan: Plan,
        paper: str,
        scale: int,
        corner: Position,
        inner: tuple[float, float],
        place: tuple[int, int, int, int],
    ) -> None:
        self._plan, self._paper, self._scale = plan, paper, scale
        self._corner, self._inner, self._place = corner, inner, place
        self._boxes: list[tuple[float, float, float, float]] = []

    def _xy(self, point: Position) -> tuple[float, float]:
        k = 1000 / self._scale
        return _MARGIN_MM + (point[0] - self._corner[0]) * k, _MARGIN_MM + (self._corner[1] - point[1]) * k

    def _path(self, points: tuple[Position, ...], *, close: bool = False) -> str:
        rows = [f"{x:.3f} {y:.3f}" for x, y in map(self._xy, points)]
        return "M" + "L".join(rows) + ("Z" if close else "")

    def svg(self) -> str:
        """The whole sheet."""
        width, height = PAPERS_MM[self._paper]
        w, h = self._inner
        body = "".join((*self._land(), *self._lines(), *self._fixtures(), *self._labels()))
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
            f'viewBox="0 0 {width} {height}" font-family="Atkinson Hyperlegible, sans-serif" font-size="2.9">'
            f'<clipPath id="in{self._place[0]}{self._place[1]}"><rect x="{_MARGIN_MM}" y="{_MARGIN_MM}" width="{w}" '
            f'height="{h}"/></clipPath><g clip-path="url(#in{self._place[0]}{self._place[1]})">{body}</g>'
            f'<rect x="{_MARGIN_MM}" y="{_MARGIN_MM}" width="{w}" height="{h}" fill="none" stroke="#20241f" '
            f'stroke-width="0.35"/>{"".join(self._foot())}</svg>'
        )

    def _land(self) -> Iterator[str]:
        for mark in self._plan.landmarks:
            if len(mark.points) == 1:
                x, y = self._xy(mark.points[0])
                yield f'<circle cx="{x:.2f}" cy="{y:.2f}" r="0.9" fill="none" stroke="#20241f" stroke-width="0.35"/>'
            elif landmark_kinds()[mark.kind].shape == "area":
                fill = _AREA.get(mark.kind, "none")
                outline = self._path(mark.points, close=True)
                yield f'<path d="{outline}" fill="{fill}" stroke="#77725f" stroke-width="0.2"/>'
            else:
                ink, wide = _WIDE.get(mark.kind, ("#77725f", 0.35))
                dash = _DASH.get(mark.kind, "")
                yield (
                    f'<path d="{self._path(mark.points)}" fill="none" stroke="{ink}" stroke-width="{wide}" '
                    f'stroke-dasharray="{dash}"/>'
                )

    def _lines(self) -> Iterator[str]:
        for run in self._plan.runs:
            dash = 'stroke-dasharray="2.4 1.2"' if run.use == "temporary" else ""
            yield f'<path d="{self._path(run.points)}" fill="none" stroke="#20241f" stroke-width="0.7" {dash}/>'
            ticks: list[str] = []
            step = max(fence_at(self._plan, run.id).view.post_spacing_m, 3.0 * self._scale / 1000)
            at = step / 2
            while at < length_m(run) and len(ticks) < 2000:
                (ax, ay), (bx, by) = (self._xy(point_at(run, at + d)) for d in (-0.3, 0.3))
                size = math.hypot(bx - ax, by - ay) or 1.0
                nx, ny = -(by - ay) / size * 0.9, (bx - ax) / size * 0.9
                x, y = (ax + bx) / 2, (ay + by) / 2
                ticks.append(f"M{x - nx:.2f} {y - ny:.2f}L{x + nx:.2f} {y + ny:.2f}")
                at += step
            yield f'<path d="{"".join(ticks)}" stroke="#20241f" stroke-width="0.2" fill="none"/>'
        start, home = feed(self._plan), self._plan.energizer_at
        if start and home:
            lead = tuple(lead_out_points(self._plan))
            yield f'<path d="{self._path(lead)}" stroke="#5e1239" stroke-width="0.5" fill="none"/>'
        if home:
            x, y = self._xy(home)
            yield f'<path d="M{x - 1.6} {y + 1.4}v-1.8l1.6-1.4 1.6 1.4v1.8Z" fill="#8a2457"/>'
        for spot in placed(self._plan):
            x, y = self._xy(spot)
            yield f'<path d="M{x:.2f} {y:.2f}v2.6" stroke="#1d6a72" stroke-width="0.6"/>'

    def _spot(self, fixture: Fixture) -> tuple[float, float]:
        run = next(r for r in self._plan.runs if r.id == fixture.run)
        return self._xy(point_at(run, fixture.at_m))

    def _fixtures(self) -> Iterator[str]:
        for f in self._plan.fixtures:
            x, y = self._spot(f)
            yield fixture_sign(f.kind, x, y)

    def _labels(self) -> Iterator[str]:
        """Names where they are free: lines first, then what stands on them, then the land."""
        wanted: list[tuple[float, float, str, bool]] = []
        for run in self._plan.runs:
            x, y = self._xy(point_at(run, length_m(run) / 2))
            words = f"{run.name}, {format_length(length_m(run), self._plan.units)}"
            wanted.append((x, y, words, True))
        wanted += [(*self._spot(f), f.name, False) for f in self._plan.fixtures]
        for mark in self._plan.landmarks:
            if mark.name:
                wanted.append((*self._xy(mark.points[len(mark.points) // 2]), mark.name, False))
        for x, y, words, bold in wanted:
            spot = self._free(x, y, len(words) * 1.55)
            if spot:
                weight = ' font-weight="700"' if bold else ""
                yield (
                    f'<text x="{spot[0]:.2f}" y="{spot[1]:.2f}" fill="#20241f" stroke="#fff" stroke-width="0.7" '
                    f'paint-order="stroke"{weight}>{escape(words)}</text>'
                )

    def _free(self, x: float, y: float, size: float) -> tuple[float, float] | None:
        for dx, dy in ((1.8, -1.2), (1.8, 3.4), (-1.8 - size, -1.2), (-1.8 - size, 3.4), (-size / 2, -2.6)):
            left, base = x + dx, y + dy
            box = left, base - 2.6, left + size, base + 0.7
            inside = (
                box[0] >= _MARGIN_MM
                and box[2] <= _MARGIN_MM + self._inner[0]
                and box[1] >= _MARGIN_MM
                and box[3] <= _MARGIN_MM + self._inner[1]
            )
            if inside and all(box[2] < b[0] or box[0] > b[2] or box[3] < b[1] or box[1] > b[3] for b in self._boxes):
                self._boxes.append(box)
                return left, base
        return None

    def _foot(self) -> Iterator[str]:
        y = _MARGIN_MM + self._inner[1] + 5
        right = _MARGIN_MM + self._inner[0]
        column, row, columns, rows = self._place
        sheet = f", sheet {row * columns + column + 1} of {columns * rows}" if columns * rows > 1 else ""
        total = sum(length_m(run) for run in self._plan.runs)
        yield f'<text x="{_MARGIN_MM}" y="{y}" font-size="4" font-weight="700">{escape(self._plan.name)}</text>'
        yield (
            f'<text x="{_MARGIN_MM}" y="{y + 5}">1:{self._scale} on {self._paper}{sheet}; '
            f"{format_length(total, self._plan.units)} of fence. Print without fitting to the page.</text>"
        )
        yield from self._bar(_MARGIN_MM, y + 10)
        yield from self._legend(_MARGIN_MM + 92, y + 2)
        yield (
            f'<g transform="translate({right - 6} {y - 2})"><path d="M0 14V0M-2.4 5 0 0l2.4 5" fill="none" '
            'stroke="#20241f" stroke-width="0.6"/>'
            '<text x="0" y="18" text-anchor="middle" font-weight="700">N</text></g>'
        )

    def _bar(self, x: float, y: float) -> Iterator[str]:
        """A scale bar of about 60 mm in a round number of metres or feet."""
        unit = M_PER_FT if self._plan.units is Units.IMPERIAL else 1.0
        rough = 60 * self._scale / 1000 / unit
        power = 10 ** math.floor(math.log10(rough))
        size = max(k * power for k in (1, 2, 5) if k * power <= rough)
        mm = size * unit * 1000 / self._scale
        word = "ft" if self._plan.units is Units.IMPERIAL else "m"
        yield f'<path class="bar" d="M{x} {y}v2h{mm:.4f}v-2" fill="none" stroke="#20241f" stroke-width="0.4"/>'
        yield f'<text x="{x}" y="{y + 5.4}">0</text>'
        yield f'<text x="{x + mm}" y="{y + 5.4}" text-anchor="end">{size:g} {word}</text>'

    def _legend(self, x: float, y: float) -> Iterator[str]:
        kinds = list(dict.fromkeys(f.kind for f in self._plan.fixtures))[:9]
        for i, kind in enumerate(kinds):
            cx, cy = x + (i % 5) * 28, y + (i // 5) * 6
            yield fixture_sign(kind, cx, cy)
            yield f'<text x="{cx + 3}" y="{cy + 1}">{fixture_kinds()[kind].label.lower()}</text>'
        cx, cy = x, y + 12
        ways = (
            ('d="M{x} {y}h8" stroke="#20241f" stroke-width="0.7"', "fence", 28),
            ('d="M{x} {y}h8" stroke="#20241f" stroke-width="0.7" stroke-dasharray="2.4 1.2"', "temporary", 34),
            ('d="M{x} {y}h8" stroke="#5e1239" stroke-width="0.5"', "lead-out", 30),
            ('d="M{x} {y}v-2.6" stroke="#1d6a72" stroke-width="0.6"', "rod", 20),
        )
        for look, words, wide in ways:
            yield f"<path {look.format(x=cx, y=cy)}/>"
            yield f'<text x="{cx + 10}" y="{cy + 1}">{words}</text>'
            cx += wide


def fixture_sign(kind: str, x: float, y: float) -> str:
    """The sign of a fixture's kind at a spot on paper, mm: as the screen draws it."""
    row, size = fixture_kinds()[kind], _SIGN_MM / 16
    ink = "#1d6a72" if row.ink == "return" else "#20241f"
    paths = ((row.outline, "#fff"), (row.strokes, "none"))
    body = "".join(f'<path d="{d}" fill="{fill}" stroke="{ink}" stroke-width="1.7"/>' for d, fill in paths if d)
    return f'<g transform="translate({x - _SIGN_MM / 2:.2f} {y - _SIGN_MM / 2:.2f}) scale({size:g})">{body}</g>'
