"""kV along the whole fence, season by season, and what stands at any one place."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from adze.core.basics.cache import cached
from adze.core.basics.types import Complex, Real
from adze.core.energizer.tester import adjustment
from adze.core.forecast.apart import Group
from adze.core.forecast.circuit import ENERGIZER, Circuit, circuit
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Weather
from adze.core.pulse import laplace
from adze.core.pulse.network import Line, Port, StrandLine, Terminal, terminals_of
from adze.core.pulse.port_equivalent import PortEquivalent, equivalent_inside
from adze.core.pulse.solver import Solution, line_leaks_s_per_m, solve_pulse
from adze.core.pulse.tester import followed_v

_SAMPLES, _MOST_SAMPLES = 60, 300
_KEPT = 8  # three seasons and the two ends of a band, and some of the plan before
_FINEST_M, _COARSEST_M = 4.0, 60.0
_AT_ONCE = 256


@dataclass(frozen=True)
class ApartKv:
    """Strands of a run that are apart from its others: their numbers from the ground, kV as it counts, whether fed.

    `kv` and `live_kv` (to soil) are (P,) at the trace's places, `fed` (P,).
    """

    group: Group
    kv: Real
    live_kv: Real
    fed: NDArray[np.bool_]


@dataclass(frozen=True)
class Least:
    """A place of least kV, its kV, and the strands that it is read on where they are apart from the others."""

    place: Place
    kv: float
    strands: tuple[int, ...] = ()


@dataclass(frozen=True)
class Trace:
    """One run in one season at `at_m` (P,): kV live to soil, earth strand to soil, live to earth strand; amps.

    `leak_a` is the leak's share of the live strands' current with its sign (above 0: outward along the run,
    eq. 20), `return_a` that of the earth strands.
    `fed` is False where the line is switched off or hangs on nothing. `apart`: the strands that are conductors of
    their own; all else is of the live strands that are left.
    """

    run: str
    at_m: Real
    live_kv: Real
    earth_kv: Real
    between_kv: Real
    leak_a: Real
    return_a: Real
    fed: NDArray[np.bool_]
    has_earth: bool
    apart: tuple[ApartKv, ...] = ()

    @property
    def kv(self) -> Real:
        """kV against the earth strand, or against soil where the line has none."""
        counts: Real = self.between_kv if self.has_earth else self.live_kv
        return counts

    @property
    def groups(self) -> Iterator[tuple[tuple[int, ...], Real, NDArray[np.bool_]]]:
        """The live strands, and every group apart from them by its numbers: kV as it counts, and whether fed."""
        yield (), self.kv, self.fed
        yield from ((own.group.numbers, own.kv, own.fed) for own in self.apart)


@dataclass(frozen=True)
class Volts:
    """A season's forecast: a trace for each run, the energizer's own kV, and the rods."""

    weather: Weather
    traces: tuple[Trace, ...]
    start_kv: float
    rods_ohm: float

    @cached_property
    def worst(self) -> tuple[Place, float]:
        """The place of least kV and its kV, of all that is fed."""
        return self.worst_on(frozenset(trace.run for trace in self.traces))

    @property
    def end_kv(self) -> float:
        """What the far end of the last line that is fed reads."""
        fed = [trace for trace in self.traces if trace.fed[-1]]
        return float(fed[-1].kv[-1]) if fed else 0.0

    @cached_property
    def highest(self) -> tuple[Place, float]:
        """The place of most kV and its kV, live strands to soil."""
        trace = max(self.traces, key=lambda trace: float(trace.live_kv.max()))
        i = int(np.argmax(trace.live_kv))
        return Place(trace.run, float(trace.at_m[i])), float(trace.live_kv[i])

    def worst_on(self, runs: frozenset[str]) -> tuple[Place, float]:
        """The place of least kV of some lines, of what is fed; infinite kV where nothing of them is."""
        least = self.least_on(runs)
        return least.place, least.kv

    def least_on(self, runs: frozenset[str]) -> Least:
        """The same with the strands that it is read on, where they are apart from the others."""
        best = Least(Place("", 0.0), float("inf"))
        for trace in self.traces:
            if trace.run not in runs:
                continue
            for strands, kvs, fed in trace.groups:
                kv = np.where(fed, kvs, np.inf)
                i = int(np.argmin(kv))
                if kv[i] < best.kv:
                    best = Least(Place(trace.run, float(trace.at_m[i])), float(kv[i]), strands)
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

    def shown_kv(self, spectra: Complex) -> Real:
        """What the farm's tester shows of volts (..., K+1), kV: shape (...) (S13, S14)."""
        response_s = self.plan.tester.response_s
        followed = followed_v(spectra, self.solution.window, response_s)
        shown: Real = np.abs(self.solution.peak(followed)) * (adjustment(response_s) / 1000)
        return shown


