"""What a search needs to know of a farm: its healthy network, ways to walk, what things cost and how sure they are."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from adze.core.basics.types import Real
from adze.core.pulse.network import Link, Network

PACE_M_PER_MIN = 60.0


@dataclass(frozen=True)
class Hazard:
    """What makes a fault likelier on a span: trees 0 none, 1 some, 2 many; a gate; a switch or joint; a fault before.

    `recurs` is how many times as often as elsewhere faults were found there, by the farm's own log; 1 is as elsewhere.
    """

    trees: float = 0.0
    has_gate: bool = False
    has_switch: bool = False
    fault_before: bool = False
    recurs: float = 1.0


@dataclass(frozen=True)
class Minutes:
    """What each step takes, min."""

    reading: float = 1.0
    look: float = 1.0
    switch: float = 1.0
    rods: float = 1.0


@dataclass(frozen=True)
class Meter:
    """The tester's own error, as standard deviations: a share and a least, kV and A; whether it shows A at all."""

    kv_share: float = 0.03
    kv_least: float = 0.1
    amps_share: float = 0.10
    amps_least: float = 0.5
    shows_amps: bool = True


@dataclass(frozen=True)
class Doubt:
    """What is not known of the healthy farm, as standard deviations of logarithms."""

    unit: float = 0.04
    rods: float = 0.30
    grass: float = 0.35


@dataclass(frozen=True)
class Looking:
    """How often a fault is seen when one stands and looks, and when one only walks past."""

    finds: float = 0.95
    passing_finds: float = 0.5


@dataclass(frozen=True)
class Track:
    """A way between two nodes that follows no fence, m."""

    a: str
    b: str
    length_m: float


@dataclass(frozen=True)
class HandSwitch:
    """A switch that is worked by hand: where it is read on the fed side, and where it parts the live wire when open.

    Each is a span and metres from its a.
    """

    id: str
    read_at: tuple[str, float]
    parts: tuple[tuple[str, float], ...]


def hand_switch(network: Network, link: Link) -> HandSwitch | None:
    """A link as a switch: it parts the branch, the side where less meets; None where one side has no span."""
    sides = []
    for node in (link.b.node, link.a.node):
        ends = [(s.id, at) for s in network.spans for end, at in ((s.a, 0.0), (s.b, s.length_m)) if end == node]
        others = sum(node in (x.a.node, x.b.node) and x.a.terminal is link.a.terminal for x in network.links)
        sides.append((len(ends) + others, ends))
    (_, branch), (_, other) = sorted(sides, key=lambda side: side[0])
    return HandSwitch(link.id, other[0], tuple(branch)) if branch and other else None


@dataclass(frozen=True)
class TracedFarm:
    """A farm whose fence is searched: the healthy forecast as a network, and the person who walks it.

    `response_s` is the tester's time constant and `kv_scale` its adjustment; `hazards` by span; `switches` are those
    that are shut while the fence is whole; `spurs` are where fence joins of which nothing is known, each a span and
    metres from its a. `shown`: what the forecast says a tester shows, as a share of what the search's coarser solution
    with all strands as one says, both of the healthy fence: by span metres from its a, and shares.
    """

    network: Network
    start: str
    tracks: tuple[Track, ...] = ()
    hazards: Mapping[str, Hazard] = field(default_factory=dict)
    pace_m_per_min: float = PACE_M_PER_MIN
    minutes: Minutes = Minutes()
    meter: Meter = Meter()
    doubt: Doubt = Doubt()
    looking: Looking = Looking()
    response_s: float = 0.0
    kv_scale: float = 1.0
    switches: tuple[HandSwitch, ...] = ()
    spurs: tuple[tuple[str, float], ...] = ()
    shown: Mapping[str, tuple[Real, Real]] = field(default_factory=dict)
