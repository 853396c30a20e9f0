"""What is believed: a weight for every hypothesis, with its own idea of unit, rods and growth, after each reading.

Each reading is Gaussian about what a hypothesis predicts. Unit, rods and growth are three doubts (standard deviations
of logarithms) that every hypothesis learns by one scalar Kalman step a reading (R. E. Kalman, J. Basic Eng. 82
(1960)); residuals are capped, so that one bad reading cannot kill the truth.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from adze.core.basics.types import Index, Real
from adze.core.trace.farm import TracedFarm
from adze.core.trace.predicted import LOG_RODS, Hypotheses, Predicted, ReadAt
from adze.core.trace.pulse_base import CUT, RODS, TraceBase

CAP, MEAN_CAP, OWN_PLACE_CAP = 5.5, 4.0, 1.0
# A surge goes out and comes back: where its two peaks are nearly alike, which of them a tester shows is open, and an
# arrow may be read the wrong way. Amps the other way about cost so much of the logarithm of the weight: one in twenty.
_OTHER_WAY = 3.0
MODEL_KV, MODEL_A = (0.04, 0.02), (0.08, 0.05)  # before the first find, after one
_LOCAL_GRASS, _GRASSY_AMPS = 0.15, 0.25
RODS_PLACE = ReadAt(-1, "")


@dataclass(frozen=True)
class TraceReading:
    """What a tester showed at a place, kV, and A in the leg from its span's a on; either may be missing.

    `opened` are the switches that stood open meanwhile.
    """

    place: ReadAt
    kv: float | None
    amps: float | None = None
    opened: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Doubts:
    """What hypotheses (H,) think of unit, rods and growth: mean (H, 3) and covariance (H, 3, 3) of the logarithms."""

    log_weight: Real
    mean: Real
    cov: Real

    def part(self, chosen: Index) -> "Doubts":
        """The same for some hypotheses."""
        return Doubts(self.log_weight[chosen], self.mean[chosen], self.cov[chosen])

    def joined(self, other: "Doubts") -> "Doubts":
        """This one's hypotheses, then the other's."""
        names = ("log_weight", "mean", "cov")
        return Doubts(*(np.concatenate([getattr(self, name), getattr(other, name)]) for name in names))


def unlearned(farm: TracedFarm) -> Doubts:
    """What is known of unit, rods and growth before anything was read, (1,)."""
    spread = np.diag(np.square([farm.doubt.unit, farm.doubt.rods, farm.doubt.grass]))
    return Doubts(np.zeros(1), np.zeros((1, 3)), spread[None])


def fresh(log_weight: Real, known: Doubts) -> Doubts:
    """Hypotheses of these weights that have read nothing; `known` (1,) of the doubts already."""
    count = len(log_weight)
    return Doubts(log_weight, np.repeat(known.mean, count, axis=0), np.repeat(known.cov, count, axis=0))


def kv_slopes(predicted: Predicted) -> Real:
    """How kV turn with unit, rods and growth under each hypothesis, (H, 3), kV."""
    kv = predicted.kv.astype(float)
    grass = predicted.grass_kv * kv / max(predicted.healthy_kv, 1e-6)
    return np.stack([kv, (predicted.rods_kv - kv) / LOG_RODS, grass], axis=1)


def amps_slopes(predicted: Predicted) -> Real:
    """How amps turn with unit, rods and growth under each hypothesis, (H, 3), A."""
    amps = predicted.amps.astype(float)
    left = predicted.kv / max(predicted.healthy_kv, 1e-6)
    return np.stack([amps, (predicted.rods_a - amps) / LOG_RODS, predicted.grass_a * left], axis=1)


def kv_variance(farm: TracedFarm, predicted: Predicted, slopes: Real, *, found: bool) -> Real:
    """The variance of a reading of kV about each hypothesis' own idea, (H,)."""
    kv, meter = predicted.kv.astype(float), farm.meter
    own = (meter.kv_share**2 + MODEL_KV[found] ** 2) * kv**2 + meter.kv_least**2
    variance: Real = own + (_LOCAL_GRASS * slopes[:, 2]) ** 2
    return variance


def amps_variance(farm: TracedFarm, predicted: Predicted, slopes: Real, grassy: float, *, found: bool) -> Real:
    """The variance of a reading of amps about each hypothesis' own idea, (H,)."""
    amps, meter = predicted.amps.astype(float), farm.meter
    shares = meter.amps_share**2 + MODEL_A[found] ** 2 + (_GRASSY_AMPS * min(1.0, grassy)) ** 2
    variance: Real = shares * amps**2 + meter.amps_least**2 + (_LOCAL_GRASS * slopes[:, 2]) ** 2
    return variance


