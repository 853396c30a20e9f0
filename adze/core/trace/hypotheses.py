"""All hypotheses together: single faults and pairs, their weights with what was read and seen, and where they lie."""

import itertools
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy import sparse

from adze.core.basics.types import Index, Real
from adze.core.trace.belief import Doubts, Learner, TraceReading, fresh
from adze.core.trace.inspections import Inspections
from adze.core.trace.predicted import SIZES_OHM, Hypotheses, hypotheses
from adze.core.trace.pulse_base import CUT, LS
from adze.core.trace.suspects import Suspects

_PAIRS, _PAIR_PLACES, _PAIR_SIZES = 8, 110, 8
_APART_M, _APART_SIZE, _PAIR_SHARE = 120.0, 1.7, 0.25


@dataclass(frozen=True)
class HypothesisBlock:
    """Hypotheses of one kind: single faults, or what else may be beside a first fault, whose port `first` is."""

    hypotheses: Hypotheses
    doubts: Doubts
    loss: Real
    first: int = -1


@dataclass(frozen=True)
class HypothesisSet:
    """Every hypothesis of a search, in blocks: the singles first."""

    suspects: Suspects
    blocks: tuple[HypothesisBlock, ...]
    inspections: Inspections
    material: float

    @cached_property
    def loss(self) -> Real:
        """The loss of every hypothesis, (H,)."""
        return np.concatenate([block.loss for block in self.blocks])

    @cached_property
    def doubts(self) -> Doubts:
        """What every hypothesis thinks of unit, rods and growth."""
        whole = self.blocks[0].doubts
        for block in self.blocks[1:]:
            whole = whole.joined(block.doubts)
        return whole

    @cached_property
    def read_weight(self) -> Real:
        """The weight of every hypothesis by readings alone, (H,), adding up to 1."""
        log = self.doubts.log_weight
        weight: Real = np.exp(log - log.max())
        weight /= weight.sum()
        return weight

    @cached_property
    def _left(self) -> Real:
        faults = self.suspects.base.faults
        left = self.inspections.of_faults(faults)
        rows = []
        for block in self.blocks:
            own = left[block.hypotheses.fault].copy()
            own[0] = 1.0
            rows.append(own * (left[block.first] if block.first >= 0 else 1.0))
        return np.concatenate(rows)

    @property
    def left_by_looks(self) -> float:
        """The share of the weight that looking has left."""
        return float((self.read_weight * self._left).sum())

    @cached_property
    def weight(self) -> Real:
        """The weight of every hypothesis with what was seen, (H,), adding up to 1."""
        weight: Real = self.read_weight * self._left
        weight /= weight.sum()
        return weight

    @cached_property
    def spread(self) -> sparse.csr_matrix:
        """Where each hypothesis lies: (H, C) shares of the cells, what is not material as "none"."""
        suspects = self.suspects
        half = self.inspections.half + 1e-12
        near = half[:, 0] / half.sum(axis=1)
        faults = suspects.base.faults
        share = np.full((len(faults.kind), 2), 0.5)
        cuts = faults.kind == CUT
        share[cuts] = np.stack([near, 1 - near], axis=1)[faults.piece[cuts]]
        cells = np.full((len(faults.kind), 2), suspects.none_cell)
        cells[suspects.fault[1:]] = suspects.cells[1:]
        rows, columns, shares, count = [], [], [], 0
        for block in self.blocks:
            own, size = block.hypotheses.fault, len(block.hypotheses.fault)
            is_pair = block.first >= 0
            for i in range(2):
                rows.append(count + np.arange(size))
                columns.append(cells[own, i])
                shares.append(share[own, i] * (0.5 if is_pair else 1.0))
                if is_pair:
                    rows.append(count + np.arange(size))
                    columns.append(np.full(size, cells[block.first, i]))
                    shares.append(np.full(size, 0.5 * share[block.first, i]))
            count += size
        column = np.concatenate(columns)
        row = np.concatenate(rows)
        column[self.loss[row] <= self.material] = suspects.none_cell
        column[row == 0] = suspects.none_cell
        shape = (count, suspects.rods_cell + 1)
        return sparse.csr_matrix((np.concatenate(shares), (row, column)), shape=shape)

    @cached_property
    def cells(self) -> Real:
        """How likely the fault lies at each place, nowhere, or at the rods, (C,)."""
        found: Real = self.spread.T @ self.weight
        return found

    @property
    def p_material(self) -> float:
        """How likely something that matters is left."""
        return float(1 - self.cells[self.suspects.none_cell])

    @cached_property
    def entropy_bits(self) -> float:
        """How much is not known of the place, bits."""
        p = self.cells[self.cells > 0]
        return float(-(p * np.log2(p)).sum())

    def offsets(self) -> list[int]:
        """Where each block begins among all hypotheses."""
        return [0, *itertools.accumulate(len(block.hypotheses.fault) for block in self.blocks)]

    def after(self, learner: Learner, reading: TraceReading, *, again: bool) -> "HypothesisSet":
        """Every hypothesis after a reading."""
        blocks = tuple(
            replace(block, doubts=learner.take(block.doubts, block.hypotheses, reading, again=again))
            for block in self.blocks
        )
        return HypothesisSet(self.suspects, blocks, self.inspections, self.material)

    def seen(self, inspections: Inspections) -> "HypothesisSet":
        """The same after looking."""
        return HypothesisSet(self.suspects, self.blocks, inspections, self.material)


