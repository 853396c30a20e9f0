"""A search as it goes: what was done so far, what is believed, and the next step. Every step gives a new search."""

import math
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from adze.core.basics.types import Real
from adze.core.pulse.altered import adjusted
from adze.core.trace.belief import RODS_PLACE, Doubts, Learner, TraceReading, fresh, grassiness, normalised, unlearned
from adze.core.trace.closing import Round, next_in_closing
from adze.core.trace.farm import TracedFarm
from adze.core.trace.grid import Grid, grid
from adze.core.trace.hypotheses import HypothesisBlock, HypothesisSet, with_pairs
from adze.core.trace.inspections import unlooked
from adze.core.trace.mended import (
    AllGrown,
    Find,
    Scored,
    anew,
    believed_after,
    growth_told,
    moved,
    port_of,
    score,
    score_anew,
)
from adze.core.trace.next_step import NextStep, next_in_search
from adze.core.trace.predicted import ReadAt
from adze.core.trace.pulse_base import LS, RODS, base
from adze.core.trace.suspects import MATERIAL, Suspects, first_log_prior, suspects

_PAIRS_FROM, _PAIRS_EVERY = 5, 4
_STAGE_1 = 0.6
_MOST_ACTIONS, _MOST_MINUTES, _LEAST_ACTIONS = 26, 100.0, 10
_MOST_CLOSING = 45
_MOST_SWEEPS = (2, 1)  # before the first find, after one: by then what the eye does not see hardly matters
_LOOKS_GONE, _RODS_LIKELY, _LIKELY_SHARE = 0.01, 0.5, 1e-3
_SURE = 0.6  # from here on rods or growth are looked at: everything else has less of it together
SURPRISE, EXPLAINED = 3.0, 2.0  # spreads off what was expected


