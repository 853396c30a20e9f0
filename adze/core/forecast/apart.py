"""Strands that are conductors of their own: which they are on a line, where they are joined, and where parted.

The network takes what stays of the live strands as its live group, and every other group as a terminal of its own,
named by its lowest strand: where two lines meet, like strands go on into each other.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from itertools import pairwise

import numpy as np

from adze.core.animals.strand_rules import Strand
from adze.core.build.construction import fence_of, live_numbers, parted_by_switches
from adze.core.ground.lines import length_m
from adze.core.ground.wiring import MERGE_M, Piece, Wiring, parts_strands
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Run, StrandLink, StrandNumbers, Switch
from adze.core.plan.season import Weather, grass_of, growth_scale, wire_leak_s_per_m
from adze.core.plan.stages import Incomplete
from adze.core.pulse.network import STRANDS, Link, Matrix, Port, Span, StrandLine, Terminal, Wire, WireLine
from adze.core.tables.construction import insulation
from adze.core.tables.ground import grasses, mishap_kinds

JOINT_OHM = 0.05  # a clamp on clean wire (0.01-1)
_WHOLE_OHM = JOINT_OHM / 100  # a strand that goes on


@dataclass(frozen=True)
class Group:
    """Live strands of a line that are joined to each other all along; numbers count all strands from the ground."""

    terminal: Terminal
    numbers: tuple[int, ...]


@dataclass(frozen=True)
class Apart:
    """The spans and joints of a plan with the strands that are apart, and the groups of every line that has some."""

    spans: tuple[Span, ...]
    links: tuple[Link, ...] = ()
    groups: dict[str, tuple[Group, ...]] = field(default_factory=dict)

    def node(self, span_id: str, side: str) -> str:
        """The node at the end a or b of a span."""
        span = next(span for span in self.spans if span.id == span_id)
        return span.a if side == "a" else span.b

    def terminal(self, run: str, strand: int | None) -> Terminal:
        """The terminal of a strand of a line; the live group's where it is not apart."""
        return terminal_of(self.groups.get(run, ()), strand)


def strand_words(numbers: tuple[int, ...]) -> str:
    """Strands by their numbers from the ground: strand 1; strands 1 and 2; strands 1, 2 and 3."""
    first, last = ", ".join(map(str, numbers[:-1])), str(numbers[-1])
    return f"strands {first} and {last}" if first else f"strand {last}"


def terminal_of(groups: tuple[Group, ...], strand: int | None) -> Terminal:
    """The terminal of the group that a strand is of; the live one for a strand of none."""
    return next((group.terminal for group in groups if strand in group.numbers), Terminal.LIVE)


def groups_of(plan: Plan, run: Run) -> tuple[Group, ...]:
    """The groups of a line's live strands, the live group first; none where they are one conductor.

    Raises Incomplete where a switch names every live strand.
    """
    numbers = live_numbers(views_by_run(plan)[run.id])
    if len(numbers) < 2:
        return ()
    rows: list[tuple[int, ...]]
    if run.joined != "along":
        rows = [(numbers[-1],), *((n,) for n in numbers[:-1])]
    else:
        rows = list(parted_by_switches(plan, run))
        if len(rows) < 2:
            return ()
    return tuple(Group(STRANDS[own[0] - 1] if i else Terminal.LIVE, own) for i, own in enumerate(rows))


def are_apart(plan: Plan, run: Run) -> bool:
    """Whether strands of a line are apart from each other; False where a switch names what it cannot part."""
    try:
        return bool(groups_of(plan, run))
    except Incomplete:
        return False


def strands_apart(plan: Plan, found: Wiring, weather: Weather, spans: tuple[Span, ...]) -> Apart:
    """A plan's spans with the strands that are apart as conductors of their own. Raises Incomplete."""
    if not parts_strands(plan):
        return Apart(spans)
    groups = {run.id: rows for run in plan.runs if (rows := groups_of(plan, run))}
    if not groups:
        return Apart(spans)
    build = _Build(plan, found, groups, _steps(found), _with_lines(plan, found, weather, spans, groups))
    build.part()
    build.join()
    return Apart(tuple(build.spans.values()), tuple(build.links.values()), groups)