@cached("solved", _KEPT, identity_args=1)
def solved(plan: Plan, weather: Weather) -> Solved:
    """Solve a plan in a season; the newest are kept, as many questions follow one another. Raises Incomplete."""
    found = circuit(plan, weather)
    return Solved(plan, weather, found, solve_pulse(found.network, laplace.FAST))


def volts(plan: Plan, weather: Weather) -> Volts:
    """Solve a plan in a season and sample it along every run. Raises Incomplete."""
    return volts_of(solved(plan, weather))


@dataclass(frozen=True)
class Samples:
    """Where a plan is sampled: every piece in order, from its start to its end, in one row of places (P,).

    `piece` is the piece of each place, `inner` whether it lies away from the piece's ends, `starts`
    the first place of each piece and one past the last of all.
    """

    piece: NDArray[np.intp]
    at_m: Real
    inner: NDArray[np.bool_]
    starts: NDArray[np.intp]


def samples(found: Solved, sparser: float = 1.0) -> Samples:
    """Where a solved plan is sampled; `sparser` times as far apart."""
    step = sparser * _sample_step_m(found.plan)
    lengths = np.array([piece.length_m for piece in found.circuit.pieces])
    counts = np.maximum(2, np.rint(lengths / step).astype(np.intp) + 1)
    starts = np.concatenate([[0], np.cumsum(counts)])
    piece = np.repeat(np.arange(len(lengths)), counts)
    number = np.arange(starts[-1]) - starts[piece]
    share = number / (counts[piece] - 1)
    return Samples(piece, share * lengths[piece], (number > 0) & (number < counts[piece] - 1), starts)


def volts_of(found: Solved) -> Volts:
    """A solved season sampled along every run."""
    pieces = found.circuit.pieces
    where = samples(found)
    kv = _sampled_kv(found, where)
    apart = {run: _apart_kv(found, where, run) for run in found.circuit.groups}
    amps = _leak_a(found, where, kv, apart)
    fed = np.array([piece.a in found.circuit.wiring.reached for piece in pieces])[where.piece]
    along_m = where.at_m + np.array([piece.from_m for piece in pieces])[where.piece]
    traces = []
    # The pieces of a run stand together, in order along it.
    firsts = [i for i, piece in enumerate(pieces) if i == 0 or piece.run != pieces[i - 1].run]
    for i, j in pairwise([*firsts, len(pieces)]):
        here = slice(where.starts[i], where.starts[j])
        live, earth, between = kv[:, here]
        has_earth = Terminal.EARTH in terminals_of(found.solution.spans[pieces[i].span].line)
        out, back = amps[:, here]
        own = apart.get(pieces[i].run, ())
        traces.append(Trace(pieces[i].run, along_m[here], live, earth, between, out, back, fed[here], has_earth, own))
    # As the kV along the line count: against the earth strands where all lines have some.
    by_earth = found.plan.tester.against == "rods" or all(trace.has_earth for trace in traces)
    other = Terminal.EARTH if by_earth else Terminal.SOIL
    start = float(found.shown_kv(found.solution.between(ENERGIZER, Terminal.LIVE, other)))
    return Volts(found.weather, tuple(traces), start, found.circuit.rods_ohm)


def _sampled_kv(found: Solved, where: Samples) -> Real:
    """Live, earth and between at every sampled place, (3, P), kV."""
    pieces = found.circuit.pieces
    kv = np.zeros((3, len(where.piece)))
    nodes, at_nodes = _node_peaks_kv(found)
    kv[:, where.starts[:-1]] = at_nodes[:, [nodes[piece.a] for piece in pieces]]
    kv[:, where.starts[1:] - 1] = at_nodes[:, [nodes[piece.b] for piece in pieces]]
    for rows in _by_line(found, where, np.flatnonzero(where.inner)):
        for low in range(0, len(rows), _AT_ONCE):
            here = rows[low : low + _AT_ONCE]
            terminals, v, _ = found.solution.along_spans([pieces[i].span for i in where.piece[here]], where.at_m[here])
            kv[:, here] = _three_kv(found, v[:, 0], v[:, 1] if Terminal.EARTH in terminals else None)
    return kv


