"""From a plan to the electrical network of a season, with the way back to places on the fence."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from adze.core.earth import RodField
from adze.core.energizer import fit_pulse
from adze.core.ground import Place, feed, joins, length_m
from adze.core.network import Line, Link, MatrixLine, Network, Port, Shunt, Span, Terminal, Wire, WireLine
from adze.core.plan import Plan, Run, animals_of, strands_of
from adze.core.season import Weather, grass_of, group_leak_s_per_m, soil_ohm_m
from adze.core.strand_rules import Role, Strand, bottom_group, design
from adze.core.tables import conductors, energizers, grasses, insulation

ENERGIZER = "energizer"
RODS = "rods"
_MERGE_M = 0.05
_LEAD_OHM_PER_M = 0.035  # 2.5 mm steel core
_LEAD_H_PER_M = 1.0e-6  # cable on or in soil
_LEAD_F_PER_M = 150e-12  # to soil (100-200 pF/m)
_LEAD_LEAK_S_PER_M = 1e-9
_SHORTEST_LEAD_M = 1.0
_TERMINALS = {Role.LIVE: Terminal.LIVE, Role.EARTH: Terminal.EARTH, Role.DEAD: None}


@dataclass(frozen=True)
class Piece:
    """A span of the network as a stretch of a run, m from the run's start."""

    span: str
    run: str
    from_m: float
    to_m: float


@dataclass(frozen=True)
class Circuit:
    """The network of a plan in a season, its spans as stretches, and the node at each end or place."""

    network: Network
    pieces: tuple[Piece, ...]
    nodes: dict[Place, str]
    rods_ohm: float

    def node_at(self, place: Place) -> str:
        """The node nearest to a place that was asked for when the circuit was made."""
        here = [p for p in self.nodes if p.run == place.run]
        return self.nodes[min(here, key=lambda p: abs(p.at_m - place.at_m))]


class Incomplete(ValueError):
    """A plan from which no pulse can be computed yet; `stage` is where to mend it."""

    def __init__(self, stage: str, message: str) -> None:
        super().__init__(message)
        self.stage = stage


def fence_of(plan: Plan) -> tuple[Strand, ...]:
    """The strands that stand: the plan's own, or those designed for its animals; one at 90 cm without any."""
    strands = strands_of(plan)
    if not strands:
        animals = animals_of(plan)
        strands = design(animals, plan.duty, plan.scheme).strands if animals else (Strand(90, Role.LIVE),)
    if plan.bottom_off:
        off = bottom_group(strands)
        strands = tuple(Strand(s.cm, Role.DEAD) if i in off else s for i, s in enumerate(strands))
    return strands


def bottom_group_of(plan: Plan) -> tuple[int, ...]:
    """Indices of the strands on the bottom switch."""
    return bottom_group(fence_of(plan.model_copy(update={"bottom_off": False})))


def rod_field(plan: Plan) -> RodField:
    """The rods near the energizer as a row."""
    rods = plan.rods
    if rods.count < 1:
        raise Incomplete("earth", "There are no rods: the pulse has no way back. Place at least one at Earth.")
    return RodField.row(rods.count, rods.spacing_m, rods.length_m, rods.diameter_mm / 1000)


def line_of_run(plan: Plan, run: Run, weather: Weather) -> Line:
    """The electrical line of a run in a season."""
    return _line(fence_of(plan), plan.conductor, soil_ohm_m(plan, weather, run.soil), grass_of(plan, run).key, weather)


@lru_cache(maxsize=512)
def _line(strands: tuple[Strand, ...], conductor_key: str, soil: float, grass_key: str, weather: Weather) -> Line:
    conductor, grass = conductors()[conductor_key], grasses()[grass_key]
    radius = conductor.radius_mm / 1000
    wires = tuple(
        Wire(s.cm / 100, 0.0, radius, conductor.ohm_per_km / 1000, conductor.relative_permeability, _TERMINALS[s.role])
        for s in strands
    )
    if not any(s.role is Role.LIVE for s in strands):
        raise Incomplete("strands", "No strand is live: nothing carries the pulse. Make one live at Strands.")
    pairs = sum({a.role, b.role} == {Role.LIVE, Role.EARTH} for a, b in pairwise(strands))
    return WireLine(
        wires=wires,
        soil_ohm_m=soil,
        leak_live_soil_s_per_m=group_leak_s_per_m(strands, Role.LIVE, grass, weather),
        leak_live_earth_s_per_m=pairs * insulation()[weather.season.value].live_earth_s_per_m,
        leak_earth_soil_s_per_m=group_leak_s_per_m(strands, Role.EARTH, grass, weather),
    )


