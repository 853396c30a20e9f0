"""After a mend: whether what was found explains what was read since the last one, or something more is left."""

import math
from dataclasses import dataclass, replace

import numpy as np

from adze.core.basics.types import Real
from adze.core.trace.belief import Doubts, Learner, TraceReading, fresh, normalised
from adze.core.trace.grid import Spot
from adze.core.trace.hypotheses import HypothesisBlock, HypothesisSet
from adze.core.trace.inspections import Inspections
from adze.core.trace.predicted import CUT_TIMES, SIZES_OHM, hypotheses, rods_factor
from adze.core.trace.pulse_base import CUT, LE, LS, RODS
from adze.core.trace.suspects import GROWN, MATERIAL_AFTER, RODS_AFTER, Suspects

NOTHING_ELSE = (0.55, 0.70)  # after the first find, after later ones
_FOUND_SIZES, _TIMES_BEST = 41, (1.0, 1.6, 2.6, 6.0, 20.0)
_LEAST_LOSS, _SURE, _LEAST, _MOST = 0.03, 0.5, -14.0, 10.0
MOST_EVIDENCE = 60.0  # of growth against all else, as a logarithm: beyond it only the figure would overflow
_HISTORY = 30
# Growth all over: how likely it is beforehand where a fence is low, the spread of its logarithm; assumptions.
# More than six times is not believed: several faults look so, and how kV turn with growth is only known near by.
GROWN_SHARE, _GROWN_SPREAD, _MOST_GROWN = 0.10, 0.5, 6.0
LOOKS_FADE = 0.7
History = list[tuple[TraceReading, bool]]
KINDS = {"LS": LS, "LE": LE, "cut": CUT, "grass": LS}


@dataclass(frozen=True)
class Find:
    """What was found: its kind (LS, LE, CUT or RODS) and where."""

    kind: int
    spot: Spot


@dataclass(frozen=True)
class Scored:
    """How readings speak for something more: `log_ratio` (N+1,) and the doubts that each hypothesis learned.

    `alone` (1,) is what "nothing else" thinks of unit, rods and growth, with the fault of `size`.
    """

    log_ratio: Real
    doubts: Doubts
    alone: Doubts
    size: float


def _replayed(learner: Learner, made: Doubts, block: object, history: History) -> Doubts:
    for reading, again in history[-_HISTORY:]:
        made = learner.take(made, block, reading, again=again)  # type: ignore[arg-type]
    return made


def _tried(kind: int) -> Real:
    """Sizes of a fault that was found: ohms; a cut's are more, rods take a factor."""
    ohm = np.geomspace(SIZES_OHM[0], SIZES_OHM[-1], _FOUND_SIZES)
    return rods_factor(ohm) if kind == RODS else CUT_TIMES * ohm if kind == CUT else ohm


def _weaker(kind: int, size: float, times: float) -> float:
    """The size of a fault so many times weaker, which leaves room for one more."""
    return 1 + (size - 1) / times if kind == RODS else size * times


def score(suspects: Suspects, learner: Learner, fault: int, history: History) -> Scored:
    """Score "the found fault alone" against "one more" over the readings since the last mend."""
    base = suspects.base
    kind = int(base.faults.kind[fault])
    sizes = _tried(kind)
    alone = hypotheses(base, base.healthy, np.full(_FOUND_SIZES, fault), sizes)
    weights = np.concatenate([[-np.inf], np.zeros(_FOUND_SIZES)])
    told = _replayed(learner, fresh(weights, learner.known), alone, history)
    best = int(np.argmax(told.log_weight))
    nothing_else = _log_sum(told.log_weight)
    chosen = np.flatnonzero((suspects.loss > _LEAST_LOSS) & (np.arange(len(suspects.loss)) > 0))
    total = np.full(len(suspects.loss), -np.inf)
    best_more = np.full(len(suspects.loss), -np.inf)
    kept = fresh(np.zeros(len(suspects.loss)), learner.known)
    for times in _TIMES_BEST:
        state = base.with_fault(base.healthy, fault, _weaker(kind, float(sizes[best - 1]), times))
        block = hypotheses(base, state, suspects.fault[chosen], suspects.size[chosen], standing=(fault,))
        found = _replayed(learner, fresh(np.zeros(len(chosen) + 1), learner.known), block, history).part(
            np.arange(1, len(chosen) + 1)
        )
        total[chosen] = np.logaddexp(total[chosen], found.log_weight)
        better = found.log_weight > best_more[chosen]
        rows = chosen[better]
        best_more[rows] = found.log_weight[better]
        kept.mean[rows], kept.cov[rows] = found.mean[better], found.cov[better]
    log_ratio = np.zeros(len(total))
    log_ratio[chosen] = np.clip(_SURE * (total[chosen] - nothing_else), _LEAST, _MOST)
    log_ratio[suspects.loss <= MATERIAL_AFTER] = 0.0
    own = told.part(np.array([best]))
    kept.mean[0], kept.cov[0] = own.mean[0], own.cov[0]
    return Scored(log_ratio, kept, own, float(sizes[best - 1]))