@dataclass(frozen=True)
class FaultSearch:
    """A search on a farm. `readings` are those since the last mend, with whether kV were read there already.

    `known` (1,) is what was known of unit, rods and growth before the first reading, of the fence as it is computed
    now. `opened` are the switches that stand open; `doubtful` is the one that the last reading fits the other way
    about. `in_earnest`: somebody can look at rods and growth and see to them; `stays` are those that are left as they
    are, `is_mown` that growth was looked at and is none.
    """

    farm: TracedFarm
    grid: Grid
    candidates: HypothesisSet
    here: int
    known: Doubts
    readings: tuple[tuple[TraceReading, bool], ...] = ()
    looked: frozenset[int] = frozenset()
    skipped: frozenset[ReadAt] = frozenset()
    finds: tuple[Find, ...] = ()
    actions: int = 0
    minutes: float = 0.0
    since: float = 0.0
    closing: Round = field(default_factory=Round)
    reads_mend: bool = False
    is_thorough: bool = True
    surprise: float = 0.0
    sweeps: int = 0
    opened: frozenset[str] = frozenset()
    doubtful: str = ""
    in_earnest: bool = False
    stays: tuple[str, ...] = ()
    is_mown: bool = False
    log_prior: Real = field(default_factory=lambda: np.empty(0), repr=False)

    @property
    def suspects(self) -> Suspects:
        """Every single fault that may be."""
        return self.candidates.suspects

    @cached_property
    def learner(self) -> Learner:
        """How readings are taken in."""
        return Learner(self.farm, grassiness(self.suspects.base), bool(self.finds), self.known)

    @property
    def is_closing(self) -> bool:
        """Whether it is the closing round: something was mended, and what is left is hardly material."""
        return bool(self.finds) and self.candidates.p_material < _STAGE_1

    @cached_property
    def growth(self) -> AllGrown:
        """How likely growth all along is all of it, before anything was found."""
        if not self.in_earnest or self.finds or self.is_mown or not self.readings:
            return AllGrown(0.0, 1.0, 0.0)
        return growth_told(self.candidates, self.learner, self.log_prior, list(self.readings))

    @property
    def is_unread(self) -> bool:
        """Whether the person stands at the start, where nothing has been read yet."""
        return not (self.finds or self.skipped or self._read_here) and self.here == self.grid.start

    @property
    def _read_here(self) -> bool:
        """Whether anything was read where the person stands."""
        return any(reading.place.number == self.here for reading, _ in self.readings)

    @property
    def asks_rods(self) -> bool:
        """Whether the rods come next: after the first reading, where they are, before anybody walks."""
        is_begun = self.here == self.grid.start and self._read_here
        is_read = RODS_PLACE in self.skipped or any(reading.place == RODS_PLACE for reading, _ in self.readings)
        has_rods = bool(np.isfinite(self.suspects.base.healthy.rods_ohm))
        return is_begun and not self.finds and has_rods and not is_read

    def next_step(self) -> NextStep:
        """What to do next."""
        if self.opened:
            return self._while_open()
        done = {reading.place for reading, _ in self.readings if not reading.opened} | self.skipped
        if self.is_unread:
            # How much is missing at the start tells every later reading what to expect: a minute, without a walk.
            return NextStep("read", self.here, self.grid.legs[self.here][0], self.farm.minutes.reading)
        if self.asks_rods:
            return NextStep("read_rods", minutes=self.farm.minutes.rods)
        if self.reads_mend:
            return NextStep("read", self.here, self.grid.legs[self.here][0], self.farm.minutes.reading)
        if self.is_closing:
            step = next_in_closing(
                self.candidates, self.learner, self.here, done, self.closing, is_thorough=self.is_thorough
            )
            return self.stop() if self.actions >= _MOST_CLOSING and step.do != "stop" else step
        if self.growth.share > _SURE:
            return NextStep("look_growth", self.here, minutes=self.farm.minutes.look)
        spent = self.minutes - self.since
        over = self.actions >= _MOST_ACTIONS or (spent > _MOST_MINUTES and self.actions >= _LEAST_ACTIONS)
        if over and self.sweeps < _MOST_SWEEPS[bool(self.finds)]:
            return NextStep("sweep", self.here, spans=self._sweep())
        at_rods = self._at_rods(RODS_PLACE in done)
        if at_rods:
            return at_rods
        worked = frozenset().union(*(reading.opened for reading, _ in self.readings))
        deed_or_none = next_in_search(self.candidates, self.learner, self.here, done, set(self.looked), worked)
        return self.stop() if deed_or_none is None or over else deed_or_none

    def _at_rods(self, is_read: bool) -> NextStep | None:
        """Where much lies with the rods: their kV, then a look at them."""
        share = float(self.candidates.cells[self.suspects.rods_cell])
        there = float(self.grid.walk_m[self.here, self.grid.start]) / self.farm.pace_m_per_min
        if share > _RODS_LIKELY and not is_read and np.isfinite(self.suspects.base.healthy.rods_ohm):
            return NextStep("read_rods", minutes=there + self.farm.minutes.rods)
        if share > _SURE and self.in_earnest:
            return NextStep("look_rods", minutes=there + self.farm.minutes.look)
        return None

    def _while_open(self) -> NextStep:
        """With a switch open: kV beside it, then shut it again, so that the fence is whole for what follows."""
        switch = next(s for s in self.farm.switches if s.id in self.opened)
        place = self.suspects.base.fed_place(switch)
        walk = float(self.grid.walk_m[self.here, place]) / self.farm.pace_m_per_min
        read = {reading.place.number for reading, _ in self.readings if reading.opened == self.opened}
        if place not in read | {skipped.number for skipped in self.skipped}:
            return NextStep("read", place, self.grid.legs[place][0], walk + self.farm.minutes.reading)
        return NextStep("switch", place, minutes=walk + self.farm.minutes.switch, switch=switch.id, opens=False)

    def stop(self) -> NextStep:
        """To end here, with the chance that nothing that matters is left."""
        return NextStep("stop", self.here, clear=1 - self.candidates.p_material)

    def _sweep(self) -> tuple[str, ...]:
        """Spans to walk and look along: those that hold 80 % of it first, each time the nearest next."""
        share = np.zeros(len(self.grid.spans))
        cells = self.candidates.cells
        for k, of in enumerate(self.grid.span.tolist()):
            share[of] += (cells[self.grid.a[k]] + cells[self.grid.b[k]]) / 2
        order = np.argsort(share)[::-1]
        enough = int(np.searchsorted(np.cumsum(share[order]), 0.8 * share.sum())) + 1
        here, found = self.here, []
        for group in (order[:enough].tolist(), order[enough:].tolist()):
            left = list(group)
            while left:
                ends = {k: self._ends(k) for k in left}
                nearest = min(left, key=lambda k: min(self.grid.walk_m[here, end] for end in ends[k]))
                _, far = sorted(ends[nearest], key=lambda end: float(self.grid.walk_m[here, end]))
                here = far
                left.remove(nearest)
                found.append(self.grid.spans[nearest].id)
        return tuple(found)

    def _ends(self, span: int) -> tuple[int, int]:
        pieces = np.flatnonzero(self.grid.span == span)
        return int(self.grid.a[pieces[0]]), int(self.grid.b[pieces[-1]])

    def walked(self, place: int, minutes: float) -> "FaultSearch":
        """After walking to a place without coming upon anything, `minutes` with what is done there."""
        pieces = self.grid.way(self.here, place)
        inspections = self.candidates.inspections.passed(self.grid, pieces, self.farm.looking.passing_finds)
        moved_on = replace(self, here=place, minutes=self.minutes + minutes, actions=self.actions + 1)
        return moved_on._looked(self.candidates.seen(inspections))

    def _looked(self, candidates: HypothesisSet) -> "FaultSearch":
        """The same with looks; where they ruled out nearly everything, the model was too sure."""
        if candidates.left_by_looks < _LOOKS_GONE:
            rebuilt = replace(candidates.blocks[0].doubts, log_weight=candidates.blocks[0].doubts.log_weight * 0.5)
            block = replace(candidates.blocks[0], doubts=normalised(rebuilt))
            candidates = HypothesisSet(
                candidates.suspects, (block,), candidates.inspections.faded(0.6), candidates.material
            )
        return replace(self, candidates=candidates)

    def inspected(self, place: int) -> "FaultSearch":
        """After a look at a place that found nothing."""
        inspections = self.candidates.inspections.looked(self.grid, place, self.farm.looking.finds)
        return replace(self, looked=self.looked | {place})._looked(self.candidates.seen(inspections))

    def skipped_at(self, place: ReadAt) -> "FaultSearch":
        """After a place where nothing could be read: it is not asked for again before the next mend."""
        return replace(self, skipped=self.skipped | {place}, reads_mend=False)

    def cleared(self, span: str) -> "FaultSearch":
        """After a span was read well by itself: it is as good as walked and looked along, but for its ends."""
        pieces = np.flatnonzero(self.grid.span == self.grid.span_number[span]).tolist()
        inspections = self.candidates.inspections.passed(self.grid, pieces, self.farm.looking.finds)
        ends = list(self._ends(self.grid.span_number[span]))
        inspections.place[ends[1]] = self.candidates.inspections.place[ends[1]]
        return self._looked(self.candidates.seen(inspections))

    def switched(self, switch: str, *, opens: bool) -> "FaultSearch":
        """After a switch was opened or shut where the person stands."""
        opened = self.opened | {switch} if opens else self.opened - {switch}
        return replace(self, opened=opened, doubtful="")

    def swept_all(self, spans: tuple[str, ...], minutes: float) -> "FaultSearch":
        """After walking and looking along spans and finding nothing: the search begins anew with what that says."""
        numbers = [self.grid.span_number[name] for name in spans]
        pieces = np.flatnonzero(np.isin(self.grid.span, numbers)).tolist()
        inspections = self.candidates.inspections.passed(self.grid, pieces, self.farm.looking.finds)
        here = self._ends(numbers[-1])[1] if numbers else self.here
        passed = self.minutes + minutes
        after = replace(self, here=here, sweeps=self.sweeps + 1, actions=0, minutes=passed, since=passed)
        return after._looked(self.candidates.seen(inspections))

    def read(self, reading: TraceReading) -> "FaultSearch":
        """After a reading at a place, with the switches as they stand."""
        reading = replace(reading, place=self._fed(reading.place), opened=self.opened)
        again = any(
            other.place.number == reading.place.number and other.opened == reading.opened and other.kv is not None
            for other, _ in self.readings
        )
        surprise = self._surprise(reading, again=again)
        doubtful = self._doubtful(reading, again=again) if surprise >= SURPRISE else ""
        candidates = self.candidates.after(self.learner, reading, again=again)
        readings = (*self.readings, (reading, again))
        counts = self.is_closing and not self.reads_mend and reading.place != RODS_PLACE and not self.opened
        closing = (
            self.closing.after(self.candidates, self.learner, reading.place, candidates) if counts else self.closing
        )
        after = replace(
            self,
            candidates=candidates,
            readings=readings,
            closing=closing,
            reads_mend=False,
            surprise=surprise,
            doubtful=doubtful,
        )
        count = len(readings)
        if not self.finds and count >= _PAIRS_FROM and (count - _PAIRS_FROM) % _PAIRS_EVERY == 0:
            paired = with_pairs(candidates, self.learner, self.log_prior, list(readings))
            after = replace(after, candidates=paired)
        return after

    def _surprise(self, reading: TraceReading, *, again: bool) -> float:
        """How many spreads a reading lies off what the best of the likely explanations expected."""
        weight, best = self.candidates.weight, self.candidates.blocks[0]
        likely = np.flatnonzero(weight[: len(best.loss)] > _LIKELY_SHARE * weight.max())
        if not len(likely):
            return 0.0
        predicted = best.hypotheses.under(reading.opened).predict_some(reading.place, likely)
        kv_var, amps_var = self.learner.spread(best.doubts.part(likely), predicted)
        off = np.zeros(len(likely))
        if reading.kv is not None and not again:
            off = np.abs(reading.kv - predicted.kv) / np.sqrt(kv_var)
        if reading.amps is not None and reading.place.leg:
            off = np.maximum(off, np.abs(reading.amps - predicted.amps) / np.sqrt(amps_var))
        return float(off.min())

    def _fed(self, place: ReadAt) -> ReadAt:
        """A place to read at; beside an open switch the side that is fed, as people read there."""
        base = self.suspects.base
        for switch in (s for s in self.farm.switches if s.id in self.opened):
            pieces = [base.faults.piece[port] for port in base.parted(frozenset({switch.id}))]
            if any(place.number in (self.grid.a[piece], self.grid.b[piece]) for piece in pieces):
                fed = base.fed_place(switch)
                return ReadAt(fed, place.leg if place.leg in self.grid.legs[fed] else self.grid.legs[fed][0])
        return place

    def _doubtful(self, reading: TraceReading, *, again: bool) -> str:
        """The switch which, the other way about, would explain a reading that nothing explains; else none."""
        rows = [
            (self._surprise(replace(reading, opened=reading.opened ^ {switch.id}), again=again), switch.id)
            for switch in self.farm.switches
        ]
        least, switch = min(rows, default=(SURPRISE, ""))
        return switch if least < EXPLAINED else ""

    def found(self, find: Find, minutes: float) -> "FaultSearch":
        """After a fault was found and mended where the person stands; what was read since the last mend is weighed."""
        place = self.grid.place(find.spot)
        piece = self.grid.piece_at(find.spot)
        fault = port_of(self.suspects, find.kind, place, piece)
        scored = score(self.suspects, self.learner, fault, list(self.readings))
        after = replace(self, finds=(*self.finds, find), here=place, minutes=self.minutes + minutes, reads_mend=True)
        return after._weighed(scored, moved(scored))

    def rods_found(self, minutes: float, *, is_mended: bool) -> "FaultSearch":
        """After the rods were looked at: mended, or nothing but their ground that has dried out and stays so."""
        start, faults = self.grid.start, self.suspects.base.faults
        fault = int(np.flatnonzero(faults.kind == RODS)[0])
        scored = score(self.suspects, self.learner, fault, list(self.readings))
        rods = 1.0 if is_mended else scored.size * math.exp(float(scored.alone.mean[0, 1]))
        spread = self.farm.doubt.rods if is_mended else math.sqrt(float(scored.alone.cov[0, 1, 1]))
        told = replace(scored, doubts=anew(scored.doubts, 1, math.log(rods), spread))
        known = anew(self.known, 1, math.log(rods), spread)
        after = self._seen_to("rods", start, minutes, is_mended=is_mended)
        return replace(after, known=known)._weighed(told, (rods, moved(scored)[1]))

    def growth_found(self, minutes: float, *, is_mended: bool) -> "FaultSearch":
        """After growth all along was seen: cut, or left as it is."""
        found = growth_told(self.candidates, self.learner, self.log_prior, list(self.readings))
        tall = self._set_anew(1.0, found.times)
        learner = replace(self.learner, farm=tall.base.farm, known=anew(self.known, 2, 0.0, found.spread))
        scored = score_anew(tall, learner, list(self.readings))
        spread = self.farm.doubt.grass if is_mended else found.spread
        told = replace(scored, doubts=anew(scored.doubts, 2, 0.0, spread))
        after = self._seen_to("growth", self.here, minutes, is_mended=is_mended)
        known = anew(self.known, 2, 0.0, spread)
        return after._believing(self.suspects if is_mended else tall, told, known)

    def growth_denied(self) -> "FaultSearch":
        """After a look at the growth: it is none."""
        return replace(self, is_mown=True, minutes=self.minutes + self.farm.minutes.look)

    def _seen_to(self, what: str, place: int, minutes: float, *, is_mended: bool) -> "FaultSearch":
        return replace(
            self,
            finds=(*self.finds, Find(RODS if what == "rods" else LS, self.grid.spots[place])),
            here=place,
            minutes=self.minutes + minutes,
            reads_mend=is_mended,
            stays=self.stays if is_mended else (*self.stays, what),
        )

    def _set_anew(self, rods: float, grass: float) -> Suspects:
        """Every single fault on the fence with other rods and growth."""
        farm = replace(self.farm, network=adjusted(self.farm.network, rods, grass))
        return suspects(base(farm, replace(self.grid, network=adjusted(self.grid.network, rods, grass))))

    def _weighed(self, scored: Scored, away: tuple[float, float]) -> "FaultSearch":
        """After a find: what is believed by its readings, with rods and growth so many times what they were."""
        if away == (1.0, 1.0):
            return self._believing(self.suspects, scored, self.known)
        off = np.log([1.0, *away])
        doubts = replace(scored, doubts=replace(scored.doubts, mean=scored.doubts.mean - off))
        return self._believing(self._set_anew(*away), doubts, replace(self.known, mean=self.known.mean - off))

    def _believing(self, subject: Suspects, scored: Scored, known: Doubts) -> "FaultSearch":
        return replace(
            self,
            farm=subject.base.farm,
            grid=subject.base.grid,
            candidates=believed_after(subject, scored, self.candidates.inspections, len(self.finds)),
            readings=(),
            actions=0,
            since=self.minutes,
            closing=Round(len(self.finds)),
            skipped=frozenset(),
            sweeps=0,
            known=known,
        )


def begin(farm: TracedFarm, *, is_thorough: bool = True, known: Doubts | None = None) -> FaultSearch:
    """A search where something is known to be wrong and nothing was read on the fence; `known` (1,) of the doubts.

    Raises NetworkError.
    """
    where = grid(farm)
    every = suspects(base(farm, where))
    log_prior = first_log_prior(every)
    before = known or unlearned(farm)
    block = HypothesisBlock(every.single, normalised(fresh(log_prior, before)), every.loss)
    candidates = HypothesisSet(every, (block,), unlooked(where), MATERIAL)
    return FaultSearch(farm, where, candidates, where.start, before, is_thorough=is_thorough, log_prior=log_prior)
