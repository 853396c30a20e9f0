"""One place on a solved network: what stands there, and what a load put there meets and does.

A spot may lie inside a span. Were a node put there, its own equation would be Y V = Na Va + Nb Vb
in the admittances of the two parts of the span; eliminating it gives back the network as it was
solved. So its volts and its impedance follow from those of the span's ends, exactly, without
solving again (the block inverse: R. A. Frazer et al., Elementary Matrices (1938), 4.5).
"""

from dataclasses import dataclass, replace

import numpy as np

from adze.core.basics.types import Complex, Real
from adze.core.pulse import laplace
from adze.core.pulse.discharge import Discharge
from adze.core.pulse.elimination import solve
from adze.core.pulse.network import STRANDS, Port, Terminal
from adze.core.pulse.solver import Solution, two_parts

_AT_END_M = 1e-6


@dataclass(frozen=True)
class PortEquivalent:
    """Thevenin's picture of a place: `free_v` (g, K+1) without a load, `impedance` (g, g, K+1) ohms to soil.

    `columns` (g, n, K+1) are the ohms from each of its terminals to every unknown of the network. A load moves the
    instant at which the discharge stops, so volts are kept as if it were free to reverse: `free_across_v` (K+1,)
    between the energizer's terminals, and `seen` (g, K+1) the ohms from each terminal here to these two.
    """

    solution: Solution
    terminals: tuple[Terminal, ...]
    free_v: Complex
    impedance: Complex
    columns: tuple[Complex, ...]
    discharge: Discharge | None
    free_across_v: Complex
    seen: Complex

    def seen_from(self, terminal: Terminal) -> "PortEquivalent":
        """The same place with a strand that is apart from the live ones in their stead."""
        if terminal not in self.terminals:
            return self
        swap = {terminal: Terminal.LIVE, Terminal.LIVE: terminal}
        return replace(self, terminals=tuple(swap.get(t, t) for t in self.terminals))

    @property
    def whole(self) -> "PortEquivalent":
        """The same place with all that the energizer gives, for joules (`Discharge.goes_on`)."""
        return self if self.discharge is None else replace(self, discharge=self.discharge.whole)

    def _across(self, start: Terminal, end: Terminal) -> tuple[Complex, Complex, Complex]:
        """Free volts between two terminals, the ohms that a load between them meets, and those to the energizer."""
        i = self.terminals.index(start)
        if end is Terminal.SOIL:
            return self.free_v[i], self.impedance[i, i], self.seen[i]
        j = self.terminals.index(end)
        own = self.impedance[i, i] + self.impedance[j, j] - 2 * self.impedance[i, j]
        return self.free_v[i] - self.free_v[j], own, self.seen[i] - self.seen[j]

    def stopped(self, free_v: Complex, drawn_a: Complex | float, seen_ohm: Complex | float) -> Complex:
        """Free volts as a discharge that stops leaves them, with `drawn_a` taken here, `seen_ohm` to the energizer."""
        scale = self.discharge.stop(self.free_across_v - seen_ohm * drawn_a)[0] if self.discharge else None
        return free_v if scale is None else free_v * scale

    def open_v(self, start: Terminal, end: Terminal = Terminal.SOIL) -> Complex:
        """Volts between two terminals with nothing added, (K+1,)."""
        return self.stopped(self._across(start, end)[0], 0.0, 0.0)

    def open_peak_v(self, start: Terminal, end: Terminal = Terminal.SOIL) -> float:
        """Peak volts between two terminals with nothing added."""
        return float(self.solution.peak(self.open_v(start, end)))

    def load_v(self, ohm: float, start: Terminal, end: Terminal = Terminal.SOIL) -> Complex:
        """Volts across a load put between two terminals, (K+1,) (eq. 10)."""
        volts, own, seen = self._across(start, end)
        drawn = volts / (own + ohm)
        across = np.asarray(drawn * ohm, dtype=np.complex128)
        return self.stopped(across, drawn, seen)

    @property
    def sample_s(self) -> float:
        """Time between samples of a wave, s."""
        return float(laplace.times_s(self.solution.window)[1])

    def loaded_wave_v(self, ohm: float, *, to_earth_strand: bool) -> Real:
        """Volts in time across a load put between the live strand and soil or the earth strand here (eq. 10)."""
        other = Terminal.EARTH if to_earth_strand and Terminal.EARTH in self.terminals else Terminal.SOIL
        return laplace.waveforms(self.load_v(ohm, Terminal.LIVE, other)[:-1], self.solution.window)

    def elsewhere_v(self, ohm: float, port: Port) -> Complex:
        """Volts to soil of a terminal of the network with `ohm` from live to soil here, (K+1,).

        A rank-one update serves every resistance (J. Sherman and W. J. Morrison,
        Ann. Math. Stat. 21 (1950)).
        """
        live = self.terminals.index(Terminal.LIVE)
        row = self.solution.ports[port]
        drawn = self.free_v[live] / (ohm + self.impedance[live, live])
        return self.stopped(self.solution.free_v[row] - self.columns[live][row] * drawn, drawn, self.seen[live])


def equivalent_at_node(solution: Solution, node: str) -> PortEquivalent:
    """The equivalent at a node."""
    terminals = (Terminal.LIVE, Terminal.EARTH, *STRANDS)
    here = [p for p in (Port(node, t) for t in terminals) if p in solution.ports]
    ones = np.ones(solution.free_v.shape[1], dtype=np.complex128)
    rows = [solution.ports[p] for p in here]
    columns = tuple(solve(solution.factors, {row: ones}) for row in rows)
    impedance = np.array([[column[row] for row in rows] for column in columns])
    return _equivalent(solution, tuple(p.terminal for p in here), solution.free_v[rows], impedance, columns)


def _equivalent(
    solution: Solution,
    terminals: tuple[Terminal, ...],
    free_v: Complex,
    impedance: Complex,
    columns: tuple[Complex, ...],
) -> PortEquivalent:
    live, earth = (solution.ports[Port(solution.network.source.node, t)] for t in (Terminal.LIVE, Terminal.EARTH))
    seen = np.array([column[live] - column[earth] for column in columns])
    across = solution.free_across_v
    return PortEquivalent(solution, terminals, free_v, impedance, columns, solution.discharge, across, seen)


def equivalent_inside(solution: Solution, span_id: str, at_m: float) -> PortEquivalent:
    """The equivalent inside a span, `at_m` from its a; beyond its ends, at the end."""
    span = solution.spans[span_id]
    if at_m < _AT_END_M or at_m > span.length_m - _AT_END_M:
        return equivalent_at_node(solution, span.a if at_m < span.length_m / 2 else span.b)
    terminals, own, near, far = two_parts(solution, span, at_m)
    ends = [[solution.ports[Port(node, t)] for t in terminals] for node in (span.a, span.b)]
    shares = [(row, share[i]) for side, share in zip(ends, (near, far), strict=True) for i, row in enumerate(side)]
    # `shares` says how much of each end's volts is seen at each terminal here, and by reciprocity
    # how much of a current put in here arrives at each end.
    columns = []
    for t in range(len(terminals)):
        drive: dict[int, Complex] = {}
        for row, share in shares:
            drive[row] = drive.get(row, 0) + share[t]  # both ends of a loop may be one node
        columns.append(solve(solution.factors, drive))
    free_v = sum(share * solution.free_v[row] for row, share in shares)
    seen = [sum(share * column[row] for row, share in shares) for column in columns]
    return _equivalent(solution, terminals, np.asarray(free_v), own + np.array(seen), tuple(columns))
