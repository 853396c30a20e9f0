"""What to own, borrow or hire for the work of a plan, and what to wear."""

from dataclasses import dataclass

from adze.core.basics.units import counted
from adze.core.build.construction import conductors_of
from adze.core.build.ends import end_kinds
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.tables.tools import Tool, tools

_ALWAYS = ("tape_string", "pliers", "hammer", "gauge", "second_tester", "gloves", "boots")


def tools_for(plan: Plan) -> tuple[Tool, ...]:
    """The tools of a plan's work: by what its strands, posts and ends are made of."""
    views = [built.view for built in standing_fences(plan)]
    kinds = {made.kind for view in views for made in conductors_of(view)}
    posts = {view.post for view in views if (not view.netting or view.strands) and not view.behind}
    ends = end_kinds(plan)
    digs = plan.lead_out.way == "buried" or any(f.kind in ("gate", "crossing") for f in plan.fixtures)
    driven = {"steel_t", "timber", "dense_timber", "fibreglass", "composite"}
    found = list(_ALWAYS)
    for keys, wanted in (
        (("jenny", "strainer_tool", "crimper"), kinds & {"wire", "coated", "barbed"}),
        (("bracket_drill",), any(view.behind for view in views)),
        (("reel_axle",), kinds & {"tape", "rope", "polywire"}),
        (("post_driver", "muffs"), posts & driven),
        (("pilot_rod",), posts & {"fibreglass", "composite"}),
        (("auger", "chisel_drill", "level"), ends & {"braced", "block", "prop"}),
        (("wide_auger", "barrow"), ends & {"concreted"}),
        (("trench_spade",), digs),
        (("rod_driver",), plan.rods.count),
    ):
        if wanted:
            found += keys
    known = tools()
    return tuple(sorted((known[key] for key in found), key=lambda tool: ("needed", "handy", "ppe").index(tool.kind)))


@dataclass(frozen=True)
class ToolCost:
    """A tool and how it is come by for so many days: owned, hired or bought, whichever costs less."""

    tool: Tool
    way: str
    cost: float


def tool_costs(plan: Plan, owned: frozenset[str], days: int) -> tuple[ToolCost, ...]:
    """What the tools of a plan cost beside its parts; `owned` holds keys of the shed."""
    found = []
    for tool in tools_for(plan):
        hire = tool.hire_day * max(1, days)
        if tool.shed_key in owned:
            found.append(ToolCost(tool, "in the shed", 0.0))
        elif 0 < hire < tool.price:
            found.append(ToolCost(tool, f"hire {counted(max(1, days), 'day')}", hire))
        else:
            found.append(ToolCost(tool, "buy" if tool.price else "have", tool.price))
    return tuple(found)
