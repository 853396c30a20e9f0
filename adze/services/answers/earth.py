"""The earth's figures as its pieces of page want them, and laying rods out on the ground."""

import math
from itertools import pairwise
from typing import Any, Literal

from adze.core.advice.earth_here import EarthHere, RodCount, knee, with_rods
from adze.core.build.rod_sites import APART_M, along_fence, placed, proposed, refusals, snapped
from adze.core.build.rods import CLAMP_OHM, lead_m, lead_ohm, places_of
from adze.core.forecast.earth_test import TEST_SCHOOLS
from adze.core.ground.nearby import short_words
from adze.core.plan.document import Plan
from adze.core.plan.earth import MOST_RODS
from adze.core.plan.scalars import Position
from adze.core.plan.season import Season

_WIDE, _HIGH, _LEFT, _BOTTOM, _TOP = 300, 170, 40, 34, 14
_BEND_M, _TAIL_M = 0.25, 0.6

How = Literal["row", "ring", "one", "along", "site", "monitor"]


def curve(here: EarthHere) -> dict[str, Any]:
    """Ohms against rods as a picture: points, band, knee, where the plan stands, how many pass in which week."""
    counts, plan = here.counts(), here.plan
    most = max(c.high_ohm for c in counts)
    x = {c.count: _LEFT + (c.count - 1) / max(1, counts[-1].count - 1) * (_WIDE - _LEFT - 12) for c in counts}

    def y(ohm: float) -> float:
        return _TOP + (1 - ohm / most) * (_HIGH - _BOTTOM - _TOP)

    limit = TEST_SCHOOLS[plan.earth_school]
    passes, usual = here.fewest(), here.fewest(Season.USUAL)
    bend = knee(counts)
    band = [f"{x[c.count]:.1f} {y(c.high_ohm):.1f}" for c in counts]
    band += [f"{x[c.count]:.1f} {y(c.low_ohm):.1f}" for c in reversed(counts)]
    ticks = [round(most * share, 0 if most > 20 else 1) for share in (0, 0.5, 1)]
    return {
        "wide": _WIDE,
        "high": _HIGH,
        "left": _LEFT,
        "floor": _HIGH - _BOTTOM,
        "top": _TOP,
        "band": "M" + "L".join(band) + "Z",
        "line": "M" + "L".join(f"{x[c.count]:.1f} {y(c.ohm):.1f}" for c in counts),
        "dots": [
            {"x": x[c.count], "y": y(c.ohm), "count": c.count, "passes": _passes(c, limit.tolerable_kv)} for c in counts
        ],
        "ticks": [{"y": y(t), "words": f"{t / 1000:.1f}k" if t >= 1000 else f"{t:g}"} for t in ticks],
        "now": next(({"x": x[c.count], "y": y(c.ohm)} for c in counts if c.count == plan.rods.count), None),
        "knee": {"count": bend, "x": x[bend]},
        "passes": passes,
        "usual": usual,
        "instead": () if passes else here.instead(),
        "most": MOST_RODS,
        "counts": counts,
        "limit": limit,
    }


def _passes(count: RodCount, limit_kv: float) -> str:
    """In which weeks so many rods pass the earth test: both, usual or none."""
    if count.test_kv <= limit_kv:
        return "both"
    return "usual" if count.usual_kv <= limit_kv else "none"


def cut_list(plan: Plan) -> list[tuple[str, float]]:
    """Pieces of lead to cut, m: home to the first rod, from rod to rod with a loop at each, a tail to carry on from."""
    at = places_of(plan.rods)
    if not at:
        return []
    rows = [("energizer to the nearest rod, with slack at the post", lead_m(plan) + 1.0)]
    on = sum(math.dist(a, b) + _BEND_M for a, b in pairwise(at))
    if on:
        rows.append((f"on through {len(at)} clamps unbroken, {_BEND_M:g} m a bend", on))
    rows.append(("coiled tail past the last rod, to join another rod later", _TAIL_M))
    return rows


def lead_words(plan: Plan) -> str:
    """The lead's own ohms beside the soil's."""
    return f"{lead_ohm(plan):.1f} Ω in {lead_m(plan):.0f} m of lead and its clamps ({CLAMP_OHM:g} Ω a clamp)"


def sites_json(plan: Plan) -> dict[str, Any]:
    """Rows proposed, and why rods that stand are where they should not be."""
    return {
        "proposed": [
            {
                "row": [list(at) for at in site.row(plan.rods)],
                "words": "; ".join(site.reasons) or "nothing nearby that rods must keep away from",
                "lead": short_words(plan, site.lead_m),
            }
            for site in proposed(plan)
        ],
        "refused": [
            {"at": list(at), "why": why.words}
            for at, why in zip(placed(plan), refusals(plan, placed(plan)), strict=True)
            if why
        ],
    }


def laid(plan: Plan, how: How, points: tuple[Position, ...], site: int = 0) -> tuple[Plan, str]:
    """Rods laid out, and what was done. Raises ValueError in words."""
    rods = plan.rods
    wide = max(rods.spacing_m, APART_M)
    if how == "site":
        rows = proposed(plan)
        if not 0 <= site < len(rows):
            raise ValueError("Adze no longer proposes that place. Choose one of the list.")
        update: dict[str, object] = {"position": rows[site].at, "bearing_deg": rows[site].bearing_deg, "places": []}
        return with_rods(plan, **update, layout="row"), "Rods where it is damp and quiet"
    if not points:
        raise ValueError("Click where the rods go.")
    at = (round(points[0][0], 2), round(points[0][1], 2))
    if how == "monitor":
        return with_rods(plan, monitor=at), "Placed the rod that watches"
    if how == "one":
        spot = snapped(plan, at)
        if len(placed(plan)) >= MOST_RODS:
            raise ValueError(f"At most {MOST_RODS} rods are possible.")
        where = (*placed(plan), spot)
        return with_rods(plan, places=where, position=where[0], count=len(where), layout="row"), "Placed a rod"
    if how == "ring":
        update = {"position": at, "places": [], "layout": "ring", "spacing_m": wide, "count": max(3, rods.count)}
        return with_rods(plan, **update), "Rods in a ring"
    if len(points) < 2:
        raise ValueError("Click where the row begins, then where it leads.")
    if how == "along":
        return with_rods(plan, **along_fence(at, points), spacing_m=wide), "Rods along the fence"
    east, north = points[1][0] - points[0][0], points[1][1] - points[0][1]
    if math.hypot(east, north) < 0.5:
        raise ValueError("Both ends of the row are at one spot. Click the second one farther away.")
    bearing = round(math.degrees(math.atan2(east, north)) % 360, 1) % 360
    row = {"position": at, "bearing_deg": bearing, "places": [], "layout": "row", "spacing_m": wide}
    return with_rods(plan, **row), f"Laid {rods.count} rods in a row"
