"""Random plans of the kinds that people draw: lines, rings, gates, switches, strands in turn, netting, own units."""

import random
from typing import Any

from adze.core.plan.document import Plan

KINDS = ("cow", "beef_cow", "ewe", "goat", "horse", "sow", "fox", "boar", "deer", "hen", "bear")
CONDUCTORS = ("steel_25", "poly_steel_3", "poly_mixed", "tape_20", "tape_40", "aluminium_16", "steel_14", "rope_mixed")
UNITS = ("battery_025", "battery_1", "mains_1", "mains_3", "mains_6", "solar_06", "mains_15", "own1")
STRANDS: tuple[list[dict[str, Any]], ...] = (
    [],
    [{"cm": 40}, {"cm": 80}],
    [{"cm": 90}],
    [{"cm": 20}, {"cm": 50}, {"cm": 90}, {"cm": 120}],
    [{"cm": 25, "role": "earth"}, {"cm": 50}, {"cm": 75, "role": "earth"}, {"cm": 100}],
    [{"cm": 20}, {"cm": 45, "role": "earth"}, {"cm": 70}, {"cm": 95, "role": "earth"}, {"cm": 120}],
)
OWN = {"key": "own1", "label": "Barn", "supply": "mains", "stored_j": 11, "released_j": 8, "open_kv": 9, "kv_500": 6.1}


def random_plan(seed: int) -> Plan:
    """The plan of a seed."""
    draw = random.Random(seed)
    width, depth = draw.choice([60, 150, 400]), draw.choice([60, 150, 300])
    corners = [[0, 0], [width, 0], [width, depth], [0, depth], [0, 0]]
    runs: list[dict[str, Any]] = [{"id": "line1", "name": "Ring", "points": corners}]
    if draw.random() < 0.45:
        runs = [{"id": "line1", "name": "Line", "points": [[0, 0], [width * 4, 0]]}]
    if draw.random() < 0.3:
        runs.append({"id": "line2", "name": "Cross", "points": [[width / 2, 0], [width / 2, depth]]})
    strands = draw.choice(STRANDS)
    if draw.random() < 0.15 and len(strands) == 4:
        runs[0]["joined"] = draw.choice(["near", "both", "none"])
    return Plan.model_validate(
        {
            "name": "Random",
            "stock": _herds(draw),
            "runs": runs,
            "energizer": draw.choice(UNITS),
            "own_energizers": [OWN],
            "energizer_at": [-6, -4],
            "soil": draw.choice(["loam", "sandy_loam", "dry_sand", "clay_loam", "moist_sand"]),
            "grass": draw.choice(["none", "light", "moderate", "heavy"]),
            "conductor": draw.choice(CONDUCTORS),
            "post": draw.choice(["steel_t", "fibreglass", "plastic", "timber"]),
            "post_spacing_m": draw.choice([4, 6, 9, 12]),
            "rods": _rods(draw),
            "strands": strands,
            "netting": draw.choice([None] * 6 + ["poultry_105", "sheep_90"]) if not strands else None,
            "fixtures": _fixtures(draw, strands, width),
            "supply": {"battery_ah": draw.choice([20, 75]), "surge": draw.random() < 0.5},
            "what_ifs": _gone_wrong(draw),
        }
    )


def _herds(draw: random.Random) -> list[dict[str, Any]]:
    kinds = draw.sample(KINDS, draw.choice([1, 1, 2]))
    return [{"id": k, "kind": k, "count": draw.choice([2, 20]), "schooled": draw.random() < 0.7} for k in kinds]


def _rods(draw: random.Random) -> dict[str, Any]:
    return {
        "count": draw.choice([1, 2, 3, 6]),
        "length_m": draw.choice([1, 2]),
        "position": [-20, -15],
        "metal": draw.choice(["galvanised", "rebar", "copper"]),
        "clamp": draw.choice(["bolt", "none"]),
        "lead": draw.choice(["cable", "household"]),
    }


def _fixtures(draw: random.Random, strands: list[dict[str, Any]], width: float) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = []
    if draw.random() < 0.5:
        rows.append({"id": "d", "kind": "diverter", "run": "line1", "at_m": 5, "name": "Diverter"})
    if draw.random() < 0.5:
        rows.append({"id": "g", "kind": "gate", "run": "line1", "at_m": width * 0.6, "name": "Gate", "width_m": 4})
    if draw.random() < 0.3:
        switch = {"id": "s", "kind": "switch", "run": "line1", "at_m": width * 0.8, "name": "Switch"}
        live = [n for n, s in enumerate(strands, 1) if s.get("role", "live") == "live"]
        if len(live) > 1 and draw.random() < 0.4:
            switch["strands"] = live[:1]
        rows.append(switch | {"is_open": draw.random() < 0.2})
    if any(s.get("role") == "earth" for s in strands) and draw.random() < 0.4:
        rows.append({"id": "f", "kind": "rods", "run": "line1", "at_m": width * 0.9, "name": "Far rods"})
    return rows


def _gone_wrong(draw: random.Random) -> list[dict[str, Any]]:
    if draw.random() < 0.85:
        return []
    return [{"id": "w", "kind": draw.choice(["cut", "post", "branch"]), "run": "line1", "at_m": 50}]
