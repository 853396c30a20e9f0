"""The electrical picture of a fence: spans, joints, leaks and one source, as frozen data.

Terminals at a node: LIVE and EARTH (an earth strand, or the energizer's earth terminal), or single strands
where they are not joined all along; the reference is the local soil. Equations are numbered as in docs/physics.md.
"""

import math
from collections import Counter
from dataclasses import dataclass, fields
from enum import StrEnum
from functools import cached_property
from typing import NamedTuple

from adze.core.basics.cache import cached


class Terminal(StrEnum):
    """What a conductor belongs to at a node."""

    LIVE = "L"
    EARTH = "E"
    SOIL = "S"
    STRAND_1 = "1"
    STRAND_2 = "2"
    STRAND_3 = "3"
    STRAND_4 = "4"
    STRAND_5 = "5"
    STRAND_6 = "6"
    STRAND_7 = "7"
    STRAND_8 = "8"
    STRAND_9 = "9"
    STRAND_10 = "10"
    STRAND_11 = "11"
    STRAND_12 = "12"


STRANDS = tuple(Terminal(str(number)) for number in range(1, 13))


class Port(NamedTuple):
    """One terminal at one node."""

    node: str
    terminal: Terminal


class NetworkError(ValueError):
    """A network that cannot be solved; the message names the element and the mend."""


@dataclass(frozen=True)
class Wire:
    """One wire over soil; `terminal` None is a wire joined to nothing.

    `loss_angle_rad` is the angle of hysteresis of steel at the pulse's field (S16); 0 is a linear wire.
    """

    height_m: float
    offset_m: float
    radius_m: float
    resistance_ohm_per_m: float
    relative_permeability: float
    terminal: Terminal | None
    loss_angle_rad: float = 0.0

    def __post_init__(self) -> None:
        """Refuse a wire in the ground, without thickness or without resistance."""
        for name in ("height_m", "radius_m", "resistance_ohm_per_m", "relative_permeability"):
            value = getattr(self, name)
            if not (math.isfinite(value) and value > 0):
                raise NetworkError(f"wire: {name} is {value}, must be above 0")
        if not 0 <= self.loss_angle_rad < math.pi / 2:
            raise NetworkError(f"wire: loss_angle_rad is {self.loss_angle_rad}, must be 0 to less than pi / 2")
        if self.height_m <= self.radius_m:
            raise NetworkError(f"wire: height_m {self.height_m} lies below its radius {self.radius_m}")


@dataclass(frozen=True)
class WireLine:
    """A line given by its wires, the soil below and its leaks (S/m).

    `frequency_dependent` False freezes the wires at direct-current ohms over a perfect ground.
    """

    wires: tuple[Wire, ...]
    soil_ohm_m: float
    leak_live_soil_s_per_m: float = 0.0
    leak_live_earth_s_per_m: float = 0.0
    leak_earth_soil_s_per_m: float = 0.0
    frequency_dependent: bool = True

    def __hash__(self) -> int:
        """Found once: lines are what everything about them is kept by."""
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash(tuple(getattr(self, f.name) for f in fields(self)))

    def __post_init__(self) -> None:
        """Refuse a line without joined wires, wires that touch, soil or leaks out of meaning."""
        if not any(w.terminal for w in self.wires):
            raise NetworkError("line: no wire belongs to LIVE or EARTH")
        if not (math.isfinite(self.soil_ohm_m) and self.soil_ohm_m > 0):
            raise NetworkError(f"line: soil_ohm_m is {self.soil_ohm_m}, must be above 0")
        for name in ("leak_live_soil_s_per_m", "leak_live_earth_s_per_m", "leak_earth_soil_s_per_m"):
            value = getattr(self, name)
            if not (math.isfinite(value) and value >= 0):
                raise NetworkError(f"line: {name} is {value}, must be 0 or more")
        for i, one in enumerate(self.wires):
            for other in self.wires[i + 1 :]:
                apart = math.hypot(one.height_m - other.height_m, one.offset_m - other.offset_m)
                if apart <= one.radius_m + other.radius_m:
                    raise NetworkError(f"line: two wires touch at height {one.height_m} m; move one of them")


Matrix = tuple[tuple[float, ...], ...]


@dataclass(frozen=True)
class StrandLine:
    """A line whose conductors are apart from each other: each wire a terminal of its own, or several to one.

    `leak_s_per_m` (g, g) in the order of `terminals`, S/m: what leaves each on the diagonal, what goes to another with
    a minus beside it.
    """

    wires: tuple[Wire, ...]
    soil_ohm_m: float
    leak_s_per_m: Matrix
    frequency_dependent: bool = True

    def __post_init__(self) -> None:
        """Refuse a line without joined wires, or leaks of another size than its terminals."""
        size = len(self.terminals)
        if not size:
            raise NetworkError("line: no wire belongs to a terminal")
        if len(self.leak_s_per_m) != size or any(len(row) != size for row in self.leak_s_per_m):
            raise NetworkError(f"line: leak_s_per_m must be {size} by {size}, a row for each terminal")

    @property
    def terminals(self) -> tuple[Terminal, ...]:
        """Its terminals, in the order of their first wires."""
        return tuple(dict.fromkeys(wire.terminal for wire in self.wires if wire.terminal))


