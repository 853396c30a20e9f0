"""What stands otherwise than drawn: the figures that are measured once the fence is up, and the plan with them."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, get_args

from adze.core.basics.faults import FieldFault
from adze.core.basics.units import Units, format_height, format_tape, parse_length_m
from adze.core.build.construction import fence_of
from adze.core.build.ends import end_kind, has_no_ends, owned_ends
from adze.core.plan.changes import changed
from adze.core.plan.constructions import Built, fence_at, rebuilt, standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.scalars import EndKind
from adze.core.tables.construction import nettings

END_KINDS = tuple(kind for kind in get_args(EndKind) if kind)
_HEIGHT_LIMIT_CM = 300.0
_RODS = {"length_m": ("Rods, length of each", 0.3, 6.0), "spacing_m": ("Rods, apart", 0.1, 30.0)}


@dataclass(frozen=True)
class BuiltFigure:
    """A figure that may stand otherwise: its key, label, how it is drawn in words, its choices where it has some."""

    key: str
    label: str
    drawn: str
    choices: tuple[str, ...] = ()


def built_figures(plan: Plan) -> Iterator[BuiltFigure]:
    """The figures of a plan that are measured on the fence: rods, heights and posts of each way of building, ends."""
    rods, units = plan.rods, plan.units
    yield BuiltFigure("rods.count", "Rods in the ground", f"{rods.count}")
    if rods.count:
        for name, (label, *_) in _RODS.items():
            yield BuiltFigure(f"rods.{name}", label, format_tape(getattr(rods, name), units))
    for built in standing_fences(plan):
        own = f"{built.name}, " if plan.fences else ""
        heights = ", ".join(_height_words(cm, units) for cm in _own_heights(built))
        if heights:
            yield BuiltFigure(
                f"heights.{built.id or ''}", _titled(f"{own}heights of strands, from the lowest"), heights
            )
        if not built.view.netting:
            yield BuiltFigure(
                f"spacing.{built.id or ''}", _titled(f"{own}posts apart"), format_tape(built.view.post_spacing_m, units)
            )
    for run_id, ends in owned_ends(plan).items():
        built = fence_at(plan, run_id)
        if has_no_ends(built.view):
            continue
        run = next(run for run in plan.runs if run.id == run_id)
        for end in ends:
            kind = (run.start_end if end == "start" else run.far_end) or end_kind(built.view)
            label = f"{run.name}: end at its {'start' if end == 'start' else 'far end'}"
            yield BuiltFigure(f"end.{run_id}.{end}", label, kind, END_KINDS)


def as_built(plan: Plan, noted: Mapping[str, str]) -> Plan:
    """The plan with the noted figures in place of the drawn ones.

    A key that the plan does not have any more is passed over. Raises FieldFault naming the key, the limit, the mend.
    """
    known = {figure.key for figure in built_figures(plan)}
    for key, text in noted.items():
        if key in known:
            plan = _with(plan, key, text.strip())
    return plan


def _with(plan: Plan, key: str, text: str) -> Plan:
    what, _, name = key.partition(".")
    if what == "rods":
        return changed(plan, {"rods": plan.rods.model_dump() | {name: _of_rods(plan, key, name, text)}})
    if what == "heights":
        return _at_heights(plan, key, name or None, text)
    if what == "spacing":
        return rebuilt(plan, name or None, {"post_spacing_m": _length(plan, key, "Posts apart", text, 1.0, 30.0)})
    run_id, _, end = name.rpartition(".")
    if text not in END_KINDS:
        raise FieldFault(key, f"End: {text!r} is not known; one of {', '.join(END_KINDS)}.")
    field = "start_end" if end == "start" else "far_end"
    runs = [run.model_copy(update={field: text}) if run.id == run_id else run for run in plan.runs]
    return changed(plan, {"runs": runs})


def _of_rods(plan: Plan, key: str, name: str, text: str) -> Any:
    if name != "count":
        label, low, high = _RODS[name]
        return _length(plan, key, label, text, low, high)
    if not text.isdigit() or not 0 <= int(text) <= MOST_RODS:
        raise FieldFault(key, f"Rods in the ground: {text!r} is not a whole number from 0 to {MOST_RODS}.")
    return int(text)


def _length(plan: Plan, key: str, label: str, text: str, low: float, high: float) -> float:
    try:
        metres = parse_length_m(text, "ft" if plan.units is Units.IMPERIAL else "m")
    except ValueError as error:
        raise FieldFault(key, f"{label}: {error}.") from None
    if not low <= metres <= high:
        limits = f"{format_tape(low, plan.units)} to {format_tape(high, plan.units)}"
        raise FieldFault(key, f"{label}: {text} is not from {limits}; look at the unit.")
    return round(metres, 4)


def _at_heights(plan: Plan, key: str, fence: str | None, text: str) -> Plan:
    built = next(b for b in standing_fences(plan) if b.id == fence)
    own = _own_heights(built)
    parts = [part for part in text.replace(";", ",").split(",") if part.strip()]
    if len(parts) == 1 < len(own):
        parts = text.split()
    if len(parts) != len(own):
        words = f"{len(own)} strands are drawn; write {len(own)} heights with a comma between them"
        raise FieldFault(key, f"Heights: {len(parts)} were read, {words}. Another strand is drawn in Strands first.")
    unit, found = "in" if plan.units is Units.IMPERIAL else "cm", list[float]()
    for number, part in enumerate(parts, 1):
        try:
            cm = round(100 * parse_length_m(part, unit), 1)
        except ValueError as error:
            raise FieldFault(key, f"Heights, strand {number}: {error}.") from None
        if not 1 <= cm <= _HEIGHT_LIMIT_CM:
            raise FieldFault(key, f"Heights, strand {number}: {part.strip()} is not from 1 to 300 cm.")
        if found and cm <= found[-1]:
            raise FieldFault(key, f"Heights, strand {number}: {part.strip()} is not above the one below it.")
        found.append(cm)
    view = built.view
    rows = [strand.model_dump() for strand in view.strands]
    if not rows:
        rows = [{"role": strand.role} for strand in fence_of(view)[-len(own) :]]
    return rebuilt(plan, fence, {"strands": [row | {"cm": cm} for row, cm in zip(rows, found, strict=True)]})


def _own_heights(built: Built) -> tuple[float, ...]:
    """Heights of the strands that are fixed one by one: a net's own are its maker's."""
    view = built.view
    in_net = len(nettings()[view.netting].heights.split()) if view.netting else 0
    return tuple(strand.cm for strand in fence_of(view)[in_net:])


def _height_words(cm: float, units: Units) -> str:
    return format_height(cm, units).removesuffix(" cm") if units is Units.METRIC else format_height(cm, units)


def _titled(words: str) -> str:
    return words[0].upper() + words[1:]
