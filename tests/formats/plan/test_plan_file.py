"""Plan files, the parts list as CSV, the sketch: there and back, and what is refused."""

import csv
import io
import json
from pathlib import Path

import pytest

from adze.core.build.parts import bill
from adze.core.plan.document import PLAN_VERSION, Plan
from adze.core.tables.ground import fixture_kinds
from adze.formats.errors import FormatError
from adze.formats.parts.parts_list import parts_csv
from adze.formats.plan.plan_file import PlanFault, dump_plan, read_plan
from adze.formats.plan.sketch import sketch
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


def _said(old: object, new: object) -> bool:
    """Whether all that an old document says is still said; newer fields stand at their usual values beside it."""
    if isinstance(old, dict) and isinstance(new, dict):
        return all(key in new and _said(value, new[key]) for key, value in old.items())
    if isinstance(old, list) and isinstance(new, list):
        return len(old) == len(new) and all(_said(a, b) for a, b in zip(old, new, strict=True))
    return old == new


def test_a_file_of_version_1_is_brought_to_the_present_one() -> None:
    """It was written by the program of version 1, with a fixture of every kind."""
    old = json.loads((Path(__file__).parents[1] / "data" / "plan_version_1.json").read_text(encoding="utf-8"))
    plan = read_plan(json.dumps(old))
    assert plan.version == PLAN_VERSION > old["version"]
    assert {f.kind for f in plan.fixtures} == {row["kind"] for row in old["fixtures"]} <= set(fixture_kinds())
    now = dump_plan(plan)
    for before, after in zip(old["fixtures"], now["fixtures"], strict=True):
        assert {key: before.get(key, value) for key, value in after.items()} == after
    assert _said(old | {"version": PLAN_VERSION, "fixtures": now["fixtures"]}, now)
    assert read_plan(json.dumps(now)) == plan


def test_own_energizers_of_version_2_that_no_circuit_has_are_brought_within() -> None:
    own = {"key": "o", "label": "O", "stored_j": 3.0, "released_j": 2.99, "open_kv": 9.0, "kv_500": 8.95}
    plan = read_plan(json.dumps({"format": "adze-plan", "version": 2, "name": "x", "own_energizers": [own]}))
    assert plan.own_energizers[0].stored_j == pytest.approx(2.99 / 0.96)
    assert plan.own_energizers[0].kv_500 == pytest.approx(0.985 * 9, rel=2e-3)


@pytest.mark.parametrize("version", [1, 2, 3])
def test_a_fixture_that_is_none_is_said_by_its_path(version: int) -> None:
    row = {"id": "k", "kind": "switch", "run": "r", "at_m": -3, "name": "K", "colour": "red"}
    with pytest.raises(PlanFault) as caught:
        read_plan(json.dumps({"format": "adze-plan", "version": version, "name": "x", "fixtures": [row, 7]}))
    assert {path for path, _ in caught.value.faults} >= {"fixtures.0.at_m", "fixtures.0.colour", "fixtures.1"}


def test_a_fixture_holds_the_values_of_its_own_kind_only() -> None:
    row = {"id": "k", "kind": "switch", "run": "line1", "at_m": 3, "name": "K", "width_m": 4}
    with pytest.raises(PlanFault, match=r"fixtures.0.width_m: is not known here"):
        read_plan(json.dumps(dump_plan(simple_plan()) | {"fixtures": [row]}))
    with pytest.raises(PlanFault, match=r"fixtures.0.kind: there is no fixture 'tea'"):
        read_plan(json.dumps(dump_plan(simple_plan()) | {"fixtures": [row | {"kind": "tea"}]}))


def test_every_fault_comes_with_its_path() -> None:
    with pytest.raises(PlanFault) as caught:
        read_plan('{"format": "adze-plan", "name": "x", "rods": {"count": 999}, "post_spacing_m": "far"}')
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
