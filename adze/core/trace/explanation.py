"""What a search tells: where it probably lies, what it may be, and what each outcome of the next reading would mean."""

import math
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components

from adze.core.basics.types import Index, Real
from adze.core.trace.farm import HandSwitch
from adze.core.trace.next_step import NextStep, quickly_predicted, weighed
from adze.core.trace.pulse_base import CUT, LE, LS
from adze.core.trace.search import FaultSearch

HARD_SHORT_OHM = 200.0
DECIDES = 0.75  # a reading decides where one side is three times as likely as the other
_HALF, _MOST = 0.5, 0.9
_STEPS = 160
A_SIDE = 0.08  # of what is left: less lies hardly on another side
_A_PART = 0.15  # of a half: less is not worth its name
_OUTSIDE = 2.0  # spreads off what a well fence shows: one well reading in twenty lies farther off
_BESIDE_M, _PARTED_FROM_OHM, _LIKELY_OPEN = 40.0, 10_000.0, 0.2


@dataclass(frozen=True)
class LikelyStretch:
    """Pieces of a span that lie beside one another: from and to, m from its a, and the share that lies there."""

    span: str
    from_m: float
    to_m: float
    share: float


@dataclass(frozen=True)
class PieceShare:
    """A piece: its span, from and to, m; how likely it lies there; whether it is of the half or of the nine tenths."""

    span: str
    from_m: float
    to_m: float
    share: float
    in_half: bool
    in_most: bool


@dataclass(frozen=True)
class Outcome:
    """Amps (or kV) from `low` to `high`, and what they would mean: "past", "before" or "open", with its chance."""

    low: float
    high: float
    means: str
    chance: float


@dataclass(frozen=True)
class Meaning:
    """What each outcome of a reading would mean: of amps or kV, and the shares that lie past the place and before."""

    unit: str
    past: float
    before: float
    outcomes: tuple[Outcome, ...]


@dataclass(frozen=True)
class Kinds:
    """How likely each kind of trouble is; `several` is that two are left."""

    hard_short: float
    leak: float
    earth_strand: float
    cut: float
    rods: float
    nothing: float
    several: float


def piece_shares(search: FaultSearch) -> Real:
    """How likely the fault lies in each piece, (B,): a place's share is that of the pieces that meet there."""
    grid, cells = search.grid, search.candidates.cells
    metres = np.zeros(len(grid.spots))
    np.add.at(metres, grid.a, grid.length_m)
    np.add.at(metres, grid.b, grid.length_m)
    per_m = cells[: len(grid.spots)] / np.maximum(metres, 1e-9)
    found: Real = (per_m[grid.a] + per_m[grid.b]) * grid.length_m
    return found


def pieces_told(search: FaultSearch) -> tuple[PieceShare, ...]:
    """Every piece with its share, and whether it is of the half or the nine tenths that are likeliest per metre.

    Where rods and growth all along have more of it than places of the fence they come first: half may lie with them.
    """
    grid, share = search.grid, piece_shares(search)
    order = np.argsort(share / grid.length_m)[::-1]
    fence, growth = float(share.sum()), search.growth.share
    elsewhere = float(search.candidates.cells[search.suspects.rods_cell]) + growth / max(1 - growth, 1e-12)
    elsewhere = elsewhere if elsewhere > fence else 0.0
    before = (elsewhere + np.concatenate([[0.0], np.cumsum(share[order])[:-1]])) / max(fence + elsewhere, 1e-12)
    half, most = np.zeros(len(share), dtype=bool), np.zeros(len(share), dtype=bool)
    half[order], most[order] = before < _HALF, before < _MOST
    return tuple(
        PieceShare(
            grid.spans[grid.span[k]].id,
            float(grid.from_m[k]),
            float(grid.from_m[k] + grid.length_m[k]),
            float(share[k]),
            bool(half[k]),
            bool(most[k]),
        )
        for k in range(len(share))
    )


