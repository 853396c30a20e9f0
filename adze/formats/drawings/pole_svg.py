"""The story pole on paper: strips in true millimetres to glue end to end, with a rule to check the printer."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from xml.sax.saxutils import escape

from adze.core.animals.strand_rules import Role
from adze.core.basics.units import Units, format_height
from adze.core.build.story_pole import PoleMark, StoryPole

PORTRAIT_MM = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
_MARGIN_MM, _HEAD_MM, _FOOT_MM = 10.0, 16.0, 22.0
_STRIP_MM, _GAP_MM, _FLAP_MM = 54.0, 8.0, 12.0
_CHECK_MM = 100.0
_LABEL_CLEAR_CM = 0.6
_INK, _SOFT = "#111", "#666"


@dataclass(frozen=True)
class PoleSheets:
    """The strips on sheets of one paper, mm."""

    paper: str
    width_mm: float
    height_mm: float
    sheets: tuple[str, ...]
    strips: int


def pole_sheets(pole: StoryPole, title: str, paper: str, units: Units) -> PoleSheets:
    """A story pole as strips on sheets. Raises KeyError for an unknown paper."""
    width, height = PORTRAIT_MM[paper]
    # Joints fall on marks that can be seen.
    tall_cm = math.floor((height - 2 * _MARGIN_MM - _HEAD_MM - _FOOT_MM - _FLAP_MM) / 25) * 2.5
    count = max(1, math.ceil(pole.post_cm / tall_cm))
    columns = int((width - 2 * _MARGIN_MM + _GAP_MM) // (_STRIP_MM + _GAP_MM))
    sheets = []
    for first in range(0, count, columns):
        body = "".join(
            _strip(pole, n, count, tall_cm, _MARGIN_MM + (n - first) * (_STRIP_MM + _GAP_MM), height, units)
            for n in range(first, min(first + columns, count))
        )
        number = f"sheet {first // columns + 1} of {math.ceil(count / columns)}"
        sheets.append(_sheet(width, height, f"{title}: story pole, {number}", body))
    return PoleSheets(paper, width, height, tuple(sheets), count)


def _sheet(width: float, height: float, title: str, body: str) -> str:
    foot = height - _MARGIN_MM
    inch = 4 * 25.4
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="0 0 {width} {height}" font-family="Atkinson Hyperlegible, sans-serif" role="img">'
        f"<title>{escape(title)}</title>"
        f'<text x="{_MARGIN_MM}" y="{_MARGIN_MM + 4}" font-size="4.6" font-weight="700">{escape(title)}</text>'
        f'<text x="{_MARGIN_MM}" y="{_MARGIN_MM + 9.5}" font-size="3.2">Print at 100 %, never "fit to page". Cut the '
        "strips out, glue each on the flap of the one below, its foot on the ground line.</text>"
        f"{body}"
        f'<g data-check="{_CHECK_MM:g}" stroke="{_INK}" stroke-width="0.35">'
        f'<line x1="{_MARGIN_MM}" y1="{foot - 8}" x2="{_MARGIN_MM + _CHECK_MM}" y2="{foot - 8}"/>'
        + "".join(
            f'<line x1="{_MARGIN_MM + i * 10}" y1="{foot - 8}" x2="{_MARGIN_MM + i * 10}" y2="{foot - 10.5}"/>'
            for i in range(11)
        )
        + f'<line x1="{_MARGIN_MM}" y1="{foot - 1}" x2="{_MARGIN_MM + inch}" y2="{foot - 1}"/>'
        + "".join(
            f'<line x1="{_MARGIN_MM + i * 25.4}" y1="{foot - 1}" x2="{_MARGIN_MM + i * 25.4}" y2="{foot - 3.5}"/>'
            for i in range(5)
        )
        + "</g>"
        f'<text x="{_MARGIN_MM + inch + 3}" y="{foot - 7}" font-size="3.2">Lay a rule here: 100 mm above, 4 inches '
        "below.</text>"
        f'<text x="{_MARGIN_MM + inch + 3}" y="{foot - 1}" font-size="3.2">Longer or shorter: set the printer to '
        "100 %.</text>"
        "</svg>"
    )


def _strip(pole: StoryPole, number: int, count: int, tall_cm: float, left: float, sheet_mm: float, units: Units) -> str:
    """One strip: heights from number x tall_cm upward, 10 mm to the cm, and a flap for the next one."""
    low = number * tall_cm
    high = min(low + tall_cm, pole.post_cm)
    base = sheet_mm - _MARGIN_MM - _FOOT_MM
    flap = _FLAP_MM if number + 1 < count else 0.0

    def y(cm: float) -> float:
        return base - (cm - low) * 10

    parts = [
        f'<g data-strip="{number + 1}" data-low="{low:g}" data-base="{base:g}">',
        f'<rect x="{left}" y="{y(high) - flap:.3f}" width="{_STRIP_MM}" height="{(high - low) * 10 + flap:.3f}" '
        f'fill="none" stroke="{_INK}" stroke-width="0.25" stroke-dasharray="2 1"/>',
        f'<text x="{left + 2}" y="{base + 5}" font-size="3.4">Strip {number + 1} of {count}: from '
        f"{escape(format_height(low, units))}{', the ground' if number == 0 else ''}</text>",
        f'<line x1="{left}" y1="{base}" x2="{left + _STRIP_MM}" y2="{base}" stroke="{_INK}" '
        f'stroke-width="{0.9 if number == 0 else 0.3}"/>',
    ]
    if flap:
        parts.append(
            f'<text x="{left + 2}" y="{y(high) - 4}" font-size="3" fill="{_SOFT}">glue strip {number + 2} over this '
            "flap, on the line</text>"
            f'<line x1="{left}" y1="{y(high):.3f}" x2="{left + _STRIP_MM}" y2="{y(high):.3f}" stroke="{_INK}" '
            'stroke-width="0.3"/>'
        )
    parts += _ticks(low, high, left, y, units, [m.cm for m in pole.marks])
    parts += [_mark(m, left, y(m.cm), units, pole.side) for m in pole.marks if low <= m.cm < high + flap / 10]
    if low < pole.post_cm <= high:
        parts.append(
            f'<text x="{left + 22}" y="{y(pole.post_cm) + 4.2:.3f}" font-size="3.2">post at least to here: '
            f"{escape(format_height(pole.post_cm, units))}</text>"
        )
    return "".join(parts) + "</g>"


def _ticks(
    low: float, high: float, left: float, y: Callable[[float], float], units: Units, marked: list[float]
) -> Iterator[str]:
    step, long = (1.0, 5) if units is Units.METRIC else (2.54 / 2, 2)
    for n in range(math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9) + 1):
        cm = n * step
        at = y(cm)
        reach = 9.0 if n % (2 * long) == 0 else 6.5 if n % long == 0 else 3.5
        yield f'<line x1="{left}" y1="{at:.3f}" x2="{left + reach}" y2="{at:.3f}" stroke="{_INK}" stroke-width="0.2"/>'
        clear = all(abs(cm - other) > _LABEL_CLEAR_CM for other in marked)
        if clear and n % long == 0 and n and (units is Units.METRIC or n % (2 * long) == 0):
            words = f"{cm:g}" if units is Units.METRIC else f"{n // 2} in"
            yield f'<text x="{left + 10}" y="{at + 1.1:.3f}" font-size="3" fill="{_SOFT}">{words}</text>'


def _mark(mark: PoleMark, left: float, at: float, units: Units, side: str) -> str:
    dash = {Role.LIVE: "", Role.EARTH: ' stroke-dasharray="6 3"', Role.DEAD: ' stroke-dasharray="0.8 1.6"'}[mark.role]
    word = {Role.LIVE: "live", Role.EARTH: "earth", Role.DEAD: "dead"}[mark.role]
    fixing = {Role.LIVE: side, Role.EARTH: "plain clip, joined to the rods", Role.DEAD: "joined to nothing"}[mark.role]
    notes = [fixing, "on the bottom switch"] if mark.switched else [fixing]
    small = "".join(
        f'<text x="{left + 21}" y="{at + 3.2 + 2.8 * i:.3f}" font-size="2.3" fill="{_SOFT}">{escape(note)}</text>'
        for i, note in enumerate(notes)
    )
    ring = f'<circle cx="{left + 17}" cy="{at:.3f}" r="2" fill="#fff" stroke="{_INK}" stroke-width="0.4"/>'
    ring = ring if mark.role is Role.LIVE else ""
    return (
        f'<line data-cm="{mark.cm:g}" x1="{left}" y1="{at:.3f}" x2="{left + _STRIP_MM}" y2="{at:.3f}" '
        f'stroke="{_INK}" stroke-width="0.8"{dash}/>'
        f"{ring}"
        f'<text x="{left + 21}" y="{at - 1.3:.3f}" font-size="4" font-weight="700">{mark.number}: '
        f"{escape(format_height(mark.cm, units))} {word}</text>"
        f"{small}"
    )
