"""Strands read one by one at a place: which of them is low, beside what each should show there."""

from dataclasses import dataclass

import numpy as np

from adze.core.basics.types import Real
from adze.core.basics.units import kv_words
from adze.core.build.construction import has_earth_strands, live_numbers
from adze.core.forecast.apart import groups_of, strand_words
from adze.core.forecast.volts import volts
from adze.core.ground.lines import run_of
from adze.core.ground.places import Place
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.season import Weather
from adze.core.plan.stages import Incomplete

_STRAND_SHOWN = "{strand}, at {kv} of {well_kv} kV"
_EARTH_STRAND_WELL = "The earth strand is well ({kv} kV to soil)."
_LOWEST = "It is the lowest: look for growth, a fallen insulator, a clod or wire lying on it."
_NOT_LOWEST = "It is not the lowest: look for a branch, a cracked insulator, a wire across it, a bad joint."
_EARTH_STRAND_LIVE = (
    "The earth strand is at {kv} kV to soil, {well_kv} are expected. A live strand touches it past here, or its "
    "link to the rods or the rods themselves are poor."
)
_NO_STRAND_LOW = "No live strand is low here."
_STRAND_CUT = "It is cut or not connected: look at its joints."
_LOW_STRAND = "It is on {shown}; the others are {others}. {cause}"
_ALL_LOW = "All live strands are equally low ({shown}): the cause is the branch, the unit or the earth, not one strand."
_LESS_LOW = "less low"

LOW_SHARE = 0.85  # of what it should show: twice the tester's 3 % and the model's 4 %, in quadrature, and some more
_CUT_SHARE = 0.05
_EARTH_TIMES, _EARTH_MORE_KV = 2.0, 0.3  # twice as many ohms are found on half of the farms only, and a tester's end


@dataclass(frozen=True)
class StrandRow:
    """Strands that are one conductor at a place: their numbers from the ground, what they are called, kV when well.

    Earth strands have no numbers: their kV to soil are low when well.
    """

    numbers: tuple[int, ...]
    words: str
    well_kv: float

    @property
    def is_earth(self) -> bool:
        """Whether it is the earth strand."""
        return not self.numbers


@dataclass(frozen=True)
class StrandVerdict:
    """Which strands are low, in words; `counted_kv` is what the search takes of it, `low` the numbers of the strand."""

    words: str
    counted_kv: float | None
    low: tuple[int, ...] = ()


def comparable(plan: Plan, run: str) -> bool:
    """Whether strands of a line can be told apart by a tester: live ones that are apart, or an earth strand."""
    try:
        apart = bool(groups_of(plan, run_of(plan, run)))
    except Incomplete:
        return False
    return apart or has_earth_strands(views_by_run(plan)[run])


@dataclass(frozen=True)
class StrandAlong:
    """A strand along its line: what it should show to soil when well, kV (N,) at `at_m` (N,)."""

    numbers: tuple[int, ...]
    words: str
    at_m: Real
    well_kv: Real


def strands_along(plan: Plan, weather: Weather, run: str) -> tuple[StrandAlong, ...]:
    """What each strand of a line should show to soil along it; none of a line too short to be computed.

    Raises Incomplete.
    """
    trace = next((one for one in volts(plan, weather).traces if one.run == run), None)
    if trace is None:
        return ()
    groups = groups_of(plan, run_of(plan, run))
    numbers = groups[0].numbers if groups else live_numbers(views_by_run(plan)[run])
    live = [(numbers, trace.live_kv), *((own.group.numbers, own.live_kv) for own in trace.apart)]
    rows = [StrandAlong(own, _words(own), trace.at_m, np.abs(kv)) for own, kv in sorted(live, key=lambda row: row[0])]
    if trace.has_earth:
        rows.append(StrandAlong((), "earth strand", trace.at_m, np.abs(trace.earth_kv)))
    return tuple(rows)


def strands_at(plan: Plan, weather: Weather, place: Place) -> tuple[StrandRow, ...]:
    """What each strand of a line should show to soil at a place when well; none of a line too short to be computed.

    Raises Incomplete.
    """
    return tuple(
        StrandRow(row.numbers, row.words, float(np.interp(place.at_m, row.at_m, row.well_kv)))
        for row in strands_along(plan, weather, place.run)
    )


def _words(numbers: tuple[int, ...]) -> str:
    return strand_words(numbers) if numbers else "the live netting"


def judged(rows: tuple[StrandRow, ...], read_kv: tuple[float | None, ...]) -> StrandVerdict:
    """Which strand is low, of kV (one for each row) of which some may be missing.

    One strand lower than its neighbours: that strand. All alike: the branch, the unit or the earth.
    """
    both = [(row, kv) for row, kv in zip(rows, read_kv, strict=True) if kv is not None]
    live = [(kv / max(row.well_kv, 0.1), row, kv) for row, kv in both if not row.is_earth]
    earth = next(((row, kv) for row, kv in both if row.is_earth), None)
    said = [_earth_words(*earth)] if earth else []
    if not live:
        return StrandVerdict(" ".join(said), None)
    least, row, kv = min(live, key=lambda one: one[0])
    most = max(share for share, *_ in live)
    shown = _STRAND_SHOWN.format(strand=row.words, kv=kv_words(kv), well_kv=kv_words(row.well_kv))
    low: tuple[int, ...] = ()
    if least >= LOW_SHARE:
        said.insert(0, _NO_STRAND_LOW)
    elif len(live) > 1 and least < LOW_SHARE * most:
        low = row.numbers
        cut = _STRAND_CUT if least < _CUT_SHARE else _where(row, live)
        others = "well" if most >= LOW_SHARE else _LESS_LOW
        said.insert(0, _LOW_STRAND.format(shown=shown, others=others, cause=cut))
    elif len(live) > 1:
        said.insert(0, _ALL_LOW.format(shown=shown))
    else:
        said.insert(0, f"Low: {shown}.")
    return StrandVerdict(" ".join(said), kv, low)


def _where(row: StrandRow, live: list[tuple[float, StrandRow, float]]) -> str:
    lowest = min(own.numbers for _, own, _ in live) == row.numbers
    return _LOWEST if lowest else _NOT_LOWEST


def _earth_words(row: StrandRow, kv: float) -> str:
    if kv > _EARTH_TIMES * row.well_kv + _EARTH_MORE_KV:
        return _EARTH_STRAND_LIVE.format(kv=kv_words(kv), well_kv=kv_words(row.well_kv))
    return _EARTH_STRAND_WELL.format(kv=kv_words(kv))
