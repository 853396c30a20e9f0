"""Looking for a fault as the trade does with a tester that shows amps: the leg that draws most, then halve it.

At a junction amps are read on every leg and the one that draws most is followed; where its far end draws less than half
as much, what draws lies in it, and it is halved until a short stretch is left, which is looked along. Source: farm
practice. It stops as soon as the fence is restored, which a person cannot know.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from adze.core.practice.simulated_farm import SimulatedFarm, walk_all
from adze.core.pulse.network import Span
from adze.core.trace.grid import Spot

SHORT_M, LOOK_EVERY_M = 60.0, 20.0
_MOST_LEGS, _MOST_ROUNDS = 60, 6


@dataclass(frozen=True)
class _Leg:
    """A span as it is followed: from its a on, or from its b back."""

    span: Span
    forward: bool

    @property
    def far(self) -> str:
        return self.span.b if self.forward else self.span.a

    def spot(self, along_m: float) -> Spot:
        return Spot(self.span.id, along_m if self.forward else self.span.length_m - along_m)


class _Joints:
    """Which spans meet: nodes that links join count as one."""

    def __init__(self, there: SimulatedFarm) -> None:
        network = there.farm.network
        self._same: dict[str, str] = {}
        for link in network.links:
            one, other = self.of(link.a.node), self.of(link.b.node)
            if one != other:
                self._same[one] = other
        self._spans = [span for span in network.spans if not span.is_open]

    def of(self, node: str) -> str:
        while node in self._same:
            node = self._same[node]
        return node

    def legs(self, node: str, came: str = "") -> list[_Leg]:
        joint = self.of(node)
        found = [_Leg(span, forward=True) for span in self._spans if self.of(span.a) == joint and span.id != came]
        return found + [
            _Leg(span, forward=False) for span in self._spans if self.of(span.b) == joint and span.id != came
        ]


class _Found(Exception):
    """Something was come upon."""


def halve_all(there: SimulatedFarm) -> SimulatedFarm:
    """Follow amps and halve until the fence is restored; what that does not find is walked for."""
    joints = _Joints(there)
    for _ in range(_MOST_ROUNDS):
        if there.is_restored:
            return there
        try:
            stretch = _followed(there, joints)
            for spot in _along(*stretch):
                _told(there, {"do": "look", "at": [spot.span, spot.at_m]})
        except _Found:
            continue
        break
    return walk_all(there)


def _told(there: SimulatedFarm, step: dict[str, object]) -> dict[str, float]:
    told = there.answer(step)
    if told.get("seen"):
        raise _Found
    return told


def _amps(there: SimulatedFarm, leg: _Leg, along_m: float) -> float:
    """Amps that flow on along a leg, A."""
    spot = leg.spot(along_m)
    told = _told(there, {"do": "read", "at": [spot.span, spot.at_m], "leg": leg.span.id})
    return told["amps"] if leg.forward else -told["amps"]


def _followed(there: SimulatedFarm, joints: _Joints) -> tuple[_Leg, float, float]:
    """The short stretch that draws: a leg, from and to, m from where it was entered."""
    node, came = there.farm.start, ""
    leg = joints.legs(node)[0]
    for _ in range(_MOST_LEGS):
        legs = joints.legs(node, came)
        if not legs:
            break
        read = [(_amps(there, leg, 0.0), leg) for leg in legs]
        drawn, leg = max(read, key=lambda row: abs(row[0]))
        if not _goes_on(there, joints, leg, drawn):
            return _halved(there, leg, drawn)
        node, came = leg.far, leg.span.id
    return leg, 0.0, leg.span.length_m


def _goes_on(there: SimulatedFarm, joints: _Joints, leg: _Leg, drawn: float) -> bool:
    """Whether what draws lies beyond a leg's far end."""
    if not joints.legs(leg.far, leg.span.id):
        return False
    return abs(_amps(there, leg, leg.span.length_m)) > abs(drawn) / 2


def _halved(there: SimulatedFarm, leg: _Leg, drawn: float) -> tuple[_Leg, float, float]:
    low, high = 0.0, leg.span.length_m
    while high - low > SHORT_M:
        middle = (low + high) / 2
        if abs(_amps(there, leg, middle)) > abs(drawn) / 2:
            low = middle
        else:
            high = middle
    return leg, low, high


def _along(leg: _Leg, low: float, high: float) -> Iterator[Spot]:
    count = max(1, round((high - low) / LOOK_EVERY_M))
    for k in range(count + 1):
        yield leg.spot(low + (high - low) * k / count)