def _with_lines(
    plan: Plan, found: Wiring, weather: Weather, spans: tuple[Span, ...], groups: dict[str, tuple[Group, ...]]
) -> dict[str, Span]:
    """Every span by its id, those of lines with groups with lines of as many conductors."""
    made: dict[tuple[int, str, str | None], StrandLine] = {}
    runs, views, rows = {run.id: run for run in plan.runs}, views_by_run(plan), {}
    growth = growth_scale(plan, weather)
    for piece, span in zip(found.pieces, spans, strict=True):
        rows[span.id] = span
        if piece.run not in groups or not isinstance(span.line, WireLine):
            continue
        key = id(span.line), piece.run, piece.grass
        if key not in made:
            grass = grasses()[piece.grass] if piece.grass else grass_of(plan, runs[piece.run])
            strands = fence_of(views[piece.run])
            leaks = [wire_leak_s_per_m(s.cm / 100, grass, weather, growth) for s in strands]
            across = insulation()[weather.season.value].live_earth_s_per_m
            made[key] = _line(span.line, strands, leaks, across, groups[piece.run])
        rows[span.id] = replace(span, line=made[key])
    return rows


def _line(
    line: WireLine, strands: tuple[Strand, ...], leaks: list[float], across: float, groups: tuple[Group, ...]
) -> StrandLine:
    """A line's wires with each group a terminal of its own, the live group first, then the earth strands."""
    of = {n: group.terminal for group in groups for n in group.numbers}
    wires = [
        replace(wire, terminal=of[n]) if n in of else wire
        for n, wire in enumerate(line.wires, 1)  # the apron, if any, comes last
    ]
    order = [g.terminal for g in groups]
    if any(wire.terminal is Terminal.EARTH for wire in wires):
        order.insert(1, Terminal.EARTH)
    ranked = sorted(wires, key=lambda wire: order.index(wire.terminal) if wire.terminal else len(order))
    return StrandLine(tuple(ranked), line.soil_ohm_m, _leaks(line, wires[: len(strands)], leaks, across, order))


def _leaks(line: WireLine, wires: list[Wire], leaks: list[float], across: float, order: list[Terminal]) -> Matrix:
    """Leaks to soil by group, and over insulators between strands that stand next to an earth strand, S/m."""
    own = dict.fromkeys(order, 0.0)
    for wire, leak in zip(wires, leaks, strict=True):
        if wire.terminal and wire.terminal is not Terminal.EARTH:
            own[wire.terminal] += leak
    own[Terminal.EARTH] = line.leak_earth_soil_s_per_m
    matrix = np.diag([own[t] for t in order])
    for one, other in pairwise(wire.terminal for wire in wires):
        if one and other and (one is Terminal.EARTH) != (other is Terminal.EARTH):
            i, j = order.index(one), order.index(other)
            matrix[[i, j], [i, j]] += across
            matrix[[i, j], [j, i]] -= across
    return tuple(map(tuple, matrix.tolist()))


def _steps(found: Wiring) -> dict[str, int]:
    """How many pieces every node that is fed lies away from the feed."""
    beside: dict[str, list[str]] = {}
    for piece in found.pieces:
        beside.setdefault(piece.a, []).append(piece.b)
        beside.setdefault(piece.b, []).append(piece.a)
    steps, todo = {found.start: 0}, [found.start]
    for node in todo:
        for other in beside.get(node, ()):
            if other not in steps:
                steps[other] = steps[node] + 1
                todo.append(other)
    return steps


def ends_of(found: Wiring, run: str) -> tuple[str, str]:
    """The end of a line that the pulse comes in by, and the other: fewer pieces away from the feed."""
    pieces, steps = [piece for piece in found.pieces if piece.run == run], _steps(found)
    return _by_steps(pieces[0].a, pieces[-1].b, steps)


def _by_steps(first: str, last: str, steps: dict[str, int]) -> tuple[str, str]:
    far = len(steps)
    return (first, last) if steps.get(first, far) <= steps.get(last, far) else (last, first)


