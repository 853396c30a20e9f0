"""The bottom switch: by the rule, or strand by strand."""

import pytest
from pydantic import ValidationError

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import bottom_group_of, fence_of
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
