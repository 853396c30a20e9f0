"""The ground as the browser draws it: joins, crossings, what is off, zones, blocks, strips, dips and rises."""

import string
from typing import Any

from adze.core.basics.units import Units
from adze.core.build.rod_sites import placed
from adze.core.ground.blocks import acres, blocks, hectares, stock_sides, strips
from adze.core.ground.lines import point_at
from adze.core.ground.relief import bumps
from adze.core.ground.survey import survey
from adze.core.ground.underlay import laid
from adze.core.ground.zones import Stretch, Zones, zones
from adze.core.plan.document import Plan


def letter(number: int) -> str:
    """A, B, ... Z, AA, AB, ... for 0, 1, ..."""
    letters = string.ascii_uppercase
    return letters[number] if number < 26 else letters[number // 26 - 1] + letters[number % 26]


def area_words(area_m2: float, units: Units) -> str:
    """An area for people: square metres, hectares, or acres."""
    if units is Units.IMPERIAL:
        return f"{acres(area_m2):.2f} acres"
    return f"{hectares(area_m2):.2f} ha" if area_m2 >= 1000 else f"{area_m2:.0f} m²"


def _stretch(s: Stretch) -> list[object]:
    return [s.run, round(s.from_m, 2), round(s.to_m, 2)]


def _point(point: tuple[float, float]) -> list[float]:
    return [round(point[0], 2), round(point[1], 2)]


def _rods(plan: Plan) -> dict[str, Any]:
    return {"rods": [_point(at) for at in placed(plan)], "monitor": plan.rods.monitor and _point(plan.rods.monitor)}


def ground_json(plan: Plan) -> dict[str, Any]:
    """What is computed of the ground."""
    if not plan.runs:
        bare: dict[str, Any] = {"joins": [], "crossings": [], "dead": [], "zones": [], "blocks": [], "strips": []}
        return bare | {"bumps": [], "underlay": underlay_json(plan), **_rods(plan)}
    there, seen = survey(plan), zones(plan)
    runs = {run.id: run for run in plan.runs}
    return _rods(plan) | {
        "joins": [_point(point_at(runs[j.run], j.at_m)) for j in there.joins],
        "crossings": [
            {
                "at": _point(c.point),
                "joined": c.joined,
                "said": c.said,
                "first": c.first.run,
                "second": c.second.run,
            }
            for c in there.crossings
        ]
        + [
            {
                "at": _point(point_at(runs[j.run], j.at_m)),
                "joined": False,
                "said": True,
                "first": j.run,
                "second": j.onto.run,
            }
            for j in there.apart
        ],
        "dead": [_stretch(s) for s in seen.dead] if seen else [],
        "zones": _zones_json(seen) if seen else [],
        "blocks": [
            {"name": b.name, "at": _point(b.at), "words": area_words(b.area_m2, plan.units), "water": bool(b.water)}
            for b in blocks(plan)
        ],
        "strips": [
            {"number": s.number, "line": [_point(p) for p in s.line]}
            for m in plan.moves
            for s in strips(plan, m)
            if s.line
        ],
        "stock_sides": stock_sides(plan),
        "bumps": [
            {"at": _point(point_at(run, b.at_m)), "words": b.words, "is_dip": b.is_dip}
            for run in plan.runs
            for b in bumps(plan, run)
        ],
        "underlay": underlay_json(plan),
    }


def _zones_json(seen: Zones) -> list[dict[str, Any]]:
    return [
        {
            "letter": letter(i),
            "live": z.live,
            "stretches": [_stretch(s) for s in z.stretches],
        }
        for i, z in enumerate(seen.zones)
    ]


def underlay_json(plan: Plan) -> dict[str, Any] | None:
    """How the aerial photo lies: the matrix from its pixels to metres, and how far its points miss."""
    if plan.underlay is None:
        return None
    found = laid(plan.underlay)
    return {
        "matrix": [found.a, found.d, found.b, found.e, found.c, found.f],
        "misses_m": [round(m, 2) for m in found.misses_m],
        "metres_per_pixel": round(found.metres_per_pixel, 3),
    }