@dataclass
class _Build:
    """The spans by id, parted at switches and cuts of some strands, and the joints between groups."""

    plan: Plan
    found: Wiring
    groups: dict[str, tuple[Group, ...]]
    steps: dict[str, int]
    spans: dict[str, Span]
    links: dict[str, Link] = field(default_factory=dict)

    def part(self) -> None:
        """Part the groups at open switches that name them, and where one strand is cut."""
        ends: dict[tuple[str, str], set[Terminal]] = {}
        for run in self.plan.runs:
            for at_m, terminals in self._partings(run):
                for end in self._beyond(run, at_m):
                    ends.setdefault(end, set()).update(terminals)
        for (span_id, side), parted in ends.items():
            self._part_end(self.spans[span_id], side, parted)

    def _partings(self, run: Run) -> Iterator[tuple[float, list[Terminal]]]:
        groups = self.groups.get(run.id, ())
        for fixture in self.plan.fixtures if groups else ():
            if fixture.run == run.id and isinstance(fixture, Switch) and fixture.is_open and fixture.strands:
                yield fixture.at_m, [g.terminal for g in groups if set(g.numbers) <= set(fixture.strands)]
        for trial in self.plan.what_ifs if groups else ():
            if trial.run == run.id and mishap_kinds()[trial.kind].effect == "cut" and trial.strand is not None:
                # One of several strands that are joined all along: the others carry on.
                yield trial.at_m, [g.terminal for g in groups if g.numbers == (trial.strand,)]

    def _pieces(self, run: Run) -> list[Piece]:
        return [piece for piece in self.found.pieces if piece.run == run.id]

    def _beyond(self, run: Run, at_m: float) -> Iterator[tuple[str, str]]:
        """The span and its end beyond a place, seen from the feed; both ends of a ring that is parted at its ends."""
        pieces, at = self._pieces(run), min(at_m, length_m(run))
        after = next((p for p in pieces if abs(p.from_m - at) < MERGE_M), None)
        before = next((p for p in pieces if abs(p.to_m - at) < MERGE_M), None)
        near, far = _by_steps(pieces[0].a, pieces[-1].b, self.steps)
        if near == far and (after is None or before is None):
            yield pieces[0].span, "a"
            yield pieces[-1].span, "b"
        elif after and (near == pieces[0].a or before is None):
            yield after.span, "a"
        elif before:
            yield before.span, "b"

    def _part_end(self, span: Span, side: str, terminals: set[Terminal]) -> None:
        node = getattr(span, side)
        beyond = f"{node}|{span.id}{side}"
        line = span.line
        if not isinstance(line, StrandLine):
            raise TypeError("a line with groups is a line of strands")
        self.spans[span.id] = replace(span, a=beyond) if side == "a" else replace(span, b=beyond)
        for terminal in line.terminals:
            if terminal not in terminals:
                self._link(f"on:{beyond}:{terminal}", Port(node, terminal), Port(beyond, terminal), _WHOLE_OHM)

    def _link(self, name: str, a: Port, b: Port, ohm: float) -> None:
        self.links[name] = Link(name, a, b, ohm)

    def join(self) -> None:
        """Join groups to the live one: by how a line is joined, and at strand links."""
        ports = {
            Port(node, terminal)
            for span in self.spans.values()
            if isinstance(span.line, StrandLine)
            for node in (span.a, span.b)
            for terminal in span.line.terminals
        }
        ports |= {port for link in self.links.values() for port in (link.a, link.b)}
        for run in self.plan.runs:
            for node, numbers in self._joints(run) if run.id in self.groups else ():
                for group in self.groups[run.id][1:]:
                    port = Port(node, group.terminal)
                    if port in ports and (not numbers or set(numbers) & set(group.numbers)):
                        self._link(f"join:{node}:{group.terminal}", Port(node, Terminal.LIVE), port, JOINT_OHM)

    def _joints(self, run: Run) -> Iterator[tuple[str, StrandNumbers]]:
        """The nodes at which strands of a line are joined, and which; none named: all."""
        pieces = self._pieces(run)
        near, far = _by_steps(pieces[0].a, pieces[-1].b, self.steps)
        others = {node for p in self.found.pieces if p.run != run.id for node in (p.a, p.b)}
        if run.joined in ("near", "both"):
            yield near, ()
        elif run.joined == "along":
            come_on = self._come_on(run, near)
            for group in self.groups[run.id][1:]:
                if group.terminal not in come_on:
                    yield near, group.numbers
        if run.joined == "both":
            yield far, ()
            yield from ((node, ()) for node in dict.fromkeys(n for p in pieces for n in (p.a, p.b)) if node in others)
        for fixture in self.plan.fixtures:
            if isinstance(fixture, StrandLink) and fixture.run == run.id and fixture.id in self.found.fixed:
                yield self.found.fixed[fixture.id], fixture.strands

    def _come_on(self, run: Run, node: str) -> frozenset[Terminal]:
        """The groups that come to a node along another line, nearer to the feed."""
        return frozenset(
            self._terminals(p.run for p in self.found.pieces if p.run != run.id and self._ends_in(p, node))
        )

    def _ends_in(self, piece: Piece, node: str) -> bool:
        """Whether a piece leads away from the feed into a node."""
        if node not in (piece.a, piece.b):
            return False
        other, far = (piece.b if node == piece.a else piece.a), len(self.steps)
        return self.steps.get(other, far) < self.steps.get(node, far)

    def _terminals(self, runs: Iterable[str]) -> Iterator[Terminal]:
        for run in runs:
            yield from (group.terminal for group in self.groups.get(run, ())[1:])
