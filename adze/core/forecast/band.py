"""How far the forecast may be off: soil, growth, the line and the energizer, together as one low, likely and high.

The rule: at each place the forecast is multiplied by two shares, and by two to the other side. The first is what
unlucky guesses of soil and growth on a lossy line leave of it (S18; lucky ones on an ideal line). The second is what
the ends of the energizer's shape (S5) and a discharge that may reverse (S21) leave of it. Each share is at most 1 to
the low side and at least 1 to the high side, so that no part alone reaches beyond the band. All parts are solved
side by side in a coarse window: shares of two peaks lose less by it than the peaks.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from adze.core.basics.cache import cached
from adze.core.basics.types import Complex, Real
from adze.core.energizer.fit import SHAPE_BAND
from adze.core.forecast.circuit import ENERGIZER, circuit
from adze.core.forecast.volts import Samples, Solved, Volts, live_spectra, samples
from adze.core.ground.places import Place
from adze.core.plan.catalogue import pulse_of, unit_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Guess, Season, Weather
from adze.core.pulse.laplace import COARSE
from adze.core.pulse.network import Source, Terminal, terminals_of
from adze.core.pulse.solver import solve_pulses

_KEPT = 64
_SPARSER = 6.0  # than the forecast: shares change slowly along a line


@dataclass(frozen=True)
class RunBand:
    """The band along one run at `at_m` (P,), as the tester shows it, kV: as it counts, and of live strands to soil."""

    run: str
    at_m: Real
    low_kv: Real
    high_kv: Real
    low_live_kv: Real
    high_live_kv: Real


@dataclass(frozen=True)
class Band:
    """The band of a season, a row for each run."""

    runs: tuple[RunBand, ...]

    def live_at(self, place: Place) -> tuple[float, float]:
        """kV of the live strands to soil at a place: low and high."""
        row = next(r for r in self.runs if r.run == place.run)
        return (
            float(np.interp(place.at_m, row.at_m, row.low_live_kv)),
            float(np.interp(place.at_m, row.at_m, row.high_live_kv)),
        )


@cached("bands", _KEPT, identity_args=2)
def band_of(plan: Plan, volts: Volts) -> Band:
    """The band around a forecast of a plan in a season. Raises Incomplete."""
    parts = _parts(plan, volts.weather.season)
    likely, where = parts[1].found, parts[1].where
    grounds = [part.kv(part.found.solution.network.source) for part in parts]
    sources = [parts[1].kv(source) for source in _other_sources(likely)]
    shares = np.array([kv / np.maximum(grounds[1], 1e-9) for kv in (*grounds, *sources)])
    by_ground, by_source = shares[:3], shares[[1, *range(3, len(shares))]]
    low, high = (way(by_ground, axis=0) * way(by_source, axis=0) for way in (np.min, np.max))
    along_m = where.at_m + np.array([piece.from_m for piece in likely.circuit.pieces])[where.piece]
    runs = np.array([piece.run for piece in likely.circuit.pieces])[where.piece]
    found = []
    for trace in volts.traces:
        here = np.flatnonzero(runs == trace.run)
        ends = [np.interp(trace.at_m, along_m[here], share[here]) for rows in (low, high) for share in rows]
        kv = (trace.kv, trace.live_kv) * 2
        counted_low, live_low, counted_high, live_high = (a * b for a, b in zip(kv, ends, strict=True))
        found.append(RunBand(trace.run, trace.at_m, counted_low, counted_high, live_low, live_high))
    return Band(tuple(found))


@dataclass(frozen=True)
class _Part:
    """A season at one end of the guesses, solved: its volts at the sampled places, free to reverse, (2, P, K+1)."""

    found: Solved
    where: Samples
    free_v: Complex

    def kv(self, source: Source) -> Real:
        """What the tester shows under an energizer, kV, (2, P): as it counts, and of live strands to soil."""
        own = self.found.solution
        under = own.under(source)
        share = under.free_across_v / own.free_across_v
        spectra = self.free_v * (share if under.scale is None else share * under.scale)
        if self._has_earth:
            return self.found.shown_kv(spectra)
        live = self.found.shown_kv(spectra[1])
        return np.stack([live, live])

    @cached_property
    def _has_earth(self) -> bool:
        return any(Terminal.EARTH in terminals_of(span.line) for span in self.found.solution.network.spans)


def _parts(plan: Plan, season: Season) -> tuple[_Part, ...]:
    """The unlucky, the likely and the lucky end, solved side by side."""
    weathers = [Weather(season, guess) for guess in (Guess.LOW, Guess.LIKELY, Guess.HIGH)]
    circuits = [circuit(plan, weather) for weather in weathers]
    solutions = solve_pulses(tuple(c.network for c in circuits), COARSE)
    rows = [Solved(plan, *row) for row in zip(weathers, circuits, solutions, strict=True)]
    where = samples(rows[1], _SPARSER)
    free = [replace(found, solution=replace(found.solution, discharge=None)) for found in rows]
    return tuple(_Part(a, where, live_spectra(b, where)) for a, b in zip(rows, free, strict=True))


def _other_sources(likely: Solved) -> Iterator[Source]:
    """What else may stand there: a discharge that reverses, and the shapes that the plate leaves open."""
    yield replace(likely.solution.network.source, one_way=False)
    unit = unit_of(likely.plan)
    if unit is not None and not unit.loads:
        for shape in SHAPE_BAND:
            yield pulse_of(replace(unit, shape=shape), half=likely.plan.half_power).at(ENERGIZER)
