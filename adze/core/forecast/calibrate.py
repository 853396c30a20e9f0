"""What readings teach of soil, growth and the tester: factors, how sure they are, and where readings do not fit.

Least squares on the logarithms of the factors with what was thought before as a prior (the tables'
ranges as one standard deviation); robust against single faults (A. Tarantola, Inverse Problem Theory
(2005), ch. 3; Cauchy loss). A tester that shows too little or too much shows the same share of all kV, also at the
unit, where growth takes little: that tells the two apart. A reading that stays far off afterwards is no matter of
soil or growth. Readings that the tables forecast well in another week than theirs are questioned first.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from adze.core.basics.types import Real
from adze.core.forecast.volts import readings_at, solved
from adze.core.ground.places import Place
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.earth import Calibration
from adze.core.plan.season import Season, Weather
from adze.core.tables.ground import soils

LEAK_SPREAD = 2.0  # growth may leak half or twice as much as the table says
_READING_SHARE, _READING_KV = 0.05, 0.15  # a tester's error and the eye's
_AMPS_SHARE, _READING_A = 0.15, 1.0  # amps of testers differ more: each takes the peak in its own way
_TESTER_SPREAD = 1.1  # two testers on one fence differ by a tenth
_NOTICED = 1.1  # of the tester's factor: more is said
_BOUND = math.log(6.0)  # no factor beyond: then the plan is wrong, not the tables
_OFF = 2.5  # standard deviations of a reading that does not fit
_ANOTHER_WEEK, _MISSED = 0.25, 2.0  # of the misses in its own week; misses so large, in standard deviations, at least


@dataclass(frozen=True)
class Sample:
    """One reading, live strand to soil, kV, and the amps where the tester shows them."""

    place: Place
    season: Season
    kv: float
    amps: float | None = None

    @property
    def error_kv(self) -> float:
        """How far it may be off by itself."""
        return math.hypot(_READING_SHARE * self.kv, _READING_KV)

    @property
    def error_a(self) -> float:
        """The same of its amps."""
        return math.hypot(_AMPS_SHARE * (self.amps or 0.0), _READING_A)


@dataclass(frozen=True)
class Fit:
    """The calibration, how far the forecast was and is off (kV, root of mean squares), and readings that do not fit.

    `tester` is what the tester shows of the kV that stand there. `doubtful` are the weeks whose readings the tables
    forecast far better in another, with that one.
    """

    calibration: Calibration
    before_kv: float
    after_kv: float
    misfits: tuple[tuple[Sample, float], ...]
    tester: float = 1.0
    doubtful: tuple[tuple[Season, Season], ...] = ()

    @property
    def is_tester_off(self) -> bool:
        """Whether the tester shows so much less or more that it is to be compared with another."""
        return abs(math.log(self.tester)) > math.log(_NOTICED)


def _soil_sd(plan: Plan) -> float:
    soil = soils()[plan.soil]
    return math.log(soil.high_ohm_m / soil.low_ohm_m) / 2


def _with(plan: Plan, leak: float, soil: float) -> Plan:
    known = Calibration(leak_factor=math.exp(leak), soil_factor=math.exp(soil))
    return replaced(plan, calibration=known)


def _forecast(plan: Plan, samples: Sequence[Sample]) -> Real:
    """kV and amps of every sample, (2, S)."""
    found = np.empty((2, len(samples)))
    for season in {sample.season for sample in samples}:
        here = [i for i, sample in enumerate(samples) if sample.season is season]
        found[:, here] = readings_at(solved(plan, Weather(season)), [samples[i].place for i in here])
    return found


def calibrate(plan: Plan, samples: Sequence[Sample]) -> Fit:
    """Fit growth and soil to readings. Raises ValueError without any, Incomplete where nothing can be solved."""
    if not samples:
        raise ValueError("readings: log at least one live reading first; readings at more places teach more")
    read = np.array([s.kv for s in samples])
    errors = np.array([s.error_kv for s in samples])
    counted = [i for i, s in enumerate(samples) if s.amps is not None]
    read_a = np.array([samples[i].amps for i in counted], dtype=float)
    errors_a = np.array([samples[i].error_a for i in counted])
    priors = np.array([math.log(LEAK_SPREAD), _soil_sd(plan), math.log(_TESTER_SPREAD)])
    before = _forecast(_with(plan, 0.0, 0.0), samples)[0]

    def misses(x: Real) -> Real:
        leak, soil, tester = x
        kv, amps = _forecast(_with(plan, leak, soil), samples)
        rows = (math.exp(tester) * kv - read) / errors, (amps[counted] - read_a) / errors_a, x / priors
        return np.concatenate(rows)

    found = least_squares(
        misses, np.zeros(3), bounds=(-_BOUND, _BOUND), diff_step=[0.02] * 3, loss="cauchy", x_scale=priors, xtol=1e-3
    )
    slopes: Real = np.asarray(found.jac, dtype=float)
    spread = np.sqrt(np.diag(np.linalg.inv(slopes.T @ slopes)))
    leak, soil, tester = found.x.tolist()
    after = math.exp(tester) * _forecast(_with(plan, leak, soil), samples)[0]
    off = (read - after) / errors
    known = Calibration(
        leak_factor=round(math.exp(leak), 3),
        soil_factor=round(math.exp(soil), 3),
        leak_spread=round(math.exp(min(spread[0], priors[0])), 3),
        soil_share=round(min(1.0, spread[1] / priors[1]), 3),
        readings=len(samples),
    )
    misfits = tuple((s, float(a)) for s, a, o in zip(samples, after, off, strict=True) if abs(o) > _OFF)
    doubtful = tuple(_doubtful(plan, samples))
    return Fit(known, _rms(before - read), _rms(after - read), misfits, math.exp(tester), doubtful)


def _doubtful(plan: Plan, samples: Sequence[Sample]) -> Iterator[tuple[Season, Season]]:
    """Weeks whose readings lie far off the tables' forecast and near that of another week: both weeks."""
    plain = _with(plan, 0.0, 0.0)
    for season in dict.fromkeys(sample.season for sample in samples):
        own = [sample for sample in samples if sample.season is season]
        missed = {
            other: _rms(
                (_forecast(plain, [replace(s, season=other) for s in own])[0] - np.array([s.kv for s in own]))
                / np.array([s.error_kv for s in own])
            )
            for other in Season
        }
        best = min(missed, key=lambda other: missed[other])
        if missed[season] > _MISSED and missed[best] < _ANOTHER_WEEK * missed[season]:
            yield season, best


def _rms(values: Real) -> float:
    return float(np.sqrt(np.mean(values**2)))
