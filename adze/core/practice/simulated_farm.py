"""A farm with hidden faults that answers as a real one would: for practice, for tests and for measuring the search.

It solves the fence with its faults on it and its own unit, rods and growth, walks the shortest way, reads with a
tester's errors, and comes upon faults as often as people do.
"""

import itertools
import math
import random
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from adze.core.basics.types import Complex
from adze.core.pulse import laplace
from adze.core.pulse.altered import leakier
from adze.core.pulse.network import Link, Network, Port, Shunt, Span, Terminal, terminals_of
from adze.core.pulse.solver import Solution, solve_pulse
from adze.core.pulse.tester import followed_v
from adze.core.trace.farm import TracedFarm
from adze.core.trace.grid import Spot
from adze.core.trace.pulse_base import PARTED_OHM
from adze.core.trace.ways import graph, shortest_m, steps_back

_STEP_M, _SEEN_M = 5.0, 15.0
_RESTORED, _LIVE_KV = 0.9, 0.5


@dataclass(frozen=True)
class HiddenFault:
    """A fault: LS, LE (leak to soil, to the earth strand), cut (ohms in series), grass (S/m more up to `until_m`)."""

    kind: str
    span: str
    at_m: float
    size: float
    until_m: float = 0.0

    @property
    def seen_at(self) -> Spot:
        """Where it is seen."""
        return Spot(self.span, (self.at_m + self.until_m) / 2 if self.kind == "grass" else self.at_m)


@dataclass(frozen=True)
class Truth:
    """What the forecast does not know: factors of the unit's kV, rods and growth, and growth by span."""

    unit: float = 1.0
    rods: float = 1.0
    grass: float = 1.0
    by_span: dict[str, float] = field(default_factory=dict)


