"""The healthy fence solved once, and every fault on it as a change of low rank: no new solve for a hypothesis.

A fault is a port: two points of the network, or a cut wire, and what is put there. With the ohms that the port sees,
the volts everywhere follow from the healthy ones (J. Sherman and W. J. Morrison, Ann. Math. Stat. 21 (1950)). A wire
that is cut in the middle of a piece is a source in series there: what it does at the piece's ends is found from the
two halves of the piece (eq. 6 of docs/physics.md), and by reciprocity what passes the cut.
"""

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from adze.core.basics.types import Complex, Index, Real
from adze.core.pulse import laplace
from adze.core.pulse.altered import grassier
from adze.core.pulse.elimination import Factors, solve
from adze.core.pulse.laplace import Window
from adze.core.pulse.line import line_model, span_admittances
from adze.core.pulse.network import NetworkError, Port, Terminal, terminals_of
from adze.core.pulse.one_way import REVERSAL_MATTERS, OneWay, Spectra
from adze.core.pulse.solver import Solution, solve_pulse
from adze.core.trace.farm import HandSwitch, TracedFarm
from adze.core.trace.grid import Grid, Spot

WINDOW = Window(length_s=0.6e-3, frequencies=64, wrap_around=0.01)
_INSTANTS, _SOUGHT_S = 72, 0.24e-3
LS, LE, CUT, RODS = range(4)
PARTED_OHM = 1e9  # of an open switch
LEAST_SHOWN_KV = 0.05  # a place that shows less counts for nothing
Peaks = NDArray[np.float32]


@dataclass(frozen=True)
class FaultPorts:
    """Where faults may be put (F): the kind of each, its place (-1: none) and its piece (-1: none).

    `ports` (F, 4) and `shares` (F, 4, K) say which unknowns the port is made of and with what share.
    `held` (F, K) is what a cut's own piece conducts with its ends held, S; 0 for the others.
    """

    kind: Index
    place: Index
    piece: Index
    ports: Index
    shares: Complex
    held: Complex

    @cached_property
    def has_earth(self) -> bool:
        """Whether there are earth strands anywhere."""
        return bool((self.kind == LE).any())


@dataclass(frozen=True)
class Observed:
    """What a reading is of the unknowns: `ports` (m,), `shares` (m, K); `direct` (K,) what a cut in its own piece adds.

    `piece` is that piece, -1 for volts.
    """

    ports: Index
    shares: Complex
    piece: int = -1
    direct: Complex | None = None


@dataclass(frozen=True)
class FaultChange:
    """A fault that is put on the fence: what a unit at its port does everywhere (n, K), and how strongly (K,).

    `through` (K,) is how much it drives in the fence as it stands; `piece` is that of a cut, else -1.
    """

    column: Complex
    strength: Complex
    through: Complex
    piece: int


@dataclass(frozen=True)
class State:
    """The fence as it stands, faults included: `volts` (n, K), and for every fault port its own `drive` and `sees`.

    (F, K) both: what stands at the port, V or A, and what it sees, ohm or S. `rods_ohm` are the rods as they stand.
    """

    volts: Complex
    drive: Complex
    sees: Complex
    rods_ohm: float
    changes: tuple[FaultChange, ...] = ()