def stretches(search: FaultSearch, *, half: bool) -> tuple[LikelyStretch, ...]:
    """The stretches that hold half of it, or nine tenths; the likeliest first."""
    found: list[LikelyStretch] = []
    for piece in pieces_told(search):
        if not (piece.in_half if half else piece.in_most):
            continue
        last = found[-1] if found else None
        if last and last.span == piece.span and abs(last.to_m - piece.from_m) < 1e-6:
            found[-1] = LikelyStretch(last.span, last.from_m, piece.to_m, last.share + piece.share)
        else:
            found.append(LikelyStretch(piece.span, piece.from_m, piece.to_m, piece.share))
    return tuple(sorted(found, key=lambda row: -row.share))


def kinds_told(search: FaultSearch) -> Kinds:
    """How likely each kind of trouble is."""
    candidates, suspects = search.candidates, search.suspects
    single = len(suspects.fault)
    weight, material = candidates.weight, candidates.loss > candidates.material
    own, kind = weight[:single] * material[:single], suspects.kind
    leaks = kind == LS
    hard = suspects.size < HARD_SHORT_OHM
    nothing = float(candidates.cells[suspects.none_cell])
    return Kinds(
        hard_short=float(own[leaks & hard].sum()),
        leak=float(own[leaks & ~hard].sum()),
        earth_strand=float(own[kind == LE].sum()),
        cut=float(own[kind == CUT].sum()),
        rods=float(candidates.cells[suspects.rods_cell]),
        nothing=nothing,
        several=float(weight[single:].sum()),
    )


@dataclass(frozen=True)
class OpenSwitch:
    """A switch beside which a cut explains what was read, and how likely that is: it may stand open."""

    id: str
    share: float


def pieces_beside(search: FaultSearch, switch: HandSwitch) -> Index:
    """The pieces of the lines at a switch that lie within a few steps of it."""
    grid = search.grid
    spans = {grid.span_number[span] for span, _ in (switch.read_at, *switch.parts)}
    walk = grid.walk_m[search.suspects.base.fed_place(switch)]
    near = np.minimum(walk[grid.a], walk[grid.b]) <= _BESIDE_M
    found: Index = np.flatnonzero(near & np.isin(grid.span, list(spans)))
    return found


def open_switch(search: FaultSearch) -> OpenSwitch | None:
    """The switch that most likely stands open though it was told shut: nearly all of a wire is cut beside it."""
    suspects, rows = search.suspects, []
    weight = search.candidates.weight[: len(suspects.fault)]
    parted = (suspects.kind == CUT) & (suspects.size >= _PARTED_FROM_OHM)
    piece = suspects.base.faults.piece[suspects.fault]
    for switch in search.farm.switches:
        share = float(weight[parted & np.isin(piece, pieces_beside(search, switch))].sum())
        rows.append(OpenSwitch(switch.id, share))
    best = max(rows, key=lambda row: row.share, default=None)
    return best if best is not None and best.share >= _LIKELY_OPEN else None


def _past(search: FaultSearch, step: NextStep) -> Real:
    """Which places (P,) lie past a reading's place by its leg: 1, or 0 before it; the place itself counts half."""
    grid = search.grid
    keep = (grid.a != step.place) & (grid.b != step.place)
    links = [(link.a.node, link.b.node) for link in search.farm.network.links]
    number = {name: k for k, name in enumerate(grid.names)}
    joined = [(number[a], number[b]) for a, b in links if a in number and b in number]
    joined = [pair for pair in joined if step.place not in pair]
    rows = np.concatenate([grid.a[keep], [a for a, _ in joined]]).astype(int)
    columns = np.concatenate([grid.b[keep], [b for _, b in joined]]).astype(int)
    size = len(grid.spots)
    graph = sparse.csr_matrix((np.ones(len(rows)), (rows, columns)), shape=(size, size))
    _, part = connected_components(graph, directed=False)
    own = np.flatnonzero(grid.span == grid.span_number[step.leg])
    ahead = [int(grid.b[k]) for k in own if grid.a[k] == step.place]
    ahead = ahead or [int(grid.a[k]) for k in own if grid.b[k] == step.place]
    past: Real = (part == part[ahead[0]]).astype(float)
    past[step.place] = 0.5
    return past


