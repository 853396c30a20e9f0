"""One pulse on a network: peaks of volts and amps anywhere, and where the leak goes.

Equations are numbered as in docs/physics.md. The whole network is solved at a row of complex
frequencies (core.pulse.laplace) by symmetric elimination (core.pulse.elimination); one more frequency near
zero gives the net charge of every branch, and so the leak's share of a current (eq. 20).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy import sparse

from adze.core.basics.cache import cached
from adze.core.basics.deadline import look
from adze.core.basics.types import Complex, Index, Real
from adze.core.pulse import laplace
from adze.core.pulse.discharge import Discharge, discharge_of, solved_frequencies
from adze.core.pulse.elimination import Factors, Order, elimination_order, factorise, solve
from adze.core.pulse.laplace import Window
from adze.core.pulse.line import LineModel, inside_span, line_model, span_admittances
from adze.core.pulse.network import (
    Line,
    Network,
    NetworkError,
    Port,
    Shunt,
    Source,
    Span,
    Terminal,
    WireLine,
    terminals_of,
)


@cached("line models", 256)
def _line_model(line: Line, window: Window) -> LineModel:
    return line_model(line, solved_frequencies(window))


def _entry_count(line: Line) -> int:
    groups = len(terminals_of(line))
    return groups * (groups + 1) // 2


@dataclass(frozen=True)
class Layout:
    """Which unknown is which, in what order they go, and where each admittance is added."""

    ports: dict[Port, int]
    order: Order
    assembly: sparse.csr_matrix


_Shape = tuple[tuple[tuple[str, str, tuple[Terminal, ...]], ...], tuple[tuple[Port, Port], ...], str]


def _shape_of(network: Network) -> _Shape:
    spans = tuple((s.a, s.b, terminals_of(s.line)) for s in network.spans if not s.is_open)
    bridges = tuple((k.a, k.b) for k in network.links)
    bridges += tuple((Port(h.node, h.start), Port(h.node, h.end)) for h in network.shunts)
    return spans, bridges, network.source.node


@cached("layouts", 64)
def _layout(shape: _Shape) -> Layout:
    spans, bridges, source_node = shape
    ports: dict[Port, int] = {}

    def unknown(port: Port) -> int:
        return ports.setdefault(port, len(ports))

    # One list of additions to the matrix: (row, column, which admittance, how often).
    additions: list[tuple[int, int, int, float]] = []
    column = 0

    def couple(i: int, j: int, entry: int) -> None:
        # A symmetric pair that meets on the diagonal counts from both sides.
        additions.append((i, j, entry, 2.0 if i == j else 1.0))

    for a, b, terminals in spans:
        ends = [[unknown(Port(node, t)) for t in terminals] for node in (a, b)]
        own = [(i, j) for i in range(len(terminals)) for j in range(i, len(terminals))]
        for entry, (i, j) in enumerate(own):
            for end in ends:
                additions.append((end[i], end[j], column + entry, 1.0))
        for entry, (i, j) in enumerate(own):
            couple(ends[0][i], ends[1][j], column + len(own) + entry)
            if i != j:
                couple(ends[0][j], ends[1][i], column + len(own) + entry)
        column += 2 * len(own)
    for start, end_port in (*bridges, (Port(source_node, Terminal.LIVE), Port(source_node, Terminal.EARTH))):
        i = unknown(start)
        additions.append((i, i, column, 1.0))
        if end_port.terminal is not Terminal.SOIL:
            j = unknown(end_port)
            additions.append((j, j, column, 1.0))
            couple_scale = -1.0 if i != j else 0.0
            additions.append((i, j, column, couple_scale))
        column += 1
    last = [ports[Port(source_node, t)] for t in (Terminal.LIVE, Terminal.EARTH)]
    order = elimination_order(len(ports), [(i, j) for i, j, _, _ in additions], last)
    rows = [order.place(i, j) for i, j, _, _ in additions]
    assembly = sparse.csr_matrix(
        ([scale for *_, scale in additions], (rows, [entry for _, _, entry, _ in additions])),
        shape=(order.size, column),
    )
    return Layout(ports, order, assembly)


def _shunt_admittance_s(shunt: Shunt, s: Complex) -> Complex:
    return 1 / shunt.ohm + s * shunt.farad


def _entries(network: Network, window: Window) -> tuple[Index, Complex]:
    """Every admittance as a row (entries, K+1), and the column of the assembly that each belongs to."""
    s = solved_frequencies(window)
    live_spans = [span for span in network.spans if not span.is_open]
    by_line: dict[Line, list[int]] = {}
    for i, span in enumerate(live_spans):
        by_line.setdefault(span.line, []).append(i)
    parts: list[Complex] = []
    columns = np.empty(0, dtype=np.intp)
    offsets = np.cumsum([0, *(2 * _entry_count(span.line) for span in live_spans)])
    for line, members in by_line.items():
        model = _line_model(line, window)
        found = span_admittances(model, np.array([live_spans[i].length_m for i in members]))
        both, unique, count, size = found.shape
        parts.append(found.reshape(both * unique * count, size))
        # In `found` all spans of one entry stand together; `columns` says where each belongs.
        places = offsets[members][None, :] + np.arange(both * unique)[:, None]
        columns = np.concatenate([columns, places.ravel()])
    bridges: list[Complex] = [np.full(s.shape, 1 / link.ohm, dtype=np.complex128) for link in network.links]
    bridges += [_shunt_admittance_s(shunt, s) for shunt in network.shunts]
    own = discharge_of(network.source, window).admittance_s
    spans_end = int(offsets[-1])
    columns = np.concatenate([columns, spans_end + np.arange(len(bridges) + 1)])
    return columns, np.concatenate([*parts, np.array([*bridges, own])])


@dataclass(frozen=True)
class Solution:
    """A network solved for one pulse; asks are answered from it without solving again.

    `free_v` (n, K+1) are the volts of every unknown, were the discharge free to reverse; without a discharge they
    are the volts as they are.
    """

    network: Network
    window: Window
    ports: dict[Port, int]
    factors: Factors
    free_v: Complex
    discharge: Discharge | None

    @cached_property
    def free_across_v(self) -> Complex:
        """Volts between the energizer's terminals, were the discharge free to reverse, (K+1,)."""
        live, earth = (self.ports[Port(self.network.source.node, t)] for t in (Terminal.LIVE, Terminal.EARTH))
        across: Complex = self.free_v[live] - self.free_v[earth]
        return across

    @cached_property
    def _stop(self) -> tuple[Complex | None, float]:
        return self.discharge.stop(self.free_across_v) if self.discharge else (None, math.inf)

    @property
    def scale(self) -> Complex | None:
        """What is left of the free volts when the discharge stops, (K+1,); None where it never reverses."""
        return self._stop[0]

    def under(self, source: Source) -> "Solution":
        """The volts under another energizer at the same node, for what only reads them (S3).

        All volts change by one spectrum: the energizer is one current and one admittance. The factors stay those of
        the network as it was solved.
        """
        own, new = (discharge_of(x, self.window) for x in (self.network.source, source))
        seen_ohm = self.free_across_v / own.push
        ratio = new.push / own.push / (1 + (new.admittance_s - own.admittance_s) * seen_ohm)
        network = replace(self.network, source=source)
        return replace(self, network=network, free_v=self.free_v * ratio, discharge=new)

    @property
    def whole(self) -> "Solution":
        """The same with all that the energizer gives, for joules (`Discharge.goes_on`)."""
        return self if self.discharge is None else replace(self, discharge=self.discharge.whole)

    @property
    def stops_s(self) -> float:
        """When the discharge stops, s; inf where its current never reverses."""
        return self._stop[1]

    @cached_property
    def volts(self) -> Complex:
        """Volts to soil of every unknown at the solved frequencies, (n, K+1)."""
        scale = self._stop[0]
        return self.free_v if scale is None else self.free_v * scale

    @cached_property
    def spans(self) -> dict[str, Span]:
        """The network's spans by id."""
        return {span.id: span for span in self.network.spans}

    @cached_property
    def _end_rows(self) -> dict[str, list[list[int]]]:
        """The unknowns at both ends of every span that is not open."""
        return {
            span.id: [[self.ports[Port(node, t)] for t in terminals_of(span.line)] for node in (span.a, span.b)]
            for span in self.network.spans
            if not span.is_open
        }

    @cached_property
    def _shunts(self) -> dict[str, Shunt]:
        return {shunt.id: shunt for shunt in self.network.shunts}

    def spectrum(self, node: str, terminal: Terminal) -> Complex:
        """Volts of a terminal against soil at the solved frequencies, (K+1,); zero where nothing is joined."""
        at = self.ports.get(Port(node, terminal))
        return np.zeros(self.free_v.shape[1], dtype=np.complex128) if at is None else self.volts[at]

    def between(self, node: str, start: Terminal, end: Terminal) -> Complex:
        """Volts from one terminal to another at a node, (K+1,)."""
        return self.spectrum(node, start) - self.spectrum(node, end)

    def peak(self, spectra: Complex) -> Real:
        """Signed peaks of spectra (..., K+1): shape (...)."""
        return laplace.peaks(spectra[..., :-1], self.window)

    def node_peak_v(self, node: str, start: Terminal, end: Terminal = Terminal.SOIL) -> float:
        """Peak volts from one terminal to another at a node. The peak of the difference, not of the parts."""
        return float(self.peak(self.between(node, start, end)))

    def all_node_peaks_v(self) -> dict[Port, float]:
        """Peak volts to soil of every terminal."""
        values = self.peak(self.volts)
        return {port: float(values[i]) for port, i in self.ports.items()}

    def along(self, span_id: str, at_m: Real) -> tuple[tuple[Terminal, ...], Complex, Complex]:
        """Terminals, volts and currents (a to b) inside a span at `at_m` (P,): arrays (P, g, K+1)."""
        return self.along_spans([span_id] * len(at_m), at_m)

    def along_spans(
        self, span_ids: Sequence[str], at_m: Real, *, charge: bool = False
    ) -> tuple[tuple[Terminal, ...], Complex, Complex]:
        """The same at one place in each of many spans of one line; (P,) of both.

        With `charge` only the last frequency is answered: arrays (P, g, 1).
        """
        spans = [self.spans[span_id] for span_id in span_ids]
        model = _line_model(spans[0].line, self.window)
        volts = self.volts[:, -1:] if charge else self.volts
        model = model.charge if charge else model
        shape = (len(spans), len(model.terminals), volts.shape[1])
        if spans[0].is_open:
            dead = np.zeros(shape, dtype=np.complex128)
            return model.terminals, dead, dead
        rows = np.array([self._end_rows[span_id] for span_id in span_ids])
        va, vb = volts[rows[:, 0]], volts[rows[:, 1]]
        lengths = np.array([span.length_m for span in spans])
        inside, amps = inside_span(model, lengths, at_m, va, vb)
        return model.terminals, inside, amps

    def shunt_spectrum(self, shunt_id: str) -> Complex:
        """Current through a shunt, from its start to its end, (K+1,)."""
        shunt = self._shunts[shunt_id]
        s = solved_frequencies(self.window)
        return self.between(shunt.node, shunt.start, shunt.end) * _shunt_admittance_s(shunt, s)

    def link_spectrum(self, link_id: str) -> Complex:
        """Current through a link, from its a to its b, (K+1,)."""
        link = next(k for k in self.network.links if k.id == link_id)
        return (self.spectrum(*link.a) - self.spectrum(*link.b)) / link.ohm

    @cached_property
    def charge_total_c(self) -> float:
        """Net charge that leaves the live terminal in one pulse, C."""
        return float(self.terminal_a[-1].real)

    @cached_property
    def terminal_a(self) -> Complex:
        """Current out of the live terminal, (K+1,)."""
        own = self.discharge or discharge_of(self.network.source, self.window)
        flowed = (own.push - own.series_s * self.free_across_v) * (1.0 if self._stop[0] is None else self._stop[0])
        amps: Complex = flowed - own.parallel_s * self.between(self.network.source.node, Terminal.LIVE, Terminal.EARTH)
        return amps


