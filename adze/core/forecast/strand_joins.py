"""What joining strands at one end, at both or nowhere brings, whole and with a strand cut.

The forecast takes the live strands of a line as one conductor, joined all along. Here the strands of one line are
conductors of their own (docs/model.md, "Strands apart"), on the network of the whole plan.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from adze.core.animals.strand_rules import Role
from adze.core.basics.types import Real
from adze.core.build.construction import fence_of
from adze.core.forecast.circuit import Circuit, circuit
from adze.core.forecast.volts import Solved
from adze.core.ground.places import Place
from adze.core.ground.wiring import Piece
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Weather, grass_of, growth_scale, wire_leak_s_per_m
from adze.core.plan.stages import Incomplete, Stage
from adze.core.pulse import laplace
from adze.core.pulse.network import STRANDS, Link, Matrix, Network, Port, Span, StrandLine, Terminal, Wire, WireLine
from adze.core.pulse.solver import solve_pulse
from adze.core.tables.construction import insulation
from adze.core.tables.ground import grasses

JOINT_OHM = 0.05  # a clamp on clean wire (0.01-1)
WAYS = ("near", "both", "none")
_CUT = "cut"


@dataclass(frozen=True)
class Cut:
    """A strand, numbered from the lowest live one, cut at a distance from the start of its run, m."""

    strand: int
    at_m: float


@dataclass(frozen=True)
class JoinedWay:
    """One way of joining: kV that a tester reads at the end that is farther from the feed, on each live strand.

    `whole_kv` (n,) with every strand whole, `cut_kv` (n,) with one cut; `way` near (at the end towards the feed), both
    (and wherever another line hangs on it), or none (the feed hangs on the top strand alone). What is not joined
    carries other lines on by its top strand.
    """

    way: str
    whole_kv: Real
    cut_kv: Real


@dataclass(frozen=True)
class StrandJoins:
    """A run's live strands, their heights, the end where they are read, and what each way of joining gives there."""

    run: str
    heights_cm: tuple[float, ...]
    end: Place
    cut: Cut
    ways: tuple[JoinedWay, ...]

    def way(self, name: str) -> JoinedWay:
        """The way of a name."""
        return next(way for way in self.ways if way.way == name)


def strand_joins(plan: Plan, run_id: str, cut: Cut | None, weather: Weather) -> StrandJoins:
    """Every way of joining the live strands of a run, in a season.

    No cut named: the lowest strand, half way. Raises Incomplete where the plan cannot be solved, or the run has fewer
    than two live strands, or is not fed.
    """
    whole = circuit(plan, weather)
    view = fence_at(plan, run_id).view
    heights = tuple(s.cm for s in fence_of(view) if s.role is Role.LIVE)
    pieces = sorted((p for p in whole.pieces if p.run == run_id), key=lambda p: p.from_m)
    if not pieces or pieces[0].a not in whole.wiring.reached:
        raise Incomplete(Stage.GROUND, "That line gets no pulse as it stands. Choose one that is fed.")
    if len(heights) < 2:
        raise Incomplete(Stage.STRANDS, "That line has one live strand: there is nothing to join.")
    if view.netting or len(heights) > len(STRANDS):
        raise Incomplete(Stage.STRANDS, "Netting is woven into one piece: its strands are joined as it is made.")
    cut = cut or Cut(0, (pieces[0].from_m + pieces[-1].to_m) / 2)
    if not 0 <= cut.strand < len(heights):
        raise Incomplete(Stage.STRANDS, f"That line has {len(heights)} live strands; give one of them.")
    near, far = _ends(whole, pieces)
    ways = []
    for way in WAYS:
        rows = [
            _read(plan, weather, whole, _Apart(plan, weather, pieces, near, far, way, broken), len(heights))
            for broken in (None, cut)
        ]
        ways.append(JoinedWay(way, *rows))
    end = Place(run_id, pieces[-1].to_m if far == pieces[-1].b else pieces[0].from_m)
    return StrandJoins(run_id, heights, end, cut, tuple(ways))


def _ends(whole: Circuit, pieces: list[Piece]) -> tuple[str, str]:
    """The end of a run that the pulse comes from, and the other: fewer pieces away from the feed."""
    first, last = pieces[0].a, pieces[-1].b
    beside: dict[str, list[str]] = {}
    for piece in whole.pieces:
        beside.setdefault(piece.a, []).append(piece.b)
        beside.setdefault(piece.b, []).append(piece.a)
    steps, todo = {whole.wiring.start: 0}, [whole.wiring.start]
    for node in todo:
        for other in beside.get(node, ()):
            if other not in steps:
                steps[other] = steps[node] + 1
                todo.append(other)
    return (first, last) if steps.get(first, 0) <= steps.get(last, 0) else (last, first)


