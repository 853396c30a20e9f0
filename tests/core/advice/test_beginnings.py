"""Every beginning is a whole plan that holds on its own ground."""

import pytest
from shapely import LineString, Point

from adze.core.advice.beginnings import beginnings, begun, beside_kit
from adze.core.animals.strand_rules import Role
from adze.core.basics.status import Status
from adze.core.build.construction import fence_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.tables.construction import nettings
from adze.core.tables.prices import prices
from adze.core.verdict.judge import judge

BLANK = Plan.model_validate({"format": "adze-plan", "version": 3, "name": "New line", "units": "imperial"})


@pytest.mark.parametrize("key", beginnings())
def test_a_beginning_holds_on_its_own_ground(key: str) -> None:
    verdicts = judge(begun(BLANK, key)).verdicts
    assert {stage.value: v.status.value for stage, v in verdicts.items() if v.status is not Status.HOLDS} == {}


def test_a_beginning_leaves_the_name_and_the_units() -> None:
    made = begun(BLANK, "horses")
    assert (made.name, made.units) == (BLANK.name, BLANK.units)
    assert made.runs


def test_words_of_a_beginning_are_what_it_builds() -> None:
    hives = fence_of(begun(BLANK, "hives"))
    assert [s.role for s in hives] == [Role.LIVE] * 5
    plan = begun(BLANK, "hives")
    line = LineString(plan.runs[0].points)
    assert min(line.distance(Point(mark.points[0])) for mark in plan.landmarks) == pytest.approx(3)
    nest = begun(BLANK, "nest").runs[0].points
    assert max(east for east, _ in nest) - min(east for east, _ in nest) == 10
    netting = LineString(begun(BLANK, "netting").runs[0].points)
    assert netting.length == 4 * nettings()["sheep_90"].roll_m


def test_a_kit_beside_itself_differs_in_nothing() -> None:
    rows = beside_kit(begun(BLANK, "hives"), "hives")
    assert {row.differs for row in rows} == {"in both"}
    assert all(row.kit_per_100_m == pytest.approx(row.here_per_100_m) for row in rows)


def test_what_a_fence_leaves_out_of_a_kit_and_adds() -> None:
    hives = begun(BLANK, "hives")
    barer = changed(hives, {"fixtures": [f.model_dump() for f in hives.fixtures if f.kind != "gate"]})
    gate_set = prices()["gate_set"].label
    assert gate_set in {row.label for row in beside_kit(barer, "hives") if row.differs == "left out"}
    assert gate_set in {row.label for row in beside_kit(hives, "nest") if row.differs == "added"}
    assert [row.differs for row in beside_kit(hives, "cattle")] == sorted(
        (row.differs for row in beside_kit(hives, "cattle")), key=("left out", "added", "in both").index
    )


def test_energizers_are_one_part_whatever_their_size() -> None:
    rows = [row for row in beside_kit(begun(BLANK, "cattle"), "hives") if row.label == "Energizer"]
    assert [(row.kit, row.here) for row in rows] == [(1, 1)]
