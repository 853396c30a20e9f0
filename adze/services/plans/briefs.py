"""A brief as it is answered on the page, its proposals, and one of them taken as the plan."""

import math
from collections import Counter
from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from adze.core.advice.beginnings import beginnings, begun
from adze.core.basics.faults import FieldFault
from adze.core.basics.units import M_PER_FT, Units, parse_length_m
from adze.core.design.brief import Brief
from adze.core.design.designer import Proposal
from adze.core.design.layout import laid_out
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.tables.animals import animal_kinds
from adze.formats.errors import FormatError, fault_words
from adze.formats.json_text import read_json
from adze.formats.plan.brief_file import brief_word
from adze.services.answers.design import proposals_of
from adze.services.plans.plans import Base, OpenPlan, save_plan
from adze.store.connection import BeginTransaction

_FIRST_KINDS = ("beef_cow", "ewe", "horse", "goat", "sow", "hen", "fox", "bear")
_MOST_GATES = 20
_MOST_CORNER_VALUES = 400
_MOST_WORD = 16_000  # characters of an address that servers on the way take
_A_LINE_M = 3.5  # what is no wider is a line and its double
SHAPES = ("rectangle", "area", "straight", "draw", "map", "hive", "nest", "tree")
HA_PER_ACRE = 0.40468564
_LABELS = {
    "width_m": "Width",
    "depth_m": "Depth",
    "area_ha": "Area",
    "straight_m": "Length",
    "round_count": "How many",
    "gates": "Gates",
    "gate_width_m": "Gate width",
    "rock_m": "Rock",
    "stored_j": "Joules stored",
    "released_j": "Joules released",
    "open_kv": "kV without load",
    "kv_500": "kV on 500 Ω",
}
# The input that a fault of a whole answer stands at.
_GROUPS = {"shape": "shape", "supply": "stored_j", "gates": "gate_width_m", "soil": "rock_m", "animals": "animals"}


def start_view(opened: OpenPlan, typed: Mapping[str, str], fault: FieldFault | None = None) -> dict[str, Any]:
    """The five questions with what was typed, and what is wrong with it, at its input."""
    kinds = animal_kinds()
    return {
        "stored": opened.stored,
        "plan": opened.plan,
        "plan_id": opened.id,
        "typed": typed,
        "field": fault.field if fault else "",
        "message": str(fault) if fault else "",
        "units": opened.plan.units,
        "usual": tuple(beginnings().values()),
        "first": [kinds[key] for key in _FIRST_KINDS],
        "others": [kind for key, kind in kinds.items() if key not in _FIRST_KINDS],
    }


def usual_answers(key: str) -> dict[str, str]:
    """A usual fence as answers to begin with: its animals, size, supply and life. Raises KeyError."""
    plan = begun(Plan(name="Usual"), key)
    kinds = animal_kinds()
    typed: dict[str, str] = {}
    for herd in plan.stock:
        typed |= {f"kind_{herd.kind}": "on", f"count_{herd.kind}": str(herd.count)}
        if herd.schooled and not kinds[herd.kind].wild:
            typed[f"trained_{herd.kind}"] = "on"
    unit = unit_of(plan)
    around = Counter(mark.kind for mark in plan.landmarks if mark.kind in ("hive", "nest"))
    (east, north) = (max(point[axis] for run in plan.runs for point in run.points) for axis in (0, 1))
    if around:
        ((thing, count),) = around.items()
        typed |= {"shape": thing, "round_count": str(count)}
    elif north > _A_LINE_M:
        typed |= {"shape": "rectangle", "width_m": f"{east:g} m", "depth_m": f"{north:g} m"}
    else:
        typed |= {"shape": "straight", "straight_m": f"{east:g} m"}
    typed["gates"] = str(sum(fixture.kind == "gate" for fixture in plan.fixtures))
    typed["supply"] = unit.supply.split()[0] if unit else "mains"
    typed["life"] = "weeks" if plan.netting else "decades" if plan.conductor.startswith("steel") else "seasons"
    return typed


def brief_of(typed: Mapping[str, str], plan: Plan) -> Brief:
    """The brief that a form answers; `plan` has the units, and the lines where those on the map are meant.

    Raises FieldFault naming the input that is missing or wrong.
    """
    animals = [_animal(key, typed) for key in animal_kinds() if typed.get(f"kind_{key}")]
    if not animals:
        raise FieldFault("animals", "Choose at least one kind of animal.")
    document: dict[str, Any] = {
        "animals": animals,
        "shape": _shape(typed, plan),
        "gates": _gates(typed, plan.units),
        "beside": ["path"] if typed.get("beside") else [],
        "soil": {"feel": typed.get("feel") or None, "dryness": typed.get("dryness") or None},
        "growth": typed.get("growth") or None,
        "life": typed.get("life") or None,
    }
    if typed.get("rock_m"):
        document["soil"]["rock_m"] = _length(typed, "rock_m", plan.units)
    if typed.get("supply"):
        document["supply"] = _supply(typed)
    try:
        brief = Brief.model_validate(document)
    except ValidationError as error:
        raise _fault(error, animals, plan.units) from error
    if len(brief_word(brief)) > _MOST_WORD:
        raise FieldFault("shape", "These lines have too many points to be designed. Draw them with fewer corners.")
    try:
        laid_out(brief)
    except ValidationError as error:
        raise FieldFault("corners", "The drawing: two corners are in one place. Remove one of them.") from error
    except ValueError as error:
        raise FieldFault("gate_width_m", f"Where does it go: {error}.") from error
    return brief