@dataclass
class SimulatedFarm:
    """The farm as it is. `here` is where the person stands; `minutes` and `metres` so far; `left` the faults."""

    farm: TracedFarm
    left: list[HiddenFault]
    truth: Truth
    rng: random.Random
    here: Spot
    minutes: float = 0.0
    metres: float = 0.0
    opened: set[str] = field(default_factory=set)
    solved: Solution | None = None

    def __post_init__(self) -> None:
        """Lay out the ways."""
        self._ways = _Ways(self.farm)
        self._healthy = self._node_kv(self._solve([]))

    def answer(self, step: dict[str, Any]) -> dict[str, Any]:
        """Answer one step, `do` and what belongs to it. Raises KeyError, ValueError for what is not understood."""
        do = step["do"]
        found: dict[str, Any] = {}
        if do == "read":
            found = self._read(Spot(*step["at"]), step["leg"])
        elif do == "read_rods":
            found = self._go(self._start) or {"rods_kv": self._noisy_kv(self.true_rods_kv())}
            self.minutes += self.farm.minutes.rods
        elif do == "look":
            found = self._look(Spot(*step["at"]))
        elif do == "switch":
            found = self._switch(step["id"], opens=bool(step["open"]))
        elif do == "sweep":
            found = self._sweep(step["spans"])
        elif do != "stop":
            raise ValueError(f"do: {do!r} is no step")
        return found | {"minutes": round(self.minutes, 3), "metres": round(self.metres, 1)}

    def _switch(self, name: str, *, opens: bool) -> dict[str, Any]:
        switch = next((s for s in self.farm.switches if s.id == name), None)
        if switch is None:
            raise KeyError(f"id: {name!r} is no switch of this farm")
        seen = self._go(Spot(*switch.read_at))
        if seen:
            return seen
        self.minutes += self.farm.minutes.switch
        (self.opened.add if opens else self.opened.discard)(name)
        self.solved = None
        return {}

    @property
    def _start(self) -> Spot:
        return self._ways.spot_of(self.farm.start)

    def _go(self, to: Spot) -> dict[str, Any]:
        """Walk the shortest way; what is come upon ends it."""
        for spot, length_m in self._ways.way(self.here, to):
            self.metres += length_m
            self.minutes += length_m / self.farm.pace_m_per_min
            self.here = spot
            for fault in self.left:
                near = fault.span == spot.span and abs(fault.seen_at.at_m - spot.at_m) <= max(_STEP_M / 2, 1e-6) + 1e-9
                if near and length_m > 0 and self.rng.random() < self.farm.looking.passing_finds:
                    return self._mend(fault)
        self.here = to
        return {}

    def _mend(self, fault: HiddenFault) -> dict[str, Any]:
        self.left.remove(fault)
        self.solved = None
        self.here = fault.seen_at
        return {"seen": {"kind": fault.kind, "at": [fault.span, fault.seen_at.at_m]}}

    def _read(self, at: Spot, leg: str) -> dict[str, Any]:
        seen = self._go(at)
        if seen:
            return seen
        self.minutes += self.farm.minutes.reading
        kv, amps = self.true_reading(at, leg)
        meter = self.farm.meter
        noisy_a = amps * (1 + self.rng.gauss(0, meter.amps_share)) + self.rng.gauss(0, meter.amps_least)
        return {"kv": self._noisy_kv(kv), "amps": round(noisy_a, 2)}

    def _noisy_kv(self, kv: float) -> float:
        meter = self.farm.meter
        return round(max(0.0, kv * (1 + self.rng.gauss(0, meter.kv_share)) + self.rng.gauss(0, meter.kv_least)), 3)

    def _look(self, at: Spot) -> dict[str, Any]:
        seen = self._go(at)
        if seen:
            return seen
        self.minutes += self.farm.minutes.look
        for fault in list(self.left):
            if self._ways.apart_m(at, fault.seen_at) <= _SEEN_M and self.rng.random() < self.farm.looking.finds:
                return self._mend(fault)
        return {"seen": None}

    def away_m(self, span: str, length_m: float) -> float:
        """How far the nearer end of a span is, m."""
        return min(self._ways.apart_m(self.here, Spot(span, at)) for at in (0.0, length_m))

    def _sweep(self, spans: Sequence[str]) -> dict[str, Any]:
        ends = {span.id: span.length_m for span in self.farm.network.spans}
        for name in spans:
            near, far = Spot(name, 0.0), Spot(name, ends[name])
            if self._ways.apart_m(self.here, far) < self._ways.apart_m(self.here, near):
                near, far = far, near
            seen = self._go(near)
            if seen:
                return seen
            for fault in sorted(self.left, key=lambda f: abs(f.seen_at.at_m - near.at_m)):
                if fault.span == name and self.rng.random() < self.farm.looking.finds:
                    away = abs(fault.seen_at.at_m - near.at_m)
                    self.metres += away
                    self.minutes += away / self.farm.pace_m_per_min
                    return self._mend(fault)
            self.metres += ends[name]
            self.minutes += ends[name] / self.farm.pace_m_per_min
            self.here = far
        return {"seen": None}

    def true_reading(self, at: Spot, leg: str) -> tuple[float, float]:
        """kV of the live strands to soil and A in a leg from its span's a on, as the tester follows, without errors."""
        if self.solved is None:
            self.solved = self._solve(self.left)
        span, at_m = _piece_of(self.solved, leg, at, self.farm.network)
        if span is None:
            return 0.0, 0.0
        _, volts, amps = self.solved.along(span, np.array([at_m]))
        return self._shown_kv(volts[0, 0]), float(self.solved.peak(amps[0, 0]))

    def true_rods_kv(self) -> float:
        """kV of the rods to soil, without the tester's errors."""
        if self.solved is None:
            self.solved = self._solve(self.left)
        return self._shown_kv(self.solved.between(self.farm.network.source.node, Terminal.EARTH, Terminal.SOIL))

    def _shown_kv(self, volts: Complex) -> float:
        """What the tester makes of volts (K+1,): its time constant and its adjustment (S13)."""
        assert self.solved is not None
        followed = followed_v(volts, self.solved.window, self.farm.response_s)
        return abs(float(self.solved.peak(followed))) * self.farm.kv_scale / 1000

    def _node_kv(self, solution: Solution) -> dict[str, float]:
        names = {node for span in self.farm.network.spans for node in (span.a, span.b)}
        return {name: abs(solution.node_peak_v(name, Terminal.LIVE)) / 1000 for name in names}

    @property
    def is_restored(self) -> bool:
        """Whether every node that lives when well is back at nine tenths."""
        now = self._node_kv(self._solve(self.left))
        return all(now[name] >= _RESTORED * kv for name, kv in self._healthy.items() if kv > _LIVE_KV)

    def _solve(self, faults: Sequence[HiddenFault]) -> Solution:
        parted = [
            HiddenFault("cut", span, at_m, PARTED_OHM)
            for switch in self.farm.switches
            if switch.id in self.opened
            for span, at_m in switch.parts
        ]
        return solve_pulse(with_faults(with_truth(self.farm.network, self.truth), [*faults, *parted]), laplace.FAST)


