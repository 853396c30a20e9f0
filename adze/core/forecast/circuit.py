"""From a plan to the electrical network of a season, with the way back to places on the fence."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from itertools import pairwise

from networkx.utils import UnionFind

from adze.core.animals.strand_rules import Role, Strand
from adze.core.basics.cache import cached
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.end_posts import bare_end_ohm
from adze.core.build.rods import rods_ohm, site_ohm
from adze.core.forecast.apart import Apart, Group, strands_apart, terminal_of
from adze.core.ground.places import Place
from adze.core.ground.wiring import Piece, Wiring, cable_m, wiring
from adze.core.plan.catalogue import pulse_of, unit_of
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import RodSite
from adze.core.plan.season import LINE_LOSS, Weather, grass_of, group_leak_s_per_m, growth_scale, soil_ohm_m
from adze.core.plan.stages import Incomplete, Stage
from adze.core.pulse.network import (
    Line,
    Link,
    MatrixLine,
    Network,
    NetworkError,
    Port,
    Shunt,
    Span,
    Terminal,
    Wire,
    WireLine,
    terminals_of,
)
from adze.core.soil.earth import EarthError, laid_strip_s_per_m
from adze.core.tables.construction import Conductor, end_posts, insulation, nettings
from adze.core.tables.ground import grasses, mishap_kinds

ENERGIZER = "energizer"
RODS = "rods"
_LEAD_OHM_PER_M = 0.035  # 2.5 mm steel core
_LEAD_H_PER_M = 1.0e-6  # cable on or in soil
_LEAD_F_PER_M = 150e-12  # to soil (100-200 pF/m)
_LEAD_LEAK_S_PER_M = 1e-9
_SHORTEST_LEAD_M = 1.0
_OVER_GROUND = 1.1  # of its radius: a strand as low as it is thick lies on the ground, not in it
APRON_M = 0.6  # width of the mesh on the ground (0.4-1)
# Some ten lengthwise wires of the mesh together, lying on the soil before the line.
_APRON = Wire(0.02, APRON_M / 2, 0.005, 0.004, 150.0, Terminal.EARTH)
_TERMINALS = {Role.LIVE: Terminal.LIVE, Role.EARTH: Terminal.EARTH, Role.DEAD: None}


class LossKind(StrEnum):
    """What a shunt's joules are counted as."""

    RODS = "rods"
    FAR_RODS = "far rods"
    MISHAP = "mishap"
    LINE = "line"


@dataclass(frozen=True)
class CountedShunt:
    """A shunt, what its joules are counted as, and the run that they are lost along (kind LINE)."""

    shunt: Shunt
    kind: LossKind
    run: str = ""