def two_parts(solution: Solution, span: Span, at_m: float) -> tuple[tuple[Terminal, ...], Complex, Complex, Complex]:
    """A place inside a span as a node of its own would stand there, with the span's ends held.

    Terminals; its own impedance (g, g, K+1), ohm; and the share of each end's volts that is seen
    there, for end a and end b (g, g, K+1), indexed [terminal of the end, terminal here].
    """
    model = _line_model(span.line, solution.window)
    groups = len(model.terminals)
    found = span_admittances(model, np.array([at_m, span.length_m - at_m]))
    matrices = np.empty((2, 2, groups, groups, found.shape[-1]), dtype=np.complex128)
    for entry, (i, j) in enumerate(zip(*np.triu_indices(groups), strict=True)):
        matrices[:, :, i, j] = matrices[:, :, j, i] = found[:, entry]
    (own_near, own_far), (across_near, across_far) = matrices
    impedance = np.moveaxis(np.linalg.inv(np.moveaxis(own_near + own_far, -1, 0)), 0, -1)
    near, far = (-np.einsum("uvk,vtk->utk", across, impedance) for across in (across_near, across_far))
    return model.terminals, impedance, near, far


def line_leaks_s_per_m(line: Line) -> tuple[float, float]:
    """Leak of the live group to soil and to the earth strand, S/m."""
    if not isinstance(line, WireLine):
        leak, terminals = line.leak_s_per_m, terminals_of(line)
        to_earth = -leak[0][terminals.index(Terminal.EARTH)] if Terminal.EARTH in terminals else 0.0
        return sum(leak[0]), to_earth
    both = any(w.terminal is Terminal.EARTH for w in line.wires)
    return line.leak_live_soil_s_per_m, line.leak_live_earth_s_per_m if both else 0.0