@dataclass(frozen=True)
class TraceBase:
    """A farm's healthy fence solved once; `grassy_v` are its volts with more growth, `rods_port` the earth terminal.

    `across` are the volts between the unit's terminals; `shown` (P,) is what a tester shows at each place as a share
    of what this solution says, 1 where no forecast says more; `one_way` is None where its stop hardly matters.
    """

    farm: TracedFarm
    grid: Grid
    solution: Solution
    factors: Factors
    live: Index
    earth: Index
    faults: FaultPorts
    healthy: State
    rods_port: int
    grassy_v: Complex
    across: Observed
    shown: Real
    one_way: OneWay | None = None

    @cached_property
    def well_volts(self) -> tuple[Complex, Complex]:
        """The volts of the healthy fence, and with more growth, as the unit's stop leaves them, (n, K) both."""
        plain = self.healthy.volts, self.grassy_v
        if self.one_way is None:
            return plain
        ends = [(self.across.shares * volts[self.across.ports]).sum(axis=0) for volts in plain]
        left = self.one_way.left(np.stack(ends))
        return plain[0] * left[0], plain[1] * left[1]

    def left(self, state: State, fault: Index, drive: Spectra) -> Spectra:
        """What the unit's stop leaves of every volt and amp under faults (H,) that drive (H, K) on top of a state."""
        if self.one_way is None:
            raise ValueError("the unit's stop is not followed here")
        does = self.at_faults(self.sensitivity(self.across, state, 1.0)).astype(np.complex64)
        return self.one_way.left(self.reads(self.across, state) - does[fault] * drive)

    @cached_property
    def instants(self) -> Peaks:
        """From a spectrum, real and imaginary parts in turn, to the wave at the instants: (2K, n)."""
        t = np.linspace(0.0, _SOUGHT_S, _INSTANTS)
        s = laplace.frequencies_per_s(WINDOW)
        wave = (2 / WINDOW.length_s) * np.exp(np.outer(s, t))
        both = np.empty((2 * len(s), len(t)), dtype=np.float32)
        both[0::2], both[1::2] = wave.real, -wave.imag
        return both

    def peaks(self, spectra: Complex | Spectra) -> Peaks:
        """Signed peaks (...) of spectra (..., K), sought at the instants and refined by a parabola."""
        flat = np.ascontiguousarray(spectra.reshape(-1, spectra.shape[-1]), dtype=np.complex64)
        wave = flat.view(np.float32) @ self.instants
        row = np.arange(len(wave))
        at = np.clip(np.argmax(np.abs(wave), axis=1), 1, wave.shape[1] - 2)
        before, middle, after = wave[row, at - 1], wave[row, at], wave[row, at + 1]
        bend = before - 2 * middle + after
        safe = np.where(np.abs(bend) > 1e-6 * np.abs(middle) + 1e-20, bend, np.float32(np.inf))
        shift = np.clip((before - after) / (2 * safe), -1, 1)
        found: Peaks = middle + (after - before) / 4 * shift
        return found.reshape(spectra.shape[:-1])

    @cached_property
    def follow(self) -> Complex:
        """What the tester makes of volts, kV for V: its time constant and its adjustment (S13)."""
        s = laplace.frequencies_per_s(WINDOW)
        left: Complex = self.farm.kv_scale / 1000 / (1 + self.farm.response_s * s)
        return left

    def reads(self, watched: Observed, state: State) -> Complex:
        """What a reading is on a fence as it stands, (K,): V or A."""
        found: Complex = (watched.shares * state.volts[watched.ports]).sum(axis=0)
        for change in state.changes:
            if watched.direct is not None and change.piece == watched.piece:
                found = found + watched.direct * change.through
        return found

    def sensitivity(self, watched: Observed, state: State, scale: Complex | float) -> Complex:
        """What a unit at each port would take off a reading, a column (n, K), with the changes that stand."""
        ports, shares, changes = watched.ports, watched.shares * scale, state.changes
        found = self.column(ports, shares, changes)
        for change in changes:
            if watched.direct is not None and change.piece == watched.piece:
                found = found + change.column * (watched.direct * change.strength)
        return found

    def column(self, ports: Index, shares: Complex, changes: tuple[FaultChange, ...]) -> Complex:
        """What a unit at a port does to every unknown, (n, K), with the changes that stand."""
        drive: dict[int, Complex] = {}
        for port, share in zip(ports.tolist(), shares, strict=True):
            if share.any():
                drive[port] = drive.get(port, 0) + share
        found = solve(self.factors, drive)
        for change in changes:
            seen = (shares * change.column[ports]).sum(axis=0)
            found = found - change.column * (seen * change.strength)
        return found

    def at_faults(self, column: Complex, chosen: Index | None = None) -> Complex:
        """What a column (n, K) is at fault ports, all or some, (F, K)."""
        faults = self.faults
        rows = np.arange(len(faults.kind)) if chosen is None else chosen
        ports, kind = faults.ports[rows], faults.kind[rows]
        found = column[ports[:, 0]]
        earthed, cuts = np.flatnonzero(kind == LE), np.flatnonzero(kind == CUT)
        found[earthed] -= column[ports[earthed, 1]]
        if len(cuts):
            shares = faults.shares[rows[cuts]]
            found[cuts] *= shares[:, 0]
            for i in range(1, 4 if faults.has_earth else 2):
                found[cuts] += shares[:, i] * column[ports[cuts, i]]
        return found

    def strength(self, state: State, fault: Index, ohm: Real) -> Complex:
        """How strongly faults (H,) act at ohms (H,), (H, K); rods take a factor in the place of ohms."""
        kind = self.faults.kind[fault]
        found, size = state.sees[fault], ohm[:, None]
        shunts, cuts, rods = kind <= LE, kind == CUT, kind == RODS
        found[shunts] = 1 / (size[shunts] + found[shunts])
        found[cuts] = -size[cuts] / (1 + size[cuts] * found[cuts])
        added = (1 / size[rods] - 1) / state.rods_ohm
        found[rods] = added / (1 + added * found[rods])
        return found

    def with_fault(self, state: State, fault: int, ohm: float) -> State:
        """The fence with one more fault on it."""
        faults = self.faults
        column = self.column(faults.ports[fault], faults.shares[fault], state.changes)
        strength = self.strength(state, np.array([fault]), np.array([ohm]))[0]
        here, through = self.at_faults(column), strength * state.drive[fault]
        volts = state.volts - column * through
        drive = state.drive - here * through
        # A cut sees what its piece conducts less what the fence gives back: both turn alike.
        sign = np.where(faults.kind == CUT, -1.0, 1.0)[:, None]
        sees = state.sees - sign * here * here * strength
        rods_ohm = state.rods_ohm * (ohm if faults.kind[fault] == RODS else 1.0)
        seen = [(faults.shares[fault] * c.column[faults.ports[fault]]).sum(axis=0) for c in state.changes]
        stood = [
            replace(change, through=change.through - change.strength * own * through)
            for change, own in zip(state.changes, seen, strict=True)
        ]
        own_piece = int(faults.piece[fault]) if faults.kind[fault] == CUT else -1
        return State(volts, drive, sees, rods_ohm, (*stood, FaultChange(column, strength, through, own_piece)))

    def parted(self, opened: frozenset[str]) -> tuple[int, ...]:
        """The ports of the pieces that open switches part: the wire cut there, without ohms to speak of."""
        pieces = {
            self.grid.piece_at(Spot(*spot))
            for switch in self.farm.switches
            if switch.id in opened
            for spot in switch.parts
        }
        cuts = np.flatnonzero(self.faults.kind == CUT)
        return tuple(int(cuts[piece]) for piece in sorted(pieces))

    def fed_place(self, switch: HandSwitch) -> int:
        """The place at a switch that stays fed when it is opened."""
        place = self.grid.place(Spot(*switch.read_at))
        for port in self.parted(frozenset({switch.id})):
            piece = self.faults.piece[port]
            ends = [int(self.grid.a[piece]), int(self.grid.b[piece])]
            if place in ends:
                volts = self.with_fault(self.healthy, port, PARTED_OHM).volts[self.live[ends]] * self.follow
                return ends[int(np.argmax(np.abs(self.peaks(volts))))]
        return place

    @cached_property
    def _watched(self) -> dict[tuple[int, str], Observed]:
        return {}

    def volts_at(self, place: int) -> Observed:
        """kV of the live strands to soil at a place; -1: of the rods."""
        if place < 0:
            return Observed(np.array([self.rods_port]), _plain(1))
        return Observed(self.live[[place]], _plain(1) * self.shown[place])

    def amps_at(self, place: int, leg: str) -> Observed:
        """Amps in the live strands at a place, in the piece of a leg that begins or ends there, from its span's a."""
        if (place, leg) not in self._watched:
            self._watched[place, leg] = self._amps_at(place, leg)
        return self._watched[place, leg]

    def _amps_at(self, place: int, leg: str) -> Observed:
        number = self.grid.span_number[leg]
        own = self.grid.span == number
        begins = np.flatnonzero(own & (self.grid.a == place))
        piece = int(begins[0]) if len(begins) else int(np.flatnonzero(own & (self.grid.b == place))[0])
        near, far = (self.grid.a, self.grid.b) if len(begins) else (self.grid.b, self.grid.a)
        sign = 1.0 if len(begins) else -1.0
        own_s, across_s, through_s = self.piece_s(piece)
        ends = [near[piece], far[piece]]
        ports = np.array([self.live[ends[0]], self.earth[ends[0]], self.live[ends[1]], self.earth[ends[1]]])
        shares: Complex = np.concatenate([own_s, across_s]) * complex(sign)
        return Observed(np.maximum(ports, 0), shares, piece, through_s[0])

    def piece_s(self, piece: int) -> tuple[Complex, Complex, Complex]:
        """A piece's admittances of the live row: own, across, and between its end and its middle; (2, K) each."""
        span = self.grid.network.spans[piece]
        model = line_model(span.line, laplace.frequencies_per_s(WINDOW))
        whole = span_admittances(model, np.array([span.length_m]))[:, :, 0]
        half = span_admittances(model, np.array([span.length_m / 2]))[:, :, 0]
        rows = np.zeros((3, 2, WINDOW.frequencies), dtype=np.complex128)
        count = min(2, len(model.terminals))
        rows[0, :count], rows[1, :count] = whole[0, :count], whole[1, :count]
        rows[2, :count] = -half[1, :count] / 2
        return rows[0], rows[1], rows[2]


