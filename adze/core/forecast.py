"""kV along the whole fence, season by season, and what stands at any one place."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from adze.core import laplace
from adze.core.circuit import ENERGIZER, Circuit, circuit
from adze.core.ground import Place, length_m
from adze.core.laplace import Complex, Real
from adze.core.network import Port, Terminal
from adze.core.plan import Plan
from adze.core.pulse import Solution, line_leaks_s_per_m, solve_pulse
from adze.core.season import Weather

_SAMPLES = 60
_FINEST_M, _COARSEST_M = 4.0, 60.0


@dataclass(frozen=True)
class Trace:
    """One run in one season at `at_m` (P,): kV live to soil, earth strand to soil, live to earth strand; amps.

    `pulse_a` is the peak a tester shows; `leak_a` the leak's share with its sign (above 0: outward
    along the run, eq. 20).
    """

    run: str
    at_m: Real
    live_kv: Real
    earth_kv: Real
    between_kv: Real
    pulse_a: Real
    leak_a: Real


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
        """The place of least kV and its kV."""
        best = (Place("", 0.0), float("inf"))
        for trace in self.traces:
            kv = self.kv(trace)
            i = int(np.argmin(kv))
            if kv[i] < best[1]:
                best = Place(trace.run, float(trace.at_m[i])), float(kv[i])
        return best


def _sample_step_m(plan: Plan) -> float:
    total = sum(length_m(run) for run in plan.runs)
    return min(_COARSEST_M, max(_FINEST_M, total / _SAMPLES))


def volts(plan: Plan, weather: Weather) -> Volts:
    """Solve a plan in a season and sample it along every run. Raises Incomplete."""
    wiring = circuit(plan, weather)
    return _sampled(plan, weather, wiring, solve_pulse(wiring.network, laplace.FAST))


def _sampled(plan: Plan, weather: Weather, wiring: Circuit, solution: Solution) -> Volts:
    step = _sample_step_m(plan)
    leak_total_a = 0.0
    by_run: dict[str, list[Real]] = {run.id: [] for run in plan.runs}
    lines = {span.id: span.line for span in wiring.network.spans}
    has_earth = False
    for piece in wiring.pieces:
        size = piece.to_m - piece.from_m
        at = np.linspace(0, size, max(2, round(size / step) + 1))
        terminals, v, i = solution.along(piece.span, at)
        peak = solution.peak
        live = np.abs(peak(v[:, 0])) / 1000
        earth, between = np.zeros_like(live), live
        if Terminal.EARTH in terminals:
            has_earth = True
            earth, between = np.abs(peak(v[:, 1])) / 1000, np.abs(peak(v[:, 0] - v[:, 1])) / 1000
        to_soil, to_earth = line_leaks_s_per_m(lines[piece.span])
        leak_total_a += 1000 * float(np.trapezoid(to_soil * live + to_earth * between, at))
        rows = np.stack([piece.from_m + at, live, earth, between, np.abs(peak(i[:, 0])), i[:, 0, -1].real])
        by_run[piece.run].append(rows)
    # Charging current carries no net charge: the leak's peak divides as the charge does (eq. 20).
    leak_per_c = leak_total_a / (solution.charge_total_c or 1.0)
    traces = []
    for run, parts in by_run.items():
        at_m, live, earth, between, pulse, charge = np.concatenate(parts, axis=1)
        traces.append(Trace(run, at_m, live, earth, between, pulse, charge * leak_per_c))
    start = abs(solution.node_peak_v(ENERGIZER, Terminal.LIVE, Terminal.EARTH)) / 1000
    return Volts(weather, tuple(traces), start, wiring.rods_ohm, has_earth)


@dataclass(frozen=True)
class Stand:
    """A place ready for questions: its kV and the ohms an added load meets there."""

    live_kv: float
    earth_kv: float
    between_kv: float
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
    wiring = circuit(plan, weather, (place,))
    solution = solve_pulse(wiring.network, laplace.FAST)
    node = wiring.node_at(place)
    live = abs(solution.node_peak_v(node, Terminal.LIVE)) / 1000
    earth = abs(solution.node_peak_v(node, Terminal.EARTH)) / 1000
    between = abs(solution.node_peak_v(node, Terminal.LIVE, Terminal.EARTH)) / 1000
    return Stand(live, earth, between if Port(node, Terminal.EARTH) in solution.ports else live, solution, node)