def _apart_kv(found: Solved, where: Samples, run: str) -> tuple[ApartKv, ...]:
    """Every group of a run that is apart from its live one, at the sampled places of the run."""
    pieces, reached = found.circuit.pieces, found.circuit.reached
    numbers = [i for i, piece in enumerate(pieces) if piece.run == run]
    rows: dict[Terminal, list[tuple[Real, Real, NDArray[np.bool_]]]] = {}
    for i in numbers:
        here = slice(where.starts[i], where.starts[i + 1])
        span = found.solution.spans[pieces[i].span]
        terminals, v, _ = found.solution.along_spans([span.id] * (here.stop - here.start), where.at_m[here])
        earth = v[:, terminals.index(Terminal.EARTH)] if Terminal.EARTH in terminals else None
        for group in found.circuit.groups[run][1:]:
            live = v[:, terminals.index(group.terminal)]
            to_soil = found.shown_kv(live)
            counts = to_soil if earth is None else found.shown_kv(live - earth)
            is_fed = np.full(len(to_soil), Port(span.a, group.terminal) in reached)
            rows.setdefault(group.terminal, []).append((counts, to_soil, is_fed))
    return tuple(
        ApartKv(group, *(np.concatenate(parts) for parts in zip(*rows[group.terminal], strict=True)))
        for group in found.circuit.groups[run][1:]
    )


def _leak_a(found: Solved, where: Samples, kv: Real, apart: dict[str, tuple[ApartKv, ...]]) -> Real:
    """The leak's share of the current at every place in the live and in the earth strands, (2, P), A.

    Charging current carries no net charge: the leak's peak divides as the charge does (eq. 20).
    """
    pieces = found.circuit.pieces
    charge_c, per_m = np.zeros((2, len(where.piece))), np.zeros(len(where.piece))
    for rows in _by_line(found, where, np.arange(len(where.piece))):
        spans = [pieces[i].span for i in where.piece[rows]]
        terminals, _, amps = found.solution.along_spans(spans, where.at_m[rows], charge=True)
        for t, terminal in enumerate(terminals):
            charge_c[int(terminal is Terminal.EARTH), rows] += amps[:, t, -1].real
        to_soil, to_earth = line_leaks_s_per_m(found.solution.spans[spans[0]].line)
        per_m[rows] = to_soil * kv[0, rows] + to_earth * kv[2, rows]
    _add_apart_leaks(found, where, apart, per_m)
    same_piece = where.piece[1:] == where.piece[:-1]
    leak_a = 1000 * ((per_m[1:] + per_m[:-1]) / 2 * np.diff(where.at_m))[same_piece].sum()
    shares: Real = charge_c * (leak_a / (found.solution.charge_total_c or 1.0))
    return shares


def _add_apart_leaks(found: Solved, where: Samples, apart: dict[str, tuple[ApartKv, ...]], per_m: Real) -> None:
    """Add what strands that are apart leak, kA/m, to what the live groups leak at every sampled place."""
    pieces = found.circuit.pieces
    done = dict.fromkeys(apart, 0)
    for i, piece in enumerate(pieces):
        line = found.solution.spans[piece.span].line
        if not isinstance(line, StrandLine):
            continue
        here, begun = slice(where.starts[i], where.starts[i + 1]), done[piece.run]
        done[piece.run] = begun + here.stop - here.start
        for own in apart[piece.run]:
            row = line.leak_s_per_m[line.terminals.index(own.group.terminal)]
            kv = own.live_kv[begun : done[piece.run]], own.kv[begun : done[piece.run]]
            to_earth = -row[line.terminals.index(Terminal.EARTH)] if Terminal.EARTH in line.terminals else 0.0
            per_m[here] += sum(row) * kv[0] + to_earth * kv[1]


def _by_line(found: Solved, where: Samples, rows: NDArray[np.intp]) -> Iterator[NDArray[np.intp]]:
    """Places sorted by the kind of line they lie on."""
    kinds: dict[Line, int] = {}
    lines = (found.solution.spans[piece.span].line for piece in found.circuit.pieces)
    kind = np.array([kinds.setdefault(line, len(kinds)) for line in lines])[where.piece[rows]]
    for number in range(len(kinds)):
        chosen = rows[kind == number]
        if len(chosen):
            yield chosen


def counted_spectra(found: Solved, where: Samples) -> Complex:
    """Volts as they count for the fence at every sampled place, (P, K+1): to the earth strand, or to soil without."""
    counted: Complex = live_spectra(found, where)[0]
    return counted


