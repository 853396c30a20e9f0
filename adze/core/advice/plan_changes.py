"""The changes of a plan that remedies are made of, typed, with a key for pages."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from adze.core.advice.ground_remedies import do_action
from adze.core.animals.practice import a_head_apart
from adze.core.animals.strand_rules import SWING_CM, Role, Scheme, Strand
from adze.core.build.construction import fence_of
from adze.core.ground.edit import fresh_id, run_by_id
from adze.core.plan.changes import changed, replaced
from adze.core.plan.construction import Construction, Fence
from adze.core.plan.constructions import Built, built_as, fence_at, rebuilt
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.actions import Action, read_action


class ChangeKind(StrEnum):
    """What is changed, by the word that begins a key."""

    RODS = "rods"
    ENERGIZER = "energizer"
    GROWTH = "grass"
    CONDUCTOR = "conductor"
    SCHEME = "scheme"
    EARTH_STRANDS = "earth"
    APRON = "apron"
    BOTTOM = "bottom"
    SCHOOLED = "schooled"
    SHORN = "shorn"
    MISHAPS = "mishaps"
    LINE = "line"


EVERY_HERD = "all"
_KINDS = frozenset(ChangeKind)


@dataclass(frozen=True)
class Change:
    """One change: what, to which value, and of which construction (empty: that of all other lines)."""

    kind: ChangeKind
    value: str
    construction: str = ""

    @property
    def key(self) -> str:
        """The change in one word for a page; `read_changes` reads it."""
        return f"{self.kind.value}:{self.value}" + (f"@{self.construction}" if self.construction else "")

    def apply(self, plan: Plan) -> Plan:
        """The plan so changed. Raises ValueError, ValidationError."""
        built = built_as(plan, self.construction or None)
        if self.construction and built.id != self.construction:
            raise ValueError("That fence is no longer in the plan.")
        return _CHANGES[self.kind](plan, built, self.value)


def key_of(changes: tuple[Change, ...]) -> str:
    """Several changes as one key."""
    return "+".join(change.key for change in changes)


def apply_remedy(plan: Plan, key: str) -> Plan:
    """The plan with a remedy's changes, or a ground action, done. Raises ValueError for a key that is neither."""
    for step in read_remedy(key):
        plan = step.apply(plan) if isinstance(step, Change) else do_action(plan, *step)
    return plan


def read_remedy(key: str) -> tuple[Change | tuple[Action, str], ...]:
    """The steps of a remedy's key, an action with the way of building. Raises ValueError for what is neither."""
    return tuple(_read_step(part) for part in key.split("+"))


def _read_step(key: str) -> Change | tuple[Action, str]:
    rest, _, construction = key.partition("@")
    kind, _, value = rest.partition(":")
    return Change(ChangeKind(kind), value, construction) if kind in _KINDS else (read_action(rest), construction)


def with_earth_between(plan: Plan) -> tuple[Strand, ...]:
    """The live strands as they stand, with an earth strand half way in each gap that a head can reach."""
    fence = fence_of(replaced(plan, bottom_off=False))
    reach = max((a.nose_cm + a.head_cm for a in animals_of(plan)), default=100.0)
    found = [fence[0]]
    for lower, upper in pairwise(fence):
        both_live = lower.role is Role.LIVE and upper.role is Role.LIVE
        if both_live and upper.cm - lower.cm >= 2 * SWING_CM and lower.cm <= reach:
            found.append(Strand(float((lower.cm + upper.cm) // 2), Role.EARTH))
        found.append(upper)
    return tuple(found)


def _rods(plan: Plan, _: Built, value: str) -> Plan:
    if not value.isdigit():
        raise ValueError(f"{value!r} is not a number of rods")
    return changed(plan, {"rods": replaced(plan.rods, count=int(value)).model_dump()})


def _growth(plan: Plan, _: Built, value: str) -> Plan:
    runs = [run.model_dump() | {"grass": None} for run in plan.runs]
    return changed(plan, {"grass": value, "runs": runs, "growths": []})


def _earth_strands(plan: Plan, built: Built, _: str) -> Plan:
    rows = [{"cm": s.cm, "role": s.role.value} for s in with_earth_between(built.view)]
    return rebuilt(plan, built.id, {"strands": rows})


def _of_herds(change: dict[str, object]) -> Callable[[Plan, Built, str], Plan]:
    def apply(plan: Plan, _: Built, value: str) -> Plan:
        herds = [h.model_dump() | (change if value in (EVERY_HERD, h.kind) else {}) for h in plan.stock]
        return changed(plan, {"stock": herds})

    return apply


def _schooled(plan: Plan, _: Built, value: str) -> Plan:
    """What is kept out is never schooled."""
    held = [h.kind for h in plan.stock if animal_kinds()[h.kind].purpose == "hold" and value in (EVERY_HERD, h.kind)]
    herds = [h.model_dump() | ({"schooled": True} if h.kind in held else {}) for h in plan.stock]
    return changed(plan, {"stock": herds})


def _line(plan: Plan, _: Built, value: str) -> Plan:
    """One line built otherwise: strands in turn by the rules, live and earth a head apart, or mesh before it."""
    run_id, _sep, what = value.partition(":")
    run = run_by_id(plan, run_id)
    view = fence_at(plan, run.id).view
    own = {name: getattr(view, name) for name in Construction.model_fields}
    update: dict[str, object] = {"apron": True}
    if what == "turn":
        update = {"scheme": Scheme.ALTERNATE, "strands": []}
    elif what == "close":
        update = {"strands": [{"cm": s.cm, "role": s.role} for s in a_head_apart(animals_of(view), view.duty)]}
    key = fresh_id((fence.id for fence in plan.fences), "fence")
    fence = Fence.model_validate({**own, **update, "id": key, "name": run.name[:80]})
    runs = [r.model_dump() | ({"fence": key} if r.id == run.id else {}) for r in plan.runs]
    return changed(plan, {"fences": [*plan.fences, fence], "runs": runs})


_CHANGES: dict[ChangeKind, Callable[[Plan, Built, str], Plan]] = {
    ChangeKind.RODS: _rods,
    ChangeKind.ENERGIZER: lambda plan, _, value: changed(plan, {"energizer": value}),
    ChangeKind.GROWTH: _growth,
    ChangeKind.CONDUCTOR: lambda plan, built, value: rebuilt(plan, built.id, {"conductor": value}),
    ChangeKind.SCHEME: lambda plan, built, value: rebuilt(plan, built.id, {"scheme": value, "strands": []}),
    ChangeKind.EARTH_STRANDS: _earth_strands,
    ChangeKind.APRON: lambda plan, built, _: rebuilt(plan, built.id, {"apron": True}),
    ChangeKind.BOTTOM: lambda plan, built, _: rebuilt(plan, built.id, {"bottom_off": True}),
    ChangeKind.SCHOOLED: _schooled,
    ChangeKind.MISHAPS: lambda plan, *_: changed(plan, {"what_ifs": []}),
    ChangeKind.LINE: _line,
    ChangeKind.SHORN: _of_herds({"woolled": False, "sheared": None}),
}
