"""Beginnings of a plan: small sites and usual fences as the trade builds them, each a plan to change as one likes.

Every one is a whole document that holds on its own ground: what it needs is computed, nothing is taken as given.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from adze.core.build.parts import bill
from adze.core.plan.catalogue import unit_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.tables.construction import patterns

_SETTING = {"soil": "clay_loam", "grass": "light"}
_HOME_M = 2.0  # from the energizer to the line
_RODS_M = 12.0  # of the rods from the line


@dataclass(frozen=True)
class Beginning:
    """One beginning: what it is, for whom, and the fields of the document that it sets."""

    key: str
    label: str
    words: str
    changes: Mapping[str, Any]


def _ring(wide_m: float, deep_m: float, name: str) -> list[dict[str, Any]]:
    corners = [[0.0, 0.0], [wide_m, 0.0], [wide_m, deep_m], [0.0, deep_m], [0.0, 0.0]]
    return [{"id": "line1", "name": name, "points": corners}]


def _supplied(energizer: str, rods: int) -> dict[str, Any]:
    """An energizer beside the first corner, its rods on the far side of it."""
    return {
        "energizer": energizer,
        "energizer_at": [-_HOME_M, 0.0],
        "rods": {"count": rods, "length_m": 2.0, "position": [-_RODS_M, -_RODS_M], "bearing_deg": 270.0},
        "supply": {"battery_ah": 140.0, "deep_cycle": True, "surge": True},
    }


_DIVERTER = {"id": "diverter1", "kind": "diverter", "name": "Lightning diverter", "run": "line1", "at_m": 0.5}


def _pattern(key: str) -> list[dict[str, Any]]:
    """A pattern's strands as the document takes them."""
    roles = {"E": "earth", "D": "dead"}
    rows = patterns()[key].heights.split()
    return [{"cm": float(row.rstrip("ED")), "role": roles.get(row[-1], "live")} for row in rows]


def _switched(rows: list[dict[str, Any]], lower: int) -> list[dict[str, Any]]:
    """Strands with so many of the lower ones on the bottom switch."""
    return [row | {"switched": number < lower} for number, row in enumerate(rows)]


def _gate(at_m: float, width_m: float, style: str = "handle") -> dict[str, Any]:
    return {
        "id": "gate1",
        "kind": "gate",
        "name": "Gate",
        "run": "line1",
        "at_m": at_m,
        "width_m": width_m,
        "style": style,
    }


def _herd(kind: str, count: int, **more: Any) -> dict[str, Any]:
    return {"id": kind, "kind": kind, "count": count, **more}


_LIGHT = {"conductor": "poly_steel_9", "post": "plastic", "post_spacing_m": 3.0}
_HIVES = [{"id": f"hive{i}", "kind": "hive", "name": f"Hive {i}", "points": [[2.0 + i, 3.0]]} for i in range(1, 5)]


