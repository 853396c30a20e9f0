"""What Parts shows."""

from collections.abc import Mapping
from itertools import groupby
from typing import Any

from adze.core.advice.beginnings import beginnings, beside_kit
from adze.core.advice.parts_otherwise import HOUR_PRICE, SEARCH_SAVED_H, parts_otherwise, searches_to_pay
from adze.core.build.joints import joints_of
from adze.core.build.parts import Bill, PartLine, at_quote, bill, parts_by_line
from adze.core.ground.lines import CORNER_DEGREES, length_m, point_at, run_of, turns
from adze.core.plan.document import Plan
from adze.core.tables.prices import prices
from adze.core.tasks.job import job_of
from adze.core.tasks.steps import PHASES
from adze.core.tasks.tools import tool_costs
from adze.services.log.readings import ReadingError
from adze.services.parts.shed import free_for, owned_tools, shed_rows
from adze.services.sharing.people import PlanRole
from adze.services.views.base import ViewRequest

_DAY_H = 8.0
# Fixtures that a part belongs to; what is not named here lies along its lines.
_AT_FIXTURES = {
    "gate_set": ("gate",), "gate_rope": ("gate",), "gate_sleeve": ("gate",), "spring_gate": ("gate",),
    "drive_over_set": ("gate",), "under_gate_cable": ("gate", "crossing"), "duct": ("gate", "crossing"),
    "duct_seal": ("gate", "crossing"), "tall_post": ("crossing",), "cutout_switch": ("switch",),
    "diverter": ("diverter",),
}  # fmt: skip
_AT_ENDS = {
    "end_post", "brace_kit", "stiff_post", "breast_block", "composite_end", "concrete_bag", "prop_stake",
    "end_insulator", "tape_end", "rope_end", "poly_end",
}  # fmt: skip
_AT_CORNERS = {"corner_insulator", "tape_corner", "rope_corner", "poly_corner"}


def lit(plan: Plan, line: PartLine) -> dict[str, Any]:
    """Where a part is used: ids of runs, and spots in m from the origin."""
    kinds, runs = _AT_FIXTURES.get(line.part), [run_of(plan, key) for key in line.runs]
    spots: list[tuple[float, float]] = []
    if kinds:
        spots = [point_at(run_of(plan, f.run), f.at_m) for f in plan.fixtures if f.kind in kinds]
    elif line.part in _AT_ENDS | _AT_CORNERS:
        for run in runs:
            spots += [point_at(run, at) for at, degrees in turns(run) if degrees > CORNER_DEGREES]
            if line.part in _AT_ENDS:
                spots += [run.points[0], run.points[-1]]
                spots += [point_at(run, f.at_m) for f in plan.fixtures if f.run == run.id and f.kind == "gate"]
    elif line.group == "Earth" and not runs:
        spots = [plan.rods.position] if plan.rods.position else list(plan.rods.places)
    elif line.group == "Power" and plan.energizer_at:
        spots = [plan.energizer_at]
    return {"runs": [] if spots else list(line.runs), "spots": spots}


def parts_view(asked: ViewRequest) -> dict[str, Any]:
    """The parts list by group, what the shed gives, quotes, tools, pieces and joints."""
    plan = asked.plan
    found = bill(plan)
    # Who only looks at a plan, by a link perhaps, is told nothing of the farm's shed.
    may_take = asked.opened.stored.role >= PlanRole.CREW
    rows = shed_rows(asked.begin_transaction, asked.opened.stored.farm_id) if may_take else []
    free = free_for(rows, asked.opened.id)
    shops = [(quote, at_quote(plan, quote), _named(found.lines, quote.prices)) for quote in plan.quotes]
    days = max(1, round(job_of(plan).minutes / 60 / _DAY_H)) if plan.runs else 1
    return {
        "bill": found,
        "own_count": sum(line.own for line in found.lines),
        "groups": [(name, list(lines)) for name, lines in groupby(found.lines, lambda x: x.group)],
        "by_line": parts_by_line(plan),
        "by_stage": by_stage(plan),
        "run_names": {run.id: run.name for run in plan.runs} | {"": "For all of it"},
        "lengths": {run.id: length_m(run) for run in plan.runs},
        "lit": {line.key: lit(plan, line) for line in found.lines},
        "farm_id": asked.opened.stored.farm_id,
        "has_shed": bool(rows),
        "free": free,
        "offered": _offered(found.lines, free),
        "days": days,
        "tools": tool_costs(plan, owned_tools(rows), days) if plan.runs else (),
        "kits": beginnings(),
        "shops": shops,
        "beside": _beside(found.lines, [there for _, there, _ in shops]),
        "cuttings": [line for line in found.lines if line.cutting],
        "joints": tuple(joints_of(plan)) if plan.runs else (),
    }


def by_stage(plan: Plan) -> list[tuple[str, list[tuple[str, float, str]]]]:
    """What each stage of the work takes, over all lines, in the order of the work."""
    if not plan.runs:
        return []
    found: dict[str, dict[tuple[str, str], float]] = {}
    for step in job_of(plan).steps:
        own = found.setdefault(step.phase, {})
        for label, quantity, unit in step.parts:
            own[label, unit] = own.get((label, unit), 0.0) + quantity
    rows = ((words, found.get(key, {})) for key, words in PHASES.items())
    return [(words, [(label, round(n, 1), unit) for (label, unit), n in own.items()]) for words, own in rows if own]


def _offered(lines: tuple[PartLine, ...], free: Mapping[str, float]) -> dict[str, float]:
    """All that the shed can give this plan."""
    found = {line.key: min(line.quantity, free.get(line.key, 0.0)) for line in lines}
    return {part: n for part, n in found.items() if n > 0}


def _beside(lines: tuple[PartLine, ...], bills: list[Bill]) -> list[tuple[str, list[float]]]:
    """What each part costs at each shop, where that differs."""
    costs = [{line.key: line.cost for line in there.lines} for there in bills]
    rows = [(line.label, [own.get(line.key, 0.0) for own in costs]) for line in lines]
    return [row for row in rows if len(set(row[1])) > 1]


def _named(lines: tuple[PartLine, ...], quoted: tuple[Any, ...]) -> int:
    """How many of the list's parts a shop names."""
    keys = {row.part for row in quoted}
    return sum(line.key in keys for line in lines)


def kit_view(plan: Plan, key: str) -> dict[str, Any]:
    """A kit's parts beside the plan's. Raises ReadingError for one that is not known."""
    if key not in beginnings():
        raise ReadingError("kit", f"There is no kit {key!r}; choose one of the list.")
    rows = groupby(beside_kit(plan, key), lambda row: row.differs)
    return {"plan": plan, "units": plan.units, "kit": beginnings()[key], "rows": [(w, list(own)) for w, own in rows]}


def parts_otherwise_view(plan: Plan) -> dict[str, Any]:
    """The list with one thing chosen otherwise, and what a tester with amps pays back."""
    tester = prices()["tester"]
    return {
        "plan": plan,
        "units": plan.units,
        "rows": parts_otherwise(plan),
        "tester": tester,
        "searches": searches_to_pay(tester.price),
        "saved_h": SEARCH_SAVED_H,
        "hour_price": HOUR_PRICE,
    }
