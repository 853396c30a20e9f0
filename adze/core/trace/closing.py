"""The closing round: what would carry most of what may be left, and when it is no longer worth the walk."""

from dataclasses import dataclass

import numpy as np

from adze.core.basics.types import Real
from adze.core.trace.belief import Learner
from adze.core.trace.hypotheses import HypothesisSet
from adze.core.trace.next_step import (
    NextStep,
    favoured,
    learned_bits,
    likeliest,
    likelihood,
    quickly_predicted,
    sampled,
    sampled_whole,
)
from adze.core.trace.predicted import ReadAt
from adze.core.trace.suspects import lost_share

MISSED_MINUTES = 3000.0  # what a missed fault is worth
_SETTLED, _SURELY = 0.012, 0.003
_EARNED_BITS = 0.1  # how many bits of readings it takes to doubt what they are expected to bring
THOROUGH_READINGS = 3
_LEFT, _REST = 50, 30
_HEAVIEST, _EVERY = 300, 9
_NEAR, _LIKELY, _OF_LIKELIEST, _LOOKS = 8, 6, 40, 6
_APART_M = 250.0  # readings of a round


def p_left(candidates: HypothesisSet) -> float:
    """How likely something is left, a small loss counted in part."""
    return float(candidates.weight @ lost_share(candidates.loss))


def bits(p: Real) -> Real:
    """Bits of a yes or no."""
    p = np.clip(np.asarray(p, dtype=float), 1e-9, 1 - 1e-9)
    found: Real = -p * np.log2(p) - (1 - p) * np.log2(1 - p)
    return found


def closing_places(candidates: HypothesisSet, here: int, done: set[ReadAt]) -> list[ReadAt]:
    """Every node once, all legs where the person stands, near places on spans, and some of the likeliest."""
    grid = candidates.suspects.base.grid
    nodes = set(grid.nodes.tolist())
    found = [ReadAt(node, grid.legs[node][0]) for node in sorted(nodes) if node != here]
    found += [ReadAt(here, leg) for leg in grid.legs[here]]
    inside = [place for place in favoured(grid) if place.number not in nodes]
    inside.sort(key=lambda place: float(grid.walk_m[here, place.number]))
    likely = [ReadAt(p, grid.legs[p][0]) for p in likeliest(candidates, _OF_LIKELIEST)]
    step = max(1, len(likely) // _LIKELY)
    found += inside[:_NEAR] + likely[::step][:_LIKELY]
    read = {one.number for one in done if one.number >= 0}
    away_m = grid.walk_m[list(read)].min(axis=0) if read else np.full(len(grid.spots), np.inf)
    # Reading on along the same line in steps tells little that is new; other legs where one was read do.
    found = [place for place in found if place.number in read or away_m[place.number] > _APART_M]
    if not candidates.suspects.base.farm.meter.shows_amps:  # all legs of a place show the same kV
        firsts: dict[int, ReadAt] = {}
        for place in found:
            firsts.setdefault(place.number, place)
        found = [place for place in firsts.values() if place.number not in {one.number for one in done}]
    return [place for place in dict.fromkeys(found) if place not in done]


def closing_gains(candidates: HypothesisSet, learner: Learner, places: list[ReadAt]) -> Real:
    """How many bits of "is anything left" each reading is expected to bring."""
    some = sampled_whole(candidates, _HEAVIEST, _EVERY)
    share = lost_share(candidates.loss)[some.chosen]
    left, rest = some.weight * share, some.weight * (1 - share)
    truths, times = [], []
    for weight, count in ((left, _LEFT), (rest, _REST)):
        if weight.sum() > 0:
            picked, how_often = sampled(weight, count)
            truths.append(picked)
            times.append(how_often * weight.sum())
    picked, how_often = np.concatenate(truths), np.concatenate(times)
    doubts = candidates.doubts.part(some.chosen)
    before = np.array([1 - left.sum(), left.sum()])
    both = np.stack([some.weight, left], axis=1).astype(np.float32)
    gains = []
    for place in places:
        predicted = quickly_predicted(candidates, some, place)
        likely = likelihood(predicted, learner.spread(doubts, predicted), picked)
        whole, damaged = (likely @ both).T
        after = np.stack([whole - damaged, damaged], axis=1)
        gains.append(float(how_often @ learned_bits(np.maximum(after, 1e-30), before)))
    return np.array(gains)


@dataclass(frozen=True)
class Round:
    """A closing round after so many finds: its readings, the bits that they were expected to bring, and brought."""

    finds: int = 0
    readings: int = 0
    expected_bits: float = 0.0
    brought_bits: float = 0.0

    @property
    def earned(self) -> float:
        """The share of expected bits that readings bring: little where what is left looks like the day's growth."""
        return min(1.0, (self.brought_bits + _EARNED_BITS) / (self.expected_bits + _EARNED_BITS))

    def after(self, candidates: HypothesisSet, learner: Learner, place: ReadAt, read: HypothesisSet) -> "Round":
        """The round after a reading at a place that made `read` of what was believed."""
        before, now = p_left(candidates), p_left(read)
        brought = float(learned_bits(np.array([[1 - now, now]]), np.array([1 - before, before]))[0])
        expected = float(closing_gains(candidates, learner, [place])[0])
        return Round(self.finds, self.readings + 1, self.expected_bits + expected, self.brought_bits + brought)


def next_in_closing(
    candidates: HypothesisSet, learner: Learner, here: int, done: set[ReadAt], so_far: Round, *, is_thorough: bool
) -> NextStep:
    """The most bits a minute, far or near; or to stop, with the chance that nothing is left.

    Thorough, a round after a second find has three readings at least: there is often a third. Else what readings
    brought so far says how soon it no longer pays.
    """
    p = p_left(candidates)
    stop = NextStep("stop", here, clear=1 - p)
    patient = is_thorough and so_far.finds > 1 and so_far.readings < THOROUGH_READINGS
    earned = 1.0 if is_thorough else so_far.earned
    if p < _SURELY or (p < _SETTLED and not patient):
        return stop
    base = candidates.suspects.base
    farm, walk = base.farm, base.grid.walk_m[here] / base.farm.pace_m_per_min
    places = closing_places(candidates, here, done)
    steps: list[tuple[float, NextStep]] = []
    for place, gain in zip(places, closing_gains(candidates, learner, places).tolist(), strict=True):
        cost = float(walk[place.number]) + farm.minutes.reading
        steps.append((gain / cost, NextStep("read", place.number, place.leg, cost, gain)))
    for number in likeliest(candidates, _LOOKS):
        after = candidates.seen(candidates.inspections.looked(base.grid, number, farm.looking.finds))
        chance = 1 - after.left_by_looks / max(candidates.left_by_looks, 1e-12)
        fall = float(bits(np.array([p]))[0] - (1 - chance) * bits(np.array([p_left(after)]))[0])
        cost = float(walk[number]) + farm.minutes.look
        steps.append((fall / cost, NextStep("look", number, "", cost, fall)))
    if not steps:
        return stop
    rate, step = max(steps, key=lambda row: row[0])
    settles = float(bits(np.array([p]))[0]) / max(rate * earned, 1e-9)
    if settles > MISSED_MINUTES * p and not patient:
        return stop
    return step
