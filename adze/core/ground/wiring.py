"""What feeds what: runs cut where something joins, ends, opens or changes, without any electrics."""

from bisect import bisect_left
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from networkx.utils import UnionFind

from adze.core.basics.cache import cached_by_fields
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place
from adze.core.ground.soil_areas import soil_at, soil_borders_m
from adze.core.ground.survey import survey
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, RoadCrossing, RodSite, Run, StrandLink, Switch
from adze.core.tables.ground import mishap_kinds

_RISERS_M = 3.0  # cable on top of a passage's width: down on one side, up on the other
MERGE_M = 0.05  # cuts nearer than this are one


@dataclass(frozen=True)
class Piece:
    """A stretch of a run between two nodes, m from its start, the soil under it, and growth of its own."""

    span: str
    run: str
    from_m: float
    to_m: float
    a: str
    b: str
    soil: str | None
    grass: str | None = None

    @property
    def length_m(self) -> float:
        """Its length, m."""
        return self.to_m - self.from_m


@dataclass(frozen=True)
class Wiring:
    """All pieces, the node at each cut, and the two sides of each fixture that parts the line."""

    pieces: tuple[Piece, ...]
    nodes: dict[Place, str]
    parted: dict[str, tuple[str, str]]
    fixed: dict[str, str]
    start: str
    lead_m: float

    def pieces_at(self, place: Place) -> tuple[Piece, ...]:
        """The piece a place lies in, or the two that end there; the nearest where it lies past the end."""
        here = [p for p in self.pieces if p.run == place.run]
        away = [max(p.from_m - place.at_m, place.at_m - p.to_m, 0.0) for p in here]
        least = min(away)
        return tuple(p for p, far in zip(here, away, strict=True) if far <= least)

    def piece_at(self, place: Place) -> Piece:
        """The piece a place lies in; the near one of two that end there."""
        return self.pieces_at(place)[0]

    @cached_property
    def reached(self) -> frozenset[str]:
        """The nodes that hang together with the source as everything stands."""
        beside: dict[str, list[str]] = {}
        for piece in self.pieces:
            beside.setdefault(piece.a, []).append(piece.b)
            beside.setdefault(piece.b, []).append(piece.a)
        found, todo = {self.start}, [self.start]
        while todo:
            for node in beside.get(todo.pop(), ()):
                if node not in found:
                    found.add(node)
                    todo.append(node)
        return frozenset(found)


def carries(fixture: Fixture) -> bool:
    """Whether the pulse passes a fixture as it stands; by a switch of some strands, the others always.

    A drive-over gate is never opened. A shut gate carries when its strands hang on both sides or a
    cable runs under it; an open one by the cable alone.
    """
    if isinstance(fixture, Switch):
        return not fixture.is_open or bool(fixture.strands)
    if not isinstance(fixture, Gate) or not fixture.opens:
        return True
    return fixture.under_cable or (fixture.feeds == "both" and not fixture.is_open)


def can_part(fixture: Fixture) -> bool:
    """Whether opening a fixture parts the line: a switch of all strands, or a gate with no cable under it."""
    if isinstance(fixture, Gate):
        return fixture.opens and not fixture.under_cable
    return isinstance(fixture, Switch) and not fixture.strands


def cable_m(fixture: Fixture) -> float:
    """Cable in the ground at a fixture: its width and 3 m for the risers; 0 without."""
    if isinstance(fixture, Gate):
        return fixture.width_m + _RISERS_M if fixture.under_cable and fixture.opens else 0.0
    return fixture.width_m + _RISERS_M if isinstance(fixture, RoadCrossing) and not fixture.over else 0.0


def _is_node(fixture: Fixture) -> bool:
    """Whether the electrical picture changes at a fixture."""
    if isinstance(fixture, Switch) and fixture.strands:
        return True
    return not carries(fixture) or cable_m(fixture) > 0 or isinstance(fixture, RodSite)


def parts_strands(plan: Plan) -> bool:
    """Whether strands are apart from each other anywhere, by how lines are joined or by switches that name them."""
    named = any(isinstance(f, Switch) and f.strands for f in plan.fixtures)
    return named or any(run.joined != "along" for run in plan.runs)


def wiring(plan: Plan, *, divided: bool = False) -> Wiring | None:
    """The wiring of a plan; None without runs.

    `divided` parts the line wherever it can be opened, open or not, as zones are counted.
    """
    return _wiring(plan, divided)


@dataclass
class _Cut:
    """A point of a run where pieces end; `parted_by` names what parts the two sides."""

    run: str
    at_m: float
    parted_by: str = ""
    fixtures: tuple[str, ...] = ()

    @property
    def near(self) -> str:
        """The end on the side of the run's start."""
        return f"{self.run}@{self.at_m:.2f}"

    @property
    def far(self) -> str:
        """The end on the other side: the same, unless something parts the two."""
        return self.near + "+" if self.parted_by else self.near


