"""A plan as a farm to search: its forecast of a season, the ways over its ground, and where faults are likelier."""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np
from shapely import Point
from shapely.geometry.base import BaseGeometry

from adze.core.basics.types import Real
from adze.core.energizer.tester import adjustment
from adze.core.forecast.circuit import ENERGIZER, Circuit, circuit
from adze.core.forecast.volts import solved
from adze.core.ground.lines import point_at, run_of, shape_of
from adze.core.ground.places import Place as FencePlace
from adze.core.ground.wiring import Piece, can_part, wiring
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, Switch
from adze.core.plan.scalars import Position
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.pulse.network import STRANDS, Network, Port, Span, StrandLine, Terminal, WireLine
from adze.core.pulse.solver import solve_pulse
from adze.core.trace.farm import HandSwitch, Hazard, Meter, TracedFarm, Track
from adze.core.trace.grid import Grid, Spot
from adze.core.trace.pulse_base import WINDOW

LEAD_OUT = "lead-out"
_ROUGH_GROUND = 1.1  # a way over ground is longer than the crow's
_NEIGHBOURS = 5
_UNDER_TREES_M, _MANY_TREES = 12.0, 0.25
_TREES = frozenset({"tree", "wood"})
_SHOWN_EVERY_M, _LEAST_KV = 25.0, 0.05