def _plain(count: int) -> Complex:
    return np.ones((count, WINDOW.frequencies)) + 0j


def _ports_of(solution: Solution, names: tuple[str, ...], terminal: Terminal) -> Index:
    return np.array([solution.ports.get(Port(name, terminal), -1) for name in names], dtype=np.intp)


def _fault_ports(farm: TracedFarm, where: Grid, live: Index, earth: Index, source_earth: int) -> FaultPorts:
    """Every place to soil, to the earth strand where there is one, every piece cut, and the rods."""
    size, count = WINDOW.frequencies, len(where.spots)
    both = np.flatnonzero(earth >= 0)
    has_rods = any(s.node == farm.network.source.node and s.start is Terminal.EARTH for s in farm.network.shunts)
    numbers = [count, len(both), len(where.a), int(has_rods)]
    kind = np.repeat([LS, LE, CUT, RODS], numbers)
    place = np.concatenate([np.arange(count), both, np.full(numbers[2] + numbers[3], -1)])
    piece = np.concatenate([np.full(count + len(both), -1), np.arange(numbers[2]), np.full(numbers[3], -1)])
    ports = np.zeros((len(kind), 4), dtype=np.intp)
    shares = np.zeros((len(kind), 4, size), dtype=np.complex128)
    held = np.zeros((len(kind), size), dtype=np.complex128)
    shunts = kind <= LE
    ports[shunts, 0], shares[shunts, 0] = live[place[shunts]], 1.0
    ports[kind == LE, 1], shares[kind == LE, 1] = earth[both], -1.0
    ports[kind == RODS, 0], shares[kind == RODS, 0] = source_earth, 1.0
    s = laplace.frequencies_per_s(WINDOW)
    cuts = np.flatnonzero(kind == CUT)
    by_line: dict[object, list[int]] = {}
    for k, span in enumerate(where.network.spans):
        by_line.setdefault(span.line, []).append(k)
    for members in by_line.values():
        model = line_model(where.network.spans[members[0]].line, s)
        half = span_admittances(model, where.length_m[members] / 2)  # (2, U, S, K)
        rows = cuts[members]
        held[rows] = half[0, 0] / 2
        for g, group in enumerate((live, earth)[: min(2, len(model.terminals))]):
            ports[rows, 2 * g], shares[rows, 2 * g] = group[where.a[members]], -half[1, g] / 2
            ports[rows, 2 * g + 1], shares[rows, 2 * g + 1] = group[where.b[members]], half[1, g] / 2
    return FaultPorts(kind, place, piece, ports, shares, held)


