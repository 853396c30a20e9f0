"""Ways along the fence from the energizer to an end, unrolled, with all that is fixed on them."""

from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse import csgraph

from adze.core.basics.cache import cached_by_fields
from adze.core.ground.lines import CORNER_DEGREES, length_m, run_of, turns
from adze.core.ground.places import Place
from adze.core.ground.relief import bumps, height_at
from adze.core.ground.survey import survey
from adze.core.ground.wiring import Piece, Wiring, wiring
from adze.core.plan.document import Plan
from adze.core.tables.ground import mishap_kinds


@dataclass(frozen=True)
class Leg:
    """A stretch of a run as walked: to_m may lie before from_m."""

    run: str
    from_m: float
    to_m: float

    @property
    def length_m(self) -> float:
        """Its length, m."""
        return abs(self.to_m - self.from_m)


@dataclass(frozen=True)
class Mark:
    """Something at a distance along a route: a fixture's kind, corner, dip, rise, join, apart, start or end."""

    kind: str
    label: str
    at_m: float


@dataclass(frozen=True)
class Route:
    """One way from the energizer to an end."""

    name: str
    legs: tuple[Leg, ...]

    @property
    def length_m(self) -> float:
        """Its length, m."""
        return sum(leg.length_m for leg in self.legs)


@cached_by_fields(
    "routes",
    16,
    identity_args=("runs", "fixtures", "landmarks", "meetings", "growths", "what_ifs"),
    equal=("energizer_at", "feed_at", "lead_out"),
)
def routes(plan: Plan) -> tuple[Route, ...]:
    """One route for each end of each run that the pulse reaches, by the shortest way."""
    found = wiring(plan)
    if found is None:
        return ()
    ways = _Ways(found)
    stops: dict[str, list[Place]] = {run.id: [] for run in plan.runs}
    for place, node in found.nodes.items():
        if node in ways.far:
            stops[place.run].append(place)
    rows = []
    for run in plan.runs:
        if not stops[run.id]:
            continue
        # Each run is entered where the way from the energizer is shortest.
        entry = min(stops[run.id], key=lambda p: (ways.far[found.nodes[p]], p.at_m))
        before = ways.legs(found.nodes[entry])
        ends = [at for at in (0.0, length_m(run)) if abs(at - entry.at_m) > 0.1]
        for end in ends:
            name = run.name if len(ends) == 1 else f"{run.name}, {'back to its start' if end == 0.0 else 'to its end'}"
            rows.append(Route(name, (*before, Leg(run.id, entry.at_m, end))))
    return tuple(rows)


class _Ways:
    """The shortest way from the source to every node. Source: E. W. Dijkstra, Numer. Math. 1 (1959)."""

    def __init__(self, found: Wiring) -> None:
        names = sorted({found.start, *(p.a for p in found.pieces), *(p.b for p in found.pieces)})
        number = {name: i for i, name in enumerate(names)}
        self._pieces: dict[tuple[str, str], Piece] = {}
        for piece in found.pieces:
            for pair in ((piece.a, piece.b), (piece.b, piece.a)):
                known = self._pieces.get(pair)
                if known is None or piece.length_m < known.length_m:
                    self._pieces[pair] = piece
        rows, columns = ([number[pair[k]] for pair in self._pieces] for k in (0, 1))
        # A piece is never without length, but may round to none: nought would read as no way.
        metres = [max(p.length_m, 1e-6) for p in self._pieces.values()]
        graph = sparse.csr_matrix((metres, (rows, columns)), shape=(len(names), len(names)))
        tables = csgraph.dijkstra(graph, indices=[number[found.start]], return_predecessors=True)
        far, before = tables[0][0], tables[1][0]
        self.far = {name: float(far[i]) for i, name in enumerate(names) if np.isfinite(far[i])}
        self._before = {name: names[before[i]] for i, name in enumerate(names) if before[i] >= 0}
        self._legs: dict[str, tuple[Leg, ...]] = {found.start: ()}

    def legs(self, node: str) -> tuple[Leg, ...]:
        """The stretches walked from the source to a node."""
        line = [node]
        while line[-1] not in self._legs:
            line.append(self._before[line[-1]])
        for here, above in zip(reversed(line[:-1]), reversed(line[1:]), strict=True):
            self._legs[here] = self._onward(self._legs[above], self._pieces[above, here], ahead=above)
        return self._legs[node]

    def _onward(self, legs: tuple[Leg, ...], piece: Piece, *, ahead: str) -> tuple[Leg, ...]:
        out = (piece.from_m, piece.to_m) if piece.a == ahead else (piece.to_m, piece.from_m)
        leg = Leg(piece.run, *out)
        if legs and legs[-1].run == leg.run and abs(legs[-1].to_m - leg.from_m) < 0.01:
            return (*legs[:-1], Leg(leg.run, legs[-1].from_m, leg.to_m))
        return (*legs, leg)


