"""Beginnings of a plan: small sites and usual fences as the trade builds them, each a plan to change as one likes.

Every one is a whole document that holds on its own ground: what it needs is computed, nothing is taken as given.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

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
        "Four hives, the line 3 m outside them, five strands, a handle on each.",
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
        "A square of 10 m round it, the strands as close as a fox asks.",
        {
            **_LIGHT,
            "stock": [_herd("fox", 1)],
            "loss": "ground_predator",
            "runs": _ring(10.0, 10.0, "Round the nest"),
            "landmarks": [{"id": "nest", "kind": "nest", "name": "Nest", "points": [[5.0, 5.0]]}],
            "fixtures": [_DIVERTER],
            **_supplied("battery_2", 8),
        },
    ),
    Beginning(
        "trees",
        "Young trees in a row",
        "Three trees kept from cattle and sheep by a narrow ring.",
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
        "Lambs learn the fence before a solid wall, so that they learn to turn back.",
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
        "A pen of 4 m for one animal for a day: two broad tapes that people see too, signs on every side.",
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
        "Two lines 3 m apart between two fields, so that they neither reach nor fight through a fence.",
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
        "80 by 60 m of broad tape that they see, a rope gate.",
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
)


def beginnings() -> dict[str, Beginning]:
    """All beginnings by key."""
    return {row.key: row for row in _ROWS}


def begun(plan: Plan, key: str) -> Plan:
    """A blank plan with a beginning on it. Raises KeyError for one that is not known."""
    return changed(plan, {**_SETTING, **beginnings()[key].changes})
