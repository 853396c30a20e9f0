"""Tools by what the work is, and what those that are not in the shed cost."""

from adze.core.plan.document import Plan
from adze.core.tables.tools import tools
from adze.core.tasks.tools import tool_costs, tools_for
from tests.conftest import simple_plan


def keys(plan: Plan) -> set[str]:
    return {tool.key for tool in tools_for(plan)}


def test_tools_follow_what_the_fence_is_made_of() -> None:
    assert {"jenny", "strainer_tool", "chisel_drill"} <= keys(simple_plan())
    strip = keys(simple_plan(conductor="poly_steel_9", post="plastic"))
    assert "reel_axle" in strip
    assert not {"jenny", "post_driver", "chisel_drill"} & strip
    assert "wide_auger" in keys(simple_plan(end_kind="concreted"))
    assert "trench_spade" in keys(simple_plan(lead_out={"way": "buried"}))


def test_what_the_shed_has_costs_nothing_and_a_hire_is_taken_while_it_is_cheaper() -> None:
    plan, jenny = simple_plan(), tools()["jenny"]
    by_key = {c.tool.key: c for c in tool_costs(plan, frozenset(), 2)}
    assert (by_key["jenny"].way, by_key["jenny"].cost) == ("hire 2 days", 2 * jenny.hire_day)
    long = {c.tool.key: c for c in tool_costs(plan, frozenset(), 30)}
    assert (long["jenny"].way, long["jenny"].cost) == ("buy", jenny.price)
    owned = {c.tool.key: c for c in tool_costs(plan, frozenset({"tool:jenny"}), 30)}
    assert (owned["jenny"].way, owned["jenny"].cost) == ("in the shed", 0)
