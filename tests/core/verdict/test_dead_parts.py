"""What the pulse does not reach is told at Volts: cut, switched off, or fed by nothing."""

import pytest

from adze.core.basics.status import Status
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.findings import Cause, Finding, Verdict
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan

COWS = [{"id": "c", "kind": "cow", "count": 10, "schooled": True}]


def cut(at_m: float, key: str = "w") -> dict[str, object]:
    return {"id": key, "kind": "cut", "run": "line1", "at_m": at_m}


def volts(plan: Plan) -> Verdict:
    return judge(plan).verdicts[Stage.VOLTS]


def dead(plan: Plan) -> Finding:
    return next(f for f in volts(plan).findings if f.title.startswith("Carries nothing"))


def test_a_line_cut_half_way_fails_and_names_the_cut() -> None:
    plan = simple_plan(stock=COWS, what_ifs=[cut(800)])
    verdict = volts(plan)
    finding = next(f for f in verdict.findings if f.title.startswith("Carries nothing"))
    assert verdict.status is finding.status is Status.FAILS
    assert verdict.worst is finding
    assert finding.cause is Cause.MISHAP
    assert "cut at First line, 800 m along" in finding.reason
    assert "do not stop the dairy cows" in finding.reason
    assert finding.figure == "0 kV"
    assert "nothing on" in verdict.line


def test_a_cut_on_a_cut_and_one_at_the_far_end() -> None:
    twice = simple_plan(stock=COWS, what_ifs=[cut(800), cut(800, "w2"), cut(1200, "w3")])
    assert dead(twice).place == dead(simple_plan(stock=COWS, what_ifs=[cut(800)])).place
    at_the_end = volts(simple_plan(stock=COWS, what_ifs=[cut(1600)]))
    assert not [f for f in at_the_end.findings if f.title.startswith("Carries nothing")]


@pytest.mark.parametrize("is_open", [True, False])
def test_a_part_that_is_switched_off_is_said_to_be_off(is_open: bool) -> None:
    switch = {"id": "s", "kind": "switch", "run": "line1", "at_m": 600, "name": "Half way", "is_open": is_open}
    plan = simple_plan(stock=COWS, fixtures=[switch])
    titles = [f.title for f in volts(plan).findings]
    assert any("Carries nothing" in title for title in titles) is is_open
    if is_open:
        assert dead(plan).status is Status.MARGINAL
        assert dead(plan).reason.startswith("Half way is open. ")
        # A cut beyond the switch does not hide behind it.
        both = simple_plan(stock=COWS, fixtures=[switch], what_ifs=[cut(300)])
        assert dead(both).status is Status.FAILS


def test_a_line_that_nothing_feeds_fails() -> None:
    apart = {"id": "line2", "name": "Far away", "points": [[0, 900], [300, 900]]}
    runs = [*(r.model_dump() for r in simple_plan().runs), apart]
    finding = dead(simple_plan(stock=COWS, runs=runs))
    assert finding.status is Status.FAILS
    assert finding.mend == "Join it at Ground."