def forget() -> None:
    """Drop kept line types and orders: what the first solve of a farm costs is measured so."""
    _line_model.cache.clear()
    _layout.cache.clear()


def assembled(network: Network, window: Window) -> tuple[Layout, Complex]:
    """Where everything stands, and the matrix's entries at their places, (places, K+1)."""
    if not (network.spans or network.shunts or network.links):
        raise NetworkError("network: nothing hangs on the energizer; draw a line from it")
    layout = _layout(_shape_of(network))
    columns, entries = _entries(network, window)
    return layout, layout.assembly[:, columns] @ entries


def solve_pulse(network: Network, window: Window = laplace.FAST) -> Solution:
    """Solve one pulse on a network (eq. 8 to 12).

    Raises NetworkError when the source hangs on nothing.
    """
    return solve_pulses((network,), window)[0]


def solve_pulses(networks: tuple[Network, ...], window: Window = laplace.FAST) -> tuple[Solution, ...]:
    """Solve scenarios of one network: same nodes and joints, other lines, leaks or rods.

    They share the elimination and run through it side by side, as more frequencies.
    Raises NetworkError when the networks are not of one shape, or a part has no way to soil, DeadlineExceeded.
    """
    look()
    if len({_shape_of(network) for network in networks}) != 1:
        raise NetworkError("networks: scenarios must be of one shape")
    layout, values = assembled(networks[0], window)
    if len(networks) > 1:
        values = np.concatenate([values, *(assembled(n, window)[1] for n in networks[1:])], axis=1)
    try:
        factors = factorise(layout.order, values)
    except ZeroDivisionError as error:
        raise NetworkError(
            "network: a part of it has no way to soil; check the source's node and that links join what spans reach"
        ) from error
    discharges = [discharge_of(network.source, window) for network in networks]
    push = np.concatenate([discharge.push for discharge in discharges])
    node = networks[0].source.node
    live, earth = (layout.ports[Port(node, t)] for t in (Terminal.LIVE, Terminal.EARTH))
    volts = solve(factors, {live: push, earth: -push})
    if len(networks) == 1:
        return (Solution(networks[0], window, layout.ports, factors, volts, discharges[0]),)
    size = len(discharges[0].push)
    parts = [slice(i * size, (i + 1) * size) for i in range(len(networks))]
    return tuple(
        Solution(network, window, layout.ports, factors.part(part), volts[:, part], discharge)
        for network, part, discharge in zip(networks, parts, discharges, strict=True)
    )