def marks_along(plan: Plan, route: Route) -> tuple[Mark, ...]:
    """All that is fixed along a route, from the energizer to its end."""
    return _marks(_fixed(plan, {leg.run for leg in route.legs}), route.legs)


_Fixed = dict[str, list[tuple[str, str, float]]]


def _fixed(plan: Plan, runs: set[str]) -> _Fixed:
    """Kind, words and distance of all that is fixed on some runs."""
    names = {run.id: run.name for run in plan.runs}
    found: _Fixed = {run.id: [] for run in plan.runs}
    for f in plan.fixtures:
        found[f.run].append((f.kind, f.name, f.at_m))
    for trial in plan.what_ifs:
        at = min(trial.at_m, length_m(run_of(plan, trial.run)))
        found[trial.run].append(("what_if", mishap_kinds()[trial.kind].label, at))
    for run in (run for run in plan.runs if run.id in runs):
        found[run.id] += [("corner", "Corner", at) for at, degrees in turns(run) if degrees > CORNER_DEGREES]
        found[run.id] += [("dip" if b.is_dip else "rise", b.words, b.at_m) for b in bumps(plan, run)]
    there = survey(plan)
    for join in there.joins:
        if join.onto.run != join.run:
            found[join.onto.run].append(("joined", f"{names[join.run]} joins", join.onto.at_m))
    for crossing in there.crossings:
        for here, other in ((crossing.first, crossing.second), (crossing.second, crossing.first)):
            words = f"{names[other.run]} {'joins' if crossing.joined else 'crosses apart'}"
            found[here.run].append(("joined" if crossing.joined else "apart", words, here.at_m))
    return found


def _marks(fixed: _Fixed, legs: tuple[Leg, ...]) -> tuple[Mark, ...]:
    marks = [Mark("start", "Energizer", 0.0)]
    gone = 0.0
    for leg in legs:
        low, high = sorted((leg.from_m, leg.to_m))
        for kind, label, at in fixed[leg.run]:
            if low <= at <= high:
                marks.append(Mark(kind, label, gone + abs(at - leg.from_m)))
        gone += leg.length_m
    marks.append(Mark("end", "End", gone))
    return tuple(sorted(marks, key=lambda m: m.at_m))


_MOST_HEIGHTS = 400


def heights_along(plan: Plan, route: Route) -> list[tuple[float, float]]:
    """Distance along a route and height of the ground, m; empty where no heights are known."""
    runs = {run.id: run for run in plan.runs}
    found: list[tuple[float, float]] = []
    gone = 0.0
    for leg in route.legs:
        low, high = sorted((leg.from_m, leg.to_m))
        rows = [(at, h) for at, h in runs[leg.run].profile if low < at < high]
        rows += [(at, h) for at in (low, high) if (h := height_at(runs[leg.run], at)) is not None]
        found += sorted((gone + abs(at - leg.from_m), h) for at, h in rows)
        gone += leg.length_m
    step = max(1, len(found) // _MOST_HEIGHTS)
    return found if step == 1 else [*found[::step], found[-1]]
