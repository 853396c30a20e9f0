"""Other ways to lead the pulse over the lines: where it is fed in, links between lines, where the unit hangs."""

import math
from dataclasses import dataclass

import networkx as nx

from adze.core.build.rod_sites import proposed
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m, point_at, run_of, shape_of
from adze.core.ground.places import Place, nearest_place, place_words
from adze.core.ground.wiring import Wiring, wiring
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position
from adze.core.plan.season import Season
from adze.core.tables.ground import landmark_kinds
from adze.core.verdict.judge import Judgement, judge

_LONGEST_LEAD_M = 300.0  # insulated cable beyond costs more than a larger energizer
_LONGEST_LINK_M = 200.0
_SAVES = 4.0  # a link is worth trying where the way round is so many times as long
_MOST = 2
_SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)
_RUNS = 12
Link = tuple[Position, Position]


def _graph(found: Wiring) -> "nx.Graph[str]":
    graph: nx.Graph[str] = nx.Graph()
    for piece in found.pieces:
        known = graph.get_edge_data(piece.a, piece.b)
        if known is None or known["m"] > piece.length_m:
            graph.add_edge(piece.a, piece.b, m=piece.length_m)
    return graph


def feed_places(plan: Plan) -> tuple[Position, ...]:
    """Spots from which the farthest end lies nearer than from the present feed, the best first.

    Ends, quarters and middles of the longest runs, no farther from the energizer than a lead-out is led.
    """
    found, start = wiring(plan), feed(plan)
    if found is None or start is None:
        return ()
    graph = _graph(found)

    def reach_m(place: Place) -> float:
        piece = found.piece_at(place)
        ends = ((piece.a, place.at_m - piece.from_m), (piece.b, piece.to_m - place.at_m))
        away = [
            {node: far + extra for node, far in nx.single_source_dijkstra_path_length(graph, end, weight="m").items()}
            for end, extra in ends
        ]
        return max(min(row.get(node, math.inf) for row in away) for node in away[0])

    now = reach_m(start.place)
    rows = []
    longest = sorted(plan.runs, key=length_m, reverse=True)[:_RUNS]
    for place in (Place(run.id, length_m(run) * share) for run in longest for share in _SHARES):
        spot = point_at(run_of(plan, place.run), place.at_m)
        lead = math.dist(plan.energizer_at, spot) if plan.energizer_at else 0.0
        if (plan.energizer_at and lead > _LONGEST_LEAD_M) or found.piece_at(place).a not in found.reached:
            continue
        # A metre of lead-out is no fence, but it has to be bought and dug in.
        rows.append((reach_m(place) + lead, spot))
    best: list[Position] = []
    for far, spot in sorted(rows):
        if far < 0.8 * now and all(math.dist(spot, other) > 0.1 * now for other in best):
            best.append((round(spot[0], 2), round(spot[1], 2)))
        if len(best) == _MOST:
            break
    return tuple(best)


def links(plan: Plan) -> tuple[Link, ...]:
    """Short lines from a dead end to another line that save the longest way round, the best first."""
    found = wiring(plan)
    if found is None:
        return ()
    graph = _graph(found)
    ends = {node for node, degree in graph.degree() if degree == 1 and node in found.reached}
    rows = []
    for run in plan.runs:
        for at_m in (0.0, length_m(run)):
            piece = found.piece_at(Place(run.id, at_m))
            node = piece.a if at_m == 0.0 else piece.b
            if node not in ends:
                continue
            spot = point_at(run, at_m)
            around = nx.single_source_dijkstra_path_length(graph, node, weight="m")
            for other in plan.runs:
                met = nearest_place((other,), spot)
                if other.id == run.id or met is None or not 1.0 < met[1] <= _LONGEST_LINK_M:
                    continue
                there = found.piece_at(met[0])
                way = min(
                    around.get(there.a, math.inf) + met[0].at_m - there.from_m,
                    around.get(there.b, math.inf) + there.to_m - met[0].at_m,
                )
                if math.isfinite(way) and way >= _SAVES * met[1]:
                    rows.append((met[1] - way, spot, point_at(other, met[0].at_m)))
    best: list[Link] = []
    for _, spot, onto in sorted(rows):
        if all(spot not in link for link in best):
            best.append((spot, onto))
    return tuple(best[:_MOST])