def with_truth(network: Network, truth: Truth) -> Network:
    """A network with the unit, the rods and the growth that it really has."""
    spans = tuple(
        replace(span, line=leakier(span.line, truth.grass * truth.by_span.get(span.id, 1.0))) for span in network.spans
    )
    node = network.source.node
    shunts = tuple(
        replace(s, ohm=s.ohm * truth.rods) if s.node == node and s.start is Terminal.EARTH else s
        for s in network.shunts
    )
    source = replace(network.source, v0_v=network.source.v0_v * truth.unit)
    return replace(network, spans=spans, shunts=shunts, source=source)


def with_faults(network: Network, faults: Sequence[HiddenFault]) -> Network:
    """A network with faults put on it: spans are cut where they lie."""
    spans: list[Span] = []
    shunts, links = list(network.shunts), list(network.links)
    for span in network.spans:
        own = [fault for fault in faults if fault.span == span.id]
        marks = sorted({x for f in own for x in ((f.at_m, f.until_m) if f.kind == "grass" else (f.at_m,))})
        marks = [min(max(x, 0.05), span.length_m - 0.05) for x in marks]
        bounds = [0.0, *marks, span.length_m]
        here = span.a
        for i, (low, high) in enumerate(itertools.pairwise(bounds)):
            if high - low < 1e-6:
                continue
            last = i + 2 == len(bounds)
            end = span.b if last else f"{span.id}|{i}"
            more = sum(f.size for f in own if f.kind == "grass" and f.at_m - 1e-6 <= low and high <= f.until_m + 0.06)
            line = leakier(span.line, 1.0, more) if more else span.line
            spans.append(Span(f"{span.id}|{low:.6f}", here, end, line, high - low))
            here = end
            for number, fault in enumerate(own):
                at = min(max(fault.at_m, 0.05), span.length_m - 0.05)
                if last or fault.kind == "grass" or abs(at - high) > 1e-6:
                    continue
                name = f"{span.id}|fault{number}"
                if fault.kind == "cut":
                    links.append(Link(name, Port(here, Terminal.LIVE), Port(f"{here}'", Terminal.LIVE), fault.size))
                    if Terminal.EARTH in terminals_of(span.line):
                        earth = Port(here, Terminal.EARTH), Port(f"{here}'", Terminal.EARTH)
                        links.append(Link(f"{name}e", *earth, 0.001))
                    here = f"{here}'"
                else:
                    to = Terminal.SOIL if fault.kind == "LS" else Terminal.EARTH
                    shunts.append(Shunt(name, here, Terminal.LIVE, to, fault.size))
    return replace(network, spans=tuple(spans), shunts=tuple(shunts), links=tuple(links))


def _piece_of(solved: Solution, leg: str, at: Spot, network: Network) -> tuple[str | None, float]:
    """The piece of a leg at a spot, and how far into it the spot lies."""
    own = next(span for span in network.spans if span.id == leg)
    at_m = at.at_m
    if at.span != leg:
        other = next(span for span in network.spans if span.id == at.span)
        node = other.a if at.at_m < other.length_m / 2 else other.b
        at_m = 0.0 if node == own.a else own.length_m
    pieces = sorted((float(name.split("|")[1]), name) for name in solved.spans if name.split("|")[0] == leg)
    for low, name in reversed(pieces):
        if at_m >= low - 1e-9 and (at_m > low + 1e-9 or low == 0.0):
            return name, min(max(at_m - low, 0.0), solved.spans[name].length_m)
    return pieces[0][1], 0.0


