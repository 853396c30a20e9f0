"""Joints and leads follow what was chosen: switches, earth strands, ways to join, diverters, bores."""

import pytest

from adze.core.build.joints import joints_of
from adze.core.build.parts import bill
from adze.core.plan.document import Plan
from adze.core.tasks.job import job_of
from tests.conftest import simple_plan

FIVE = [{"cm": cm} for cm in (20, 40, 60, 80, 100)]
TURN = [{"cm": 25, "role": "earth"}, {"cm": 50}, {"cm": 75, "role": "earth"}, {"cm": 100}]
SWITCH = {"id": "s", "kind": "switch", "run": "line1", "at_m": 300, "name": "Lower two", "strands": [1, 2]}
DIVERTER = {"id": "d", "kind": "diverter", "run": "line1", "at_m": 5, "name": "Diverter"}


def parts(plan: Plan) -> dict[str, float]:
    return {line.part or line.label: line.quantity for line in bill(plan).lines}


def ends(plan: Plan) -> list[tuple[str, int]]:
    return [(j.words, j.fasteners) for j in joints_of(plan) if j.kind == "strands"]


def test_strands_of_a_switch_are_joined_at_the_switch_and_nowhere_else() -> None:
    whole, switched = simple_plan(strands=FIVE), simple_plan(strands=FIVE, fixtures=[SWITCH])
    assert {n for _, n in ends(whole)} == {4}
    words = "strands 3, 4, 5 together; strands 1, 2 together"
    assert ends(switched) == [(words, 3), (words, 3)]
    (cable,) = [j for j in joints_of(switched) if j.where == "Lower two"]
    assert (cable.kind, cable.fasteners, cable.words[-12:]) == ("cable", 2, "strands 1, 2")
    told = [next(step for step in job_of(plan).steps if step.phase == "joints").how for plan in (whole, switched)]
    assert [any("at their switch" in line for line in how) for how in told] == [False, True]
    assert parts(switched)["switch_lead"] == parts(whole)["switch_lead"] + 2


def test_a_bottom_switch_is_bought_where_somebody_chose_it() -> None:
    low = [{"cm": 20}, {"cm": 60}, {"cm": 100}]
    by_rule, off = simple_plan(strands=low), simple_plan(strands=low, bottom_off=True)
    chosen = simple_plan(strands=[low[0] | {"switched": True}, *low[1:]])
    assert [parts(plan)["cutout_switch"] for plan in (by_rule, off, chosen)] == [1, 2, 2]
    assert [ends(plan)[0][1] for plan in (by_rule, off, chosen)] == [2, 1, 1]
    switches = [sum(j.fasteners for j in joints_of(p) if "bottom" in j.where) for p in (by_rule, off, chosen)]
    assert switches == [0, 2, 2]
    # What hangs the strands is the same while they are off.
    assert parts(off)["end_insulator"] == parts(chosen)["end_insulator"] == parts(by_rule)["end_insulator"]


def test_earth_strands_have_a_lead_and_a_clamp_where_the_line_is_fed() -> None:
    live, turn = simple_plan(strands=FIVE), simple_plan(strands=TURN)
    lead = "earth lead to the earth strands or mesh"
    told = [lead in [j.words for j in joints_of(p)] for p in (live, turn, simple_plan(strands=FIVE, apron=True))]
    assert told == [False, True, True]
    assert parts(turn)["earth_lead"] > parts(live)["earth_lead"]
    (rods,) = [step for step in job_of(turn).steps if step.key == "rods"]
    assert any("to the earth strands" in line for line in rods.how)


@pytest.mark.parametrize(
    ("joint", "part", "each"),
    [("clamp", "joint_clamp", 1), ("crimp", "crimp_sleeve", 2), ("split_bolt", "split_bolt", 1)],
)
def test_wire_is_joined_by_the_way_that_was_chosen(joint: str, part: str, each: int) -> None:
    plan = simple_plan(strands=FIVE, conductor="steel_25", work={"joint": joint})
    assert [(j.part, j.fasteners) for j in joints_of(plan) if j.kind == "strands"] == [(part, 4 * each)] * 2


def test_a_diverter_is_built_as_it_is_drawn_and_not_otherwise() -> None:
    none, plain = simple_plan(energizer="mains_6"), simple_plan(energizer="mains_6", fixtures=[DIVERTER])
    own = simple_plan(energizer="mains_6", fixtures=[DIVERTER | {"earth": "own"}])
    assert [parts(plan).get("diverter", 0) for plan in (none, plain, own)] == [0, 1, 1]
    assert {"diverter", "gap"} & {step.key for step in job_of(none).steps} == set()
    assert parts(own)["earth_rod"] == parts(plain)["earth_rod"] + 2
    assert parts(own)["rod_clamp"] == parts(plain)["rod_clamp"] + 2
    (step,) = [step for step in job_of(own).steps if step.key == "diverter"]
    assert "Diverter: connect its earth side to rods of its own." in step.how


def test_rods_are_bought_by_the_piece_and_bored_where_that_was_chosen() -> None:
    plan = simple_plan(rods={"count": 3, "position": [-20, -15], "length_m": 1.8, "bore_cm": 8})
    (line,) = [line for line in bill(plan).lines if line.part == "earth_rod"]
    assert (line.label, line.quantity, line.unit) == ("Earth rod 1.8 m × 16 mm, galvanised", 3, "piece")
    (step,) = [step for step in job_of(plan).steps if step.key == "rods"]
    assert "by auger" in step.how[0]
    assert "Rod driver" not in step.tools
    assert step.minutes == pytest.approx(3 * 12)
