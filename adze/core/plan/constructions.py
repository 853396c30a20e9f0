"""Lines built in their own way: the plan seen through each fence, and changed in one of them.

Everything that is said of strands, posts and the animals that meet them is said of a view: the plan
with one fence's construction and herds in place of its own. Circuits are made of whole plans, never
of a view.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from adze.core.basics.cache import cached
from adze.core.plan.changes import changed, replaced
from adze.core.plan.construction import Construction
from adze.core.plan.document import Plan

OWN_NAME = "All other lines"


@dataclass(frozen=True)
class Built:
    """One way that lines of a plan are built: its id (None: the plan's own), the view, and the lines by id."""

    id: str | None
    name: str
    view: Plan
    runs: tuple[str, ...]


@dataclass(frozen=True)
class _All:
    by_id: dict[str | None, Built]
    by_run: dict[str, Built]
    views: dict[str, Plan]


@cached("constructions", 64, identity_args=1)
def _all(plan: Plan) -> _All:
    own: dict[str | None, list[str]] = {None: [], **{fence.id: [] for fence in plan.fences}}
    for run in plan.runs:
        own[run.fence].append(run.id)
    view = _view(plan, plan) if plan.herds else plan
    first = Built(None, OWN_NAME if plan.fences else plan.name, view, tuple(own[None]))
    rest = (Built(f.id, f.name, _view(plan, f), tuple(own[f.id])) for f in plan.fences)
    by_id = {b.id: b for b in (first, *rest)}
    by_run = {run: b for b in by_id.values() for run in b.runs}
    return _All(by_id, by_run, {run: b.view for run, b in by_run.items()})


def _view(plan: Plan, fence: Construction) -> Plan:
    update: dict[str, Any] = {name: getattr(fence, name) for name in Construction.model_fields}
    if fence.herds:
        update["stock"] = tuple(herd for herd in plan.stock if herd.id in fence.herds)
    return replaced(plan, **update)


def every_fence(plan: Plan) -> tuple[Built, ...]:
    """All ways of a plan, its own first, whether or not a line is built so."""
    return tuple(_all(plan).by_id.values())


def standing_fences(plan: Plan) -> tuple[Built, ...]:
    """The ways that lines are built; the plan's own while there is no line at all."""
    rows = _all(plan).by_id
    return tuple(b for b in rows.values() if b.runs) or (rows[None],)


def built_as(plan: Plan, fence: str | None) -> Built:
    """One way of a plan by its id; the plan's own where there is none of that id."""
    rows = _all(plan).by_id
    return rows.get(fence) or rows[None]


def fence_at(plan: Plan, run: str) -> Built:
    """The way a line is built. Raises KeyError for a line that is not on the plan."""
    return _all(plan).by_run[run]


def views_by_run(plan: Plan) -> dict[str, Plan]:
    """The view of every line."""
    return _all(plan).views


def rebuilt(plan: Plan, fence: str | None, update: Mapping[str, Any]) -> Plan:
    """The plan with one of its ways changed, checked as a whole. Raises ValidationError."""
    if fence is None:
        return changed(plan, update)
    rows = [row.model_dump() | dict(update) if row.id == fence else row for row in plan.fences]
    return changed(plan, {"fences": rows})