_GRASSIER = 1.2


def base(farm: TracedFarm, where: Grid) -> TraceBase:
    """Solve a farm's healthy fence for a search. Raises NetworkError."""
    for span in where.spans:
        if not set(terminals_of(span.line)) <= {Terminal.LIVE, Terminal.EARTH}:
            raise NetworkError(f"span {span.id}: strands that are apart are searched as one; join them first")
    solution = solve_pulse(where.network, WINDOW)
    kept = slice(0, WINDOW.frequencies)
    factors = solution.factors.part(kept)
    live, earth = (_ports_of(solution, where.names[: len(where.spots)], t) for t in (Terminal.LIVE, Terminal.EARTH))
    source_earth = solution.ports[Port(farm.network.source.node, Terminal.EARTH)]
    faults = _fault_ports(farm, where, live, earth, source_earth)
    rods = [s.ohm for s in farm.network.shunts if s.node == farm.network.source.node and s.start is Terminal.EARTH]
    volts = np.ascontiguousarray(solution.free_v[:, kept])
    grassy = solve_pulse(grassier(where.network, _GRASSIER), WINDOW).free_v[:, kept]
    rods_ohm = rods[0] if rods else math.inf
    unsolved = State(volts, _plain(0), _plain(0), rods_ohm)
    ends = np.array([solution.ports[Port(farm.network.source.node, Terminal.LIVE)], source_earth])
    across = Observed(ends, np.concatenate([_plain(1), -_plain(1)]))
    made = TraceBase(
        farm, where, solution, factors, live, earth, faults, unsolved, source_earth, grassy, across, _shown(where, farm)
    )
    sees = np.empty_like(faults.held)
    for f in range(len(faults.kind)):
        column = made.column(faults.ports[f], faults.shares[f], ())
        own = (faults.shares[f] * column[faults.ports[f]]).sum(axis=0)
        sees[f] = faults.held[f] - own if faults.kind[f] == CUT else own
    found = replace(made, healthy=State(volts, made.at_faults(volts), sees, rods_ohm))
    return _with_stop(found)


def _shown(where: Grid, farm: TracedFarm) -> Real:
    """What a tester shows at each place as a share of what this solution says, (P,)."""
    found = np.ones(len(where.spots))
    for k, spot in enumerate(where.spots):
        if spot.span in farm.shown:
            found[k] = np.interp(spot.at_m, *farm.shown[spot.span])
    return found


def _with_stop(base: TraceBase) -> TraceBase:
    """The same with the unit's stop followed, where the kV of the healthy fence show it somewhere."""
    if not base.farm.network.source.one_way:
        return base
    stopped = replace(base, one_way=OneWay(base.farm.network.source, WINDOW))
    live = base.live[base.live >= 0]
    free, kept = (np.abs(one.peaks(one.well_volts[0][live] * base.follow)) for one in (base, stopped))
    matters = np.abs(kept - free) > REVERSAL_MATTERS * free
    return stopped if (matters & (free > LEAST_SHOWN_KV)).any() else base


LOG_GRASSIER = math.log(_GRASSIER)