_ROWS = (
    Beginning(
        "hives",
        "Hives kept from bears",
        "Four hives, the line 3 m away from them, five strands, one with a handle on each.",
        {
            **_LIGHT,
            "stock": [_herd("bear", 1)],
            "strands": _pattern("bear_five"),
            "loss": "ground_predator",
            "runs": _ring(9.0, 6.0, "Round the hives"),
            "landmarks": _HIVES,
            "fixtures": [_DIVERTER, _gate(4.5, 2.0)],
            **_supplied("battery_2", 8),
        },
    ),
    Beginning(
        "nest",
        "A nest on the ground",
        "A square of 10 m round it, with strands as close together as a fox requires.",
        {
            **_LIGHT,
            "stock": [_herd("fox", 1)],
            "loss": "ground_predator",
            "runs": _ring(10.0, 10.0, "Round the nest"),
            "landmarks": [{"id": "nest", "kind": "nest", "name": "Nest", "points": [[5.0, 5.0]]}],
            # Carried in and out by hand; taken off its leads by hand too, so without a cut-out on the way.
            "energizer": "battery_1",
            "energizer_at": [-_HOME_M, 0.0],
            "rods": {"count": 3, "length_m": 1.0, "position": [-_HOME_M, -_HOME_M], "bearing_deg": 270.0},
            "supply": {"battery_ah": 75.0, "deep_cycle": True},
            "lead_out": {"switch": False},
        },
    ),
    Beginning(
        "trees",
        "Young trees in a row",
        "Three trees protected from cattle and sheep by a narrow ring.",
        {
            **_LIGHT,
            "stock": [_herd("beef_cow", 10, schooled=True), _herd("ewe", 40, schooled=True)],
            "runs": _ring(18.0, 5.0, "Round the trees"),
            "fixtures": [_DIVERTER],
            **_supplied("battery_1", 4),
        },
    ),
    Beginning(
        "training",
        "A training pen",
        "Lambs learn the fence in front of a solid wall, so that they learn to turn back.",
        {
            **_LIGHT,
            "stock": [_herd("lamb", 30)],
            "behind": "barrier",
            "runs": _ring(15.0, 10.0, "Pen"),
            "fixtures": [_DIVERTER, _gate(7.5, 3.0)],
            **_supplied("mains_1", 4),
        },
    ),
    Beginning(
        "show",
        "A show pen",
        "A pen of 4 m for one animal for a day: two broad tapes that people see too, and signs on every side.",
        {
            "stock": [_herd("pony", 1, schooled=True)],
            "conductor": "tape_20",
            "post": "plastic",
            "post_spacing_m": 2.0,
            "duty": "hold",
            "runs": _ring(4.0, 4.0, "Show pen"),
            "fixtures": [
                _DIVERTER,
                _gate(2.0, 1.0, "rope"),
                *(
                    {"id": f"sign{i}", "kind": "sign", "name": "Sign", "run": "line1", "at_m": 2.0 + 4.0 * i}
                    for i in range(4)
                ),
            ],
            **_supplied("battery_1", 3),
        },
    ),
    Beginning(
        "apart",
        "Two males kept apart",
        "Two lines 3 m apart between two fields, so that they can neither reach each other nor fight.",
        {
            "stock": [_herd("beef_cow", 2, schooled=True, sex="entire")],
            "runs": [
                {"id": "line1", "name": "His side", "points": [[0.0, 0.0], [120.0, 0.0]]},
                {"id": "line2", "name": "The other side", "points": [[0.0, 3.0], [120.0, 3.0]]},
                {"id": "line3", "name": "Joining end", "points": [[0.0, 0.0], [0.0, 3.0]]},
            ],
            "fixtures": [_DIVERTER],
            **_supplied("mains_3", 8),
        },
    ),
    Beginning(
        "horses",
        "A paddock of tape for horses",
        "80 by 60 m of broad tape that horses see well, with a rope gate.",
        {
            "stock": [_herd("horse", 4, schooled=True)],
            "conductor": "tape_40",
            "post": "timber",
            "post_spacing_m": 4.0,
            "runs": _ring(80.0, 60.0, "Paddock"),
            "fixtures": [_DIVERTER, _gate(40.0, 4.0, "rope")],
            **_supplied("mains_3", 7),
        },
    ),
    Beginning(
        "cattle",
        "A cattle field for years",
        "250 by 160 m of high-tensile steel on posts that stay.",
        {
            "stock": [_herd("beef_cow", 24, schooled=True)],
            "runs": _ring(250.0, 160.0, "Field"),
            "fixtures": [_DIVERTER, _gate(60.0, 4.0)],
            **_supplied("mains_3", 10),
        },
    ),
    Beginning(
        "netting",
        "Sheep behind netting",
        "Four rolls of 50 m, moved every few days.",
        {
            "stock": [_herd("ewe", 40, schooled=True)],
            "netting": "sheep_90",
            "post": "plastic",
            "post_spacing_m": 3.0,
            "runs": [{**_ring(60.0, 40.0, "Netting")[0], "use": "temporary"}],
            "fixtures": [_DIVERTER],
            **_supplied("battery_2", 5),
        },
    ),
    Beginning(
        "five",
        "Five strands, the lower two on a switch",
        "200 by 120 m of high-tensile steel for cows and their calves; the lower two are switched off while grass "
        "is high.",
        {
            "stock": [_herd("cow", 30, schooled=True), _herd("calf", 30, schooled=True)],
            "strands": _switched(_pattern("perimeter_cattle"), 2),
            "runs": _ring(200.0, 120.0, "Field"),
            "fixtures": [_DIVERTER, _gate(60.0, 4.0)],
            **_supplied("mains_3", 10),
        },
    ),
    Beginning(
        "seven",
        "Seven strands, live and earth in turn",
        "150 by 100 m for sheep and cattle together, on dry ground or in frost: each nose touches live and earth.",
        {
            "stock": [_herd("cow", 12, schooled=True), _herd("ewe", 60, schooled=True)],
            "strands": _pattern("mixed_seven"),
            "runs": _ring(150.0, 100.0, "Field"),
            "fixtures": [_DIVERTER, _gate(60.0, 4.0)],
            **_supplied("mains_3", 10),
        },
    ),
    Beginning(
        "brackets",
        "A live strand on a sound old fence",
        "300 m beside woven wire that cattle lean on: brackets, no posts of its own.",
        {
            "stock": [_herd("beef_cow", 20, schooled=True)],
            "behind": "old_fence",
            "runs": [{"id": "line1", "name": "Beside the old fence", "points": [[0.0, 0.0], [300.0, 0.0]]}],
            "landmarks": [
                {
                    "id": "old",
                    "kind": "old_fence",
                    "name": "Old fence",
                    "points": [[0.0, 0.25], [300.0, 0.25]],
                    "condition": "carry",
                    "made": "woven",
                    "tall_cm": 110.0,
                    "whose": "mine",
                }
            ],
            "fixtures": [_DIVERTER],
            **_supplied("mains_1", 5),
        },
    ),
    Beginning(
        "spine",
        "A spine with strips",
        "A field of 240 by 160 m, with one line through its middle and a day's strips on both sides.",
        {
            "stock": [_herd("cow", 40, schooled=True)],
            "runs": [
                *_ring(240.0, 160.0, "Field"),
                {"id": "spine", "name": "Spine", "points": [[0.0, 80.0], [240.0, 80.0]], "use": "spine"},
            ],
            "fixtures": [
                _DIVERTER,
                _gate(60.0, 4.0),
                {**_gate(600.0, 4.0), "id": "gate2", "name": "Far gate"},
                {"id": "switch1", "kind": "switch", "name": "Spine switch", "run": "spine", "at_m": 2.0},
                {"id": "switch2", "kind": "switch", "name": "Far spine switch", "run": "spine", "at_m": 238.0},
                {"id": "switch3", "kind": "switch", "name": "East switch", "run": "line1", "at_m": 250.0},
                {"id": "switch4", "kind": "switch", "name": "North switch", "run": "line1", "at_m": 560.0},
            ],
            "moves": [
                {"id": "south", "name": "South strips", "at": [120.0, 40.0], "strips": 8, "bearing_deg": 0.0},
                {"id": "north", "name": "North strips", "at": [120.0, 120.0], "strips": 8, "bearing_deg": 0.0},
            ],
            **_supplied("mains_3", 10),
        },
    ),
)


