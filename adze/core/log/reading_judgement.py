"""How a tester's reading stands to what was forecast at its place, and to what the animals want."""

import math
from dataclasses import dataclass

from adze.core.basics.rounding import significant
from adze.core.basics.status import Status
from adze.core.basics.units import band_words, kv_words
from adze.core.log.level import METER_KV, METER_SHARE

# An earth strand's rise follows the soil: half to twice is common; below 0.3 kV a tester says little. Trade practice.
EARTH_SPREAD, EARTH_LEAST_KV = 2.0, 0.3
# A reading this share of the likely kV below the band fails; less is marginal. Of the order of a tester's own error.
FAR_BELOW_SHARE = 0.15
NINE_IN_TEN = 1.645  # standard deviations to either side that hold nine of ten
_READ_ALIKE_KV = 0.05  # what a display of one decimal cannot show

_ALONE_WHY = {
    "@unit": "check battery, terminals and supply first, then ask the repairer",
    "@lead": "if the unit is well, it is the lead-out: a nick, a wet post or old metal against it",
}


@dataclass(frozen=True)
class Expected:
    """kV forecast at a place: the likely figure, and what nine good readings in ten lie between."""

    low: float
    likely: float
    high: float

    @property
    def words(self) -> str:
        """The band and the likely figure."""
        return f"{band_words(kv_words(self.low), kv_words(self.high))} kV, likely {kv_words(self.likely)}"


@dataclass(frozen=True)
class ReadingVerdict:
    """How a reading stands, and the sentence that says why."""

    status: Status
    says: str


def with_tester(low_kv: float, likely_kv: float, high_kv: float) -> Expected:
    """Nine good readings in ten: what soil and growth leave open (the ends of a band), with the tester's own error."""
    error_kv = NINE_IN_TEN * math.hypot(METER_SHARE * likely_kv, METER_KV)
    below, above = max(0.0, likely_kv - low_kv), max(0.0, high_kv - likely_kv)
    return Expected(
        max(0.0, likely_kv - math.hypot(below, error_kv)), likely_kv, likely_kv + math.hypot(above, error_kv)
    )


NOT_FORECAST = ReadingVerdict(Status.UNKNOWN, "Nothing was forecast.")


def expected_earth_rise(rise_kv: float) -> Expected:
    """Return the band in which an earth strand's reading should lie, given its forecast rise in kV."""
    return Expected(0.0, rise_kv, max(rise_kv * EARTH_SPREAD, rise_kv + EARTH_LEAST_KV))


def judge_live(kv: float, expected: Expected, *, is_over: bool, wanted_kv: float | None) -> ReadingVerdict:
    """Judge a live strand's reading in kV. `is_over`: the tester was at the end of its scale.

    `wanted_kv` is what the animals of the line want; None where the line is no longer in the plan.
    """
    found = _against_band(kv, expected, is_over=is_over)
    if found.status is Status.HOLDS and wanted_kv is not None and significant(kv) < wanted_kv:
        short = f"{found.says} {kv_words(wanted_kv)} kV are needed there: the plan itself is too weak."
        return ReadingVerdict(Status.MARGINAL, short)
    return found


def _against_band(kv: float, expected: Expected, *, is_over: bool) -> ReadingVerdict:
    off = kv - (expected.low if kv < expected.low else expected.high)
    if is_over and kv <= expected.high:
        return ReadingVerdict(Status.HOLDS, f"The tester is at the end of its scale; the forecast is {expected.words}.")
    if expected.low <= significant(kv) <= expected.high or abs(off) < _READ_ALIKE_KV:
        return ReadingVerdict(Status.HOLDS, f"It agrees with the forecast of {expected.words}.")
    if kv < expected.low:
        status = Status.FAILS if -off > FAR_BELOW_SHARE * expected.likely else Status.MARGINAL
        return ReadingVerdict(
            status,
            f"{kv_words(-off)} kV below the forecast of {expected.words}: the fence has a leak that is not on the "
            "plan.",
        )
    return ReadingVerdict(
        Status.HOLDS,
        f"{kv_words(off)} kV above the forecast of {expected.words}: the fence is cleaner or drier than assumed.",
    )


def judge_earth(kv: float, expected: Expected) -> ReadingVerdict:
    """Judge an earth strand's own reading in kV: it should rise little."""
    likely = kv_words(expected.likely)
    if kv <= expected.high:
        return ReadingVerdict(Status.HOLDS, f"The earth strand is at {kv_words(kv)} kV; {likely} are forecast.")
    words = "look at the rods, or for a live strand that lies on it"
    return ReadingVerdict(Status.FAILS, f"The earth strand is at {kv_words(kv)} kV; {likely} are forecast: {words}.")


def judge_alone(where: str, kv: float, expected: Expected | None, *, is_over: bool) -> ReadingVerdict:
    """Judge the unit ("@unit") or the lead-out ("@lead") read in kV with the fence off; None: no unit was chosen."""
    if expected is None:
        return ReadingVerdict(Status.UNKNOWN, "No energizer was chosen, so there is no forecast.")
    likely = kv_words(expected.likely)
    if kv < expected.low and not is_over:
        short = f"{kv_words(kv)} kV of {likely} without a fence"
        return ReadingVerdict(Status.FAILS, f"{short}: {_ALONE_WHY[where]}. Do that before anybody walks the fence.")
    return ReadingVerdict(Status.HOLDS, f"It is well: up to {likely} kV are expected without a fence.")
