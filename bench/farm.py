"""A farm as large as Adze promises: 2,000 points, 200 lines, 400 fixtures."""

import math

from adze.core.plan.document import Plan

_RADIUS_M = 300.0


def large_farm(runs: int = 200, points: int = 10, fixtures: int = 400) -> Plan:
    """A ring, a spine across it, and branches off the spine; gates and switches, some open."""
    turn = [2 * math.pi * i / 100 for i in range(100)]
    ring = [[round(_RADIUS_M * math.cos(a), 2), round(_RADIUS_M * math.sin(a), 2)] for a in turn]
    rows: list[dict[str, object]] = [
        {"id": "ring", "name": "Ring", "points": [*ring, ring[0]]},
        {"id": "spine", "name": "Spine", "points": [[-_RADIUS_M + i * _RADIUS_M / 10, 0.0] for i in range(21)]},
    ]
    for k in range(runs - 2):
        east = -_RADIUS_M + (k + 1) * 2 * _RADIUS_M / runs
        far = math.sqrt(_RADIUS_M**2 - east**2) * (0.9 if k % 2 else -0.9)
        course = [[round(east + 0.1 * math.sin(j), 2), round(far * j / (points - 1), 2)] for j in range(points)]
        rows.append({"id": f"branch{k}", "name": f"Branch {k}", "points": course})
    fixed = [
        {
            "id": f"f{i}",
            "kind": "gate" if i % 2 else "switch",
            "run": rows[i % runs]["id"],
            "at_m": 5.0 + i // runs * 4,
            "name": f"Fixture {i}",
            "is_open": i % 50 == 7,
        }
        for i in range(fixtures)
    ]
    return Plan.model_validate(
        {
            "name": "Large farm",
            "runs": rows,
            "fixtures": fixed,
            "energizer": "mains_6",
            "energizer_at": [-_RADIUS_M - 5, 5],
            "rods": {"count": 4, "position": [-_RADIUS_M - 20, 10]},
            "stock": [{"id": "cows", "kind": "beef_cow", "count": 40}],
        }
    )
