"""What feeds what: gates and switches as they stand, cable, soil borders, rods along the line, zones."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.forecast.circuit import circuit
from adze.core.forecast.volts import volts
from adze.core.ground.places import Place
from adze.core.ground.soil_areas import soil_borders_m, soil_of
from adze.core.ground.wiring import cable_m, carries, wiring
from adze.core.ground.zones import Stretch, Zones, zones
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture
from adze.core.plan.season import Season, Weather
from adze.core.pulse.network import Terminal
from adze.core.tables.ground import fixture_kinds
from adze.core.verdict.wired.gates import open_gate_is_live
from tests.conftest import simple_plan

USUAL = Weather(Season.USUAL)


def fixture(kind: str, at_m: float = 100.0, run: str = "r0", **more: object) -> dict[str, object]:
    return {"id": f"{kind}{at_m:g}{run}", "kind": kind, "run": run, "at_m": at_m, "name": kind} | more


def one(kind: str = "gate", **more: object) -> Fixture:
    return simple_plan(fixtures=[fixture(kind, run="line1") | more]).fixtures[0]


def farm(*fixtures: dict[str, object], **changes: object) -> Plan:
    """A stem of 400 m, a branch of 200 m at 150 m, a twig of 90 m on the branch at 120 m."""
    rows = [[[0, 0], [400, 0]], [[150, 0], [150, 200]], [[150, 120], [240, 120]]]
    named = [{"id": f"r{i}", "name": f"Line {i}", "points": points} for i, points in enumerate(rows)]
    return simple_plan(runs=named, fixtures=list(fixtures), **changes)


def seen(plan: Plan) -> Zones:
    found = zones(plan)
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("changes", "shut", "opened"),
    [
        ({"feeds": "both", "under_cable": True}, True, True),
        ({"feeds": "both", "under_cable": False}, True, False),
        ({"feeds": "start", "under_cable": False}, False, False),
        ({"feeds": "end", "under_cable": True}, True, True),
        ({"style": "drive_over", "under_cable": False}, True, True),
        ({"kind": "switch"}, True, False),
    ],
)
def test_what_passes_a_gate_or_switch(changes: dict[str, object], shut: bool, opened: bool) -> None:
    assert carries(one(**changes)) is shut
    assert carries(one(**changes, is_open=True)) is opened


@pytest.mark.parametrize("kind", [key for key in fixture_kinds() if key not in ("gate", "switch")])
def test_what_cannot_be_opened_carries(kind: str) -> None:
    assert carries(one(kind))


@pytest.mark.parametrize(
    ("feeds", "opens_at", "cable", "live"),
    [
        ("start", "start", True, False),
        ("end", "end", True, False),
        ("start", "end", True, True),
        ("both", "end", True, True),
        ("both", "end", False, True),
        ("both", "start", False, False),
    ],
)
def test_an_open_gate_is_dead_when_fed_at_its_hook(feeds: str, opens_at: str, cable: bool, live: bool) -> None:
    plan = farm(fixture("gate", feeds=feeds, opens_at=opens_at, under_cable=cable))
    assert open_gate_is_live(plan, plan.fixtures[0]) is live


def test_a_gate_without_cable_parts_the_line_but_is_no_switch() -> None:
    plan = farm(fixture("gate", 300, under_cable=False), fixture("gate", 100, "r1", under_cable=False))
    found = seen(plan)
    assert found.fed_side("gate300r0") == "start"
    assert len(found.zones) == 1
    assert {h.run for h in found.hanging} == {"r0", "r1", "r2"}
    opened = seen(farm(fixture("gate", 300, under_cable=False, is_open=True)))
    assert opened.fed_side("gate300r0") == "start"
    assert [round(s.length_m) for s in opened.dead] == [100]


def test_opening_takes_the_volts_away_beyond_and_only_there() -> None:
    before = volts(farm(fixture("switch", 155, is_open=False)), USUAL)
    after = volts(farm(fixture("switch", 155, is_open=True)), USUAL)
    near, far = (
        [float(kv) for at, kv in zip(v.traces[0].at_m, v.traces[0].live_kv, strict=True) if at in (100, 400)]
        for v in (before, after)
    )
    assert min(near) > 3
    assert far[-1] == pytest.approx(0, abs=1e-6)
    fed = after.traces[0].fed
    assert fed[0]
    assert not fed[-1]
    # What is off is not the worst place: it is off because somebody wants it so.
    assert after.worst[1] > 3


def test_shut_fixtures_change_nothing_but_cable_adds_its_capacitance() -> None:
    plain = volts(farm(), USUAL).worst[1]
    shut = volts(farm(fixture("switch"), fixture("test", 50), fixture("sign", 60)), USUAL).worst[1]
    assert shut == pytest.approx(plain, rel=1e-6)
    under = circuit(farm(fixture("crossing", width_m=8)), USUAL).network.shunts
    assert [s.farad for s in under if s.id.startswith("cable")] == pytest.approx([11 * 150e-12])
    assert cable_m(one(kind="crossing", over=True)) == 0
    assert cable_m(one(under_cable=True, width_m=4)) == 7


def test_rods_along_the_line_join_the_earth_strand_and_help() -> None:
    strands = [{"cm": 50, "role": "live"}, {"cm": 80, "role": "earth"}, {"cm": 110, "role": "live"}]
    bare = farm(strands=strands, soil="dry_sand", grass="heavy")
    rodded = farm(fixture("rods", 380, rods=4), strands=strands, soil="dry_sand", grass="heavy")
    assert any(s.start is Terminal.EARTH for s in circuit(rodded, USUAL).network.shunts if s.id.startswith("rods:"))
    assert not [s for s in circuit(farm(fixture("rods", 380)), USUAL).network.shunts if s.id.startswith("rods:")]
    rise = [float(volts(p, USUAL).traces[0].earth_kv[-1]) for p in (bare, rodded)]
    assert rise[1] < rise[0]


def test_soil_areas_change_the_line_inside_them() -> None:
    area = {"id": "s", "kind": "soil", "soil": "dry_sand", "points": [[100, -50], [250, -50], [250, 50], [100, 50]]}
    plan = farm(landmarks=[area])
    assert soil_borders_m(plan, plan.runs[0]) == pytest.approx([100, 250])
    assert soil_of(plan, Place("r0", 120)) == "dry_sand"
    assert soil_of(plan, Place("r0", 300)) is None
    found = wiring(plan)
    assert found is not None
    assert {p.soil for p in found.pieces if p.run == "r0" and p.to_m <= 250 and p.from_m >= 100} == {"dry_sand"}
    own = plan.model_copy(update={"runs": tuple(r.model_copy(update={"soil": "wet_clay"}) for r in plan.runs)})
    assert soil_of(own, Place("r0", 120)) == "wet_clay"


def test_a_switch_kills_what_hangs_beyond_it() -> None:
    found = seen(farm(fixture("switch", 4, "r1"), fixture("switch", 300, "r0")))
    assert found.kills_m("switch4r1") == pytest.approx(196 + 90)
    assert found.killed("switch4r1") == (Stretch("r1", 4, 200), Stretch("r2", 0, 90))
    assert found.kills_m("switch300r0") == pytest.approx(100)
    assert [round(z.length_m) for z in found.zones] == [304, 286, 100]
    assert found.zones[1].switches == ("switch4r1",)


def test_in_a_ring_no_one_switch_kills_and_two_part_it() -> None:
    ring = [{"id": "r0", "name": "Ring", "points": [[0, 0], [100, 0], [100, 100], [0, 100], [0, 0]]}]
    shut = [fixture("switch", 100), fixture("switch", 300)]
    plan = simple_plan(runs=ring, fixtures=shut)
    assert [seen(plan).kills_m(f.id) for f in plan.fixtures] == [0, 0]
    assert seen(plan).killed("switch100r0") == ()
    assert list(seen(plan).breaks()) == []
    opened = simple_plan(runs=ring, fixtures=[s | {"is_open": True} for s in shut])
    assert [round(s.length_m) for s in seen(opened).dead] == [200]
    assert seen(opened).live_m == pytest.approx(200)


def test_topology_says_how_each_line_is_fed() -> None:
    found = {h.run: h for h in seen(farm(fixture("switch", 4, "r1"))).hanging}
    assert found["r0"].on is None
    assert found["r1"].on == Place("r0", pytest.approx(150))
    assert found["r2"].on == Place("r1", pytest.approx(120))
    assert found["r2"].beyond_m == pytest.approx(90)
    worst = next(seen(farm()).breaks())
    assert worst.place == Place("r0", pytest.approx(0))
    assert worst.kills_m == pytest.approx(690)


@given(st.lists(st.tuples(st.sampled_from(["r0", "r1", "r2"]), st.integers(5, 85), st.booleans()), max_size=6))
def test_bridges_and_search_agree_on_what_dies(rows: list[tuple[str, int, bool]]) -> None:
    switches = [
        fixture("switch", at, run, is_open=opened) | {"id": f"s{i}"} for i, (run, at, opened) in enumerate(rows)
    ]
    plan = farm(*switches)
    found = seen(plan)
    whole = sum(p.length_m for p in found.wiring.pieces)
    assert found.live_m + sum(s.length_m for s in found.dead) == pytest.approx(whole)
    assert sum(z.length_m for z in found.zones) == pytest.approx(whole)
    for switch in plan.fixtures:
        assert found.kills_m(switch.id) == pytest.approx(sum(s.length_m for s in found.killed(switch.id)))
