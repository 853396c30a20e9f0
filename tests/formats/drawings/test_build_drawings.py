"""Drawings: every measure that is drawn stands in the step's own words."""

import xml.etree.ElementTree as ET

import pytest

from adze.core.advice.beginnings import begun
from adze.core.plan.document import Plan
from adze.core.tasks.job import job_of
from adze.formats.drawings.build_drawings import drawing_of
from tests.conftest import simple_plan
from tests.core.build.test_parts import gate

ROAD = {"id": "x", "kind": "crossing", "run": "line1", "at_m": 50, "name": "Road", "width_m": 6}


def plans() -> list[Plan]:
    gates = [gate(200 + 20 * n, style, id=f"g{n}", run="line1") for n, style in enumerate(("handle", "rope", "spring"))]
    kinds = ("braced", "block", "concreted", "prop", "stiff")
    rows = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 110}]
    drawn = [simple_plan(end_kind=kind, strands=rows, fixtures=[*gates, ROAD]) for kind in kinds]
    return [
        *drawn,
        simple_plan(units="imperial", fixtures=gates),
        begun(Plan(name="N"), "netting"),
        begun(Plan(name="N"), "nest"),
    ]


@pytest.mark.parametrize("number", range(8))
def test_measures_drawn_are_measures_told(number: int) -> None:
    plan = plans()[number]
    seen = set()
    for step in job_of(plan).steps:
        made = drawing_of(plan, step.drawing, step.run) if step.drawing else None
        if made is None:
            continue
        seen.add(made.key.split(":")[0])
        ET.fromstring(made.svg)
        words = " ".join((*step.how, step.amount))
        for measure in made.measures:
            if made.key != "jumper" or step.phase == "joints":
                assert measure in words, (step.key, made.key, measure)
    assert {"tie", "rods"} <= seen or plan.netting or "nest" in seen


def test_a_fixture_that_is_gone_has_no_drawing() -> None:
    assert drawing_of(simple_plan(), "gate:gone", "line1") is None
    assert drawing_of(simple_plan(), "net", "line1") is None
