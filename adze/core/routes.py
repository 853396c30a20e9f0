"""Ways along the fence from the energizer to an end, unrolled, with all that is fixed on them."""

from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from adze.core.circuit import circuit
from adze.core.ground import feed, joins, length_m, turns
from adze.core.parts import CORNER_DEGREES
from adze.core.plan import Plan, Run
from adze.core.season import Season, Weather


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
    """Something fixed at a distance along a route: gate, switch, corner, join, start or end."""

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
    """One route for each end of each run that hangs on the feed. Raises Incomplete."""
    wiring = circuit(plan, Weather(Season.USUAL))
    start = feed(plan)
    if start is None:
        return ()
    spans = {span.id: span for span in wiring.network.spans}
    graph: nx.MultiGraph[str] = nx.MultiGraph()
    for piece in wiring.pieces:
        span = spans[piece.span]
        graph.add_edge(span.a, span.b, key=piece.span, piece=piece, start=span.a, weight=span.length_m)
    origin = wiring.node_at(start.place)
    # Runs fed from one end only: each is entered where the way from the energizer is shortest.
    reach = nx.single_source_dijkstra_path(graph, origin, weight="weight") if origin in graph else {}
    far = nx.single_source_dijkstra_path_length(graph, origin, weight="weight") if origin in graph else {}
    found = []
    for run in plan.runs:
        stops = sorted((p for p in wiring.nodes if p.run == run.id), key=lambda p: p.at_m)
        known = [p for p in stops if wiring.nodes[p] in far]
        if not known:
            continue
        entry = min(known, key=lambda p: (far[wiring.nodes[p]], p.at_m))
        before = _legs(graph, reach[wiring.nodes[entry]])
        ends = [at for at in (0.0, length_m(run)) if abs(at - entry.at_m) > 0.1]
        for end in ends:
            legs = (*before, Leg(run.id, entry.at_m, end))
            name = run.name if len(ends) == 1 else f"{run.name}, {'back to its start' if end == 0.0 else 'to its end'}"
            found.append(Route(name, legs, _marks(plan, legs)))
    return tuple(found)


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


def _on_run(plan: Plan, run: Run) -> list[tuple[str, str, float]]:
    names = {r.id: r.name for r in plan.runs}
    here: list[tuple[str, str, float]] = [(f.kind, f.name, f.at_m) for f in plan.fixtures if f.run == run.id]
    here += [("corner", "Corner", at) for at, degrees in turns(run) if degrees > CORNER_DEGREES]
    here += [
        ("join", f"{names[j.run]} joins", j.onto.at_m) for j in joins(plan) if j.onto.run == run.id and j.run != run.id
    ]
    return here


def _marks(plan: Plan, legs: tuple[Leg, ...]) -> tuple[Mark, ...]:
    runs = {run.id: run for run in plan.runs}
    marks = [Mark("start", "Energizer", 0.0)]
    gone = 0.0
    for leg in legs:
        low, high = sorted((leg.from_m, leg.to_m))
        for kind, label, at in _on_run(plan, runs[leg.run]):
            if low <= at <= high:
                marks.append(Mark(kind, label, gone + abs(at - leg.from_m)))
        gone += leg.length_m
    marks.append(Mark("end", "End", gone))
    return tuple(sorted(marks, key=lambda m: m.at_m))
