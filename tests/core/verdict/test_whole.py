"""One sentence for the whole fence, and findings that no other page tells: rock, plates, water, what is carried."""

import pytest

from adze.core.basics.status import Status
from adze.core.plan.stages import Stage
from adze.core.tasks.job import job_of
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge import Judgement, judge
from tests.conftest import simple_plan

COWS = [{"id": "c", "kind": "cow", "count": 10, "schooled": True}]
PLATE = {"key": "own1", "label": "Barn", "supply": "mains", "stored_j": 50.0, "released_j": 36.0, "kv_500": 8.0}

DIVERTER = {"id": "d", "kind": "diverter", "run": "line1", "at_m": 5, "name": "Diverter"}


def found(judged: Judgement, stage: Stage, title: str) -> Finding | None:
    return next((f for f in judged.verdicts[stage].findings if f.title.startswith(title)), None)


def test_the_sentence_counts_what_fails_once() -> None:
    cut = {"id": "w", "kind": "cut", "run": "line1", "at_m": 800}
    judged = judge(simple_plan(stock=COWS, what_ifs=[cut]))
    assert judged.sentence == "One thing to fix before you buy."
    assert found(judged, Stage.POWER, "Enough for this fence")
    assert len(judged.to_fix) == 1
    assert judged.keeps_out.startswith(judged.sentence)


def test_stock_goes_in_only_where_nothing_fails() -> None:
    plan = simple_plan(stock=COWS, strands=[{"cm": 90}], duty="inner")
    judged = judge(plan)
    assert not judged.keeps_out
    assert job_of(plan, to_fix=judged.keeps_out).steps[-1].title == "Stock may go in"
    low = simple_plan(stock=COWS, strands=[{"cm": 40}])
    last = job_of(low, to_fix=judge(low).keeps_out).steps[-1]
    assert last.title == "Animals stay out"
    assert "to fix" in last.how[0]


def test_the_diverters_gap_is_set_with_the_power_off() -> None:
    gap = next(
        step for step in job_of(simple_plan(energizer="mains_6", fixtures=[DIVERTER])).steps if step.key == "gap"
    )
    assert "power off" in gap.how[0]
    assert "mm" in gap.how[0]


@pytest.mark.parametrize(
    ("rods", "fails"),
    [
        ({"length_m": 2.0}, True),
        ({"length_m": 1.2}, False),
        ({"length_m": 2.0, "slant_deg": 60}, False),
        ({"length_m": 2.0, "slant_deg": 45}, True),
    ],
)
def test_rods_go_no_deeper_than_the_rock(rods: dict[str, float], fails: bool) -> None:
    plan = simple_plan(stock=COWS, subsoil={"soil": "gravel", "depth_m": 1.2}, rods={"count": 3} | rods)
    assert bool(found(judge(plan), Stage.EARTH, "Rods longer than the soil is deep")) is fails


@pytest.mark.parametrize(
    ("more", "fails"), [({"open_kv": 10.0}, False), ({"open_kv": 10.1}, True), ({"open_kv": 9.5, "j_500": 5.5}, True)]
)
def test_a_plate_beyond_the_limits_is_said(more: dict[str, float], fails: bool) -> None:
    plan = simple_plan(stock=COWS, own_energizers=[PLATE | more], energizer="own1")
    assert bool(found(judge(plan), Stage.POWER, "Beyond the usual limits")) is fails


def test_a_battery_unit_without_a_diverter_is_carried_in_before_thunder() -> None:
    power = judge(simple_plan(stock=COWS, energizer="battery_1", fixtures=[])).verdicts[Stage.POWER]
    assert not [f for f in power.findings if f.title == "Lightning diverter"]
    assert any("thunder" in caution for caution in power.cautions)
    mains = judge(simple_plan(stock=COWS, energizer="mains_1", fixtures=[])).verdicts[Stage.POWER]
    assert [f.status for f in mains.findings if f.title == "Lightning diverter"] == [Status.MARGINAL]


def test_water_that_animals_would_refuse_is_a_finding_with_its_distance() -> None:
    rods = {"count": 3, "position": (0.0, 30.0)}
    trough = {"id": "t", "kind": "trough", "name": "Trough", "points": [[0.0, 42.0]]}
    near = judge(simple_plan(stock=COWS, energizer="mains_6", rods=rods, landmarks=[trough]))
    finding = found(near, Stage.EARTH, "Stray volts at Trough")
    assert finding
    assert finding.status is Status.MARGINAL
    assert "plastic pipe" in finding.mend
    far = trough | {"points": [[0.0, 2000.0]]}
    assert not found(
        judge(simple_plan(stock=COWS, energizer="mains_6", rods=rods, landmarks=[far])), Stage.EARTH, "Stray volts"
    )
