"""Parts of the document with values replaced: known names, checked values."""

import pytest
from pydantic import ValidationError

from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan


def test_a_name_that_a_part_does_not_have_is_refused(line_plan: Plan) -> None:
    with pytest.raises(TypeError, match="Rods has no 'counts'; it has count, length_m"):
        replaced(line_plan.rods, counts=3)


def test_a_value_that_its_field_refuses_is_refused(line_plan: Plan) -> None:
    with pytest.raises(ValidationError):
        replaced(line_plan.rods, count=-1)
    assert replaced(line_plan.rods, length_m="5 ft").length_m == pytest.approx(1.524)


def test_rows_left_alone_stay_the_objects_they_were(line_plan: Plan) -> None:
    assert changed(line_plan, {"grass": "heavy"}).runs[0] is line_plan.runs[0]
    assert replaced(line_plan, runs=line_plan.runs).runs[0] is line_plan.runs[0]