@dataclass(frozen=True)
class _Apart:
    """The run with its strands apart: its spans and joints in place of those of the plan's network."""

    plan: Plan
    weather: Weather
    pieces: list[Piece]
    near: str
    far: str
    way: str
    cut: Cut | None

    def network(self, whole: Network) -> Network:
        """The plan's network with this run's strands apart."""
        own = {piece.span for piece in self.pieces}
        others = [span for span in whole.spans if span.id not in own]
        hung = {node for span in others for node in (span.a, span.b)}
        hung |= {shunt.node for shunt in whole.shunts if Terminal.LIVE in (shunt.start, shunt.end)}
        spans, links = [], list(whole.links)
        lines = {span.id: span.line for span in whole.spans}
        count = 0
        for piece in self.pieces:
            line = lines[piece.span]
            if not isinstance(line, WireLine):
                raise TypeError("a plan's lines are wires")
            strands = self._line(line, piece)
            count = sum(terminal in STRANDS for terminal in strands.terminals)
            for span, parting in self._spans(piece, strands):
                spans.append(span)
                links += parting
        for node in dict.fromkeys(n for p in self.pieces for n in (p.a, p.b)):
            joined = node in hung or node == self.near or (node == self.far and self.way == "both")
            every = self.way == "both" or (self.way == "near" and node == self.near)
            picked = range(count) if every else range(count - 1, count)
            links += [
                Link(f"join:{node}:{i}", Port(node, Terminal.LIVE), Port(node, STRANDS[i]), JOINT_OHM)
                for i in picked
                if joined
            ]
        return replace(whole, spans=(*others, *spans), links=tuple(links))

    def _line(self, line: WireLine, piece: Piece) -> StrandLine:
        """The piece's wires, each live one a terminal of its own, with its own leak."""
        run = next(run for run in self.plan.runs if run.id == piece.run)
        grass = grasses()[piece.grass] if piece.grass else grass_of(self.plan, run)
        growth = growth_scale(self.plan, self.weather)
        numbered, wires, leaks = iter(STRANDS), [], []
        for wire in line.wires:
            if wire.terminal is Terminal.LIVE:
                wires.append(replace(wire, terminal=next(numbered)))
                leaks.append(wire_leak_s_per_m(wire.height_m, grass, self.weather, growth))
            else:
                wires.append(wire)
        return StrandLine(
            tuple(wires), line.soil_ohm_m, self._leaks(line, wires, dict(zip(STRANDS, leaks, strict=False)))
        )

    def _leaks(self, line: WireLine, wires: list[Wire], own: dict[Terminal, float]) -> Matrix:
        """Leaks to soil by strand, and over insulators between strands that stand next to an earth strand."""
        order = list(dict.fromkeys(wire.terminal for wire in wires if wire.terminal))
        leak = np.diag([own.get(t, line.leak_earth_soil_s_per_m) for t in order])
        across = insulation()[self.weather.season.value].live_earth_s_per_m
        stacked = [wire.terminal for wire in wires if wire.terminal]
        for one, other in pairwise(stacked):
            if (one is Terminal.EARTH) != (other is Terminal.EARTH) and line.leak_live_earth_s_per_m:
                i, j = order.index(one), order.index(other)
                leak[i, i] += across
                leak[j, j] += across
                leak[i, j] -= across
                leak[j, i] -= across
        return tuple(map(tuple, leak.tolist()))

    def _spans(self, piece: Piece, line: StrandLine) -> Iterator[tuple[Span, list[Link]]]:
        """The piece as one span, or as two with every strand but the cut one carried over between them."""
        cut = self.cut
        if cut is None or not piece.from_m < cut.at_m < piece.to_m:
            yield Span(piece.span, piece.a, piece.b, line, piece.length_m), []
            return
        a, b = f"{_CUT}:a", f"{_CUT}:b"
        over = [
            Link(f"{_CUT}:{t}", Port(a, t), Port(b, t), JOINT_OHM / 100)
            for t in line.terminals
            if t is not STRANDS[cut.strand]
        ]
        yield Span(f"{piece.span}:a", piece.a, a, line, cut.at_m - piece.from_m), over
        yield Span(f"{piece.span}:b", b, piece.b, line, piece.to_m - cut.at_m), []


def _read(plan: Plan, weather: Weather, whole: Circuit, apart: _Apart, count: int) -> Real:
    """kV that a tester reads on each strand at the far end, (n,)."""
    solution = solve_pulse(apart.network(whole.network), laplace.FAST)
    found = Solved(plan, weather, whole, solution)
    spectra = np.stack([solution.spectrum(apart.far, STRANDS[i]) for i in range(count)])
    kv: Real = found.shown_kv(spectra)
    return kv