def live_spectra(found: Solved, where: Samples) -> Complex:
    """Volts as they count for the fence, and those of the live strands to soil, at every sampled place, (2, P, K+1)."""
    pieces = found.circuit.pieces
    volts = np.empty((2, len(where.piece), found.solution.free_v.shape[1]), dtype=np.complex128)
    for rows in _by_line(found, where, np.arange(len(where.piece))):
        terminals, v, _ = found.solution.along_spans([pieces[i].span for i in where.piece[rows]], where.at_m[rows])
        volts[0, rows] = v[:, 0] - v[:, 1] if Terminal.EARTH in terminals else v[:, 0]
        volts[1, rows] = v[:, 0]
    return volts


def _node_peaks_kv(found: Solved) -> tuple[dict[str, int], Real]:
    """Live, earth and between at every node, (3, N): each is the end of several spans, and is found once."""
    ports = found.solution.ports
    nodes = list(dict.fromkeys(node for p in found.circuit.pieces for node in (p.a, p.b)))
    live = found.solution.volts[[ports[Port(node, Terminal.LIVE)] for node in nodes]]
    kv = _three_kv(found, live, None)
    rows = [i for i, node in enumerate(nodes) if Port(node, Terminal.EARTH) in ports]
    if rows:
        earth = found.solution.volts[[ports[Port(nodes[i], Terminal.EARTH)] for i in rows]]
        kv[:, rows] = _three_kv(found, live[rows], earth)
    return {node: i for i, node in enumerate(nodes)}, kv


def _three_kv(found: Solved, live: Complex, earth: Complex | None) -> Real:
    """What the tester shows of live, of earth, and between them, (3, P), kV, of spectra (P, K+1)."""
    live_kv = found.shown_kv(live)
    if earth is None:
        return np.stack([live_kv, np.zeros_like(live_kv), live_kv])
    return np.stack([live_kv, *(found.shown_kv(v) for v in (earth, live - earth))])


@dataclass(frozen=True)
class Probe:
    """A place ready for questions: its kV and amps as the tester shows them, the true peak of its live strands,
    and what an added load meets there.
    """

    true_kv: float
    live_kv: float
    earth_kv: float
    between_kv: float
    pulse_a: float
    equivalent: PortEquivalent


def probe_at(plan: Plan, weather: Weather, place: Place, strand: int | None = None) -> Probe:
    """The probe at a place of a plan in a season; of a strand, counted from the ground, where that is apart.

    Raises Incomplete.
    """
    return probe_solved(solved(plan, weather), place, strand)


def probe_solved(found: Solved, place: Place, strand: int | None = None) -> Probe:
    """The probe at a place of a plan that is solved."""
    equivalent = equivalent_at(found, place).seen_from(found.circuit.terminal(place.run, strand))
    true = abs(equivalent.open_peak_v(Terminal.LIVE)) / 1000
    live = float(found.shown_kv(equivalent.open_v(Terminal.LIVE)))
    earth, between = 0.0, live
    if Terminal.EARTH in equivalent.terminals:
        earth = float(found.shown_kv(equivalent.open_v(Terminal.EARTH)))
        between = float(found.shown_kv(equivalent.open_v(Terminal.LIVE, Terminal.EARTH)))
    return Probe(true, live, earth, between, _pulse_a(found, place), equivalent)


def readings_at(found: Solved, places: Sequence[Place]) -> Real:
    """What the tester shows at places of a solved plan: kV of the live strands to soil, and peak amps, (2, P)."""
    rows = []
    for place in places:
        piece = found.circuit.wiring.piece_at(place)
        _, volts, amps = found.solution.along(piece.span, np.array([place.at_m - piece.from_m]))
        rows.append([volts[0, 0], amps[0, 0]])
    volts, amps = np.swapaxes(np.array(rows), 0, 1)
    return np.stack([found.shown_kv(volts), np.abs(found.solution.peak(amps))])


def equivalent_at(found: Solved, place: Place) -> PortEquivalent:
    """A place of the fence on the solved network."""
    piece = found.circuit.wiring.piece_at(place)
    return equivalent_inside(found.solution, piece.span, place.at_m - piece.from_m)


def _pulse_a(found: Solved, place: Place) -> float:
    """The peak current in a run at a place: the larger of its two sides, A."""
    sides = found.circuit.wiring.pieces_at(place)
    rows = [found.solution.along(piece.span, np.array([place.at_m - piece.from_m]))[2][0, 0] for piece in sides]
    return float(np.abs(found.solution.peak(np.array(rows))).max())
