"""Every beginning is a whole plan that holds on its own ground."""

import pytest
from shapely import LineString, Point

from adze.core.advice.beginnings import beginnings, begun
from adze.core.animals.strand_rules import Role
from adze.core.basics.status import Status
from adze.core.build.construction import fence_of
from adze.core.plan.document import Plan
from adze.core.tables.construction import nettings
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
