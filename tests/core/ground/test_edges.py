"""Each limit of this room, just inside and just outside of it."""

import math

import pytest

from adze.core.ground.relief import bumps
from adze.core.ground.routes import marks_along, routes
from adze.core.ground.survey import crossings, joins
from adze.core.ground.wiring import wiring
from adze.core.ground.zones import zones
from tests.conftest import simple_plan

STEM = {"id": "r0", "name": "Stem", "points": [[0, 0], [400, 0]]}


def branch(*points: list[float]) -> dict[str, object]:
    return {"id": "r1", "name": "Branch", "points": list(points)}


@pytest.mark.parametrize(("away_m", "count"), [(0.45, 1), (0.55, 0)])
def test_an_end_is_joined_to_a_line_that_it_nearly_touches(away_m: float, count: int) -> None:
    assert len(joins(simple_plan(runs=[STEM, branch([200, away_m], [200, 90])]))) == count


@pytest.mark.parametrize(("moved_m", "said"), [(24, True), (26, False)])
def test_a_meeting_stays_said_while_its_lines_move_a_little(moved_m: float, said: bool) -> None:
    meeting = {"id": "m", "first": "r0", "second": "r1", "at": [200, 0], "joined": True}
    plan = simple_plan(runs=[STEM, branch([200 + moved_m, -50], [200 + moved_m, 50])], meetings=[meeting])
    (crossing,) = crossings(plan)
    assert crossing.said == said


@pytest.mark.parametrize(("degrees", "corner"), [(19, False), (21, True)])
def test_a_bend_is_a_corner_from_20_degrees(degrees: float, corner: bool) -> None:
    turn = math.radians(degrees)
    plan = simple_plan(runs=[STEM | {"points": [[0, 0], [100, 0], [100 + 100 * math.cos(turn), 100 * math.sin(turn)]]}])
    (route,) = routes(plan)
    assert any("Corner" in str(mark) for mark in marks_along(plan, route)) == corner


@pytest.mark.parametrize(("off_m", "count"), [(0.19, 0), (0.21, 1)])
def test_a_dip_lifts_a_post(off_m: float, count: int) -> None:
    profile = [[0, 5], [190, 5], [200, 5 - off_m], [210, 5], [400, 5]]
    plan = simple_plan(runs=[STEM | {"profile": profile}], post_spacing_m=5)
    assert len(bumps(plan, plan.runs[0])) == count


def test_a_zone_of_one_km_takes_20_minutes() -> None:
    found = zones(simple_plan(runs=[STEM | {"points": [[0, 0], [1000, 0]]}]))
    assert found is not None
    assert found.zones[0].minutes == pytest.approx(20)


@pytest.mark.parametrize(("apart_m", "count"), [(0.045, 2), (0.055, 3)])
def test_cuts_on_one_spot_are_one(apart_m: float, count: int) -> None:
    """Two switches part a line in three, but where they share a spot."""
    switches = [
        {"id": f"s{i}", "kind": "switch", "run": "r0", "at_m": 200 + i * apart_m, "name": f"Switch {i}"} for i in (0, 1)
    ]
    found = wiring(simple_plan(runs=[STEM], fixtures=switches), divided=True)
    assert found is not None
    assert len([p for p in found.pieces if p.length_m > 0]) == count