class _Ways:
    """The ways on a farm in steps of a few metres."""

    def __init__(self, farm: TracedFarm) -> None:
        self._spans = {span.id: span for span in farm.network.spans}
        number: dict[Any, int] = {}
        edges: list[tuple[int, int, float]] = []
        self.spots: list[Spot | None] = []

        def known(name: Any, spot: Spot | None = None) -> int:
            if name not in number:
                number[name] = len(number)
                self.spots.append(spot)
            if spot is not None and self.spots[number[name]] is None:
                self.spots[number[name]] = spot
            return number[name]

        for span in farm.network.spans:
            count = max(1, math.ceil(span.length_m / _STEP_M))
            step = span.length_m / count
            names = [span.a, *((span.id, i) for i in range(1, count)), span.b]
            for i in range(count):
                one = known(names[i], Spot(span.id, i * step))
                edges.append((one, known(names[i + 1], Spot(span.id, (i + 1) * step)), step))
        for link in farm.network.links:
            edges.append((known(link.a.node), known(link.b.node), 0.0))
        for track in farm.tracks:
            edges.append((known(track.a), known(track.b), track.length_m))
        self._number = number
        self._graph = graph(edges, len(number))

    def spot_of(self, node: str) -> Spot:
        """A node as a spot of the fence: the nearest one where no span meets it."""
        at = self.spots[self._number[node]]
        if at is not None:
            return at
        from_m = shortest_m(self._graph, self._number[node])
        best = min((k for k, spot in enumerate(self.spots) if spot is not None), key=lambda k: float(from_m[k]))
        found = self.spots[best]
        assert found is not None
        return found

    def _nearest(self, spot: Spot) -> int:
        span = self._spans[spot.span]
        count = max(1, math.ceil(span.length_m / _STEP_M))
        i = round(spot.at_m / span.length_m * count)
        return self._number[span.a if i <= 0 else span.b if i >= count else (span.id, i)]

    def way(self, start: Spot, end: Spot) -> list[tuple[Spot, float]]:
        """The spots on the shortest way, each with the metres to it."""
        begin, goal = self._nearest(start), self._nearest(end)
        far, before = shortest_m(self._graph, begin), steps_back(self._graph, begin)
        found, here = [], goal
        while here != begin:
            spot = self.spots[here]
            there = int(before[here])
            if there < 0:
                raise ValueError("walk: no way leads there")
            found.append((spot if spot is not None else end, float(far[here] - far[there])))
            here = there
        return found[::-1]

    def apart_m(self, one: Spot, other: Spot) -> float:
        """The shortest way between two spots, m."""
        if one.span == other.span:
            return abs(one.at_m - other.at_m)
        return float(shortest_m(self._graph, self._nearest(one))[self._nearest(other)])


def simulated_farm(farm: TracedFarm, faults: Sequence[HiddenFault], truth: Truth, seed: int) -> SimulatedFarm:
    """A farm with hidden faults; the person stands at its start."""
    start = _Ways(farm).spot_of(farm.start)
    return SimulatedFarm(farm, list(faults), truth, random.Random(seed), start)


def walk_all(there: SimulatedFarm) -> SimulatedFarm:
    """Walk all of the fence and look, the nearest line next, until it is restored or all was walked twice."""
    lengths = {span.id: span.length_m for span in there.farm.network.spans if not span.is_open}
    for _ in range(2):
        left = list(lengths)
        while left and not there.is_restored:
            nearest = min(left, key=lambda name: there.away_m(name, lengths[name]))
            if there.answer({"do": "sweep", "spans": [nearest]})["seen"] is None:
                left.remove(nearest)
    return there