def meaning(search: FaultSearch, step: NextStep) -> Meaning | None:
    """What the amps of a reading would mean; kV where amps say little. None where it divides nothing."""
    if step.do != "read":
        return None
    candidates = search.candidates
    some = weighed(candidates)
    past_places = np.concatenate([_past(search, step), [math.nan, math.nan]])
    spread = candidates.spread[some.chosen]
    known = ~np.isnan(past_places)
    located = np.asarray(spread[:, known].sum(axis=1)).ravel()
    past = np.asarray(spread[:, known] @ past_places[known]).ravel()
    weight = some.weight
    share_past, share_before = float(weight @ past), float(weight @ (located - past))
    if min(share_past, share_before) < A_SIDE:
        return None
    predicted = quickly_predicted(candidates, some, step.at)
    kv_var, amps_var = search.learner.spread(candidates.doubts.part(some.chosen), predicted)
    told = []
    for unit, values, variance in (("A", predicted.amps, amps_var), ("kV", predicted.kv, kv_var)):
        if unit == "A" and not search.farm.meter.shows_amps:
            continue
        told.append(_outcomes(unit, (values.astype(float), variance), weight * past, weight * (located - past)))
    best = min(told, key=lambda rows: sum(row.chance for row in rows[1] if row.means == "open"))
    if not {"past", "before"} <= {row.means for row in best[1]}:
        return None
    return Meaning(best[0], share_past, share_before, tuple(best[1]))


@dataclass(frozen=True)
class AmpsSplit:
    """Amps under and over which what is left divides in two, and the stretches that hold most of each half."""

    amps: float
    under: float
    under_at: tuple[LikelyStretch, ...]
    over_at: tuple[LikelyStretch, ...]


def split(search: FaultSearch, step: NextStep) -> AmpsSplit | None:
    """How the amps of a reading divide what is left where no place lies past another, as on a ring."""
    if step.do != "read" or not search.farm.meter.shows_amps:
        return None
    candidates, grid = search.candidates, search.grid
    some = weighed(candidates)
    amps = quickly_predicted(candidates, some, step.at).amps.astype(float)
    order = np.argsort(amps)
    total = np.cumsum(some.weight[order])
    k = int(np.searchsorted(total, 0.5))
    if k in (0, len(order) - 1):
        return None
    middle = float(amps[order[k - 1 : k + 1]].mean())
    spread = candidates.spread[some.chosen]
    names = []
    for half in (amps < middle, amps >= middle):
        cells = np.asarray(spread.T @ (some.weight * half)).ravel()
        names.append(_where_most(search, (cells[grid.a] + cells[grid.b]) * grid.length_m))
    return AmpsSplit(middle, float(some.weight[amps < middle].sum()), names[0], names[1])


@dataclass(frozen=True)
class ClosingRange:
    """From where to where a closing reading lies if nothing more is left, amps or kV; what lies outside means.

    `under` and `over` are the chances that it shows something that is left, with the stretches that hold most of it.
    """

    unit: str
    low: float
    high: float
    under: float
    under_at: tuple[LikelyStretch, ...]
    over: float
    over_at: tuple[LikelyStretch, ...]