def linked(plan: Plan, link: Link) -> Plan:
    """The plan with a link drawn as a line, built as the line that it begins on. Raises ValidationError."""
    keys = {run.id for run in plan.runs}
    key = next(f"link{i}" for i in range(len(keys) + 1) if f"link{i}" not in keys)
    met = nearest_place(plan.runs, link[0])
    begun = run_of(plan, met[0].run) if met else plan.runs[0]
    row = {"id": key, "name": "Link", "fence": begun.fence, "points": link}
    return changed(plan, {"runs": (*plan.runs, row)})


_BUILDINGS = ("building", "milk_house")
_BESIDE_LINE_M = 1.0  # a unit on its stake stands so far from the line
_MOST_PLACES = 4
_NEAR_M = 10.0  # a supply so near is the one that it hangs at


@dataclass(frozen=True)
class UnitPlace:
    """A place for the energizer: its name and spot, metres of lead-out, and the whole plan judged with it there."""

    name: str
    at: Position
    lead_m: float
    judged: Judgement

    @property
    def least_kv(self) -> float:
        """The least that a tester reads on the fence in the driest week, kV."""
        return min((float(trace.kv.min()) for trace in self.judged.volts[Season.DRY].traces), default=0.0)

    @property
    def rods_kv(self) -> float:
        """What the rods rise to in the driest week's earth test, kV."""
        return self.judged.earth_tests[Season.DRY].rods_kv


def unit_at(plan: Plan, at: Position) -> Plan:
    """The plan with the energizer at a spot, led in at the nearest line, its rods where the ground is best for them."""
    moved = changed(
        plan, {"energizer_at": at, "feed_at": None, "lead_out": replaced(plan.lead_out, points=()).model_dump()}
    )
    best = next(iter(proposed(moved)), None)
    if best is None:
        return moved
    old, watch = plan.rods.position, plan.rods.monitor
    if old is not None and watch is not None:
        watch = (round(watch[0] + best.at[0] - old[0], 2), round(watch[1] + best.at[1] - old[1], 2))
    rods = replaced(plan.rods, position=best.at, bearing_deg=best.bearing_deg, places=(), layout="row", monitor=watch)
    return changed(moved, {"rods": rods.model_dump()})


def unit_places(plan: Plan) -> tuple[UnitPlace, ...]:
    """Where the energizer hangs, then other places for it, the strongest fence first.

    A unit on mains hangs at a supply or in a building, another one also beside the line where it is best led in.
    Raises Incomplete.
    """
    if plan.energizer_at is None or not plan.runs:
        return ()
    unit, rows = unit_of(plan), []
    for mark in plan.landmarks:
        if mark.kind in (*_BUILDINGS, "mains"):
            middle = shape_of(mark).representative_point()
            rows.append((mark.name or landmark_kinds()[mark.kind].label, (round(middle.x, 1), round(middle.y, 1))))
    if unit is not None and unit.supply != "mains":
        for spot in feed_places(replaced(plan, energizer_at=None, feed_at=None)):
            met = nearest_place(plan.runs, spot)
            if met is not None:
                rows.append((place_words(plan, met[0]), (spot[0], spot[1] - _BESIDE_LINE_M)))
    apart = [row for row in rows if math.dist(row[1], plan.energizer_at) > _NEAR_M]
    others = [_judged_at(unit_at(plan, at), name) for name, at in apart[:_MOST_PLACES]]
    there = [place for place in others if place is not None]
    here = _judged_at(plan, "where it hangs")
    return (*((here,) if here else ()), *sorted(there, key=lambda place: -place.least_kv))


def _judged_at(plan: Plan, name: str) -> UnitPlace | None:
    start, judged = feed(plan), judge(plan)
    if start is None or plan.energizer_at is None or judged.blocked:
        return None
    return UnitPlace(name, plan.energizer_at, start.lead_m, judged)
