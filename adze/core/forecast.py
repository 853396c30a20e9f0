"""kV along the whole fence, season by season, and what stands at any one place."""

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from adze.core import laplace
from adze.core.circuit import ENERGIZER, Circuit, circuit
from adze.core.ground import Place, length_m
from adze.core.laplace import Complex, Real
from adze.core.network import Line, Port, Span, Terminal, WireLine
from adze.core.plan import Plan
from adze.core.pulse import Solution, line_leaks_s_per_m, solve_pulse
from adze.core.season import Weather

_SAMPLES, _MOST_SAMPLES = 60, 300
_FINEST_M, _COARSEST_M = 4.0, 60.0
_AT_ONCE = 256
_SAME_SPOT_M = 0.06


@dataclass(frozen=True)
class Trace:
    """One run in one season at `at_m` (P,): kV live to soil, earth strand to soil, live to earth strand; amps.

    `leak_a` is the leak's share of the current with its sign (above 0: outward along the run, eq. 20).
    `fed` is False where the line is switched off or hangs on nothing.
    """

    run: str
    at_m: Real
    live_kv: Real
    earth_kv: Real
    between_kv: Real
    leak_a: Real
    fed: NDArray[np.bool_]


@dataclass(frozen=True)
class Volts:
    """A season's forecast: a trace for each run, the energizer's own kV, and the rods."""

    weather: Weather
    traces: tuple[Trace, ...]
    start_kv: float
    rods_ohm: float
    has_earth_strands: bool

    def kv(self, trace: Trace) -> Real:
        """What counts for the fence: against the earth strand where there is one, else against soil."""
        return trace.between_kv if self.has_earth_strands else trace.live_kv

    @cached_property
    def worst(self) -> tuple[Place, float]:
        """The place of least kV and its kV, of all that is fed."""
        best = (Place("", 0.0), float("inf"))
        for trace in self.traces:
            kv = np.where(trace.fed, self.kv(trace), np.inf)
            i = int(np.argmin(kv))
            if kv[i] < best[1]:
                best = Place(trace.run, float(trace.at_m[i])), float(kv[i])
        return best


def _sample_step_m(plan: Plan) -> float:
    total = sum(length_m(run) for run in plan.runs)
    return max(min(_COARSEST_M, max(_FINEST_M, total / _SAMPLES)), total / _MOST_SAMPLES)


@dataclass(frozen=True)
class Solved:
    """A plan solved in a season: its circuit and the pulse on it."""

    plan: Plan
    weather: Weather
    circuit: Circuit
    solution: Solution


def solved(plan: Plan, weather: Weather, places: tuple[Place, ...] = ()) -> Solved:
    """Solve a plan in a season with nodes at `places`. Raises Incomplete."""
    found = circuit(plan, weather, places)
    return Solved(plan, weather, found, solve_pulse(found.network, laplace.FAST))


def volts(plan: Plan, weather: Weather) -> Volts:
    """Solve a plan in a season and sample it along every run. Raises Incomplete."""
    return volts_of(solved(plan, weather))


def _samples(found: Solved) -> dict[Line, tuple[list[str], Real]]:
    """Where each line is sampled: the span and the distance in it, by kind of line."""
    step = _sample_step_m(found.plan)
    lines = {span.id: span.line for span in found.circuit.network.spans}
    rows: dict[Line, tuple[list[str], list[Real]]] = {}
    for piece in found.circuit.pieces:
        at = np.linspace(0, piece.length_m, max(2, round(piece.length_m / step) + 1))
        spans, places = rows.setdefault(lines[piece.span], ([], []))
        spans += [piece.span] * len(at)
        places.append(at)
    return {line: (spans, np.concatenate(places)) for line, (spans, places) in rows.items()}


def volts_of(found: Solved) -> Volts:
    """A solved season sampled along every run."""
    plan, solution = found.plan, found.solution
    ends = _node_peaks_kv(found)
    spans_of = {span.id: span for span in found.circuit.network.spans}
    by_span: dict[str, Real] = {}
    leak_total_a = 0.0
    has_earth = False
    for line, (spans, at) in _samples(found).items():
        rows = _sampled(solution, spans, at, ends, spans_of)
        has_earth = has_earth or Terminal.EARTH in _terminals_of(line)
        to_soil, to_earth = line_leaks_s_per_m(line)
        inside = np.diff(at) > 0  # a new span begins where the distance falls back to 0
        leak = to_soil * rows[1] + to_earth * rows[3]
        leak_total_a += 1000 * float(((leak[1:] + leak[:-1]) / 2 * np.diff(at))[inside].sum())
        stops = [0, *(np.flatnonzero(~inside) + 1).tolist(), len(at)]
        for low, high in pairwise(stops):
            by_span[spans[low]] = rows[:, low:high]
    # Charging current carries no net charge: the leak's peak divides as the charge does (eq. 20).
    leak_per_c = leak_total_a / (solution.charge_total_c or 1.0)
    traces = []
    by_run: dict[str, list[Real]] = {run.id: [] for run in plan.runs}
    reached = found.circuit.wiring.reached
    for piece in found.circuit.pieces:
        rows = by_span[piece.span]
        fed = np.full(rows.shape[1], piece.a in reached)
        by_run[piece.run].append(np.vstack([rows[0] + piece.from_m, rows[1:], fed]))
    for run, parts in by_run.items():
        at_m, live, earth, between, charge, fed = np.concatenate(parts, axis=1)
        traces.append(Trace(run, at_m, live, earth, between, charge * leak_per_c, fed > 0))
    start = abs(solution.node_peak_v(ENERGIZER, Terminal.LIVE, Terminal.EARTH)) / 1000
    return Volts(found.weather, tuple(traces), start, found.circuit.rods_ohm, has_earth)


