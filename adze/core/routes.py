"""Ways along the fence from the energizer to an end, unrolled, with all that is fixed on them."""

from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from adze.core.ground import Place, length_m, survey, turns
from adze.core.parts import CORNER_DEGREES
from adze.core.plan import Plan
from adze.core.relief import bumps, height_at
from adze.core.wiring import wiring


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
    marks: tuple[Mark, ...]

    @property
    def length_m(self) -> float:
        """Its length, m."""
        return sum(leg.length_m for leg in self.legs)


def routes(plan: Plan) -> tuple[Route, ...]:
    """One route for each end of each run that the pulse reaches, by the shortest way."""
    found = wiring(plan)
    if found is None:
        return ()
    graph: nx.MultiGraph[str] = nx.MultiGraph()
    graph.add_node(found.start)
    for piece in found.pieces:
        graph.add_edge(piece.a, piece.b, key=piece.span, piece=piece, start=piece.a, weight=piece.length_m)
    # Each run is entered where the way from the energizer is shortest.
    far = nx.single_source_dijkstra_path_length(graph, found.start, weight="weight")
    reach = nx.single_source_dijkstra_path(graph, found.start, weight="weight")
    stops: dict[str, list[Place]] = {run.id: [] for run in plan.runs}
    for place, node in found.nodes.items():
        if node in far:
            stops[place.run].append(place)
    fixed = _fixed(plan)
    ways = []
    for run in plan.runs:
        if not stops[run.id]:
            continue
        entry = min(stops[run.id], key=lambda p: (far[found.nodes[p]], p.at_m))
        before = _legs(graph, reach[found.nodes[entry]])
        ends = [at for at in (0.0, length_m(run)) if abs(at - entry.at_m) > 0.1]
        for end in ends:
            legs = (*before, Leg(run.id, entry.at_m, end))
            name = run.name if len(ends) == 1 else f"{run.name}, {'back to its start' if end == 0.0 else 'to its end'}"
            ways.append(Route(name, legs, _marks(fixed, legs)))
    return tuple(ways)


def _legs(graph: "nx.MultiGraph[str]", path: list[str]) -> tuple[Leg, ...]:
    legs: list[Leg] = []
    for a, b in pairwise(path):
        data = min(graph.get_edge_data(a, b).values(), key=lambda d: d["weight"])
        piece = data["piece"]
        ahead = data["start"] == a
        leg = Leg(piece.run, *((piece.from_m, piece.to_m) if ahead else (piece.to_m, piece.from_m)))
        if legs and legs[-1].run == leg.run and abs(legs[-1].to_m - leg.from_m) < 0.01:
            legs[-1] = Leg(leg.run, legs[-1].from_m, leg.to_m)
        else:
            legs.append(leg)
    return tuple(legs)


_Fixed = dict[str, list[tuple[str, str, float]]]


def _fixed(plan: Plan) -> _Fixed:
    """Kind, words and distance of all that is fixed on each run."""
    names = {run.id: run.name for run in plan.runs}
    found: _Fixed = {run.id: [] for run in plan.runs}
    for f in plan.fixtures:
        found[f.run].append((f.kind, f.name, f.at_m))
    for run in plan.runs:
        found[run.id] += [("corner", "Corner", at) for at, degrees in turns(run) if degrees > CORNER_DEGREES]
        found[run.id] += [("dip" if b.is_dip else "rise", b.words, b.at_m) for b in bumps(plan, run)]
    there = survey(plan)
    for join in there.joins:
        if join.onto.run != join.run:
            found[join.onto.run].append(("join", f"{names[join.run]} joins", join.onto.at_m))
    for crossing in there.crossings:
        for here, other in ((crossing.first, crossing.second), (crossing.second, crossing.first)):
            words = f"{names[other.run]} {'joins' if crossing.joined else 'crosses apart'}"
            found[here.run].append(("join" if crossing.joined else "apart", words, here.at_m))
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
