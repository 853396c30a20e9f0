"""An earth test that was read: what it says of the rods, the soil and the rods still wanting.

The inverse of the forecast (eq. 19): the rods' ohms are sought in the whole model until the peak at the
rods is what was read; a peg too near is corrected by eq. 18, a short not deep enough by what the same
rods would show under one that is.
"""

import math
from dataclasses import dataclass, replace

from scipy.optimize import brentq

from adze.core.basics.faults import FieldFault
from adze.core.basics.status import Status
from adze.core.basics.units import figure_words
from adze.core.build.rods import array, layers_of, lead_ohm
from adze.core.forecast.circuit import ENERGIZER, RODS
from adze.core.forecast.earth_test import DEEP_KV, TEST_SCHOOLS, judged, peg_at, short_ohm
from adze.core.forecast.volts import Solved, equivalent_at, solved
from adze.core.ground.places import Place
from adze.core.plan.catalogue import pulse_of, unit_of
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.season import Guess, Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.pulse.network import Terminal
from adze.core.pulse.source_update import SourceUpdate

_READ_SHARE, _READ_KV = 0.05, 0.05  # a tester's error and the eye's
_JOINT_TIMES = 1.4  # the forecast: soil and moisture as given seldom miss by more
_OHM_RANGE = (0.05, 20_000.0)
_SHORT_RANGE = (0.2, 200_000.0)
ROW_MOST = 30  # more in one row is no mend


class ReadingFault(FieldFault):
    """A reading that cannot be; `field` names where it was typed."""


@dataclass(frozen=True)
class TestRead:
    """What was read: kV at the rods against a peg so far off, kV on the fence before and with the short, and where."""

    place: Place
    season: Season
    rods_kv: float
    fence_kv: float
    peg_m: float
    before_kv: float | None = None


@dataclass(frozen=True)
class Implied:
    """What a test says: ohms of the rods with range, the soil's ohm m, the rise by a full test with range.

    `peg_share` is what part of the true rise the peg showed, `is_deep` whether the short went deep enough,
    `rods` how many in the same row bring it to the school's tolerable figure (None: not with the most tried).
    """

    rods_ohm: float
    low_ohm: float
    high_ohm: float
    forecast_ohm: float
    soil_ohm_m: float
    full_kv: float
    low_kv: float
    high_kv: float
    peg_share: float
    is_deep: bool
    status: Status
    rods: int | None

    @property
    def is_joint_doubtful(self) -> bool:
        """Whether the rods stand so far over their forecast that a clamp or lead is likelier than the soil."""
        return self.rods_ohm > _JOINT_TIMES * self.forecast_ohm

    def true_kv(self, rods_kv: float) -> float:
        """The rise of the rods against far earth, kV, of what was read against a peg in their own field."""
        return rods_kv / self.peg_share


class _Rods:
    """A plan solved in a weather on which the rods are exchanged, read at the short."""

    def __init__(self, found: Solved, place: Place) -> None:
        self._found = found
        self._swap = SourceUpdate(found.solution, RODS)
        self._spot = equivalent_at(found, place)
        unit = unit_of(found.plan)
        if unit is None:
            raise Incomplete(Stage.POWER, "No energizer is chosen. Choose one at Power.")
        self._source = pulse_of(unit, half=found.plan.half_power).at(ENERGIZER)

    def rise_kv(self, rods_ohm: float, fence_kv: float | None) -> float:
        """The rods' rise with the fence shorted to so many kV; None: as deep as a full test wants."""
        drive, shown_kv = self._swap.drive(self._source, rods_ohm), self._found.shown_kv
        under = self._swap.equivalent(self._spot, drive)

        def shorted(ohm: float) -> float:
            return float(shown_kv(under.load_v(ohm, Terminal.LIVE)))

        if fence_kv is None:
            ohm = short_ohm(shorted)
        else:
            low, high = _SHORT_RANGE
            if shorted(high) <= fence_kv:
                ohm = high
            elif shorted(low) >= fence_kv:
                ohm = low
            else:
                ends = math.log(low), math.log(high)
                ohm = math.exp(brentq(lambda x: shorted(math.exp(x)) - fence_kv, *ends, xtol=0.003))
        return float(shown_kv(self._swap.rods_v(self._spot, drive, ohm)))

    def ohm_of(self, rise_kv: float, fence_kv: float) -> float | None:
        """The rods that rise so far with the fence shorted so low, ohm; None where no rods do."""
        low, high = _OHM_RANGE
        if self.rise_kv(low, fence_kv) >= rise_kv:
            return low
        if self.rise_kv(high, fence_kv) <= rise_kv:
            return None
        ends = math.log(low), math.log(high)
        return math.exp(brentq(lambda x: self.rise_kv(math.exp(x), fence_kv) - rise_kv, *ends, xtol=0.003))


