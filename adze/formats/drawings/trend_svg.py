"""A point's readings over time as a picture: kV as marks, the forecast of each day as bars, events as uprights."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from html import escape

_WIDE, _HIGH, _LEFT, _BELOW = 640.0, 150.0, 34.0, 26.0


@dataclass(frozen=True)
class TrendPoint:
    """A reading: when, kV, the forecast's band, and whether it stands well."""

    at: datetime
    kv: float
    low_kv: float | None
    high_kv: float | None
    is_well: bool


def trend_svg(title: str, points: Sequence[TrendPoint], events: Sequence[tuple[date, str]] = ()) -> str:
    """The picture, newest to the right. Raises ValueError without a point."""
    if not points:
        raise ValueError("a trend needs a reading")
    first, last = min(p.at for p in points), max(p.at for p in points)
    span = max((last - first) / timedelta(days=1), 1.0)
    top = max(1.0, *(p.kv for p in points), *(p.high_kv or 0.0 for p in points)) * 1.08

    def x(at: datetime) -> float:
        return _LEFT + 8 + (_WIDE - _LEFT - 24) * ((at - first) / timedelta(days=1)) / span

    def y(kv: float) -> float:
        return 8 + (_HIGH - _BELOW - 8) * (1 - kv / top)

    parts = []
    step = 1 if top < 4 else 2 if top < 9 else 4
    for kv in range(0, int(top) + 1, step):
        parts.append(f'<path d="M{_LEFT} {y(kv):.1f}H{_WIDE}" stroke="var(--rule)"/>')
        parts.append(f'<text x="{_LEFT - 6}" y="{y(kv) + 4:.1f}" text-anchor="end" font-size="11">{kv}</text>')
    for day, words in events:
        at = datetime(day.year, day.month, day.day, 12, tzinfo=first.tzinfo)
        if first - timedelta(days=1) <= at <= last + timedelta(days=1):
            where = x(min(max(at, first), last))
            parts.append(
                f'<path d="M{where:.1f} 8V{_HIGH - _BELOW}" stroke="var(--return)" stroke-dasharray="3 3">'
                f"<title>{escape(words)}, {day:%d %b %Y}</title></path>"
            )
    for p in sorted(points, key=lambda p: p.at):
        if p.low_kv is not None and p.high_kv is not None:
            high = max(2.0, y(p.low_kv) - y(p.high_kv))
            place = f'x="{x(p.at) - 5:.1f}" y="{y(p.high_kv):.1f}" width="10" height="{high:.1f}"'
            parts.append(f'<rect {place} fill="var(--kv-2)"/>')
    for p in sorted(points, key=lambda p: p.at):
        shape = (
            f'<circle cx="{x(p.at):.1f}" cy="{y(p.kv):.1f}" r="5" fill="var(--ink)">'
            if p.is_well
            else f'<path d="M{x(p.at) - 6:.1f} {y(p.kv) - 6:.1f}l12 12m0 -12l-12 12" stroke="var(--short)" '
            'stroke-width="3" fill="none">'
        )
        end = "</circle>" if p.is_well else "</path>"
        parts.append(f"{shape}<title>{p.kv:.1f} kV, {p.at:%d %b %Y}</title>{end}")
    for at, anchor in ((first, "start"), (last, "end")):
        parts.append(
            f'<text x="{x(at):.1f}" y="{_HIGH - 8}" text-anchor="{anchor}" font-size="11">{at:%-d %b %Y}</text>'
        )
    frame = f'viewBox="0 0 {_WIDE:.0f} {_HIGH:.0f}" role="img" aria-label="{escape(title)}, kV over time"'
    return f'<svg class="trend" fill="currentColor" {frame}>{"".join(parts)}</svg>'


@dataclass(frozen=True)
class TrendDay:
    """A day: least, middle and most kV."""

    day: date
    low_kv: float
    kv: float
    high_kv: float


def days_svg(title: str, days: Sequence[TrendDay], limit_kv: float, events: Sequence[tuple[date, str]] = ()) -> str:
    """A year of days as a band from least to most with its middle, and the alarm's limit. Raises ValueError without."""
    if not days:
        raise ValueError("a trend needs a day")
    first, last = days[0].day, days[-1].day
    span = max((last - first).days, 1)
    top = max(1.0, limit_kv, *(d.high_kv for d in days)) * 1.08

    def x(day: date) -> float:
        return _LEFT + 8 + (_WIDE - _LEFT - 24) * (day - first).days / span

    def y(kv: float) -> float:
        return 8 + (_HIGH - _BELOW - 8) * (1 - kv / top)

    parts = []
    for kv in range(0, int(top) + 1, 1 if top < 4 else 2 if top < 9 else 4):
        parts.append(f'<path d="M{_LEFT} {y(kv):.1f}H{_WIDE}" stroke="var(--rule)"/>')
        parts.append(f'<text x="{_LEFT - 6}" y="{y(kv) + 4:.1f}" text-anchor="end" font-size="11">{kv}</text>')
    outline = [f"{x(d.day):.1f} {y(d.high_kv):.1f}" for d in days]
    outline += [f"{x(d.day):.1f} {y(d.low_kv):.1f}" for d in reversed(days)]
    parts.append(f'<path d="M{"L".join(outline)}Z" fill="var(--kv-2)"/>')
    middle = "L".join(f"{x(d.day):.1f} {y(d.kv):.1f}" for d in days)
    parts.append(f'<path d="M{middle}" fill="none" stroke="var(--ink)" stroke-width="1.6"/>')
    parts.append(f'<path d="M{_LEFT} {y(limit_kv):.1f}H{_WIDE}" stroke="var(--short)" stroke-dasharray="6 4"/>')
    for day, words in events:
        if first <= day <= last:
            place = f"M{x(day):.1f} 8V{_HIGH - _BELOW}"
            style = 'stroke="var(--return)" stroke-dasharray="3 3"'
            parts.append(f'<path d="{place}" {style}><title>{escape(words)}, {day:%d %b %Y}</title></path>')
    for day, anchor in ((first, "start"), (last, "end")):
        where = f'x="{x(day):.1f}" y="{_HIGH - 8}" text-anchor="{anchor}" font-size="11"'
        parts.append(f"<text {where}>{day:%-d %b %Y}</text>")
    frame = f'viewBox="0 0 {_WIDE:.0f} {_HIGH:.0f}" role="img" aria-label="{escape(title)}, kV by day"'
    return f'<svg class="trend" fill="currentColor" {frame}>{"".join(parts)}</svg>'