def closing_range(search: FaultSearch, step: NextStep) -> ClosingRange | None:
    """What a reading of the closing round would mean; None where hardly anything that is left would show there."""
    if step.do != "read":
        return None
    candidates, grid = search.candidates, search.grid
    some = weighed(candidates)
    nothing = np.flatnonzero(some.chosen == 0)
    left = some.weight * ((candidates.loss[some.chosen] > candidates.material) & (some.chosen > 0))
    if not len(nothing) or left.sum() <= 0:
        return None
    predicted = quickly_predicted(candidates, some, step.at)
    kv_var, amps_var = search.learner.spread(candidates.doubts.part(some.chosen), predicted)
    shown = [("A", predicted.amps, amps_var)] if search.farm.meter.shows_amps else []
    tried: list[tuple[float, str, float, float, Real]] = []
    for unit, values, variance in (*shown, ("kV", predicted.kv, kv_var)):
        middle, spread = float(values[nothing[0]]), math.sqrt(float(variance[nothing[0]]))
        off: Real = (values.astype(float) - middle) / spread
        tried.append((float(left @ np.minimum(np.abs(off), 2 * _OUTSIDE)), unit, middle, spread, off))
    _, unit, middle, spread, away = max(tried, key=lambda row: row[0])
    sides = (away < -_OUTSIDE, away > _OUTSIDE)
    under, over = (float(left[side].sum()) for side in sides)
    if under + over < A_SIDE * left.sum():
        return None
    places = []
    for side in sides:
        cells = np.asarray(candidates.spread[some.chosen].T @ (left * side)).ravel()
        places.append(_where_most(search, (cells[grid.a] + cells[grid.b]) * grid.length_m))
    low, high = middle - _OUTSIDE * spread, middle + _OUTSIDE * spread
    low = max(0.0, low) if unit == "kV" else low
    return ClosingRange(unit, low, high, under, places[0], over, places[1])


def _where_most(search: FaultSearch, share: Real) -> tuple[LikelyStretch, ...]:
    """On the two spans that hold most of a share of pieces (B,): from where to where eight tenths of theirs lie."""
    grid, found = search.grid, []
    whole = np.bincount(grid.span, share, minlength=len(grid.spans))
    for span in np.argsort(whole)[::-1][:2].tolist():
        if whole[span] <= _A_PART * whole.sum():
            continue
        own = np.flatnonzero(grid.span == span)
        upto = np.cumsum(share[own]) / whole[span]
        first, last = own[np.searchsorted(upto, 0.1)], own[np.searchsorted(upto, 0.9)]
        low, high = float(grid.from_m[first]), float(grid.from_m[last] + grid.length_m[last])
        found.append(LikelyStretch(grid.spans[span].id, low, high, float(whole[span] / whole.sum())))
    return tuple(found)


def _outcomes(unit: str, expected: tuple[Real, Real], past: Real, before: Real) -> tuple[str, list[Outcome]]:
    values, variance = expected
    spread = np.sqrt(variance)
    low, high = float((values - 2 * spread).min()), float((values + 2 * spread).max())
    if unit == "kV":
        low = max(0.0, low)
    marks = np.linspace(low, high, _STEPS)
    density = np.exp(-0.5 * ((marks[:, None] - values) / spread) ** 2) / spread
    p_past, p_before = density @ past, density @ before
    ratio = p_past / np.maximum(p_past + p_before, 1e-30)
    names = np.where(ratio > DECIDES, "past", np.where(ratio < 1 - DECIDES, "before", "open"))
    chance = (p_past + p_before) / max(float((p_past + p_before).sum()), 1e-30)
    rows: list[Outcome] = []
    for k, name in enumerate(names.tolist()):
        if rows and rows[-1].means == name:
            rows[-1] = Outcome(rows[-1].low, float(marks[k]), name, rows[-1].chance + float(chance[k]))
        else:
            rows.append(Outcome(float(marks[k]), float(marks[k]), name, float(chance[k])))
    return unit, _merged(rows)


def _merged(rows: list[Outcome]) -> list[Outcome]:
    """Slivers that hardly ever come belong to their neighbour."""
    found: list[Outcome] = []
    for row in rows:
        if found and (row.chance < 0.02 or found[-1].means == row.means or found[-1].chance < 0.02):
            last = found[-1]
            means = last.means if last.chance >= row.chance else row.means
            found[-1] = Outcome(last.low, row.high, means, last.chance + row.chance)
        else:
            found.append(row)
    return found
