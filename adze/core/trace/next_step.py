"""What may be done next, and what a reading or a look would be worth: bits of the place, minutes to the end."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from scipy.special import ndtri

from adze.core.basics.types import Index, Real
from adze.core.trace.belief import Learner
from adze.core.trace.grid import Grid
from adze.core.trace.hypotheses import HypothesisSet
from adze.core.trace.predicted import Predicted, ReadAt

NEAREST, FARTHER, LOOKS = 35, 25, 12
_FAVOURED_M = 100.0
_WIDE_BITS, _WIDE_M = 4.0, 250.0
MOST_TRUTHS, _WEIGHED = 96, 700
WIDER = 1.2  # how much wider a real reading is taken to spread than the forecast of one
_BIT_MINUTES = 4.0


@dataclass(frozen=True)
class NextStep:
    """What to do next: read, read_rods, look, look_rods, look_growth, switch, sweep or stop.

    `minutes` with the walk; `gain` bits that it is worth; `clear` on stopping: the chance that nothing that matters is
    left; `switch` the one to be opened, or shut again where `opens` is false.
    """

    do: str
    place: int = -1
    leg: str = ""
    minutes: float = 0.0
    gain: float = 0.0
    spans: tuple[str, ...] = ()
    clear: float = 0.0
    switch: str = ""
    opens: bool = True

    @property
    def at(self) -> ReadAt:
        """Where it is read."""
        return ReadAt(self.place, self.leg)


def favoured(grid: Grid) -> list[ReadAt]:
    """Where readings are worth the walk: nodes with each leg, and every 100 m along spans."""
    found = [ReadAt(node, leg) for node in grid.nodes.tolist() for leg in grid.legs[node]]
    nodes = set(grid.nodes.tolist())
    for k, place in enumerate(grid.a.tolist()):
        every = max(1, round(_FAVOURED_M / float(grid.length_m[k])))
        number = k - int(grid.first_piece[grid.span[k]])
        if place not in nodes and number % every == 0:
            found.append(ReadAt(place, grid.legs[place][0]))
    return found


def places_to_read(candidates: HypothesisSet, here: int, done: set[ReadAt]) -> list[ReadAt]:
    """The favoured readings nearest to the person, and one leg of ends and junctions farther off."""
    grid = candidates.suspects.base.grid
    walk = grid.walk_m[here]
    read = {place.number for place in done}
    shows_amps = candidates.suspects.base.farm.meter.shows_amps
    wide = candidates.entropy_bits > _WIDE_BITS

    def worth(place: ReadAt) -> bool:
        if place in done or (not shows_amps and place.number in read):
            return False
        if not wide or place.number in read:
            return True
        return all(grid.walk_m[place.number, other] > _WIDE_M for other in read if other >= 0)

    near = sorted(favoured(grid), key=lambda place: float(walk[place.number]))
    near = [place for place in near if worth(place)]
    if not shows_amps:  # all legs of a place show the same kV
        near = list({place.number: place for place in reversed(near)}.values())[::-1]
    known = {place.number for place in near[:NEAREST]}
    nodes = sorted(set(grid.nodes.tolist()) - known, key=lambda node: float(walk[node]))
    far = [ReadAt(node, grid.legs[node][0]) for node in nodes]
    return near[:NEAREST] + [place for place in far if worth(place)][:FARTHER]


@dataclass(frozen=True)
class Weighed:
    """The hypotheses that are weighed against each other (M,), heaviest first, with their block and cells."""

    chosen: Index
    weight: Real
    rows: tuple[Index, ...]


def weighed(candidates: HypothesisSet, most: int = _WEIGHED) -> Weighed:
    """The heaviest hypotheses, sorted by block."""
    weight = candidates.weight
    chosen = np.sort(np.argpartition(weight, -min(most, len(weight)))[-most:])
    chosen = chosen[weight[chosen] > weight.max() * 1e-7]
    own = weight[chosen]
    return Weighed(chosen, own / own.sum(), _by_block(candidates, chosen))


def sampled_whole(candidates: HypothesisSet, heaviest: int, every: int) -> Weighed:
    """The heaviest hypotheses, and every so many of the others, which stand for all of them.

    The others are the same at each step, so that what they predict is computed once.
    """
    weight = candidates.weight
    heavy = np.argpartition(weight, -min(heaviest, len(weight)))[-heaviest:]
    others = np.setdiff1d(np.arange(0, len(weight), every), heavy)
    total = 1.0 - float(weight[heavy].sum())
    own = weight.copy()
    if weight[others].sum() > 0:
        own[others] *= max(0.0, total) / weight[others].sum()
    chosen = np.union1d(heavy, others)
    return Weighed(chosen, own[chosen] / own[chosen].sum(), _by_block(candidates, chosen))


def _by_block(candidates: HypothesisSet, chosen: Index) -> tuple[Index, ...]:
    offsets = candidates.offsets()
    return tuple(chosen[(chosen >= low) & (chosen < high)] - low for low, high in itertools.pairwise(offsets))


def quickly_predicted(
    candidates: HypothesisSet, some: Weighed, place: ReadAt, opened: frozenset[str] = frozenset()
) -> Predicted:
    """What the weighed hypotheses expect of a reading while switches stand open; a tester without A shows kV alone."""
    if not candidates.suspects.base.farm.meter.shows_amps:
        place = ReadAt(place.number, "")
    parts = [
        block.hypotheses.under(opened).quick_prediction(place, rows)
        for block, rows in zip(candidates.blocks, some.rows, strict=True)
        if len(rows)
    ]
    whole = parts[0]
    for part in parts[1:]:
        whole = whole.joined(part)
    return whole


def likelihood(predicted: Predicted, spreads: tuple[Real, Real], truths: Index) -> Real:
    """How well each hypothesis (M,) would explain what each truth (T,) may show, errors and all, (T, M).

    One outcome is drawn for each truth, the same errors for every reading that is compared. Outcomes without errors
    would make small gains look three times as large (the mean of p afterwards would not be p).
    """
    off: Real = np.zeros((len(truths), len(predicted.kv)), dtype=np.float32)
    variance: Real = np.ones(len(predicted.kv), dtype=np.float32)
    for values, spread, errors in zip((predicted.kv, predicted.amps), spreads, drawn_errors(len(truths)), strict=True):
        if np.isnan(values[0]):
            continue  # amps that are not read
        own, var = values.astype(np.float32), WIDER * spread.astype(np.float32)
        shown = own[truths] + errors * np.sqrt(var[truths])
        off += (shown[:, None] - own) ** 2 / var
        variance *= var
    found: Real = np.exp(-0.5 * np.minimum(off, 60.0)) / np.sqrt(variance)
    return found


@cache
def drawn_errors(count: int) -> Real:
    """Standard errors of so many readings, spread as evenly as can be, (2, T)."""
    evenly = ndtri((np.arange(count) + 0.5) / count).astype(np.float32)
    shuffled = np.random.default_rng(1)
    return np.stack([shuffled.permutation(evenly), shuffled.permutation(evenly)])


def sampled(weight: Real, count: int) -> tuple[Index, Real]:
    """So many of some weights, evenly by their sum, and how much each counts."""
    total = np.cumsum(weight)
    marks = (np.arange(count) + 0.5) / count * total[-1]
    picked, times = np.unique(np.searchsorted(total, marks), return_counts=True)
    return picked, times / count


def learned_bits(after: Real, before: Real) -> Real:
    """How far distributions (T, C) lie from the one before (C,), bits; its mean is the fall of entropy."""
    after = after / after.sum(axis=1, keepdims=True)
    ratio = np.maximum(after, 1e-12) / np.maximum(before, 1e-12)
    found: Real = (after * np.log2(ratio)).sum(axis=1)
    return found


def reading_gains(
    candidates: HypothesisSet, learner: Learner, places: list[ReadAt], switches: Sequence[str] | None = None
) -> Real:
    """How many bits of the place each reading is expected to bring; `switches`: the one that is opened for each."""
    some = weighed(candidates)
    truths, times = sampled(some.weight, MOST_TRUTHS)
    spread = candidates.spread[some.chosen]
    used = np.flatnonzero(np.asarray(spread.sum(axis=0)).ravel() > 0)
    cells = spread[:, used].toarray().astype(np.float32)
    before = some.weight.astype(np.float32) @ cells
    doubts = candidates.doubts.part(some.chosen)
    gains = []
    for place, switch in zip(places, switches or itertools.repeat(""), strict=False):
        predicted = quickly_predicted(candidates, some, place, frozenset({switch} - {""}))
        likely = likelihood(predicted, learner.spread(doubts, predicted), truths)
        after = (likely * some.weight.astype(np.float32)) @ cells
        gains.append(float(times @ learned_bits(after, before)))
    return np.array(gains)


def look_gain(candidates: HypothesisSet, place: int) -> tuple[float, float]:
    """How many bits a look at a place brings, and its chance to see the fault."""
    grid, finds = candidates.suspects.base.grid, candidates.suspects.base.farm.looking.finds
    after = candidates.seen(candidates.inspections.looked(grid, place, finds))
    chance = 1 - after.left_by_looks / max(candidates.left_by_looks, 1e-12)
    return candidates.entropy_bits - (1 - chance) * after.entropy_bits, chance


def likeliest(candidates: HypothesisSet, count: int) -> list[int]:
    """The places where the fault most likely lies."""
    places = candidates.cells[: candidates.suspects.none_cell]
    return [int(p) for p in np.argsort(places)[::-1][:count] if places[p] > 1e-4]


def _switched(
    candidates: HypothesisSet, learner: Learner, here: int, left_out: frozenset[str]
) -> list[tuple[float, float, NextStep]]:
    """Switches that may be opened for a reading beside them: place, bits and minutes, shut again included.

    Only for a tester without amps: amps in a leg part the fence at a switch without touching it.
    """
    base = candidates.suspects.base
    switches = [s for s in base.farm.switches if s.id not in left_out]
    if base.farm.meter.shows_amps or not switches:
        return []
    places = [ReadAt(base.fed_place(switch), "") for switch in switches]
    minutes = base.farm.minutes
    gains = reading_gains(candidates, learner, places, [switch.id for switch in switches])
    rows = []
    for switch, place, gain in zip(switches, places, gains.tolist(), strict=True):
        walk = float(base.grid.walk_m[here, place.number]) / base.farm.pace_m_per_min
        cost = walk + minutes.reading + 2 * minutes.switch
        rows.append((gain, cost, NextStep("switch", place.number, "", cost, gain, switch=switch.id)))
    return rows


def next_in_search(
    candidates: HypothesisSet,
    learner: Learner,
    here: int,
    done: set[ReadAt],
    looked: set[int],
    worked: frozenset[str] = frozenset(),
) -> NextStep | None:
    """The step of the search: at least half the best bits a minute, then the fewest minutes to be expected.

    `worked` are the switches beside which was read already while they stood open.
    """
    base = candidates.suspects.base
    farm, grid = base.farm, base.grid
    walk = grid.walk_m / farm.pace_m_per_min
    cells = candidates.cells[: candidates.suspects.none_cell]
    mean_walk = walk @ (cells / max(float(cells.sum()), 1e-12))
    bits = candidates.entropy_bits
    steps: list[tuple[float, float, NextStep]] = []
    places = places_to_read(candidates, here, done)
    for place, gain in zip(places, reading_gains(candidates, learner, places).tolist(), strict=True):
        cost = float(walk[here, place.number]) + farm.minutes.reading
        rest = float(mean_walk[place.number]) + _BIT_MINUTES * max(0.0, bits - gain)
        steps.append((gain / cost, cost + rest, NextStep("read", place.number, place.leg, cost, gain)))
    for gain, cost, step in _switched(candidates, learner, here, worked):
        rest = float(mean_walk[step.place]) + _BIT_MINUTES * max(0.0, bits - gain)
        steps.append((gain / cost, cost + rest, step))
    for number in likeliest(candidates, LOOKS):
        if number in looked and cells[number] < 0.05:
            continue
        gain, chance = look_gain(candidates, number)
        cost = float(walk[here, number]) + farm.minutes.look
        rest = (1 - chance) * (float(mean_walk[number]) + _BIT_MINUTES * max(0.0, bits - gain))
        steps.append((gain / cost, cost + rest, NextStep("look", number, "", cost, gain)))
    if not steps:
        return None
    best = max(rate for rate, *_ in steps)
    return min((row for row in steps if row[0] >= best / 2), key=lambda row: row[1])[2]
