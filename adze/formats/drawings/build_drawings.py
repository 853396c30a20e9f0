"""Drawings to scale of what is built, for this fence: ends, ties, jumpers, gates, ducts, rods, switch, diverter, net.

Each drawing's measures are those of its how-to: both come from `core/tasks/figures.py`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from html import escape

from adze.core.animals.strand_rules import Role
from adze.core.basics.units import format_height, format_length, format_tape
from adze.core.build.construction import fence_of
from adze.core.build.gateways import CABLE_DEEP_M, CABLE_END_M, core_m
from adze.core.ground.lines import length_m
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, RoadCrossing
from adze.core.tables.construction import nettings
from adze.core.tasks.figures import end_figures, tie_figures

_WIDE, _HIGH, _EDGE = 640.0, 340.0, 46.0
FRAME = f"0 0 {_WIDE:.0f} {_HIGH:.0f}"
_LIVE, _EARTH = "var(--pulse, #8a2457)", "var(--return, #1d6a72)"


@dataclass(frozen=True)
class Drawing:
    """A drawing: its title, the shapes of its SVG within `FRAME`, and the measures written in it, in words."""

    key: str
    title: str
    shapes: str
    measures: tuple[str, ...]

    @property
    def svg(self) -> str:
        """The drawing as one SVG."""
        return f'<svg viewBox="{FRAME}" role="img" aria-label="{escape(self.title)}">{self.shapes}</svg>'


class _Sheet:
    """A sheet in metres, x to the right and y up from the ground, scaled into the frame."""

    def __init__(self, wide_m: float, high_m: float, deep_m: float) -> None:
        self.scale = min((_WIDE - 2 * _EDGE) / wide_m, (_HIGH - 2 * _EDGE) / (high_m + deep_m))
        self.ground = _EDGE + high_m * self.scale
        self.deep = deep_m
        self.parts: list[str] = []
        self.measures: list[str] = []
        bottom = self.ground + deep_m * self.scale
        self.parts.append(
            f'<rect x="0" y="{self.ground:.1f}" width="{_WIDE:.0f}" height="{bottom - self.ground:.1f}" '
            'fill="var(--sand, #d9c9a3)"/>'
        )

    def x(self, metres: float) -> float:
        return _EDGE + metres * self.scale

    def y(self, metres: float) -> float:
        return self.ground - metres * self.scale

    def post(self, at: float, wide: float, low: float, high: float, fill: str = "var(--post, #9a8a6b)") -> None:
        self.parts.append(
            f'<rect x="{self.x(at - wide / 2):.1f}" y="{self.y(high):.1f}" width="{wide * self.scale:.1f}" '
            f'height="{(high - low) * self.scale:.1f}" fill="{fill}" stroke="currentColor" stroke-width="1.2"/>'
        )

    def line(self, points: Sequence[tuple[float, float]], colour: str = "currentColor", wide: float = 2.0) -> None:
        path = " ".join(f"{self.x(a):.1f},{self.y(b):.1f}" for a, b in points)
        self.parts.append(f'<polyline points="{path}" fill="none" stroke="{colour}" stroke-width="{wide}"/>')

    def dot(self, at: float, high: float, radius: float = 5.0) -> None:
        self.parts.append(
            f'<circle cx="{self.x(at):.1f}" cy="{self.y(high):.1f}" r="{radius}" fill="var(--panel, #fff)" '
            'stroke="currentColor" stroke-width="1.5"/>'
        )

    def say(self, at: float, high: float, words: str, *, measure: bool = False, anchor: str = "middle") -> None:
        if measure:
            self.measures.append(words)
        self.parts.append(
            f'<text x="{self.x(at):.1f}" y="{self.y(high):.1f}" text-anchor="{anchor}" font-size="20" '
            'fill="currentColor" paint-order="stroke" stroke="var(--panel, #fff)" stroke-width="5">'
            f"{escape(words)}</text>"
        )

    def span(self, a: float, b: float, high: float, words: str) -> None:
        """A measure between two uprights."""
        self.line([(a, high), (b, high)], wide=1)
        for at in (a, b):
            self.line([(at, high - 0.03), (at, high + 0.03)], wide=1)
        self.say((a + b) / 2, high + 6 / self.scale, words, measure=True)

    def done(self, key: str, title: str) -> Drawing:
        return Drawing(key, title, "".join(self.parts), tuple(self.measures))


def _strands(sheet: _Sheet, view: Plan, a: float, b: float) -> None:
    for strand in fence_of(view):
        colour = {Role.LIVE: _LIVE, Role.EARTH: _EARTH}.get(strand.role, "currentColor")
        sheet.line([(a, strand.cm / 100), (b, strand.cm / 100)], colour)


def end_drawing(view: Plan) -> Drawing:
    """An end of the fence with its measures."""
    f, top = end_figures(view), fence_of(view)[-1].cm / 100
    over = f.post_m - f.deep_m
    wide = f.rail_m + 1.2 if f.kind == "braced" else 2.2
    sheet = _Sheet(wide, over + 0.25, f.deep_m + 0.1)
    _strands(sheet, view, 0.3, wide)
    if f.kind == "concreted":
        sheet.post(0.3, f.hole_m, -f.deep_m, 0, "var(--rule, #cfc4ae)")
        sheet.say(
            0.3 + f.hole_m, -f.deep_m / 3, format_height(100 * f.hole_m, view.units), measure=True, anchor="start"
        )
    thick = 0.15 if f.kind in ("braced", "block", "prop") else 0.06
    sheet.post(0.3, thick, -f.deep_m, over)
    if f.kind == "braced":
        rail, high = f.rail_m, f.rail_cm / 100
        sheet.post(0.3 + rail, 0.12, -f.deep_m, over)
        sheet.line([(0.3, high), (0.3 + rail, high)], "var(--post, #9a8a6b)", 8)
        for shift in (0.0, 0.03):
            sheet.line([(0.3, 0.08 + shift), (0.3 + rail, high + shift)], wide=1.6)
        sheet.span(0.3, 0.3 + rail, top + 0.12, format_tape(rail, view.units))
        sheet.say(0.3 + rail + 0.12, high, format_height(f.rail_cm, view.units), measure=True, anchor="start")
        sheet.say(0.3 + rail / 2, high / 2 - 0.12, format_tape(f.twitch_m, view.units), measure=True)
    if f.kind == "block":
        sheet.post(0.3 + 0.16, 0.16, -0.35, -0.1, "var(--rule, #cfc4ae)")
        sheet.say(0.62, -0.25, "80 cm, square to the line", anchor="start")
    if f.kind == "prop":
        high = 2 * over / 3
        sheet.line([(0.3, high), (0.3 + high, 0)], "var(--post, #9a8a6b)", 7)
        sheet.say(0.3 + high / 2 + 0.2, high / 2 + 0.1, "45°", anchor="start")
    sheet.say(0.2, -f.deep_m / 2, format_tape(f.deep_m, view.units), measure=True, anchor="end")
    return sheet.done("end", f"End: {f.kind}, {f.pull_kn:.1f} kN")


def tie_drawing(view: Plan) -> Drawing:
    """A strand's end: round the post, its insulator, the turns that finish it, the tail."""
    f = tie_figures(view)
    cm, units = f.insulator_cm / 100, view.units
    sheet = _Sheet(0.9, 0.28, 0.12)
    sheet.post(0.15, 0.15, -0.1, 0.26)
    sheet.line([(0.07, 0.13), (0.23, 0.13), (0.23 + cm, 0.13)], wide=2)
    at = 0.23 + cm
    sheet.post(at + 0.04, 0.08, 0.09, 0.17, "var(--panel, #fff)")
    sheet.line([(at + 0.08, 0.13), (0.88, 0.13)], _LIVE, 2.6)
    turns = [(at + 0.1 + 0.012 * n, 0.13 + (0.012 if n % 2 else -0.012)) for n in range(2 * f.turns + 1)]
    sheet.line(turns, _LIVE, 1.6)
    sheet.span(0.225, at, 0.05, format_height(f.insulator_cm, units))
    sheet.say(at + 0.18, 0.2, f"{f.turns} turns", measure=True, anchor="start")
    sheet.say(at + 0.04, 0.2, "across its middle")
    return sheet.done("tie", "A strand's end")