@dataclass(frozen=True)
class _Cut:
    """A point of a run where spans end; `broken` parts the two sides."""

    at_m: float
    broken: bool


def _cuts(plan: Plan, run: Run, places: tuple[Place, ...]) -> list[_Cut]:
    end = length_m(run)
    wanted = [(0.0, False), (end, False)]
    wanted += [(min(max(p.at_m, 0.0), end), False) for p in places if p.run == run.id]
    for fixture in plan.fixtures:
        if fixture.run == run.id:
            opened = fixture.is_open and not (fixture.kind == "gate" and fixture.under_cable)
            wanted.append((min(fixture.at_m, end), opened))
    cuts: list[_Cut] = []
    for at, broken in sorted(wanted):
        if cuts and at - cuts[-1].at_m < _MERGE_M:
            cuts[-1] = _Cut(cuts[-1].at_m, cuts[-1].broken or broken)
        else:
            cuts.append(_Cut(at, broken))
    return cuts


class _Joined:
    """Which ends are one node (disjoint sets by name)."""

    def __init__(self) -> None:
        self._parent: dict[str, str] = {}

    def root(self, name: str) -> str:
        while (above := self._parent.get(name, name)) != name:
            name = above
        return name

    def join(self, a: str, b: str) -> None:
        self._parent[self.root(a)] = self.root(b)


def circuit(plan: Plan, weather: Weather, places: tuple[Place, ...] = ()) -> Circuit:
    """The network of a plan in a season; `places` become nodes of their own.

    Raises Incomplete, naming the stage, while something essential is missing.
    """
    start = feed(plan)
    if start is None:
        raise Incomplete("ground", "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    if plan.energizer is None:
        raise Incomplete("power", "No energizer is chosen. Choose one at Power.")
    field = rod_field(plan)
    met = joins(plan)
    wanted = (start.place, *places, *(j.onto for j in met))
    joined = _Joined()
    spans: list[Span] = []
    pieces: list[Piece] = []
    sides: dict[Place, tuple[str, str]] = {}
    for run in plan.runs:
        line = line_of_run(plan, run, weather)
        cuts = _cuts(plan, run, wanted)
        for i, cut in enumerate(cuts):
            before = f"{run.id}@{cut.at_m:.2f}"
            sides[Place(run.id, cut.at_m)] = (before, before + "+" if cut.broken else before)
            if i:
                last = cuts[i - 1]
                span = f"{run.id}:{i}"
                spans.append(Span(span, sides[Place(run.id, last.at_m)][1], before, line, cut.at_m - last.at_m))
                pieces.append(Piece(span, run.id, last.at_m, cut.at_m))

    def side(place: Place) -> str:
        return sides[min((p for p in sides if p.run == place.run), key=lambda p: abs(p.at_m - place.at_m))][0]

    for j in met:
        joined.join(side(Place(j.run, j.at_m)), side(j.onto))
    root = joined.root
    spans = [Span(s.id, root(s.a), root(s.b), s.line, s.length_m) for s in spans]
    lead = _lead_out(start.lead_m, root(side(start.place)), has_earth_strands=_has_earth(spans))
    soil = soil_ohm_m(plan, weather)
    rods_ohm = field.ohm(soil)
    network = Network(
        source=fit_pulse(energizers()[plan.energizer].catalogue).at(ENERGIZER),
        spans=(*spans, *lead[0]),
        links=lead[1],
        shunts=(Shunt(RODS, ENERGIZER, Terminal.EARTH, Terminal.SOIL, rods_ohm),),
    )
    nodes = {place: root(names[0]) for place, names in sides.items()}
    return Circuit(network, tuple(pieces), nodes, rods_ohm)


def _has_earth(spans: list[Span]) -> bool:
    return any(isinstance(s.line, WireLine) and any(w.terminal is Terminal.EARTH for w in s.line.wires) for s in spans)


def _lead_out(lead_m: float, node: str, *, has_earth_strands: bool) -> tuple[tuple[Span, ...], tuple[Link, ...]]:
    """The lead-out as cable, and the earth lead to earth strands where there are any."""
    reach = max(lead_m, _SHORTEST_LEAD_M)
    cable = MatrixLine(((_LEAD_OHM_PER_M,),), ((_LEAD_H_PER_M,),), ((_LEAD_F_PER_M,),), ((_LEAD_LEAK_S_PER_M,),))
    live = Span("lead-out", ENERGIZER, node, cable, reach)
    if not has_earth_strands:
        return (live,), ()
    earth = Link("earth-lead", Port(ENERGIZER, Terminal.EARTH), Port(node, Terminal.EARTH), _LEAD_OHM_PER_M * reach)
    return (live,), (earth,)
