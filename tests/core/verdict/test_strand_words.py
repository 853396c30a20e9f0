"""What Strands says: tolerances, real strands, rows that are asked, barbs, sight."""

import pytest

from adze.core.basics.status import Status
from adze.core.tables.construction import conductors
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_fence import judge_strands
from tests.conftest import simple_plan

COWS = [{"id": "c", "kind": "cow", "schooled": True}]


def found(**changes: object) -> dict[str, Finding]:
    return {f.title: f for f in judge_strands(simple_plan(**changes)).findings}


def test_findings_speak_of_strands_that_stand() -> None:
    one = found(stock=[{"id": "d", "kind": "deer"}], strands=[{"cm": 20 * i} for i in range(1, 6)])
    assert "Above the top strand at 100 cm" in one["Red deer: head through a gap"].reason
    low = found(stock=[{"id": "e", "kind": "ewe"}], strands=[{"cm": 40}, {"cm": 52}, {"cm": 66}, {"cm": 85}])
    assert "under the strand at 40 cm" in low["Ewe: head through a gap"].reason


def test_rows_that_are_asked_are_a_rule_of_one_s_own() -> None:
    assert "Fewer strands than your rule asks" not in found(stock=COWS)
    assert found(stock=COWS, least_rows=2)["Fewer strands than your rule asks"].status is Status.FAILS
    assert found(stock=COWS, least_rows=1)["Fewer strands than your rule asks"].status is Status.HOLDS


def test_barbs_cut_stock() -> None:
    rows = [{"cm": 90}, {"cm": 120, "role": "dead", "conductor": "steel_barbed"}]
    assert found(stock=COWS, strands=rows)["Barbed strand with stock"].status is Status.MARGINAL
    horse = [{"id": "h", "kind": "horse", "schooled": True}]
    assert found(stock=horse, strands=rows)["Barbed strand with stock"].status is Status.FAILS
    assert "Barbed strand with stock" not in found(stock=[{"id": "f", "kind": "fox"}], strands=rows)


def test_new_cattle_want_to_see_a_strand() -> None:
    new = [{"id": "c", "kind": "cow"}]
    assert "Can cattle see it?" in found(stock=new)
    assert "Can cattle see it?" not in found(stock=COWS)
    assert "Can cattle see it?" not in found(stock=new, conductor="rope_steel")


@pytest.mark.parametrize(
    ("key", "gauge"), [("steel_25", "12½"), ("steel_20", "14"), ("steel_16", "16"), ("tape_40", "")]
)
def test_gauges_are_those_of_steel_wire(key: str, gauge: str) -> None:
    assert conductors()[key].gauge == gauge


def test_no_conductor_is_strained_to_half_of_what_parts_it() -> None:
    assert all(c.tension_kn <= 0.5 * c.breaking_kn for c in conductors().values())
