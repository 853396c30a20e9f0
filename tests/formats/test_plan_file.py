"""Plan files, the parts list as CSV, the sketch: there and back, and what is refused."""

import csv
import io
import json

import pytest

from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.formats.errors import FormatError
from adze.formats.parts_csv import parts_csv
from adze.formats.plan_file import PlanFault, dump_plan, read_plan
from adze.formats.sketch import sketch
from tests.conftest import simple_plan


def test_plan_there_and_back(hallow: Plan) -> None:
    assert read_plan(json.dumps(dump_plan(hallow))) == hallow


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "is not JSON"),
        ("[]", '"format" must be'),
        ('{"format": "adze-plan", "version": 7, "name": "x"}', "made by a later Adze"),
        ('{"format": "adze-plan", "version": 1}', "name: is missing"),
        ('{"format": "adze-plan", "version": 1, "name": "x", "rods": {"count": NaN}}', "rods.count"),
    ],
)
def test_a_plan_file_that_cannot_be_read_says_why(text: str, says: str) -> None:
    with pytest.raises(FormatError) as caught:
        read_plan(text)
    assert says in str(caught.value)


def test_every_fault_comes_with_its_path() -> None:
    with pytest.raises(PlanFault) as caught:
        read_plan('{"format": "adze-plan", "name": "x", "rods": {"count": 99}, "post_spacing_m": "far"}')
    assert [path for path, _ in caught.value.faults] == ["post_spacing_m", "rods.count"]


def test_the_csv_adds_up(hallow: Plan) -> None:
    rows = list(csv.DictReader(io.StringIO(parts_csv(bill(hallow)))))
    assert rows[-1]["group"] == "Total"
    assert float(rows[-1]["cost"]) == pytest.approx(sum(float(r["cost"]) for r in rows[:-1]), abs=0.02)


def test_a_sketch_stays_inside_its_picture(hallow: Plan) -> None:
    numbers = [float(x) for path in sketch(hallow).paths for x in path.replace("M", " ").replace("L", " ").split()]
    assert min(numbers) >= 0
    assert max(numbers) <= 220
    assert sketch(simple_plan(runs=[])).paths == ()
