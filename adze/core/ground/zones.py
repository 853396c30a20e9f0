"""What each switch turns off, what stays live back toward the source, and which single break kills much.

The fence is a graph of pieces and switches. A piece whose break parts the rest from the source is a
bridge of that graph (R. E. Tarjan, Information Processing Letters 2 (1974)); rings have none.
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

from networkx.utils import UnionFind

from adze.core.basics.cache import cached
from adze.core.ground.places import Place
from adze.core.ground.wiring import Piece, Wiring, can_part, carries, wiring
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, Switch

WALK_M_PER_MINUTE = 50.0  # 3 km/h: looking at every insulator


@dataclass(frozen=True)
class Stretch:
    """A part of a run, m from its start."""

    run: str
    from_m: float
    to_m: float

    @property
    def length_m(self) -> float:
        """Its length, m."""
        return self.to_m - self.from_m


@dataclass(frozen=True)
class Zone:
    """The least part that switches can set apart: its stretches, the switches around it, whether it is live now."""

    stretches: tuple[Stretch, ...]
    switches: tuple[str, ...]
    live: bool

    @property
    def length_m(self) -> float:
        """Length of fence in it, m."""
        return sum(s.length_m for s in self.stretches)

    @property
    def minutes(self) -> float:
        """Time to walk it, min."""
        return self.length_m / WALK_M_PER_MINUTE


@dataclass(frozen=True)
class Break:
    """A piece whose break would kill all that hangs beyond it."""

    place: Place
    kills_m: float


@dataclass(frozen=True)
class Hang:
    """How a run is fed: on which place of which run, through which switch, and all that hangs on it, m."""

    run: str
    on: Place | None
    switch: str | None
    beyond_m: float


@dataclass(frozen=True)
class _Edge:
    """A way between two nodes: a piece, or the shut switches on one spot."""

    a: str
    b: str
    metres: float

    def other(self, node: str) -> str:
        return self.b if node == self.a else self.a


@dataclass(frozen=True)
class Zones:
    """The wiring seen from the source, parted at every switch and at every gate without a cable under it."""

    wiring: Wiring
    switches: tuple[Fixture, ...]
    gates: tuple[Fixture, ...] = ()

    @cached_property
    def _shut(self) -> frozenset[str]:
        """Switches and gates that carry now; one that shares its spot with an open one does not."""
        both = (*self.switches, *self.gates)
        off = {self.wiring.parted[f.id] for f in both if not carries(f)}
        return frozenset(f.id for f in both if carries(f) and self.wiring.parted[f.id] not in off)

    def fed_side(self, fixture_id: str) -> str:
        """The side that the pulse comes from if a fixture that parts the line is open: start, end, both or none."""
        before, after = self.wiring.parted[fixture_id]
        if fixture_id in self._shut and before in self._reached:
            far = self._beyond.get(frozenset((before, after)))
            return "both" if far is None else "start" if far[0] == after else "end"
        reached = [side for side, node in (("start", before), ("end", after)) if node in self._reached]
        return "both" if len(reached) == 2 else reached[0] if reached else "none"

    @cached_property
    def _ways(self) -> dict[str, list[_Edge]]:
        """The edges at each node."""
        found: dict[str, list[_Edge]] = {self.wiring.start: []}
        # All switches on one spot are one edge: a single break.
        spots = sorted({self.wiring.parted[switch] for switch in self._shut})
        edges = [_Edge(p.a, p.b, p.length_m) for p in self.wiring.pieces] + [_Edge(a, b, 0.0) for a, b in spots]
        for edge in edges:
            found.setdefault(edge.a, []).append(edge)
            if edge.b != edge.a:
                found.setdefault(edge.b, []).append(edge)
        return found

    def _reach(self, without: frozenset[str] = frozenset()) -> set[str]:
        """Nodes that the pulse reaches, the edge between two nodes cut."""
        found, todo = {self.wiring.start}, [self.wiring.start]
        while todo:
            node = todo.pop()
            for edge in self._ways.get(node, ()):
                other = edge.other(node)
                if other not in found and not (without and edge.metres == 0.0 and {node, other} == without):
                    found.add(other)
                    todo.append(other)
        return found

    @cached_property
    def _reached(self) -> set[str]:
        return self._reach()

    @cached_property
    def dead(self) -> tuple[Stretch, ...]:
        """What the pulse does not reach as everything stands now."""
        return _merged(p for p in self.wiring.pieces if p.a not in self._reached)

    @cached_property
    def live_m(self) -> float:
        """Length of fence that the pulse reaches, m."""
        return sum(p.length_m for p in self.wiring.pieces if p.a in self._reached)

    @cached_property
    def _beyond(self) -> dict[frozenset[str], tuple[str, float]]:
        """For each bridge, by its two ends: the far end and the metres that hang beyond, its own with them.

        One walk in depth: an edge is a bridge when nothing beyond it reaches back before it. Every
        other edge counts at the end that was found later, so that sums over what lies below are whole.
        """
        start = self.wiring.start
        found_at, lowest = {start: 0}, {start: 0}
        below: dict[str, float] = defaultdict(float)
        bridges: dict[frozenset[str], tuple[str, float]] = {}
        walk: list[tuple[str, _Edge | None, Iterator[_Edge]]] = [(start, None, iter(self._ways[start]))]
        while walk:
            node, came, rest = walk[-1]
            edge = next(rest, None)
            if edge is not None:
                if edge is came:
                    continue
                other = edge.other(node)
                if other not in found_at:
                    found_at[other] = lowest[other] = len(found_at)
                    walk.append((other, edge, iter(self._ways[other])))
                elif found_at[other] <= found_at[node]:
                    lowest[node] = min(lowest[node], found_at[other])
                    below[node] += edge.metres
                continue
            walk.pop()
            if came is None or not walk:
                continue
            above = walk[-1][0]
            below[above] += below[node] + came.metres
            lowest[above] = min(lowest[above], lowest[node])
            if lowest[node] > found_at[above]:
                bridges[frozenset((above, node))] = node, below[node] + came.metres
        return bridges

    @cached_property
    def ends(self) -> tuple[Place, ...]:
        """Where a live line ends and nothing goes on."""
        at = {p.a: Place(p.run, p.from_m) for p in self.wiring.pieces}
        at |= {p.b: Place(p.run, p.to_m) for p in self.wiring.pieces}
        single = (node for node, ways in self._ways.items() if len(ways) == 1 and node != self.wiring.start)
        return tuple(at[node] for node in single if node in at and node in self._reached)

    def kills_m(self, switch_id: str) -> float:
        """Metres that die when a switch is opened alone; 0 where the ring feeds round, or it is open."""
        if switch_id not in self._shut:
            return 0.0
        return self._beyond.get(frozenset(self.wiring.parted[switch_id]), ("", 0.0))[1]

    def killed(self, switch_id: str) -> tuple[Stretch, ...]:
        """The stretches that die when a switch is opened alone."""
        if switch_id not in self._shut:
            return ()
        still = self._reach(frozenset(self.wiring.parted[switch_id]))
        return _merged(p for p in self.wiring.pieces if p.a in self._reached and p.a not in still)

    @cached_property
    def zones(self) -> tuple[Zone, ...]:
        """The least parts, longest first."""
        parts: UnionFind[str] = UnionFind()
        for piece in self.wiring.pieces:
            parts.union(piece.a, piece.b)
        for gate in self.gates:
            # A gate is no switch: what lies on its two sides is traced together.
            if gate.id in self._shut:
                parts.union(*self.wiring.parted[gate.id])
        pieces: dict[str, list[Piece]] = defaultdict(list)
        around: dict[str, list[str]] = defaultdict(list)
        for piece in self.wiring.pieces:
            pieces[parts[piece.a]].append(piece)
        for switch in self.switches:
            for side in set(self.wiring.parted.get(switch.id, ())):
                around[parts[side]].append(switch.id)
        found = [
            Zone(_merged(rows), tuple(dict.fromkeys(around[part])), rows[0].a in self._reached)
            for part, rows in pieces.items()
        ]
        return tuple(sorted(found, key=lambda z: -z.length_m))

    def breaks(self, share: float = 0.5) -> Iterator[Break]:
        """Pieces whose single break kills at least a share of the live fence, nearest to the source first."""
        rows = []
        for piece in self.wiring.pieces:
            far, metres = self._beyond.get(frozenset((piece.a, piece.b)), ("", 0.0))
            if far and metres >= share * self.live_m:
                near = piece.to_m if far == piece.a else piece.from_m
                rows.append(Break(Place(piece.run, near), metres))
        yield from sorted(rows, key=lambda b: -b.kills_m)

    @cached_property
    def hanging(self) -> tuple[Hang, ...]:
        """How each live run is fed, in the order in which the pulse comes to them."""
        by_node: dict[str, list[tuple[str, Piece | None, str | None]]] = defaultdict(list)
        for piece in self.wiring.pieces:
            by_node[piece.a].append((piece.b, piece, None))
            by_node[piece.b].append((piece.a, piece, None))
        names = {switch.id for switch in self.switches}
        for shut in sorted(self._shut):
            a, b = self.wiring.parted[shut]
            through = shut if shut in names else None
            by_node[a].append((b, None, through))
            by_node[b].append((a, None, through))
        found: dict[str, Hang] = {}
        seen = {self.wiring.start}
        line: list[tuple[str, Place | None, str | None]] = [(self.wiring.start, None, None)]
        for node, came, switched in line:
            for other, way, through in by_node[node]:
                if way is not None and way.run not in found:
                    metres = self._beyond.get(frozenset((way.a, way.b)), ("", 0.0))[1]
                    found[way.run] = Hang(way.run, came, switched, metres)
                if other not in seen:
                    seen.add(other)
                    here = came if way is None else Place(way.run, way.from_m if other == way.a else way.to_m)
                    line.append((other, here, through))
        return tuple(found.values())


def _merged(pieces: Iterable[Piece]) -> tuple[Stretch, ...]:
    """Pieces as stretches, neighbours put together."""
    found: list[Stretch] = []
    for piece in sorted(pieces, key=lambda p: (p.run, p.from_m)):
        last = found[-1] if found else None
        if last and last.run == piece.run and abs(last.to_m - piece.from_m) < 1e-6:
            found[-1] = Stretch(last.run, last.from_m, piece.to_m)
        else:
            found.append(Stretch(piece.run, piece.from_m, piece.to_m))
    return tuple(found)


def zones(plan: Plan) -> Zones | None:
    """The zones of a plan; None without runs."""
    found = wiring(plan, divided=True)
    return None if found is None else _zones(found, plan.fixtures)


@cached("zones", 16, identity_args=2)
def _zones(found: Wiring, fixtures: tuple[Fixture, ...]) -> Zones:
    parting = [f for f in fixtures if can_part(f)]
    return Zones(
        found,
        tuple(f for f in parting if isinstance(f, Switch)),
        tuple(f for f in parting if isinstance(f, Gate)),
    )
