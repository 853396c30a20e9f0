"""What to look for at a place: by what the plan has there, and how a cause is mended by the plan's school."""

import pytest

from adze.core.ground.places import Place
from adze.core.log.look_for import look_for, mend_words
from adze.core.tables.causes import causes
from adze.demo.farms import DEMO_FARMS
from tests.conftest import simple_plan

GATE = {"id": "g", "kind": "gate", "run": "line1", "at_m": 300.0, "name": "Ford gate", "under_cable": True}
DRIVEN_OVER = GATE | {"style": "drive_over"}
CROSSING = {"id": "x", "kind": "crossing", "run": "line1", "at_m": 300.0, "name": "Lane"}
DIVERTER = {"id": "d", "kind": "diverter", "run": "line1", "at_m": 300.0, "name": "Diverter"}
TREE = {"id": "t", "kind": "tree", "name": "Old oak", "points": [[300.0, 10.0]]}


@pytest.mark.parametrize(
    ("there", "keys"),
    [
        ({"fixtures": [GATE]}, {"gate", "cable", "tail"}),
        ({"fixtures": [GATE | {"under_cable": False}]}, {"gate", "tail"}),
        ({"fixtures": [DRIVEN_OVER]}, {"cable", "tail"}),
        ({"fixtures": [CROSSING]}, {"cable"}),
        ({"fixtures": [CROSSING | {"over": True}]}, set()),
        ({"fixtures": [DIVERTER]}, {"diverter"}),
        ({"landmarks": [TREE]}, {"branch"}),
    ],
)
def test_what_stands_there_brings_its_own_causes_and_only_near_by(there: dict[str, object], keys: set[str]) -> None:
    plan = simple_plan(post="fibreglass", end_post="composite", grass="none", **there)
    asked = {"gate", "cable", "tail", "diverter", "branch"}
    assert asked & set(look_for(plan, Place("line1", 310.0))) == keys
    assert asked & set(look_for(plan, Place("line1", 150.0))) == set()


def test_ends_are_looked_at_for_their_insulators_where_the_post_takes_up_water() -> None:
    at_the_start = Place("line1", 5.0)
    assert "wet_post" in look_for(simple_plan(end_post="timber"), at_the_start)
    assert "wet_post" not in look_for(simple_plan(end_post="composite"), at_the_start)
    assert "wet_post" not in look_for(simple_plan(end_post="timber"), Place("line1", 200.0))


def test_posts_earth_strands_netting_and_growth_count() -> None:
    middle = Place("line1", 200.0)
    strands = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}]
    tall = look_for(simple_plan(post="steel_t", grass="heavy", strands=strands), middle)
    assert {"insulator", "tangle", "grass"} <= set(tall)
    plain = look_for(simple_plan(post="fibreglass", grass="none", strands=[{"cm": 90}]), middle)
    assert plain == ("cut",)


@pytest.mark.parametrize("farm", DEMO_FARMS, ids=lambda farm: farm.name)
def test_all_places_of_the_demo_farms_have_causes_that_are_known(farm: object) -> None:
    plan = farm.plan  # type: ignore[attr-defined]
    for run in plan.runs:
        for at_m in (0.0, 40.0, 150.0):
            found = look_for(plan, Place(run.id, at_m))
            assert found
            assert set(found) <= set(causes())
            assert len(set(found)) == len(found)


def test_power_is_off_first_unless_the_school_is_to_mend_live_what_may_be() -> None:
    branch, insulator = causes()["branch"], causes()["insulator"]
    off, live = simple_plan(), simple_plan(work={"repairs": "live"})
    assert mend_words(off, branch).startswith("Switch off first")
    assert mend_words(live, branch).startswith("Your rule allows live work")
    assert mend_words(live, insulator).startswith("Switch off first")
    assert mend_words(off, insulator).endswith("Take along: insulators of each kind.")
