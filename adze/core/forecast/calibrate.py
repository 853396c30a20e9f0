"""What readings teach of soil and growth: two factors, how sure they are, and where readings do not fit.

Least squares on the logarithms of both factors with what was thought before as a prior (the tables'
ranges as one standard deviation); robust against single faults (A. Tarantola, Inverse Problem Theory
(2005), ch. 3; Cauchy loss). A reading that stays far off afterwards is no matter of soil or growth.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

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
_BOUND = math.log(6.0)  # no factor beyond: then the plan is wrong, not the tables
_OFF = 2.5  # standard deviations of a reading that does not fit


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
    """The calibration, how far the forecast was and is off (kV, root of mean squares), and readings that do not fit."""

    calibration: Calibration
    before_kv: float
    after_kv: float
    misfits: tuple[tuple[Sample, float], ...]


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
        raise ValueError("readings: log at least one live reading first; more places tell more")
    read = np.array([s.kv for s in samples])
    errors = np.array([s.error_kv for s in samples])
    counted = [i for i, s in enumerate(samples) if s.amps is not None]
    read_a = np.array([samples[i].amps for i in counted], dtype=float)
    errors_a = np.array([samples[i].error_a for i in counted])
    priors = np.array([math.log(LEAK_SPREAD), _soil_sd(plan)])
    before = _forecast(_with(plan, 0.0, 0.0), samples)[0]

    def misses(x: Real) -> Real:
        kv, amps = _forecast(_with(plan, *x), samples)
        return np.concatenate([(kv - read) / errors, (amps[counted] - read_a) / errors_a, x / priors])

    found = least_squares(
        misses, np.zeros(2), bounds=(-_BOUND, _BOUND), diff_step=[0.02, 0.02], loss="cauchy", x_scale=priors, xtol=1e-3
    )
    slopes: Real = np.asarray(found.jac, dtype=float)
    spread = np.sqrt(np.diag(np.linalg.inv(slopes.T @ slopes)))
    after = _forecast(_with(plan, *found.x), samples)[0]
    off = (read - after) / errors
    known = Calibration(
        leak_factor=round(math.exp(found.x[0]), 3),
        soil_factor=round(math.exp(found.x[1]), 3),
        leak_spread=round(math.exp(min(spread[0], priors[0])), 3),
        soil_share=round(min(1.0, spread[1] / priors[1]), 3),
        readings=len(samples),
    )
    misfits = tuple((s, float(a)) for s, a, o in zip(samples, after, off, strict=True) if abs(o) > _OFF)
    return Fit(known, _rms(before - read), _rms(after - read), misfits)


def _rms(values: Real) -> float:
    return float(np.sqrt(np.mean(values**2)))
