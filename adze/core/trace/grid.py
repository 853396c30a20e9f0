"""The places of a search: every node and every 25 m of the fence, the pieces between them, and the way from each."""

import itertools
import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from scipy import sparse

from adze.core.basics.types import Index, Real
from adze.core.pulse.network import Network, NetworkError, Span
from adze.core.trace.farm import TracedFarm
from adze.core.trace.ways import TOUCHES_M, graph, shortest_m, steps_back

STEP_M, _MOST_PLACES = 25.0, 300


@dataclass(frozen=True)
class Spot:
    """A place on the fence: a span, and metres from its a."""

    span: str
    at_m: float


@dataclass(frozen=True)
class Grid:
    """Places (P) and pieces (B) of a fence.

    `spots` says where each place lies (one of several names at a node), `a` and `b` (B,) the places at a piece's ends,
    `span` its span's number, `from_m` how far from that span's a it begins, `length_m` its length. `network` is the
    fence cut at every place: the piece number k is its span number k. `nodes` are the ends of whole spans, `walking`
    the ways between neighbours and `walk_m` (P, P) the shortest ones, m.
    """

    spots: tuple[Spot, ...]
    names: tuple[str, ...]
    a: Index
    b: Index
    span: Index
    from_m: Real
    length_m: Real
    spans: tuple[Span, ...]
    network: Network
    nodes: Index
    walk_m: Real
    start: int
    walking: sparse.csr_matrix

    @cached_property
    def span_number(self) -> dict[str, int]:
        """The number of each span by its id."""
        return {span.id: k for k, span in enumerate(self.spans)}

    @cached_property
    def first_piece(self) -> Index:
        """The first piece of each span; its others follow."""
        found: Index = np.searchsorted(self.span, np.arange(len(self.spans)))
        return found

    @cached_property
    def legs(self) -> tuple[tuple[str, ...], ...]:
        """The spans that meet at each place; one where it lies inside a span."""
        found: list[list[str]] = [[] for _ in self.spots]
        for k, piece_span in enumerate(self.span):
            for place in (self.a[k], self.b[k]):
                if self.spans[piece_span].id not in found[place]:
                    found[place].append(self.spans[piece_span].id)
        return tuple(tuple(row) for row in found)

    def place(self, spot: Spot) -> int:
        """The place nearest to a spot. Raises KeyError for a span that is not there."""
        number = self.span_number[spot.span]
        pieces = np.flatnonzero(self.span == number)
        at = np.append(self.from_m[pieces], self.spans[number].length_m)
        nearest = int(np.argmin(np.abs(at - spot.at_m)))
        return int(self.a[pieces[nearest]] if nearest < len(pieces) else self.b[pieces[-1]])

    def piece_at(self, spot: Spot) -> int:
        """The piece that a spot lies in. Raises KeyError for a span that is not there."""
        own = np.flatnonzero(self.span == self.span_number[spot.span])
        return int(own[np.searchsorted(self.from_m[own], spot.at_m, side="right") - 1])

    def at(self, place: int, leg: str) -> Spot:
        """How a place is called on one of its legs."""
        number = self.span_number[leg]
        pieces = np.flatnonzero(self.span == number)
        here = np.flatnonzero(self.a[pieces] == place)
        if len(here):
            return Spot(leg, float(self.from_m[pieces[here[0]]]))
        return Spot(leg, self.spans[number].length_m)

    def stops(self, start: int, end: int) -> list[int]:
        """The places on the shortest way between two, both included."""
        found, here = [end], end
        before = steps_back(self.walking, start)
        while here != start and before[here] >= 0:
            here = int(before[here])
            if here < len(self.spots):
                found.append(here)
        return found[::-1]

    def steps_back(self, start: int) -> Index:
        """For each place and node what comes before it on the shortest way from a place; negative where none leads."""
        return steps_back(self.walking, start).astype(np.intp)

    def way(self, start: int, end: int) -> list[int]:
        """The pieces walked along on the shortest way between two places."""
        steps = itertools.pairwise(self.stops(start, end))
        pieces = (self._piece_between.get((min(a, b), max(a, b))) for a, b in steps)
        return [piece for piece in pieces if piece is not None]

    @cached_property
    def _piece_between(self) -> dict[tuple[int, int], int]:
        return {
            (min(a, b), max(a, b)): k for k, (a, b) in enumerate(zip(self.a.tolist(), self.b.tolist(), strict=True))
        }


def grid(farm: TracedFarm) -> Grid:
    """Places and pieces of a farm's fence. Raises NetworkError where nothing can be walked from the start."""
    spans = tuple(span for span in farm.network.spans if not span.is_open)
    if not spans:
        raise NetworkError("network: there is no span to search along")
    step = max(STEP_M, sum(span.length_m for span in spans) / _MOST_PLACES)
    number: dict[str, int] = {}
    spots: list[Spot] = []
    cut: list[Span] = []
    rows: list[tuple[int, int, int, float, float]] = []

    def known(name: str, spot: Spot) -> int:
        if name not in number:
            number[name] = len(spots)
            spots.append(spot)
        return number[name]

    for k, span in enumerate(spans):
        count = max(1, math.ceil(span.length_m / step - 1e-9))
        length = span.length_m / count
        ends = [span.a, *(f"{span.id}\x1f{i}" for i in range(1, count)), span.b]
        for i in range(count):
            a = known(ends[i], Spot(span.id, i * length))
            b = known(ends[i + 1], Spot(span.id, span.length_m if i + 1 == count else (i + 1) * length))
            cut.append(replace(span, id=f"{span.id}\x1f{i}", a=ends[i], b=ends[i + 1], length_m=length))
            rows.append((a, b, k, i * length, length))
    columns = list(zip(*rows, strict=True))
    piece_a, piece_b, of = (np.array(column, dtype=np.intp) for column in columns[:3])
    from_m, length_m = (np.array(column) for column in columns[3:])
    walking, start = _walking(farm, number, (piece_a, piece_b, length_m))
    walk_m = shortest_m(walking)[: len(spots), : len(spots)]
    nodes = sorted({number[name] for span in spans for name in (span.a, span.b)})
    network = replace(farm.network, spans=tuple(cut))
    return Grid(
        tuple(spots),
        tuple(number),
        piece_a,
        piece_b,
        of,
        from_m,
        length_m,
        spans,
        network,
        np.array(nodes),
        walk_m,
        start,
        walking,
    )


def _walking(
    farm: TracedFarm, number: dict[str, int], pieces: tuple[Index, Index, Real]
) -> tuple[sparse.csr_matrix, int]:
    """The graph of ways (places first, then nodes without a span), and the place where the person begins."""
    known = dict(number)
    edges: list[tuple[int, int, float]] = list(zip(*(column.tolist() for column in pieces), strict=True))
    ways = [(link.a.node, link.b.node, TOUCHES_M) for link in farm.network.links]
    ways += [(track.a, track.b, track.length_m) for track in farm.tracks]
    for one, other, length_m in ways:
        edges.append((known.setdefault(one, len(known)), known.setdefault(other, len(known)), length_m))
    walking = graph(edges, len(known))
    if farm.start not in known:
        raise NetworkError(f"start: no span, link or track reaches {farm.start!r}")
    from_start = shortest_m(walking, known[farm.start])[: len(number)]
    if not np.isfinite(from_start).all():
        lost = list(number)[int(np.flatnonzero(~np.isfinite(from_start))[0])]
        raise NetworkError(f"walk: no way leads from {farm.start!r} to {lost.split(chr(31))[0]!r}; add a track")
    return walking, int(np.argmin(from_start))