def with_pairs(
    candidates: HypothesisSet, learner: Learner, log_prior: Real, history: list[tuple[TraceReading, bool]]
) -> HypothesisSet:
    """Join pairs to the singles: the best eight that lie apart, each with a second leak to soil, scored on everything.

    Pairs are not enumerated. `history` are the readings and whether kV were read at that place already.
    """
    suspects = candidates.suspects
    base = suspects.base
    firsts = _spread_out(candidates)
    size = candidates.offsets()[1]
    by_place = np.zeros(len(base.grid.spots))
    shunts = np.flatnonzero(suspects.kind == LS)
    np.add.at(by_place, suspects.cells[shunts, 0], candidates.weight[:size][shunts])
    places = _second_places(by_place)
    sizes = np.geomspace(SIZES_OHM[0], SIZES_OHM[-1], _PAIR_SIZES)
    fault, ohm = np.repeat(places, len(sizes)), np.tile(sizes, len(places))  # port of a leak to soil: its place
    nearest = np.abs(np.log(SIZES_OHM[:, None] / sizes)).argmin(axis=0)
    of_single = 1 + fault * len(SIZES_OHM) + np.tile(nearest, len(places))
    blocks = [candidates.blocks[0]]
    prior_none = np.full(1, -np.inf)
    for first in firsts:
        one = int(suspects.fault[first])
        state = base.with_fault(base.healthy, one, float(suspects.size[first]))
        made = hypotheses(base, state, fault, ohm, standing=(one,))
        share = np.log(_PAIR_SHARE) + log_prior[first] + log_prior[of_single] + np.log(len(SIZES_OHM) / len(sizes))
        doubts = fresh(np.concatenate([prior_none, share]), learner.known)
        for reading, again in history:
            doubts = learner.take(doubts, made, reading, again=again)
        doubts = replace(doubts, log_weight=np.concatenate([prior_none, doubts.log_weight[1:]]))
        loss = np.concatenate([[0.0], suspects.loss[first] + suspects.loss[of_single]])
        blocks.append(HypothesisBlock(made, doubts, loss, one))
    return HypothesisSet(suspects, tuple(blocks), candidates.inspections, candidates.material)


def _spread_out(candidates: HypothesisSet) -> list[int]:
    """The best singles that lie apart in place or in size."""
    suspects = candidates.suspects
    single = candidates.weight[: candidates.offsets()[1]]
    walk = suspects.base.grid.walk_m
    kinds = suspects.kind
    chosen: list[int] = []
    for h in np.argsort(single)[::-1][:600].tolist():
        if h == 0 or suspects.cells[h, 0] >= suspects.none_cell:
            continue
        cell, size = suspects.cells[h, 0], suspects.size[h] / (20 if kinds[h] == CUT else 1)
        for other in chosen:
            near = walk[cell, suspects.cells[other, 0]] < _APART_M
            ratio = size / (suspects.size[other] / (20 if kinds[other] == CUT else 1))
            if near and 1 / _APART_SIZE < ratio < _APART_SIZE:
                break
        else:
            chosen.append(h)
        if len(chosen) == _PAIRS:
            break
    return chosen


def _second_places(by_place: Real) -> Index:
    """Where a second leak is tried: evenly over the fence, and where leaks are likeliest."""
    count = len(by_place)
    evenly = np.unique(np.linspace(0, count - 1, min(count, _PAIR_PLACES * 3 // 4)).astype(np.intp))
    likely = np.argsort(by_place)[::-1][: _PAIR_PLACES - len(evenly)]
    return np.union1d(evenly, likely)