def jumper_drawing(view: Plan) -> Drawing:
    """Live strands together at an end: the top one's tail in its tube past the earth strands."""
    f, rows = tie_figures(view), fence_of(view)
    top = rows[-1].cm / 100
    sheet = _Sheet(1.8, top + 0.2, 0.3)
    sheet.post(0.3, 0.15, -0.3, top + 0.15)
    live = [row.cm / 100 for row in rows if row.role is Role.LIVE]
    _strands(sheet, view, 0.55, 1.8)
    for row in rows:
        if row.role is Role.LIVE:
            sheet.dot(0.55, row.cm / 100, 4)
    if len(live) > 1:
        sheet.line([(0.7, live[-1]), (0.7, live[0])], _LIVE, 5)
        for high in live:
            sheet.dot(0.7, high, 6)
        sheet.say(
            0.8, (live[0] + live[-1]) / 2 + 0.05, format_height(f.top_tail_cm, view.units), measure=True, anchor="start"
        )
        sheet.say(0.8, (live[0] + live[-1]) / 2 - 0.08, "in tube past earth strands", anchor="start")
    return sheet.done("jumper", "Live strands together, at both ends of each strain")


def gate_drawing(view: Plan, gate: Gate) -> Drawing:
    """A gate with its width, and how it hangs."""
    top = fence_of(view)[-1].cm / 100
    wide = gate.width_m
    sheet = _Sheet(wide + 1.2, top + 0.3, 0.4)
    for at in (0.5, 0.5 + wide):
        sheet.post(at, 0.14, -0.4, top + 0.15)
    heights = [row.cm / 100 for row in fence_of(view) if row.role is Role.LIVE]
    if gate.style == "rope":
        heights = [heights[0], heights[-1]]
    if gate.style == "drive_over":
        heights = [0.35]
    for high in heights:
        sheet.line([(0.6, high), (0.4 + wide, high)], _LIVE, 5 if gate.style == "rope" else 2.4)
        sheet.dot(0.6, high, 5)
        sheet.dot(0.4 + wide, high, 5)
    sheet.span(0.5, 0.5 + wide, top + 0.22, format_length(wide, view.units))
    hook = 0.5 if gate.opens_at == "start" else 0.5 + wide
    sheet.say(hook, -0.3, "opens here")
    return sheet.done(f"gate:{gate.id}", f"Gate {gate.name}")