@dataclass(frozen=True)
class Circuit:
    """The network of a plan in a season, and its wiring: spans as stretches, nodes by place."""

    network: Network
    wiring: Wiring
    rods_ohm: float
    counted: tuple[CountedShunt, ...]  # every shunt of the network
    groups: dict[str, tuple[Group, ...]] = field(default_factory=dict)  # of the lines whose strands are apart

    def terminal(self, run: str, strand: int | None) -> Terminal:
        """The terminal of a strand of a line, counted from the ground; the live group's where it is not apart."""
        return terminal_of(self.groups.get(run, ()), strand)

    @cached_property
    def reached(self) -> frozenset[Port]:
        """The ports that hang together with the energizer's live terminal through strands and joints."""
        linked: UnionFind[Port] = UnionFind()
        for span in self.network.spans:
            for terminal in terminals_of(span.line):
                linked.union(Port(span.a, terminal), Port(span.b, terminal))
        for link in self.network.links:
            linked.union(link.a, link.b)
        home = linked[Port(ENERGIZER, Terminal.LIVE)]
        return frozenset(port for port in list(linked) if linked[port] == home)

    def off_m(self, strands: tuple[int, ...]) -> float:
        """Metres of line along which some strands, counted from the ground, are not reached by the pulse."""
        spans = {span.id: span for span in self.network.spans}
        return sum(
            piece.length_m
            for piece in self.pieces
            if any(
                set(group.numbers) <= set(strands) and Port(spans[piece.span].a, group.terminal) not in self.reached
                for group in self.groups.get(piece.run, ())[1:]
            )
        )

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The spans as stretches of runs."""
        return self.wiring.pieces


@dataclass(frozen=True)
class _Growing:
    """What grows along a line, its kind, in what weather, and the scale of its leak."""

    grass: str
    weather: Weather
    scale: float


@cached("lines of circuits", 512)
def _line(
    strands: tuple[Strand, ...],
    made: tuple[Conductor, ...],
    soil: float,
    growing: _Growing,
    netting: str | None,
    apron: bool,
) -> Line:
    grass, weather, growth = grasses()[growing.grass], growing.weather, growing.scale
    loss = LINE_LOSS[weather.guess]
    wires = tuple(
        Wire(
            max(s.cm / 100, _OVER_GROUND * c.radius_mm / 1000),
            0.0,
            c.radius_mm / 1000,
            c.ohm_per_km / 1000,
            c.relative_permeability * (loss.steel_factor if c.is_magnetic else 1.0),
            _TERMINALS[s.role],
            loss.loss_angle_rad if c.is_magnetic else 0.0,
        )
        for s, c in zip(strands, made, strict=True)
    )
    if not any(s.role is Role.LIVE for s in strands):
        raise Incomplete(Stage.STRANDS, "No strand is live, so none carries the pulse. Make one live at Strands.")
    net = nettings().get(netting or "")
    in_net = len(net.heights.split()) if net else 0
    leak = sum(
        group_leak_s_per_m(rows, Role.LIVE, grass, weather, growth * factor)
        for rows, factor in ((strands[:in_net], net.growth_factor if net else 1.0), (strands[in_net:], 1.0))
    )
    earth_leak = group_leak_s_per_m(strands, Role.EARTH, grass, weather, growth)
    if apron:
        wires += (_APRON,)
        earth_leak += laid_strip_s_per_m(soil, APRON_M)
    pairs = sum({a.role, b.role} == {Role.LIVE, Role.EARTH} for a, b in pairwise(strands))
    try:
        return WireLine(
            wires=wires,
            soil_ohm_m=soil,
            leak_live_soil_s_per_m=leak,
            leak_live_earth_s_per_m=pairs * insulation()[weather.season.value].live_earth_s_per_m,
            leak_earth_soil_s_per_m=earth_leak,
        )
    except NetworkError as error:
        raise Incomplete(Stage.STRANDS, f"Two strands touch ({error}). Move them apart at Strands.") from error


def circuit(plan: Plan, weather: Weather) -> Circuit:
    """The network of a plan in a season.

    Raises Incomplete, naming the stage, while something essential is missing.
    """
    found = wiring(plan)
    if found is None:
        raise Incomplete(Stage.GROUND, "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    if not any(piece.a in found.reached for piece in found.pieces):
        raise Incomplete(
            Stage.GROUND,
            "No part of the fence is fed: it is open or cut at the feed, or shorter than a hand. Close the switch "
            "there, mend the cut, or draw more fence.",
        )
    unit = unit_of(plan)
    if unit is None:
        raise Incomplete(Stage.POWER, "No energizer is chosen. Choose one at Power.")
    if plan.rods.count < 1:
        raise Incomplete(Stage.EARTH, "Without earth rods the pulse has no way back. Place at least one at Earth.")
    lines = _lines(plan, found, weather)
    one = tuple(Span(p.span, p.a, p.b, line, p.length_m) for p, line in zip(found.pieces, lines, strict=True))
    apart = strands_apart(plan, found, weather, one)
    earthed = frozenset(
        node for span in apart.spans if Terminal.EARTH in terminals_of(span.line) for node in (span.a, span.b)
    )
    lead = _lead_out(found.lead_m, found.start, has_earth_strands=found.start in earthed)
    try:
        ohm = rods_ohm(plan, weather)
    except EarthError as error:
        raise Incomplete(Stage.EARTH, f"The rods cannot stand like that: {error}. Set them apart at Earth.") from error
    counted = (
        CountedShunt(Shunt(RODS, ENERGIZER, Terminal.EARTH, Terminal.SOIL, ohm), LossKind.RODS),
        *_at_fixtures(plan, found, weather, earthed),
        *_what_ifs(plan, found, apart, earthed),
        *_bare_ends(plan, found, weather, apart),
    )
    network = Network(
        source=pulse_of(unit, half=plan.half_power).at(ENERGIZER),
        spans=(*apart.spans, *lead[0]),
        links=(*lead[1], *apart.links),
        shunts=tuple(row.shunt for row in counted),
    )
    return Circuit(network, found, ohm, counted, apart.groups)


def _lines(plan: Plan, found: Wiring, weather: Weather) -> list[Line]:
    """The line of every piece: by the way it is built, the soil under it and what grows there."""
    views, growth = views_by_run(plan), {run.id: grass_of(plan, run).key for run in plan.runs}
    built = {id(view): view for view in views.values()}
    strands = {key: (fence_of(view), conductors_of(view)) for key, view in built.items()}
    ohms = {soil: soil_ohm_m(plan, weather, soil) for soil in {piece.soil for piece in found.pieces}}
    scale = growth_scale(plan, weather)
    made: dict[tuple[int, str | None, str], Line] = {}
    rows = []
    for piece in found.pieces:
        view, grass = id(views[piece.run]), piece.grass or growth[piece.run]
        key = view, piece.soil, grass
        if key not in made:
            own = built[view]
            made[key] = _line(*strands[view], ohms[piece.soil], _Growing(grass, weather, scale), own.netting, own.apron)
        rows.append(made[key])
    return rows


def _at_fixtures(plan: Plan, found: Wiring, weather: Weather, earthed: frozenset[str]) -> Iterator[CountedShunt]:
    """Cable in the ground as its capacitance (it is short beside any wave), and rods along earth strands."""
    for fixture in plan.fixtures:
        node = found.fixed.get(fixture.id)
        if node is None:
            continue
        cable = cable_m(fixture)
        if cable:
            ohm, farad = 1 / (_LEAD_LEAK_S_PER_M * cable), _LEAD_F_PER_M * cable
            shunt = Shunt(f"cable:{fixture.id}", node, Terminal.LIVE, Terminal.SOIL, ohm, farad)
            yield CountedShunt(shunt, LossKind.LINE, fixture.run)
        if isinstance(fixture, RodSite) and node in earthed:
            ohm = site_ohm(plan, weather, Place(fixture.run, fixture.at_m), fixture.rods)
            shunt = Shunt(f"rods:{fixture.id}", node, Terminal.EARTH, Terminal.SOIL, ohm)
            yield CountedShunt(shunt, LossKind.FAR_RODS)


def _bare_ends(plan: Plan, found: Wiring, weather: Weather, apart: Apart) -> Iterator[CountedShunt]:
    """Strands tied to end posts without insulators, at both ends of their runs; each group by itself."""
    views = views_by_run(plan)
    for run in plan.runs:
        view = views[run.id]
        pieces = [piece for piece in found.pieces if piece.run == run.id]
        if view.end_insulators or view.netting or not pieces:
            continue
        heights: dict[Terminal, list[float]] = {}
        for number, strand in enumerate(fence_of(view), 1):
            if strand.role is Role.LIVE:
                heights.setdefault(apart.terminal(run.id, number), []).append(strand.cm / 100)
        for terminal, own in heights.items():
            ohm = bare_end_ohm(end_posts()[view.end_post], weather.season, tuple(own))
            for end, span, side in (("start", pieces[0].span, "a"), ("end", pieces[-1].span, "b")):
                name = f"bare:{run.id}:{end}" + (f":{terminal}" if terminal is not Terminal.LIVE else "")
                shunt = Shunt(name, apart.node(span, side), terminal, Terminal.SOIL, ohm)
                yield CountedShunt(shunt, LossKind.LINE, run.id)


def _what_ifs(plan: Plan, found: Wiring, apart: Apart, earthed: frozenset[str]) -> Iterator[CountedShunt]:
    """What has gone wrong and leaks, on the strand it is said of; a cut parts the line."""
    for trial in plan.what_ifs:
        kind, node = mishap_kinds()[trial.kind], found.fixed.get(trial.id)
        tangle = kind.effect == "tangle"
        if kind.effect == "cut" or node is None or (tangle and node not in earthed):
            continue  # without an earth strand here there is nothing to tangle with
        end = Terminal.EARTH if tangle else Terminal.SOIL
        if trial.strand is not None:
            shunt = Shunt(f"if:{trial.id}", node, apart.terminal(trial.run, trial.strand), end, kind.ohm)
            yield CountedShunt(shunt, LossKind.MISHAP)
            continue
        groups = [g.terminal for g in apart.groups.get(trial.run, ())] or [Terminal.LIVE]
        for terminal in groups:  # it lies on all of them: together its ohms
            name = f"if:{trial.id}" + (f":{terminal}" if terminal is not Terminal.LIVE else "")
            yield CountedShunt(Shunt(name, node, terminal, end, kind.ohm * len(groups)), LossKind.MISHAP)


def _lead_out(lead_m: float, node: str, *, has_earth_strands: bool) -> tuple[tuple[Span, ...], tuple[Link, ...]]:
    """The lead-out as cable, and the earth lead to earth strands where there are any."""
    reach = max(lead_m, _SHORTEST_LEAD_M)
    cable = MatrixLine(((_LEAD_OHM_PER_M,),), ((_LEAD_H_PER_M,),), ((_LEAD_F_PER_M,),), ((_LEAD_LEAK_S_PER_M,),))
    live = Span("lead-out", ENERGIZER, node, cable, reach)
    if not has_earth_strands:
        return (live,), ()
    earth = Link("earth-lead", Port(ENERGIZER, Terminal.EARTH), Port(node, Terminal.EARTH), _LEAD_OHM_PER_M * reach)
    return (live,), (earth,)