@dataclass(frozen=True)
class _Chain:
    """A run and its cuts in order."""

    run: Run
    cuts: tuple[_Cut, ...]

    def nearest(self, at_m: float) -> str:
        """The end nearest to a place, m from the run's start."""
        i = bisect_left(self.cuts, at_m, key=lambda cut: cut.at_m)
        near = [k for k in (i - 1, i) if 0 <= k < len(self.cuts)]
        return self.cuts[min(near, key=lambda k: abs(self.cuts[k].at_m - at_m))].near

    def pieces(self, plan: Plan, node: Callable[[str], str]) -> Iterator[Piece]:
        """The stretches between the cuts; `node` gives the node that an end belongs to."""
        for i, (low, high) in enumerate(pairwise(self.cuts), 1):
            middle = (low.at_m + high.at_m) / 2
            soil, grass = soil_at(plan, self.run, middle), growth_at(plan, self.run, middle)
            span = f"{self.run.id}:{i}"
            yield Piece(span, self.run.id, low.at_m, high.at_m, node(low.far), node(high.near), soil, grass)


def _cuts(
    plan: Plan, run: Run, wanted: list[float], fixtures: list[Fixture], divided: bool, linked: bool
) -> list[_Cut]:
    end = length_m(run)
    rows = [_Cut(run.id, min(max(at, 0.0), end)) for at in (0.0, end, *wanted, *soil_borders_m(plan, run))]
    for fixture in fixtures:
        parts = not carries(fixture) or (divided and can_part(fixture))
        if parts or _is_node(fixture) or (linked and isinstance(fixture, StrandLink)):
            rows.append(_Cut(run.id, min(fixture.at_m, end), fixture.id if parts else "", (fixture.id,)))
    for trial in plan.what_ifs:
        if trial.run == run.id:
            is_cut = mishap_kinds()[trial.kind].effect == "cut" and trial.strand is None
            rows.append(_Cut(run.id, min(trial.at_m, end), trial.id if is_cut else "", (trial.id,)))
    rows += [_Cut(run.id, min(at, end)) for g in plan.growths if g.run == run.id for at in (g.from_m, g.to_m)]
    cuts: list[_Cut] = []
    for row in sorted(rows, key=lambda c: c.at_m):
        if cuts and row.at_m - cuts[-1].at_m < MERGE_M:
            cuts[-1].parted_by = cuts[-1].parted_by or row.parted_by
            cuts[-1].fixtures += row.fixtures
        else:
            cuts.append(row)
    return cuts


def growth_at(plan: Plan, run: Run, at_m: float) -> str | None:
    """What grows at a place of a run where a stretch says so; the newest word counts."""
    own = [g.grass for g in plan.growths if g.run == run.id and g.from_m <= at_m <= g.to_m]
    return own[-1] if own else None


@cached_by_fields(
    "wiring",
    16,
    identity_args=("runs", "fixtures", "landmarks", "meetings", "growths", "what_ifs"),
    equal=("energizer_at", "feed_at", "lead_out"),
)
def _wiring(plan: Plan, divided: bool) -> Wiring | None:
    start = feed(plan)
    if start is None:
        return None
    met = _meetings(plan)
    chains = _chains(plan, (start.place, *(place for pair in met for place in pair)), divided)
    joined: UnionFind[str] = UnionFind()
    for one, other in met:
        joined.union(chains[one.run].nearest(one.at_m), chains[other.run].nearest(other.at_m))
    numbers: dict[str, str] = {}

    def node(name: str) -> str:
        # Numbered as they come: a line that is moved changes no names, and what is known of the network's shape stays.
        return numbers.setdefault(joined[name], f"n{len(numbers)}")

    return Wiring(
        tuple(piece for chain in chains.values() for piece in chain.pieces(plan, node)),
        {Place(run, cut.at_m): node(cut.near) for run, chain in chains.items() for cut in chain.cuts},
        {
            fixture: (node(cut.near), node(cut.far))
            for chain in chains.values()
            for cut in chain.cuts
            if cut.parted_by
            for fixture in cut.fixtures
        },
        {fixture: node(cut.near) for chain in chains.values() for cut in chain.cuts for fixture in cut.fixtures},
        node(chains[start.place.run].nearest(start.place.at_m)),
        start.lead_m,
    )


def _meetings(plan: Plan) -> list[tuple[Place, Place]]:
    """The places of lines that are joined to each other."""
    found = survey(plan)
    met = [(Place(j.run, j.at_m), j.onto) for j in found.joins]
    return met + [(c.first, c.second) for c in found.crossings if c.joined]


def _chains(plan: Plan, places: tuple[Place, ...], divided: bool) -> dict[str, _Chain]:
    """Every run cut where one of the places, a fixture, a mishap or another ground lies."""
    wanted: dict[str, list[float]] = {run.id: [] for run in plan.runs}
    for place in places:
        if place.run in wanted:
            wanted[place.run].append(place.at_m)
    fixtures: dict[str, list[Fixture]] = {run.id: [] for run in plan.runs}
    for fixture in plan.fixtures:
        fixtures[fixture.run].append(fixture)
    linked = parts_strands(plan)  # a strand link changes the picture only where strands are apart
    return {
        run.id: _Chain(run, tuple(_cuts(plan, run, wanted[run.id], fixtures[run.id], divided, linked)))
        for run in plan.runs
    }
