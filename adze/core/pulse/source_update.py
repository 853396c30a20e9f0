"""A solved network under another energizer and other rods, without solving it again.

Both are admittances between two terminals at the energizer. The fence itself answers a current put
in there by two columns of its impedance; any other energizer and rods follow from a 2x2 system at each
frequency (M. A. Woodbury, Inverting modified matrices (1950)).
"""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from adze.core.basics.types import Complex
from adze.core.pulse.discharge import Discharge, discharge_of
from adze.core.pulse.elimination import solve
from adze.core.pulse.network import Port, Source, Terminal
from adze.core.pulse.port_equivalent import PortEquivalent
from adze.core.pulse.solver import Solution


@dataclass(frozen=True)
class Drive:
    """How strongly an energizer over rods drives the two columns, (K+1,) each, and the update (2, 2, K+1).

    `across` and `to_soil` are those of a discharge that is free to reverse; `free_across_v` its volts between the
    terminals, `scale` what is left of all when it stops.
    """

    across: Complex
    to_soil: Complex
    update: Complex
    discharge: Discharge
    free_across_v: Complex
    scale: Complex | float

    def mix(self, first: Complex, second: Complex) -> Complex:
        """Volts of places whose columns are `first` and `second`, (..., K+1)."""
        mixed: Complex = (first * self.across + second * self.to_soil) * self.scale
        return mixed


@dataclass(frozen=True)
class SourceUpdate:
    """A solution whose energizer and rods can be exchanged; `rods` is the id of the rods' shunt."""

    solution: Solution
    rods: str

    @cached_property
    def _rows(self) -> tuple[int, int]:
        node = self.solution.network.source.node
        return self.solution.ports[Port(node, Terminal.LIVE)], self.solution.ports[Port(node, Terminal.EARTH)]

    @cached_property
    def columns(self) -> tuple[Complex, Complex]:
        """Volts everywhere for 1 A through the energizer, and for 1 A into its earth terminal, (n, K+1)."""
        ones = np.ones(self.solution.free_v.shape[1], dtype=np.complex128)
        live, earth = self._rows
        factors = self.solution.factors
        return solve(factors, {live: ones, earth: -ones}), solve(factors, {earth: ones})

    @cached_property
    def _gain(self) -> tuple[Complex, Complex, Complex]:
        (live, earth), (first, second) = self._rows, self.columns
        return first[live] - first[earth], first[earth], second[earth]

    @cached_property
    def _rods_ohm(self) -> float:
        return next(shunt.ohm for shunt in self.solution.network.shunts if shunt.id == self.rods)

    def drive(self, source: Source, rods_ohm: float) -> Drive:
        """Another energizer at the same node over rods of another resistance, ohm."""
        new = discharge_of(source, self.solution.window)
        own = discharge_of(self.solution.network.source, self.solution.window).admittance_s
        more, rods = new.admittance_s - own, 1 / rods_ohm - 1 / self._rods_ohm
        g11, g21, g22 = self._gain
        # (1 + D G) of the changed admittances D and the impedances G that they meet.
        a, b, c, d = 1 + more * g11, more * g21, rods * g21, 1 + rods * g22
        det = a * d - b * c
        update = np.array([[d * more, -b * rods], [-c * more, a * rods]]) / det
        across, to_soil = d / det * new.push, -c / det * new.push
        free_across = g11 * across + g21 * to_soil
        scale = new.stop(free_across)[0]
        return Drive(across, to_soil, update, new, free_across, 1.0 if scale is None else scale)

    def solution_under(self, drive: Drive, source: Source) -> Solution:
        """The volts as a solution, for what only reads them; its factors stay those of the network as it was."""
        network, (first, second) = replace(self.solution.network, source=source), self.columns
        free_v = first * drive.across + second * drive.to_soil
        return replace(self.solution, network=network, free_v=free_v, discharge=drive.discharge)

    def _seen(self, column: Complex) -> Complex:
        """By reciprocity: what a current put in there does at the energizer is what one here does there, (2, K+1)."""
        live, earth = self._rows
        seen: Complex = np.array([column[live] - column[earth], column[earth]])
        return seen

    def rods_v(self, equivalent: PortEquivalent, drive: Drive, ohm: float) -> Complex:
        """Volts to soil of the rods with `ohm` from live to soil at a place of the network as it was, (K+1,)."""
        earth, here = self._rows[1], equivalent.columns[equivalent.terminals.index(Terminal.LIVE)]
        first, second = self.columns
        rise = first[earth] * drive.across + second[earth] * drive.to_soil
        home = np.array([first[earth], second[earth]])
        across = here[earth] - np.einsum("ik,ijk,jk->k", home, drive.update, self._seen(here))
        under = self.equivalent(equivalent, drive)
        live = under.terminals.index(Terminal.LIVE)
        drawn = under.free_v[live] / (ohm + under.impedance[live, live])
        return under.stopped(rise - across * drawn, drawn, under.seen[live])

    def equivalent(self, equivalent: PortEquivalent, drive: Drive) -> PortEquivalent:
        """A place of the network as it was, under another energizer and rods."""
        update, seen = drive.update, np.array([self._seen(column) for column in equivalent.columns])
        g11, g21, _ = self._gain
        return replace(
            equivalent,
            free_v=seen[:, 0] * drive.across + seen[:, 1] * drive.to_soil,
            impedance=equivalent.impedance - np.einsum("gik,ijk,hjk->ghk", seen, update, seen),
            discharge=drive.discharge,
            free_across_v=drive.free_across_v,
            seen=seen[:, 0] - np.einsum("ik,ijk,gjk->gk", np.array([g11, g21]), update, seen),
        )