def _log_sum(values: Real) -> float:
    most = float(values.max())
    return most + math.log(float(np.exp(values - most).sum()))


def believed_after(suspects: Suspects, scored: Scored, inspections: Inspections, finds: int) -> HypothesisSet:
    """What is believed after a mend: kinds and places as at the start, by what the readings say of something more."""
    kinds = suspects.kind
    prior = suspects.prior.copy()
    rods = kinds == RODS
    if rods.any():
        prior[rods] *= RODS_AFTER / prior[rods].sum()
    others = np.arange(len(prior)) > 0
    prior[others] *= 1 / prior[others].sum()
    none = NOTHING_ELSE[min(finds, len(NOTHING_ELSE)) - 1]
    log = np.log(np.where(others, (1 - none) * prior, none)) + np.where(others, scored.log_ratio, 0.0)
    doubts = normalised(replace(scored.doubts, log_weight=log))
    block = HypothesisBlock(suspects.single, doubts, suspects.loss)
    return HypothesisSet(suspects, (block,), inspections.faded(LOOKS_FADE), MATERIAL_AFTER)


def moved(scored: Scored) -> tuple[float, float]:
    """How far rods and growth must be set anew, as factors; 1 where it is less than a tenth."""
    factors = np.exp(scored.alone.mean[0, 1:])
    rods, grass = (float(f) if abs(math.log(f)) > math.log(1.1) else 1.0 for f in factors)
    return rods, grass


def anew(doubts: Doubts, which: int, log: float, spread: float) -> Doubts:
    """The same with rods (1) or growth (2) known anew: the logarithm to what the fence is computed with, its spread."""
    mean, cov = doubts.mean.copy(), doubts.cov.copy()
    mean[:, which] = log
    cov[:, which, :] = cov[:, :, which] = 0.0
    cov[:, which, which] = spread**2
    return replace(doubts, mean=mean, cov=cov)


def score_anew(suspects: Suspects, learner: Learner, history: History) -> Scored:
    """Score "nothing more" against every single fault, on a fence with what was found in it already."""
    told = _replayed(learner, fresh(np.zeros(len(suspects.loss)), learner.known), suspects.single, history)
    log_ratio = np.clip(_SURE * (told.log_weight - told.log_weight[0]), _LEAST, _MOST)
    log_ratio[suspects.loss <= MATERIAL_AFTER] = 0.0
    return Scored(log_ratio, told, told.part(np.array([0])), 1.0)


@dataclass(frozen=True)
class AllGrown:
    """How likely growth all along the fence is all that is wrong, and how many times the forecast's it then is."""

    share: float
    times: float
    spread: float


def growth_told(candidates: HypothesisSet, learner: Learner, log_prior: Real, history: History) -> AllGrown:
    """Growth all over as one more suspect, weighed against all others before the first find.

    "Nothing is wrong" is among those and is read with the same readings, so that the odds are those of the two, times
    what it has of the weight beside what it had beforehand.
    """
    suspects = candidates.suspects
    alone = hypotheses(suspects.base, suspects.base.healthy, np.empty(0, dtype=np.intp), np.empty(0))
    nothing = _replayed(learner, fresh(np.zeros(1), learner.known), alone, history)
    known = anew(learner.known, 2, 0.0, _GROWN_SPREAD)
    grown = _replayed(learner, fresh(np.zeros(1), known), suspects.grown, history)
    prior = float(np.exp(log_prior[0] - log_prior.max()) / np.exp(log_prior - log_prior.max()).sum())
    evidence = float(grown.log_weight[0] - nothing.log_weight[0])
    odds = (
        GROWN_SHARE / (1 - GROWN_SHARE) * math.exp(min(evidence, MOST_EVIDENCE)) * float(candidates.weight[0]) / prior
    )
    times = GROWN * math.exp(float(grown.mean[0, 2]))
    odds = odds if times <= _MOST_GROWN else 0.0
    return AllGrown(odds / (1 + odds), times, math.sqrt(float(grown.cov[0, 2, 2])))


def port_of(suspects: Suspects, kind: int, place: int, piece: int) -> int:
    """The port of a fault that was found. Growth counts as a leak to soil."""
    faults = suspects.base.faults
    if kind == CUT:
        rows = np.flatnonzero((faults.kind == CUT) & (faults.piece == piece))
    else:
        rows = np.flatnonzero((faults.kind == kind) & (faults.place == place))
        if kind == LE and not len(rows):
            rows = np.flatnonzero((faults.kind == LS) & (faults.place == place))
    return int(rows[0])
