"""The bottom switch: by the rule, or strand by strand."""

import pytest
from pydantic import ValidationError

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import bottom_group_of, fence_of
from adze.core.build.joints import line_joints
from adze.core.plan.document import Plan
from adze.services.operations.registry import read_operation
from tests.conftest import simple_plan

ROWS = [{"cm": 20}, {"cm": 38}, {"cm": 60}, {"cm": 90}]


def switch(plan: Plan, strand: int, on: bool) -> Plan:
    return read_operation({"do": "switch_strand", "strand": strand, "on": on}).apply(plan).plan


def test_the_rule_takes_what_stands_in_growth() -> None:
    assert bottom_group_of(simple_plan(strands=ROWS)) == (0, 1)


def test_a_strand_taken_off_the_switch_stays_live() -> None:
    made = switch(simple_plan(strands=ROWS, bottom_off=True), 1, False)
    assert bottom_group_of(made) == (0,)
    assert [s.role for s in fence_of(made)] == [Role.DEAD, Role.LIVE, Role.LIVE, Role.LIVE]
    assert bottom_group_of(switch(made, 2, True)) == (0, 2)


def test_never_all_of_them() -> None:
    plan = simple_plan(strands=ROWS[:2])
    one = switch(plan, 0, True)
    with pytest.raises(ValidationError, match="leave one off it"):
        switch(one, 1, True)


def test_strands_joined_at_one_end_are_joined_there_alone() -> None:
    line = {"id": "line1", "name": "First line", "points": [[0, 0], [200, 0]]}
    strain = {"id": "s", "kind": "strain", "name": "Strain", "run": "line1", "at_m": 100.0}
    four = [{"cm": cm, "role": "live"} for cm in (25, 45, 65, 95)]

    def joints(joined: str) -> dict[str, int]:
        plan = simple_plan(runs=[line | {"joined": joined}], fixtures=[strain], strands=four)
        return {j.where: j.fasteners for j in line_joints(plan) if j.kind == "strands"}

    assert joints("near") == {"First line, start": 3, "First line, from strain 1 into 2": 4}
    assert joints("none") == {"First line, from strain 1 into 2": 4}
    assert sum(joints("along").values()) == sum(joints("both").values()) == 12
