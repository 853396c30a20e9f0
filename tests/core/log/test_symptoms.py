"""What is seen at a fence and what it points to on the plan: its own figures, names and distances."""

import pytest

from adze.core.log.symptoms import Symptom, symptoms
from adze.core.plan.document import Plan
from adze.core.verdict.judge import judge
from adze.demo.farms import DEMO_FARMS
from tests.conftest import simple_plan

SHEEP = [{"id": "e", "kind": "ewe", "count": 20}]


def told(plan: Plan) -> dict[str, Symptom]:
    return {row.key: row for row in symptoms(plan, judge(plan))}


@pytest.mark.parametrize("farm", DEMO_FARMS, ids=lambda farm: farm.name)
def test_every_symptom_points_somewhere_on_every_demo_farm(farm: object) -> None:
    found = told(farm.plan)  # type: ignore[attr-defined]
    assert list(found) == ["respect", "water", "radio", "clicks", "end", "rain", "dead"]
    assert all(row.points_to for row in found.values())


def test_no_respect_names_what_is_felt_the_way_back_and_who_is_not_schooled() -> None:
    plan = simple_plan(stock=SHEEP, energizer="mains_6", strands=[{"cm": 30}, {"cm": 60}, {"cm": 90}])
    lines = told(plan)["respect"].points_to
    assert "ewe feels" in lines[0]
    assert any("No strand is earth" in line for line in lines)
    assert any("Not trained on this plan" in line for line in lines)
    schooled = simple_plan(
        stock=[SHEEP[0] | {"schooled": True}], strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}]
    )
    again = " ".join(told(schooled)["respect"].points_to)
    assert "No strand is earth" not in again
    assert "Not schooled" not in again


def test_a_trough_by_the_rods_is_told_with_its_distance() -> None:
    near = {"id": "t", "kind": "trough", "name": "Ford trough", "points": [[6.0, 8.0]]}
    plan = simple_plan(landmarks=[near], rods={"count": 3, "position": [0.0, 0.0]})
    assert told(plan)["water"].points_to[0].startswith("Ford trough stands 10 m from the rods")
    far = simple_plan(landmarks=[near | {"points": [[600.0, 8.0]]}], rods={"count": 3, "position": [0.0, 0.0]})
    assert not any("stands" in line and "from the rods" in line for line in told(far)["water"].points_to)


def test_a_line_beside_a_cable_is_where_the_tick_is_picked_up() -> None:
    cable = {"id": "c", "kind": "buried", "name": "Telephone", "points": [[0.0, 12.0], [400.0, 12.0]]}
    assert any("beside Telephone" in line for line in told(simple_plan(landmarks=[cable]))["radio"].points_to)
    assert not any("beside" in line for line in told(simple_plan())["radio"].points_to[1:2])