def _terminals_of(line: Line) -> set[Terminal | None]:
    return {w.terminal for w in line.wires} if isinstance(line, WireLine) else {Terminal.LIVE}


def _node_peaks_kv(found: Solved) -> dict[str, tuple[float, float, float]]:
    """Live, earth and between at every node: each is the end of several spans, and is found once."""
    solution = found.solution
    nodes = list(dict.fromkeys(node for p in found.circuit.pieces for node in (p.a, p.b)))
    live = solution.volts[[solution.ports[Port(node, Terminal.LIVE)] for node in nodes]]
    live_kv = np.abs(solution.peak(live)) / 1000
    earth_kv, between_kv = np.zeros_like(live_kv), live_kv.copy()
    rows = [i for i, node in enumerate(nodes) if Port(node, Terminal.EARTH) in solution.ports]
    if rows:
        earth = solution.volts[[solution.ports[Port(nodes[i], Terminal.EARTH)] for i in rows]]
        earth_kv[rows] = np.abs(solution.peak(earth)) / 1000
        between_kv[rows] = np.abs(solution.peak(live[rows] - earth)) / 1000
    return dict(zip(nodes, zip(live_kv.tolist(), earth_kv.tolist(), between_kv.tolist(), strict=True), strict=True))


def _sampled(
    solution: Solution,
    spans: list[str],
    at: Real,
    ends: dict[str, tuple[float, float, float]],
    spans_of: dict[str, Span],
) -> Real:
    """Rows at_m, live, earth and between in kV, net charge in C at places of one line: (5, P)."""
    rows = np.zeros((5, len(at)))
    rows[0] = at
    _, _, amps = solution.along_spans(spans, at, charge=True)
    rows[4] = amps[:, 0, -1].real
    inner = []
    for i, span_id in enumerate(spans):
        span = spans_of[span_id]
        if at[i] == 0.0:
            rows[1:4, i] = ends[span.a]
        elif at[i] >= span.length_m:
            rows[1:4, i] = ends[span.b]
        else:
            inner.append(i)
    for low in range(0, len(inner), _AT_ONCE):
        here = inner[low : low + _AT_ONCE]
        terminals, v, _ = solution.along_spans([spans[i] for i in here], at[here])
        live = np.abs(solution.peak(v[:, 0])) / 1000
        rows[1, here] = rows[3, here] = live
        if Terminal.EARTH in terminals:
            rows[2, here] = np.abs(solution.peak(v[:, 1])) / 1000
            rows[3, here] = np.abs(solution.peak(v[:, 0] - v[:, 1])) / 1000
    return rows


@dataclass(frozen=True)
class Stand:
    """A place ready for questions: its kV, the amps a tester shows, and the ohms an added load meets there."""

    live_kv: float
    earth_kv: float
    between_kv: float
    pulse_a: float
    solution: Solution
    node: str

    @cached_property
    def _impedance(self) -> tuple[tuple[Port, ...], Complex]:
        return self.solution.impedance_at(self.node)

    @property
    def sample_s(self) -> float:
        """Time between samples of a wave, s."""
        return float(laplace.times_s(self.solution.window)[1])

    def loaded_wave_v(self, ohm: float, *, to_earth_strand: bool) -> Real:
        """Volts in time across a load put between the live strand and soil or the earth strand here (eq. 10)."""
        here, impedance = self._impedance
        live = here.index(Port(self.node, Terminal.LIVE))
        open_v = self.solution.spectrum(self.node, Terminal.LIVE)
        own = impedance[live, live]
        if to_earth_strand and len(here) == 2:
            other = 1 - live
            open_v = open_v - self.solution.spectrum(self.node, Terminal.EARTH)
            own = own + impedance[other, other] - 2 * impedance[live, other]
        return laplace.waveforms((open_v * ohm / (own + ohm))[:-1], self.solution.window)


def stand_at(plan: Plan, weather: Weather, place: Place) -> Stand:
    """Solve with a node at a place. Raises Incomplete."""
    return stand_of(solved(plan, weather, (place,)), place)


def has_node(found: Solved, place: Place) -> bool:
    """Whether a solved season has a node at a place, so that one can stand there without solving again."""
    return any(p.run == place.run and abs(p.at_m - place.at_m) <= _SAME_SPOT_M for p in found.circuit.wiring.nodes)


def stand_of(found: Solved, place: Place) -> Stand:
    """Stand at a place that has a node."""
    solution, node = found.solution, found.circuit.node_at(place)
    live = abs(solution.node_peak_v(node, Terminal.LIVE)) / 1000
    earth = abs(solution.node_peak_v(node, Terminal.EARTH)) / 1000
    between = abs(solution.node_peak_v(node, Terminal.LIVE, Terminal.EARTH)) / 1000
    if Port(node, Terminal.EARTH) not in solution.ports:
        between = live
    return Stand(live, earth, between, _pulse_a(found, place.run, node), solution, node)


def _pulse_a(found: Solved, run: str, node: str) -> float:
    """The peak current in a run at one of its nodes: the larger of its two sides, A."""
    sides = [
        (piece.span, 0.0 if piece.a == node else piece.length_m)
        for piece in found.circuit.pieces
        if piece.run == run and node in (piece.a, piece.b)
    ]
    amps = [found.solution.peak(found.solution.along(span, np.array([at]))[2][0, 0]) for span, at in sides]
    return max((abs(float(a)) for a in amps), default=0.0)