@dataclass(frozen=True)
class MatrixLine:
    """A line given by its matrices per metre, the same at all frequencies.

    1x1 (LIVE) or 2x2 (LIVE, EARTH), or of the size of `named`, the terminals of its conductors.
    """

    resistance_ohm_per_m: Matrix
    inductance_h_per_m: Matrix
    capacitance_f_per_m: Matrix
    leak_s_per_m: Matrix
    named: tuple[Terminal, ...] = ()

    @property
    def terminals(self) -> tuple[Terminal, ...]:
        """Its terminals in order."""
        return self.named or (Terminal.LIVE, Terminal.EARTH)[: len(self.resistance_ohm_per_m)]

    def __post_init__(self) -> None:
        """Refuse matrices of unlike or odd shape."""
        size = len(self.resistance_ohm_per_m)
        for name in ("resistance_ohm_per_m", "inductance_h_per_m", "capacitance_f_per_m", "leak_s_per_m"):
            rows = getattr(self, name)
            if size != len(self.terminals) or len(rows) != size or any(len(row) != size for row in rows):
                raise NetworkError(f"line: {name} must be 1x1 or 2x2, or of its terminals' size, as the others")
            if any(not math.isfinite(x) for row in rows for x in row):
                raise NetworkError(f"line: {name} holds a number that is not finite")


Line = WireLine | StrandLine | MatrixLine


@cached("terminals", 1024)
def terminals_of(line: Line) -> tuple[Terminal, ...]:
    """The groups of a line in order."""
    if not isinstance(line, WireLine):
        return line.terminals
    return tuple(t for t in (Terminal.LIVE, Terminal.EARTH) if any(w.terminal is t for w in line.wires))


@dataclass(frozen=True)
class Span:
    """A uniform piece of line between two nodes; `is_open` cuts it out."""

    id: str
    a: str
    b: str
    line: Line
    length_m: float
    is_open: bool = False

    def __post_init__(self) -> None:
        """Refuse a span without length."""
        if not (math.isfinite(self.length_m) and self.length_m > 0):
            raise NetworkError(f"span {self.id}: length_m is {self.length_m}, must be above 0")


@dataclass(frozen=True)
class Link:
    """A resistive joint or a short conductor between two terminals."""

    id: str
    a: Port
    b: Port
    ohm: float

    def __post_init__(self) -> None:
        """Refuse a joint without resistance or onto itself."""
        if not (math.isfinite(self.ohm) and self.ohm > 0):
            raise NetworkError(f"link {self.id}: ohm is {self.ohm}, must be above 0")
        if self.a == self.b:
            raise NetworkError(f"link {self.id}: both ends are the same terminal")
        if Terminal.SOIL in (self.a.terminal, self.b.terminal):
            raise NetworkError(f"link {self.id}: an end lies in soil; use a shunt")


@dataclass(frozen=True)
class Shunt:
    """A resistance (and capacitance) at a node, from one terminal to another or to the soil."""

    id: str
    node: str
    start: Terminal
    end: Terminal
    ohm: float
    farad: float = 0.0

    def __post_init__(self) -> None:
        """Refuse a shunt without resistance or between the same terminals."""
        if not self.ohm > 0:
            raise NetworkError(f"shunt {self.id}: ohm is {self.ohm}, must be above 0")
        if not (math.isfinite(self.farad) and self.farad >= 0):
            raise NetworkError(f"shunt {self.id}: farad is {self.farad}, must be 0 or more")
        if self.start is Terminal.SOIL or self.start == self.end:
            raise NetworkError(f"shunt {self.id}: must go from L or E to another terminal")


@dataclass(frozen=True)
class Source:
    """The energizer as the model sees it: eq. 12, between LIVE and EARTH of its node.

    A capacitor charged to v0, in series with an inductance and a resistance; across the terminals a resistance,
    and a damper: a resistance in series with a capacitance (S1). With `one_way` the current out of the capacitor
    stops where it would reverse (S21).
    """

    node: str
    v0_v: float
    storage_f: float
    series_h: float
    series_ohm: float
    parallel_ohm: float
    damper_f: float
    damper_ohm: float = 0.0
    one_way: bool = False

    def __post_init__(self) -> None:
        """Refuse parts without meaning."""
        for name in ("v0_v", "storage_f", "series_h", "series_ohm", "parallel_ohm", "damper_f"):
            value = getattr(self, name)
            if not (math.isfinite(value) and value > 0):
                raise NetworkError(f"source: {name} is {value}, must be above 0")
        if not (math.isfinite(self.damper_ohm) and self.damper_ohm >= 0):
            raise NetworkError(f"source: damper_ohm is {self.damper_ohm}, must be 0 or more")


@dataclass(frozen=True)
class Network:
    """Everything that one pulse meets."""

    source: Source
    spans: tuple[Span, ...] = ()
    links: tuple[Link, ...] = ()
    shunts: tuple[Shunt, ...] = ()

    def __post_init__(self) -> None:
        """Refuse ids that stand twice."""
        ids = Counter(x.id for group in (self.spans, self.links, self.shunts) for x in group)
        twice = [name for name, count in ids.items() if count > 1]
        if twice:
            raise NetworkError(f"network: id {twice[0]!r} is there twice")
