"""Other feeds and short links: what they save is found, and the pulse goes that way."""

import math

import pytest

from adze.core.advice.reroute import feed_places, linked, links, unit_at, unit_places
from adze.core.forecast.circuit import circuit
from adze.core.forecast.volts import volts
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m
from adze.core.ground.wiring import wiring
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan

WET = Weather(Season.WET)


def hairpin(**more: object) -> Plan:
    """Out 600 m, across 40 m, and all the way back: its dead end lies 40 m from its start."""
    lines = [{"id": "line1", "name": "Hairpin", "points": [[0, 0], [600, 0], [600, 40], [0, 40]]}]
    return simple_plan(runs=lines, grass="heavy", conductor="poly_steel_3", strands=[{"cm": 45}], **more)


def two_arms() -> Plan:
    arms = [
        {"id": "a", "name": "Near", "points": [[0, 0], [600, 0]]},
        {"id": "b", "name": "Far", "points": [[600, 0], [600, 40], [0, 40]]},
    ]
    return simple_plan(runs=arms, grass="heavy", conductor="poly_steel_3", strands=[{"cm": 45}], energizer_at=(-5, 0))


def test_the_middle_feeds_better_than_the_end_and_the_lead_out_is_as_long_as_it_lies() -> None:
    plan = hairpin(energizer_at=(300, 20))
    end = changed(plan, {"feed_at": (0, 0)})
    assert feed(end).lead_m == math.dist((300, 20), (0, 0))  # type: ignore[union-attr]
    best = feed_places(end)[0]
    middle = changed(end, {"feed_at": best})
    assert volts(middle, WET).worst[1] > 1.1 * volts(end, WET).worst[1]


def test_a_feed_beyond_the_reach_of_a_lead_out_is_not_offered() -> None:
    assert feed_places(hairpin(energizer_at=(-5, 0))) == ()
    assert feed_places(simple_plan(runs=[])) == links(simple_plan(runs=[])) == ()


def test_a_dead_end_beside_another_line_is_linked_and_the_far_end_rises() -> None:
    plan = two_arms()
    link, *_ = links(plan)
    assert math.dist(*link) == 40
    ring = linked(plan, link)
    assert length_m(ring.runs[-1]) == 40
    found = wiring(ring)
    assert found is not None
    assert all(piece.a in found.reached for piece in found.pieces)
    before, after = (next(t for t in volts(p, WET).traces if t.run == "b").kv[-1] for p in (plan, ring))
    assert after > 1.2 * before
    assert circuit(ring, WET).network.spans != circuit(plan, WET).network.spans


def test_a_ring_has_no_dead_end_to_link() -> None:
    square = [[0, 0], [300, 0], [300, 300], [0, 300], [0, 0]]
    assert links(simple_plan(runs=[{"id": "line1", "name": "Ring", "points": square}])) == ()


def test_a_unit_in_another_building_is_judged_there_and_moved_there_with_its_rods() -> None:
    barn = {"id": "b", "kind": "building", "name": "Barn", "points": [[300, 50], [310, 50], [310, 60], [300, 60]]}
    plan = hairpin(
        energizer="mains_3",
        energizer_at=(-5, 0),
        landmarks=[barn],
        rods={"count": 3, "position": (-20, 0), "monitor": (-40, 0)},
    )
    here, there = unit_places(plan)
    assert (here.name, here.least_kv) == ("where it hangs", min(volts(plan, Weather(Season.DRY)).traces[0].kv))
    assert (there.name, there.at) == ("Barn", (305, 55))
    moved = unit_at(plan, there.at)
    assert feed(moved).lead_m == there.lead_m == 15  # type: ignore[union-attr]
    assert math.dist(moved.rods.position, there.at) <= 60  # type: ignore[arg-type]
    assert math.dist(moved.rods.monitor, moved.rods.position) == pytest.approx(20, abs=0.02)  # type: ignore[arg-type]
    assert there.least_kv == min(volts(moved, Weather(Season.DRY)).traces[0].kv) > here.least_kv
    assert unit_places(hairpin(energizer_at=None)) == ()


def test_a_unit_on_a_battery_is_also_looked_at_beside_the_line() -> None:
    plan = hairpin(energizer_at=(-5, 0), energizer="battery_1")
    names = [place.name for place in unit_places(plan)]
    assert len(names) > 1
    assert all("Hairpin" in name for name in names[1:])