def _checked(plan: Plan, read: TestRead) -> None:
    unit = unit_of(plan)
    most = unit.open_kv if unit else 20.0
    for field, kv, words in (("rods_kv", read.rods_kv, "The rods"), ("fence_kv", read.fence_kv, "The fence")):
        if kv > most:
            raise ReadingFault(
                field, f"{words} cannot be at {kv:g} kV: the energizer has {most:g} kV without any load. Read again."
            )
    if read.before_kv is not None and read.fence_kv > read.before_kv:
        raise ReadingFault(
            "fence_kv", f"{read.fence_kv:g} kV with the short is more than the {read.before_kv:g} kV before it."
        )
    top = read.before_kv if read.before_kv is not None else most
    if read.rods_kv >= top:
        raise ReadingFault(
            "rods_kv", f"The rods cannot be at {read.rods_kv:g} kV, above the fence at {top:g} kV. Read again."
        )
    if read.fence_kv <= 0:
        raise ReadingFault(
            "fence_kv", "A shorted fence still shows some tenths of a kV; 0 means that the energizer is off."
        )


def implied(plan: Plan, read: TestRead) -> Implied:
    """What a test that was read says of a plan's rods. Raises ReadingFault, Incomplete."""
    _checked(plan, read)
    weather = Weather(read.season)
    own = array(plan.rods, layers_of(plan, weather))
    share = max(0.05, own.peg_fraction(peg_at(plan.rods, read.peg_m)))
    rise = read.rods_kv / share
    error = math.hypot(_READ_SHARE * read.rods_kv, _READ_KV) / share
    likely = _Rods(solved(plan, weather), read.place)
    ohm = likely.ohm_of(rise, read.fence_kv)
    if ohm is None:
        raise ReadingFault(
            "rods_kv",
            f"No rods on this plan reach {figure_words(rise)} kV with the fence at {read.fence_kv:g} kV: check both "
            "figures, and whether the energizer and the growth are those of the plan.",
        )
    ends = [ohm]
    for guess, off in ((Guess.LOW, -error), (Guess.HIGH, error)):
        other = _Rods(solved(plan, replace(weather, guess=guess)), read.place)
        ends.append(other.ohm_of(max(0.0, rise + off), read.fence_kv) or _OHM_RANGE[1])
        ends.append(likely.ohm_of(max(0.0, rise + off), read.fence_kv) or _OHM_RANGE[1])
    lead = lead_ohm(plan)
    factor = max(0.01, ohm - lead) / own.ohm
    full = likely.rise_kv(ohm, None)
    return Implied(
        rods_ohm=ohm,
        low_ohm=min(ends),
        high_ohm=max(ends),
        forecast_ohm=own.ohm + lead,
        soil_ohm_m=layers_of(plan, weather).upper_ohm_m * factor,
        full_kv=full,
        low_kv=likely.rise_kv(min(ends), None),
        high_kv=likely.rise_kv(max(ends), None),
        peg_share=share,
        is_deep=read.fence_kv <= DEEP_KV,
        status=judged(full, plan.earth_school),
        rods=_enough(plan, weather, likely, factor, lead),
    )


def _enough(plan: Plan, weather: Weather, rods: _Rods, factor: float, lead: float) -> int | None:
    """The fewest rods, those that stand and more in their row, that pass in soil so many times the plan's."""
    limit, layers = TEST_SCHOOLS[plan.earth_school].tolerable_kv, layers_of(plan, weather)
    for count in range(plan.rods.count, ROW_MOST + 1):
        field = array(replaced(plan.rods, count=count), layers)
        if rods.rise_kv(factor * field.ohm + lead, None) <= limit:
            return count
    return None
