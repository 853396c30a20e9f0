"""The earth test on paper: short the fence, and see how far the rods rise.

Practice: at least 100 m away lay steel on the live strand until the fence shows 1 to 2 kV, then
read between the last rod and a peg. The bounds are those of practice; see docs/schools.md, DG-13.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

from scipy.optimize import brentq

from adze.core.circuit import ENERGIZER, Incomplete, rod_field
from adze.core.forecast import Solved, spot_of
from adze.core.ground import Place, feed, length_m, run_of
from adze.core.laplace import Complex
from adze.core.network import Port, Terminal
from adze.core.plan import Plan
from adze.core.season import soil_ohm_m
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


def short_place(plan: Plan) -> Place | None:
    """Where the test shorts the fence: 100 m along from the feed, or at the end; None without runs."""
    start = feed(plan)
    if start is None:
        return None
    run = run_of(plan, start.place.run)
    out = start.place.at_m + SHORT_AWAY_M
    return Place(run.id, out if out <= length_m(run) else max(0.0, start.place.at_m - SHORT_AWAY_M))


def short_ohm(fence_kv: Callable[[float], float]) -> float:
    """The short that brings the fence down to what a test wants, ohm; the hardest that steel gives where none does.

    `fence_kv` tells what the fence shows at the short with so many ohm.
    """
    low, high = _SHORT_RANGE_OHM
    if fence_kv(low) >= _SHORTED_KV:
        return low
    if fence_kv(high) <= _SHORTED_KV:
        return high
    return math.exp(brentq(lambda x: fence_kv(math.exp(x)) - _SHORTED_KV, math.log(low), math.log(high), xtol=0.01))


def earth_test(found: Solved) -> EarthTest:
    """Short a solved fence at `short_place`, and read the rods. Raises Incomplete."""
    plan, weather = found.plan, found.weather
    place = short_place(plan)
    if place is None:
        raise Incomplete("ground", "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    field = rod_field(plan)
    last = field.positions_m[-1][0]
    fraction = field.peg_fraction(soil_ohm_m(plan, weather), (last + _PEG_M, 0.0))
    spot = spot_of(found, place)

    def peak_kv(spectrum: Complex) -> float:
        return abs(float(found.solution.peak(spectrum))) / 1000

    def fence_kv(ohm: float) -> float:
        return peak_kv(spot.load_v(ohm, Terminal.LIVE))

    ohm = short_ohm(fence_kv)
    rise = peak_kv(spot.elsewhere_v(ohm, Port(ENERGIZER, Terminal.EARTH)))
    return EarthTest(found.circuit.rods_ohm, rise, rise * fraction, fence_kv(ohm), ohm)