def farm_of(
    plan: Plan, season: Season, found_before: Mapping[str, int] | None = None, *, shows_amps: bool = True
) -> TracedFarm:
    """A plan's fence to search in a season, with a tester that shows amps or none.

    `found_before` counts faults found in each span. Raises Incomplete.
    """
    whole = circuit(plan, Weather(season))
    pieces = {piece.span: piece for piece in whole.pieces}
    if not pieces:
        raise Incomplete(Stage.GROUND, "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    nodes = _nodes(plan, list(pieces.values()))
    home = plan.energizer_at or plan.runs[0].points[0]
    nodes[ENERGIZER] = home
    hazards = {span: _hazard(plan, piece, (found_before or {}).get(span, 0)) for span, piece in pieces.items()}
    as_one = _as_one(whole)
    return TracedFarm(
        as_one,
        ENERGIZER,
        _tracks(nodes),
        hazards,
        response_s=plan.tester.response_s,
        kv_scale=adjustment(plan.tester.response_s),
        meter=Meter(shows_amps=shows_amps),
        switches=_switches(plan, list(pieces.values())),
        shown=_shown(plan, season, as_one),
    )


def _shown(plan: Plan, season: Season, as_one: Network) -> dict[str, tuple[Real, Real]]:
    """What the forecast says a tester shows, as a share of what the search's own solution says, by span.

    The search follows a pulse at few frequencies and takes all strands as one. What grows leaks mostly from the lowest
    strand: where it is apart, those above keep more. With this the search starts from the figures of the cards.
    """
    apart = solved(plan, Weather(season))
    joined = replace(apart, circuit=replace(apart.circuit, groups={}), solution=solve_pulse(as_one, WINDOW))
    found: dict[str, tuple[Real, Real]] = {}
    for piece in apart.circuit.pieces:
        at_m = np.linspace(0.0, piece.length_m, max(2, round(piece.length_m / _SHOWN_EVERY_M) + 1))
        own, one = (sides.shown_kv(sides.solution.along(piece.span, at_m)[1][:, 0]) for sides in (apart, joined))
        found[piece.span] = at_m, np.where(one > _LEAST_KV, own / np.maximum(one, _LEAST_KV), 1.0)
    return found


def _switches(plan: Plan, pieces: list[Piece]) -> tuple[HandSwitch, ...]:
    """The switches of whole lines that are shut: what parts the fence while it is searched."""
    found = []
    for fixture in plan.fixtures:
        if not isinstance(fixture, Switch) or fixture.is_open or not can_part(fixture):
            continue
        own = next((p for p in pieces if p.run == fixture.run and p.from_m <= fixture.at_m <= p.to_m), None)
        if own is not None:
            spot = (own.span, fixture.at_m - own.from_m)
            found.append(HandSwitch(fixture.id, spot, (spot,)))
    return tuple(found)


def _as_one(whole: Circuit) -> Network:
    """The network with the live strands of every line as one conductor, without those that the pulse does not reach.

    The search asks which place leaks, not which strand; what is switched off neither leaks nor reads there.
    """
    if not whole.groups:
        return whole.network
    pieces = {piece.span: piece for piece in whole.pieces}
    spans = tuple(
        replace(span, a=pieces[span.id].a, b=pieces[span.id].b, line=_joined(span, whole))
        if isinstance(span.line, StrandLine)
        else span
        for span in whole.network.spans
    )
    links = tuple(x for x in whole.network.links if not {x.a.terminal, x.b.terminal} & {*STRANDS} and "|" not in x.id)
    # An end that is parted has a node of its own beyond the parting; as one conductor it is the node itself.
    shunts = tuple(
        replace(x, node=x.node.partition("|")[0], start=Terminal.LIVE if x.start in STRANDS else x.start)
        for x in whole.network.shunts
    )
    return replace(whole.network, spans=spans, links=links, shunts=shunts)


def _joined(span: Span, whole: Circuit) -> WireLine:
    """A line of strands as one of wires: those that are fed live, the others joined to nothing."""
    line = span.line
    if not isinstance(line, StrandLine):
        raise TypeError("only a line of strands is joined")
    fed = {t for t in line.terminals if t is not Terminal.EARTH and Port(span.a, t) in whole.reached} | {Terminal.LIVE}
    wires = tuple(
        replace(
            w, terminal=Terminal.LIVE if w.terminal in fed else w.terminal if w.terminal is Terminal.EARTH else None
        )
        for w in line.wires
    )
    leak = dict(zip(line.terminals, line.leak_s_per_m, strict=True))
    earth = line.terminals.index(Terminal.EARTH) if Terminal.EARTH in line.terminals else None
    across = -sum(leak[t][earth] for t in fed) if earth is not None else 0.0
    return WireLine(
        wires,
        line.soil_ohm_m,
        sum(sum(leak[t]) for t in fed),
        across,
        sum(leak[Terminal.EARTH]) if earth is not None else 0.0,
    )


def _nodes(plan: Plan, pieces: list[Piece]) -> dict[str, Position]:
    """Where every node lies."""
    found: dict[str, Position] = {}
    for piece in pieces:
        run = run_of(plan, piece.run)
        found.setdefault(piece.a, point_at(run, piece.from_m))
        found.setdefault(piece.b, point_at(run, piece.to_m))
    return found


def _tracks(nodes: Mapping[str, Position]) -> tuple[Track, ...]:
    """Ways straight over the ground between nodes that lie near each other, and one that joins all of them."""
    names = list(nodes)
    at = np.array([nodes[name] for name in names])
    apart = np.hypot(*(at[:, None] - at).transpose(2, 0, 1))
    pairs: set[tuple[int, int]] = set()
    for i in range(len(names)):
        for j in np.argsort(apart[i])[1 : _NEIGHBOURS + 1].tolist():
            pairs.add((min(i, j), max(i, j)))
    reached, left = {0}, set(range(1, len(names)))
    while left:
        i, j = min(((i, j) for i in reached for j in left), key=lambda pair: float(apart[pair]))
        pairs.add((min(i, j), max(i, j)))
        reached.add(j)
        left.discard(j)
    return tuple(Track(names[i], names[j], _ROUGH_GROUND * float(apart[i, j])) for i, j in sorted(pairs))


def _hazard(plan: Plan, piece: Piece, found_before: int) -> Hazard:
    """What makes a fault likelier in a piece: trees within reach of a branch, gates, switches, faults found before."""
    run = run_of(plan, piece.run)
    trees: list[BaseGeometry] = [shape_of(mark) for mark in plan.landmarks if mark.kind in _TREES]
    count = max(2, round(piece.length_m / 10))
    spots = [point_at(run, piece.from_m + piece.length_m * k / (count - 1)) for k in range(count)]
    under = sum(any(tree.distance(Point(spot)) <= _UNDER_TREES_M for tree in trees) for spot in spots) / count
    own = [f for f in plan.fixtures if f.run == piece.run and piece.from_m <= f.at_m <= piece.to_m]
    return Hazard(
        trees=0.0 if under == 0 else 1.0 if under < _MANY_TREES else 2.0,
        has_gate=any(isinstance(f, Gate) for f in own),
        has_switch=any(isinstance(f, Switch) for f in own),
        fault_before=found_before > 0,
        recurs=1.0 + 0.5 * max(0, found_before - 1),
    )


def fence_place(plan: Plan, where: Grid, number: int, leg: str = "") -> FencePlace | None:
    """A place of the search as a place on the fence; None on the lead-out."""
    spot = where.at(number, leg) if leg else where.spots[number]
    return of_spot(plan, spot, where, number)


def of_spot(plan: Plan, spot: Spot, where: Grid, number: int) -> FencePlace | None:
    """A spot of a span as a place on the fence; where it is the lead-out's, by another leg that meets there."""
    piece = next((piece for piece in _pieces(plan) if piece.span == spot.span), None)
    if piece is not None:
        return FencePlace(piece.run, piece.from_m + spot.at_m)
    for leg in where.legs[number] if number >= 0 else ():
        if leg != spot.span:
            return of_spot(plan, where.at(number, leg), where, number)
    return None


def _pieces(plan: Plan) -> tuple[Piece, ...]:
    found = wiring(plan)
    return found.pieces if found else ()


def spot_of(plan: Plan, place: FencePlace) -> Spot:
    """A place on the fence as a spot of the search. Raises KeyError for a line that is not there."""
    own = [piece for piece in _pieces(plan) if piece.run == place.run]
    if not own:
        raise KeyError(place.run)
    piece = min(own, key=lambda p: max(p.from_m - place.at_m, place.at_m - p.to_m, 0.0))
    return Spot(piece.span, min(max(place.at_m - piece.from_m, 0.0), piece.length_m))