def kalman(
    doubts: Doubts, off: Real, slopes: Real, variance: Real, cap: Real | float, other_way: Real | None = None
) -> Doubts:
    """One scalar step: `off` (H,) is what was read less what was predicted for the doubts at zero.

    `other_way` (H,) is the same with the sign of what was predicted turned; what is explained so teaches no doubts.
    """
    off = off - np.einsum("hi,hi->h", slopes, doubts.mean)
    gained = np.einsum("hij,hj->hi", doubts.cov, slopes)
    whole = np.einsum("hi,hi->h", slopes, gained) + variance
    spread = np.sqrt(whole)
    standard = off / spread
    square = np.minimum(np.abs(standard), cap) ** 2
    gain = gained / whole[:, None]
    if other_way is not None:
        turned = (other_way + np.einsum("hi,hi->h", slopes, doubts.mean)) / spread
        other = np.minimum(np.abs(turned), cap) ** 2 + 2 * _OTHER_WAY
        gain[other < square] = 0.0
        square = np.minimum(square, other)
    log_weight = doubts.log_weight - 0.5 * square - np.log(spread)
    mean = doubts.mean + gain * (np.clip(standard, -MEAN_CAP, MEAN_CAP) * spread)[:, None]
    cov = doubts.cov - gain[:, :, None] * gained[:, None, :]
    return Doubts(log_weight, mean, cov)


def grassiness(base: TraceBase) -> float:
    """The largest turn of ln kV with ln growth at any node: how much of the fence's volts growth takes."""
    nodes = base.grid.nodes
    both = np.stack([v[base.live[nodes]] * base.follow for v in base.well_volts])
    healthy, grassy = np.abs(base.peaks(both))
    live = healthy > 0.05
    return float(np.max(np.abs(np.log(grassy[live] / healthy[live])) / np.log(1.2), initial=0.0))


@dataclass(frozen=True)
class Learner:
    """How readings are taken in: the farm's meter and how far the model is trusted.

    `known` (1,) is what was known of unit, rods and growth before the first reading, such as the unit read alone.
    """

    farm: TracedFarm
    grassy: float
    found: bool
    known: Doubts

    def take(self, doubts: Doubts, block: Hypotheses, reading: TraceReading, *, again: bool = False) -> Doubts:
        """The hypotheses of a block after a reading; `again`: its kV were read at this place already."""
        predicted = block.under(reading.opened).predict(reading.place)
        at, beside = _own_place(block, reading.place)
        if reading.kv is not None and not again:
            slopes = kv_slopes(predicted)
            variance = kv_variance(self.farm, predicted, slopes, found=self.found)
            doubts = kalman(doubts, reading.kv - predicted.kv, slopes, variance, CAP)
        if reading.amps is not None and reading.place.leg:
            slopes = amps_slopes(predicted)
            variance = amps_variance(self.farm, predicted, slopes, self.grassy, found=self.found)
            cap = np.where(at | beside, OWN_PLACE_CAP, CAP)
            off, other_way = reading.amps - predicted.amps, reading.amps + predicted.amps
            doubts = kalman(doubts, off, slopes, variance, cap, other_way)
        return doubts

    def spread(self, doubts: Doubts, predicted: Predicted) -> tuple[Real, Real]:
        """The variance of kV and of amps to come under each hypothesis, doubts included, (H,) each."""
        slopes = kv_slopes(predicted)
        kv = kv_variance(self.farm, predicted, slopes, found=self.found)
        kv = kv + np.einsum("hi,hij,hj->h", slopes, doubts.cov, slopes)
        slopes = amps_slopes(predicted)
        amps = amps_variance(self.farm, predicted, slopes, self.grassy, found=self.found)
        return kv, amps + np.einsum("hi,hij,hj->h", slopes, doubts.cov, slopes)


def _own_place(block: Hypotheses, place: ReadAt) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Where amps cannot tell which side the fault is on: a shunt at the very place, a cut in the very piece."""
    base = block.base
    faults = base.faults
    if not place.leg:
        nowhere = np.zeros(len(block.fault), dtype=np.bool_)
        return nowhere, nowhere
    piece = base.amps_at(place.number, place.leg).piece
    at = (faults.place[block.fault] == place.number) & (faults.kind[block.fault] != RODS)
    beside = (faults.kind[block.fault] == CUT) & (faults.piece[block.fault] == piece)
    at[0] = beside[0] = False
    for one in block.standing:
        at |= faults.place[one] == place.number
        beside |= (faults.kind[one] == CUT) & (faults.piece[one] == piece)
    return at, beside


def normalised(doubts: Doubts) -> Doubts:
    """The same with weights that add up to one."""
    most = doubts.log_weight.max()
    total = most + np.log(np.exp(doubts.log_weight - most).sum())
    return replace(doubts, log_weight=doubts.log_weight - total)
