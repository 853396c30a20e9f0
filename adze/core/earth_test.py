"""The earth test on paper: short the fence, and see how far the rods rise.

Practice: at least 100 m away lay steel on the live strand until the fence shows 1 to 2 kV, then
read between the last rod and a peg. The bounds are those of practice; see docs/schools.md, DG-13.
"""

import math
from dataclasses import dataclass

from scipy.optimize import brentq

from adze.core import laplace
from adze.core.circuit import ENERGIZER, Incomplete, circuit, rod_field
from adze.core.ground import Place, feed, length_m
from adze.core.network import Port, Terminal
from adze.core.plan import Plan
from adze.core.pulse import loaded, solve_pulse
from adze.core.season import Weather, soil_ohm_m
from adze.core.strand_checks import Status

GOOD_KV, ACCEPTABLE_KV = 0.3, 0.5
SHORT_AWAY_M = 100.0
_SHORTED_KV = 1.5
_SHORT_RANGE_OHM = (2.0, 2000.0)
_PEG_M = 10.0


@dataclass(frozen=True)
class EarthTest:
    """Forecast of an earth test: true rod kV, what a peg at 10 m would show, how low the fence was shorted."""

    rods_ohm: float
    rods_kv: float
    peg_kv: float
    fence_kv: float
    short_ohm: float

    @property
    def status(self) -> Status:
        """Judged by the true rise."""
        if self.rods_kv <= GOOD_KV:
            return Status.HOLDS
        return Status.MARGINAL if self.rods_kv <= ACCEPTABLE_KV else Status.FAILS


def earth_test(plan: Plan, weather: Weather) -> EarthTest:
    """Short the fence 100 m from the feed (or at its end) and read the rods. Raises Incomplete."""
    start = feed(plan)
    if start is None:
        raise Incomplete("ground", "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    run = next(r for r in plan.runs if r.id == start.place.run)
    out = start.place.at_m + SHORT_AWAY_M
    at = min(out, length_m(run)) if out <= length_m(run) else max(0.0, start.place.at_m - SHORT_AWAY_M)
    place = Place(run.id, at)
    wiring = circuit(plan, weather, (place,))
    node = wiring.node_at(place)
    field = rod_field(plan)
    last = field.positions_m[-1][0]
    fraction = field.peg_fraction(soil_ohm_m(plan, weather), (last + _PEG_M, 0.0))
    shorted = loaded(solve_pulse(wiring.network, laplace.FAST), Port(node, Terminal.LIVE))

    def fence_kv(ohm: float) -> float:
        return abs(shorted.peak_v(ohm, shorted.at)) / 1000

    low, high = _SHORT_RANGE_OHM
    ohm = high
    if fence_kv(low) >= _SHORTED_KV:
        ohm = low
    elif fence_kv(high) > _SHORTED_KV:
        ohm = math.exp(brentq(lambda x: fence_kv(math.exp(x)) - _SHORTED_KV, math.log(low), math.log(high), xtol=0.01))
    rise = abs(shorted.peak_v(ohm, Port(ENERGIZER, Terminal.EARTH))) / 1000
    return EarthTest(wiring.rods_ohm, rise, rise * fraction, fence_kv(ohm), ohm)