def duct_drawing(view: Plan, f: Gate | RoadCrossing) -> Drawing:
    """Cable under a gate or a way: depth, width, both ends turned down, each core's length."""
    top = fence_of(view)[-1].cm / 100
    sheet = _Sheet(f.width_m + 1.6, top + 0.2, CABLE_DEEP_M + 0.25)
    a, b, low = 0.6, 1.0 + f.width_m, min((row.cm for row in fence_of(view)), default=50.0) / 100
    for at in (a, b):
        sheet.post(at, 0.12, -0.5, top + 0.1)
    for side, at in ((-1, a), (1, b)):
        sheet.line(
            [(at + 0.14 * -side, low - 0.1), (at + 0.1 * -side, low), (at + 0.06 * -side, -CABLE_DEEP_M)], wide=4
        )
    sheet.line([(a + 0.06, -CABLE_DEEP_M), (b - 0.06, -CABLE_DEEP_M)], wide=4)
    sheet.span(a, b, 0.1, format_length(f.width_m, view.units))
    depth = format_tape(CABLE_DEEP_M, view.units)
    sheet.say((a + b) / 2, -CABLE_DEEP_M - 0.18, f"{depth} deep, each core {format_tape(core_m(view, f), view.units)}")
    end = format_tape(CABLE_END_M, view.units)
    sheet.say(b + 0.1, low + 0.1, f"{end} to work with", anchor="end")
    return sheet.done(f"duct:{f.id}", f"Cable at {f.name}: ends turned down, caulked and taped")


def rods_drawing(plan: Plan) -> Drawing:
    """Rods in a row with their lead through all clamps."""
    rods = plan.rods
    shown = min(max(rods.count, 1), 5)
    wide = (shown - 1) * rods.spacing_m + 2
    sheet = _Sheet(wide, max(0.5, wide / 9), rods.length_m + 0.2)
    for number in range(shown):
        at = 1 + number * rods.spacing_m
        sheet.post(at, max(0.02, wide / 240), -rods.length_m, 0.1)
        sheet.dot(at, 0.05, 5)
    sheet.line([(0, 0.25), (0.6, 0.05), *((1 + n * rods.spacing_m, 0.05) for n in range(shown))], _EARTH, 3)
    if shown > 1:
        sheet.span(1, 1 + rods.spacing_m, max(0.3, wide / 14), format_length(rods.spacing_m, plan.units))
    sheet.say(1.2, -rods.length_m / 2, format_length(rods.length_m, plan.units), measure=True, anchor="start")
    title = f"Rods: {rods.count}, the lead in one piece through all clamps"
    return sheet.done("rods", title)


