"""Gates and crossings: what each kind is made of, and cable by the core."""

import math
from collections.abc import Iterator
from dataclasses import replace

from adze.core.animals.strand_rules import Role
from adze.core.basics.units import counted
from adze.core.build.construction import fence_of, has_earth_strands
from adze.core.build.needs import CutPiece, PartNeed, priced
from adze.core.ground.wiring import cable_m
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, RoadCrossing

_GROUP = "Gates and crossings"
CABLE_DEEP_M, CABLE_END_M = 0.5, 0.6  # 45 to 60 cm under a way; to work with at each end
_SWITCH_LEADS_M = 2.0
_SLEEVE_M = 6.0  # as sold
_ROPES = 2  # of a gate of ropes, however many strands the line has


def core_m(view: Plan, fixture: Gate | RoadCrossing) -> float:
    """One core under a gate or a way: its width, down and up to the lowest live strand, and ends to work with, m."""
    live = [strand.cm for strand in fence_of(view) if strand.role is Role.LIVE]
    return fixture.width_m + 2 * (CABLE_DEEP_M + min(live, default=50.0) / 100 + CABLE_END_M)


def gate_needs(view: Plan, fixtures: list[Fixture]) -> Iterator[PartNeed]:
    """What the gates of a line are made of, by how they close."""
    live = sum(strand.role is Role.LIVE for strand in fence_of(view))
    gates = [f for f in fixtures if isinstance(f, Gate)]
    styles = [gate.style for gate in gates]
    handles = styles.count("handle") + styles.count("removable_post")
    yield priced(_GROUP, "gate_set", live * handles, f"{live} live strands at each gate with handles")
    why = "1 a strand at the hook's side: an open gate hangs dead"
    yield priced(_GROUP, "gate_insulator", live * handles, why)
    yield priced(_GROUP, "gate_rope", _ROPES * styles.count("rope"), f"{_ROPES} at each gate of ropes")
    yield priced(_GROUP, "gate_sleeve", styles.count("removable_post"), "1 at each gate whose post is lifted out")
    yield priced(_GROUP, "spring_gate", live * styles.count("spring"), f"{live} live strands at each spring gate")
    yield priced(_GROUP, "drive_over_set", live * styles.count("drive_over"), f"{live} live strands, driven over")


def cable_needs(view: Plan, fixtures: list[Fixture]) -> Iterator[PartNeed]:
    """Cable by the core under gates and ways, its duct and seals, posts of spans that go over."""
    cores = 2 if has_earth_strands(view) else 1
    under = [f for f in fixtures if isinstance(f, (Gate, RoadCrossing)) and cable_m(f) > 0]
    roads = [f for f in under if isinstance(f, RoadCrossing)]
    one = sum(core_m(view, f) for f in under)
    words = f"{counted(cores, 'core')}: width, 2 times depth and lowest strand, 60 cm at each end"
    pieces = tuple(
        CutPiece(f"{f.name}, core {number}" if cores > 1 else f.name, round(core_m(view, f), 2))
        for f in under
        for number in range(1, cores + 1)
    )
    yield replace(priced(_GROUP, "under_gate_cable", round(cores * one, 1), words), pieces=pieces, unbroken=True)
    # Under a way each core has a duct of its own; under a gate they share one.
    ducts = sum(f.width_m * (cores if f in roads else 1) + 2 * CABLE_DEEP_M for f in under)
    yield priced(_GROUP, "duct", round(ducts, 1), "under gates and ways, ends turned down like a crook")
    ends = 2 * sum(cores if f in roads else 1 for f in under)
    yield priced(_GROUP, "duct_seal", ends, "every end of duct: water and frost stay out")
    sleeves = sum(math.ceil(f.width_m / _SLEEVE_M) for f in roads)
    yield priced(_GROUP, "sleeve", sleeves, "under wheels, from side to side of each way")
    overs = sum(isinstance(f, RoadCrossing) and f.over for f in fixtures)
    yield priced(_GROUP, "tall_post", 2 * overs, "2 at each crossing that goes over")
    yield from switch_needs(sum(f.kind == "switch" for f in fixtures), "as drawn")


def switch_needs(count: int, why: str) -> Iterator[PartNeed]:
    """So many cut-out switches, each with its cable from what feeds it and on to what it parts."""
    yield priced(_GROUP, "cutout_switch", count, why)
    yield priced(_GROUP, "switch_lead", _SWITCH_LEADS_M * count, "1 m on each side of a switch")