def beginnings() -> dict[str, Beginning]:
    """All beginnings by key."""
    return {row.key: row for row in _ROWS}


def begun(plan: Plan, key: str) -> Plan:
    """A blank plan with a beginning on it. Raises KeyError for one that is not known."""
    return changed(plan, {**_SETTING, **beginnings()[key].changes})


@dataclass(frozen=True)
class KitRow:
    """A part of a kit beside a plan: how many in each, and per 100 m of each fence."""

    group: str
    label: str
    unit: str
    kit: float
    here: float
    kit_per_100_m: float
    here_per_100_m: float

    @property
    def differs(self) -> str:
        """What the plan does with it: left out, added, or in both."""
        return "left out" if not self.here else "added" if not self.kit else "in both"


def beside_kit(plan: Plan, key: str) -> tuple[KitRow, ...]:
    """The parts of a kit, counted on its own ground, beside those of a plan: what is left out or added comes first.

    Energizers are one part whatever their size. Raises KeyError for a kit that is not known.
    """
    kit_plan = begun(Plan(name="Kit"), key)
    bills = bill(kit_plan), bill(plan)
    units = {unit.label for one in (kit_plan, plan) if (unit := unit_of(one))}
    found: dict[tuple[str, str, str], list[float]] = {}
    for side, own in enumerate(bills):
        for line in own.lines:
            label = "Energizer" if line.label in units else line.label
            found.setdefault((line.group, label, line.unit), [0.0, 0.0])[side] += line.quantity
    per_m = [100 / own.fence_m if own.fence_m else 0.0 for own in bills]
    rows = [KitRow(*names, kit, here, kit * per_m[0], here * per_m[1]) for names, (kit, here) in found.items()]
    order = ("left out", "added", "in both")
    return tuple(sorted(rows, key=lambda row: order.index(row.differs)))