def switch_drawing(_: Plan) -> Drawing:
    """A cut-out switch on the inside of a post: the feed to the fixed side, the fence to the blade."""
    sheet = _Sheet(1.2, 0.7, 0.1)
    sheet.post(0.4, 0.16, -0.1, 0.66)
    sheet.post(0.4, 0.09, 0.22, 0.5, "var(--panel, #fff)")
    sheet.line([(0.4, 0.28), (0.46, 0.44)], wide=4)
    sheet.dot(0.4, 0.28, 5)
    sheet.dot(0.4, 0.46, 5)
    sheet.line([(0.4, 0.46), (0.9, 0.6)], _LIVE, 3)
    sheet.line([(0.4, 0.28), (0.9, 0.14)], _LIVE, 3)
    sheet.say(0.92, 0.6, "feed, to the fixed side", anchor="start")
    sheet.say(0.92, 0.14, "fence, to the blade", anchor="start")
    return sheet.done("switch", "Cut-out switch, inside of the post")


def diverter_drawing(_: Plan) -> Drawing:
    """A lightning diverter between the unit's lead and an earth of its own."""
    sheet = _Sheet(2.6, 1.2, 1.1)
    sheet.line([(0.1, 0.9), (2.5, 0.9)], _LIVE, 3)
    sheet.post(1.3, 0.16, 0.35, 0.75, "var(--panel, #fff)")
    sheet.line([(1.3, 0.9), (1.3, 0.75)], wide=2)
    sheet.line([(1.3, 0.35), (1.3, -0.9)], _EARTH, 3)
    sheet.say(1.45, 0.5, "gap, set with the fence live", anchor="start")
    sheet.say(0.15, 1.0, "from the unit", anchor="start")
    sheet.say(2.45, 1.0, "to the fence", anchor="end")
    sheet.say(1.4, -0.6, "its own earth, not the unit's rods", anchor="start")
    return sheet.done("diverter", "Lightning diverter")


def net_drawing(view: Plan) -> Drawing:
    """Netting round a corner: its step plate inside, the lowest strand free of every spike."""
    net = nettings()[view.netting or ""]
    high = net.top_cm / 100
    sheet = _Sheet(3.0, high + 0.2, 0.25)
    for at in (0.3, 1.5, 2.7):
        sheet.post(at, 0.03, -0.2, high + 0.05)
    for row in range(1, 7):
        sheet.line([(0.3, high * row / 6), (2.7, high * row / 6)], _LIVE, 1.6)
    for n in range(17):
        sheet.line([(0.3 + 0.15 * n, high / 6), (0.3 + 0.15 * n, high)], wide=0.7)
    sheet.say(1.5, high + 0.1, format_height(net.top_cm, view.units))
    return sheet.done("net", "Netting: corner post inside with its step plate, lowest strand free of spikes")


def nest_drawing(plan: Plan) -> Drawing:
    """The square round a nest from above: corners, the way from the nest to a side, where the reel is anchored."""
    side = sum(length_m(run) for run in plan.runs) / 4
    sheet = _Sheet(side, side, 0.01)
    corners = [(0.0, 0.0), (side, 0.0), (side, side), (0.0, side), (0.0, 0.0)]
    sheet.line(corners, _LIVE, 3)
    for at, high in corners[:4]:
        sheet.dot(at, high, 7)
    sheet.dot(side / 2, side / 2, 9)
    sheet.span(side / 2, side, side / 2, format_length(side / 2, plan.units))
    sheet.say(side / 2, side * 0.58, "nest")
    sheet.say(side * 0.12, side * 0.1, "reel, inside", anchor="start")
    return sheet.done("nest", "The square from above, stakes outside the line")


def drawing_of(plan: Plan, key: str, run: str = "") -> Drawing | None:
    """The drawing of a step, for the line that it belongs to; None where there is none."""
    view = views_by_run(plan).get(run) or plan
    name, _, at = key.partition(":")
    if name == "end" and at:
        return end_drawing(replaced(view, end_kind=at))
    if at:
        fixture = next((f for f in plan.fixtures if f.id == at), None)
        if isinstance(fixture, Gate) and name == "gate":
            return gate_drawing(view, fixture)
        return duct_drawing(view, fixture) if isinstance(fixture, (Gate, RoadCrossing)) else None
    if name == "net" and not view.netting:
        return None
    make = _PLAIN.get(name)
    return make(view) if make else None


_PLAIN: dict[str, Callable[[Plan], Drawing]] = {
    "end": end_drawing,
    "tie": tie_drawing,
    "jumper": jumper_drawing,
    "rods": rods_drawing,
    "switch": switch_drawing,
    "diverter": diverter_drawing,
    "net": net_drawing,
    "nest": nest_drawing,
}