def _fault(error: ValidationError, animals: list[dict[str, Any]], units: Units) -> FieldFault:
    """The first fault of the answers at the input that it belongs to."""
    fault = error.errors()[0]
    words, path = fault_words(fault), [str(part) for part in fault["loc"]]
    if path[:2] == ["shape", "lines"]:
        return FieldFault("corners", f"The drawing: a corner {words}.")
    field = path[-1] if path and path[-1] in _LABELS else _GROUPS.get(path[0] if path else "", "animals")
    if path[:1] == ["gates"]:
        field = "gate_width_m"
    elif path[:1] == ["animals"] and len(path) > 1:
        kind = animals[int(path[1])]["kind"]
        field = f"count_{kind}" if path[-1] == "count" else f"kind_{kind}"
    if field.endswith("_m"):
        for bound in (x for x in fault.get("ctx", {}).values() if isinstance(x, int | float)):
            shown = f"{bound / M_PER_FT:.3g} ft" if units is Units.IMPERIAL else f"{bound:g} m"
            words = words.replace(f"{bound:g}", shown)
    label = _LABELS.get(field, "How many" if field.startswith("count_") else "")
    return FieldFault(field, f"{label}: {words}." if label else f"{words[:1].upper()}{words[1:]}.")


def _animal(key: str, typed: Mapping[str, str]) -> dict[str, Any]:
    count = _whole(typed, f"count_{key}", f"How many {animal_kinds()[key].plural}")
    trained, young = (bool(typed.get(f"{what}_{key}")) for what in ("trained", "young"))
    return {"kind": key, "count": count, "trained": trained, "young": young}


def _gates(typed: Mapping[str, str], units: Units) -> list[dict[str, float]]:
    count = _whole(typed, "gates", "Gates")
    if not 0 <= count <= _MOST_GATES:
        raise FieldFault("gates", f"Gates: {count:g}; a whole number from 0 to {_MOST_GATES} is taken.")
    wide_m = _length(typed, "gate_width_m", units) if typed.get("gate_width_m", "").strip() else 4.0
    return [{"width_m": wide_m}] * count


def _shape(typed: Mapping[str, str], plan: Plan) -> dict[str, Any]:
    how = typed.get("shape", "rectangle")
    if how not in SHAPES:
        raise FieldFault("shape", "Where does it go: choose one of the shapes.")
    if how == "rectangle":
        return {"rectangle": {name: _length(typed, name, plan.units) for name in ("width_m", "depth_m")}}
    if how == "area":
        per_ha = HA_PER_ACRE if plan.units is Units.IMPERIAL else 1.0
        return {"area_ha": per_ha * _number(typed, "area_ha", "Area")}
    if how == "straight":
        return {"straight_m": _length(typed, "straight_m", plan.units)}
    if how == "map":
        if not plan.runs:
            raise FieldFault("shape", "Nothing is drawn on the map yet. Draw the lines there, or choose another shape.")
        return {"lines": [run.points for run in plan.runs]}
    if how == "draw":
        return {"lines": _drawn(typed)}
    return {"round": {"kind": how, "count": _whole(typed, "round_count", "How many")}}


def _drawn(typed: Mapping[str, str]) -> Any:
    """The corners that were drawn on the page, as one line."""
    try:
        corners = read_json(typed.get("corners", "") or "[]", "corners", _MOST_CORNER_VALUES)
    except FormatError as error:
        raise FieldFault("corners", "The drawing arrived incomplete. Draw it again.") from error
    if not isinstance(corners, list) or len(corners) < 2:
        raise FieldFault("corners", "The drawing: set two corners or more, by pressing on it or by typing a side.")
    return [corners]


def _supply(typed: Mapping[str, str]) -> dict[str, Any]:
    if typed["supply"] != "own":
        return {"kind": typed["supply"]}
    plate = {name: _number(typed, name, _LABELS[name]) for name in ("stored_j", "released_j", "open_kv", "kv_500")}
    return {"kind": "own", "own": {"key": "own1", "label": typed.get("own_label") or "My energizer", **plate}}


def _length(typed: Mapping[str, str], name: str, units: Units) -> float:
    try:
        return parse_length_m(typed.get(name, "").strip(), "ft" if units is Units.IMPERIAL else "m")
    except ValueError as error:
        raise FieldFault(name, f"{_LABELS[name]}: {error}.") from error


def _whole(typed: Mapping[str, str], name: str, label: str) -> int:
    """A whole number; 1 where nothing is typed."""
    count = _number(typed, name, label, 1)
    if count != int(count):
        raise FieldFault(name, f"{label}: a whole number, such as 4.")
    return int(count)


def _number(typed: Mapping[str, str], name: str, label: str, usual: float | None = None) -> float:
    word = typed.get(name, "").strip().replace(",", ".")
    if not word and usual is not None:
        return usual
    try:
        value = float(word)
    except ValueError as error:
        raise FieldFault(name, f"{label}: must be a number, such as 100.") from error
    if not math.isfinite(value):
        raise FieldFault(name, f"{label}: must be a number, such as 100.")
    return value


def take_proposal(begin_transaction: BeginTransaction, opened: OpenPlan, base: Base, brief: Brief, name: str) -> None:
    """A proposal made the plan, as one step that can be undone. Raises FormatError, Conflict."""
    taken = _named(proposals_of(brief), name)
    own = replaced(taken.plan, name=opened.plan.name, units=opened.plan.units)
    save_plan(begin_transaction, opened, base=base, plan=own, summary=f"Designed: {taken.name}, {taken.parts}")


def _named(found: tuple[Proposal, ...], name: str) -> Proposal:
    chosen = next((row for row in found if row.name == name), None)
    if chosen is None:
        raise FormatError("That proposal has been deleted. Design it again.")
    return chosen
