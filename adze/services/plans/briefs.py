"""A brief as it is answered on the page, its proposals, and one of them taken as the plan."""

from collections.abc import Mapping
from typing import Any

from adze.core.design.brief import Brief
from adze.core.design.designer import Proposal
from adze.core.plan.changes import replaced
from adze.core.tables.animals import animal_kinds
from adze.formats.errors import FormatError
from adze.formats.plan.brief_file import read_brief_document
from adze.services.answers.design import proposals_of
from adze.services.plans.plans import Base, OpenPlan, save_plan
from adze.store.connection import BeginTransaction

_FIRST_KINDS = ("beef_cow", "ewe", "horse", "goat", "sow", "hen", "fox", "bear")
_MOST_GATES = 20
_SHAPES = ("rectangle", "area", "straight", "hive", "nest", "tree")


def start_view(opened: OpenPlan, typed: Mapping[str, str], message: str = "") -> dict[str, Any]:
    """The five questions with what was typed, and what is wrong with it."""
    kinds = animal_kinds()
    return {
        "stored": opened.stored,
        "plan": opened.plan,
        "plan_id": opened.id,
        "typed": typed,
        "message": message,
        "first": [kinds[key] for key in _FIRST_KINDS],
        "others": [kind for key, kind in kinds.items() if key not in _FIRST_KINDS],
    }


def brief_of(typed: Mapping[str, str]) -> Brief:
    """The brief that a form answers. Raises FormatError naming what is missing or wrong."""
    animals = [_animal(key, typed) for key in animal_kinds() if typed.get(f"kind_{key}")]
    if not animals:
        raise FormatError("What is it for: choose at least one kind of animal.")
    document: dict[str, Any] = {
        "format": "adze-brief",
        "version": 1,
        "animals": animals,
        "shape": _shape(typed),
        "gates": _gates(typed),
        "beside": ["path"] if typed.get("beside") else [],
        "soil": {"feel": typed.get("feel") or None, "dryness": typed.get("dryness") or None},
        "growth": typed.get("growth") or None,
        "life": typed.get("life") or None,
    }
    if typed.get("rock_m"):
        document["soil"]["rock_m"] = _number(typed, "rock_m", "Rock", 1.0)
    if typed.get("supply"):
        document["supply"] = _supply(typed)
    return read_brief_document(document)


def _animal(key: str, typed: Mapping[str, str]) -> dict[str, Any]:
    kind = animal_kinds()[key]
    count = int(_number(typed, f"count_{key}", f"How many {kind.plural}", 1))
    return {"kind": key, "count": count, "trained": bool(typed.get("trained")), "young": bool(typed.get("young"))}


def _gates(typed: Mapping[str, str]) -> list[dict[str, float]]:
    count = _number(typed, "gates", "Gates", 1)
    if not 0 <= count <= _MOST_GATES:
        raise FormatError(f"Gates: {count:g}; up to {_MOST_GATES} are taken")
    return [{"width_m": _number(typed, "gate_width_m", "Gate width", 4.0)}] * int(count)


def _shape(typed: Mapping[str, str]) -> dict[str, Any]:
    how = typed.get("shape", "rectangle")
    if how not in _SHAPES:
        raise FormatError("Where does it go: choose one of the shapes.")
    if how == "rectangle":
        sides = {"width_m": _number(typed, "width_m", "Width"), "depth_m": _number(typed, "depth_m", "Depth")}
        return {"rectangle": sides}
    if how == "area":
        return {"area_ha": _number(typed, "area_ha", "Area")}
    if how == "straight":
        return {"straight_m": _number(typed, "straight_m", "Length")}
    return {"round": {"kind": how, "count": int(_number(typed, "round_count", "How many", 1))}}


def _supply(typed: Mapping[str, str]) -> dict[str, Any]:
    if typed["supply"] != "own":
        return {"kind": typed["supply"]}
    plate = {
        "key": "own1",
        "label": typed.get("own_label") or "My energizer",
        "stored_j": _number(typed, "stored_j", "Joules stored"),
        "released_j": _number(typed, "released_j", "Joules released"),
        "open_kv": _number(typed, "open_kv", "kV without load"),
        "kv_500": _number(typed, "kv_500", "kV on 500 Ω"),
    }
    return {"kind": "own", "own": plate}


def _number(typed: Mapping[str, str], name: str, label: str, usual: float | None = None) -> float:
    word = typed.get(name, "").strip().replace(",", ".")
    if not word and usual is not None:
        return usual
    try:
        return float(word)
    except ValueError as error:
        raise FormatError(f"{label}: must be a number, such as 100") from error


def take_proposal(begin_transaction: BeginTransaction, opened: OpenPlan, base: Base, brief: Brief, name: str) -> None:
    """A proposal made the plan, as one step that can be undone. Raises FormatError, Conflict."""
    taken = _named(proposals_of(brief), name)
    own = replaced(taken.plan, name=opened.plan.name, units=opened.plan.units)
    save_plan(begin_transaction, opened, base=base, plan=own, summary=f"Designed: {taken.name}, {taken.parts}")


def _named(found: tuple[Proposal, ...], name: str) -> Proposal:
    chosen = next((row for row in found if row.name == name), None)
    if chosen is None:
        raise FormatError("That proposal is not there any more. Design it again.")
    return chosen
