"""Where a pulse's joules go: kept in the unit, lost in the wire, through growth line by line, in the rods.

Energies are sums of squares over the wave in time, to the end of the window that is kept; what has not come out
by then is counted as kept in the unit.
"""

from dataclasses import dataclass, replace

import numpy as np

from adze.core.basics.types import Complex, Real
from adze.core.forecast.circuit import ENERGIZER, LossKind
from adze.core.forecast.volts import Solved, samples
from adze.core.pulse import laplace
from adze.core.pulse.network import Line, Matrix, Shunt, Terminal, WireLine, terminals_of


@dataclass(frozen=True)
class Budget:
    """Joules of one pulse: stored, given to the fence, and what becomes of these; leaks by run."""

    stored_j: float
    given_j: float
    leaks_j: dict[str, float]
    rods_j: float
    far_rods_j: float
    mishaps_j: float
    wire_j: float

    @property
    def kept_j(self) -> float:
        """What stays in the unit: its own resistance, and what has not come out."""
        return self.stored_j - self.given_j


def _squares_vvs(found: Solved, spectra: Complex) -> Real:
    """The integral of the squared wave of spectra (..., K+1), V2 s."""
    wave = laplace.waveforms(spectra[..., :-1], found.solution.window)
    step = float(laplace.times_s(found.solution.window)[1])
    total: Real = (wave**2).sum(axis=-1) * step
    return total


def budget(found: Solved) -> Budget:
    """The budget of a solved plan."""
    found = replace(found, solution=found.solution.whole)
    solution = found.solution
    source = solution.network.source
    across = solution.spectrum(ENERGIZER, Terminal.LIVE) - solution.spectrum(ENERGIZER, Terminal.EARTH)
    waves = laplace.waveforms(np.array([across, solution.terminal_a])[:, :-1], solution.window)
    given = float((waves[0] * waves[1]).sum() * laplace.times_s(solution.window)[1])
    leaks = _leaks(found)
    lost_j = dict.fromkeys(LossKind, 0.0)
    for row in found.circuit.counted:
        joules = _shunt_j(found, row.shunt)
        if row.kind is LossKind.LINE:
            leaks[row.run] += joules
        else:
            lost_j[row.kind] += joules
    wire = max(0.0, given - sum(leaks.values()) - sum(lost_j.values()))
    stored = source.storage_f * source.v0_v**2 / 2
    return Budget(stored, given, leaks, lost_j[LossKind.RODS], lost_j[LossKind.FAR_RODS], lost_j[LossKind.MISHAP], wire)


def _shunt_j(found: Solved, shunt: Shunt) -> float:
    across = found.solution.spectrum(shunt.node, shunt.start) - found.solution.spectrum(shunt.node, shunt.end)
    return float(_squares_vvs(found, across)) / shunt.ohm


def _leaks(found: Solved) -> dict[str, float]:
    """Joules through growth, posts and insulators, by run."""
    pieces, where = found.circuit.pieces, samples(found)
    total = dict.fromkeys((run.id for run in found.plan.runs), 0.0)
    for number, piece in enumerate(pieces):
        here = slice(where.starts[number], where.starts[number + 1])
        at_m = where.at_m[here]
        line = found.solution.spans[piece.span].line
        _, volts, _ = found.solution.along(piece.span, at_m)
        per_m = _leak_j_per_m(found, line, volts)
        total[piece.run] += float(np.trapezoid(per_m, at_m))
    return total


def _leak_j_per_m(found: Solved, line: Line, volts: Complex) -> Real:
    if not isinstance(line, WireLine):
        return _strands_j_per_m(found, line.leak_s_per_m, volts)
    live = _squares_vvs(found, volts[:, 0])
    if Terminal.EARTH not in terminals_of(line):
        return line.leak_live_soil_s_per_m * live
    earth, between = (_squares_vvs(found, v) for v in (volts[:, 1], volts[:, 0] - volts[:, 1]))
    to_soil = line.leak_live_soil_s_per_m * live + line.leak_earth_soil_s_per_m * earth
    leaks: Real = to_soil + line.leak_live_earth_s_per_m * between
    return leaks


def _strands_j_per_m(found: Solved, leak_s_per_m: Matrix, volts: Complex) -> Real:
    """Joules a metre of conductors apart: each to soil by what its row leaves over, and between every two."""
    count = len(leak_s_per_m)
    to_soil = (sum(leak_s_per_m[i]) * _squares_vvs(found, volts[:, i]) for i in range(count))
    between = (
        -leak_s_per_m[i][j] * _squares_vvs(found, volts[:, i] - volts[:, j])
        for i in range(count)
        for j in range(i + 1, count)
        if leak_s_per_m[i][j]
    )
    leaks: Real = sum(to_soil, np.zeros(len(volts))) + sum(between, np.zeros(len(volts)))
    return leaks
