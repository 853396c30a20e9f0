"""The energizer's side of the list: unit, lead-out, supply, lightning, rods."""

import math
from dataclasses import replace
from itertools import pairwise

from adze.core.build.joints import earth_lead_m
from adze.core.build.needs import PartNeed, in_one, priced
from adze.core.build.rods import DIVERTER_RODS, lead_m, places_of
from adze.core.ground.feed import WITH_WHEELS, feed, lead_out_shape, ways_crossed
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.ground import Diverter, RodSite
from adze.core.tables.ground import rod_metals
from adze.core.tables.prices import prices

CLAY_KG_PER_L = 1.6
_PRICED_ROD_M = 2.0  # the rod of the table of prices; others cost by their length
_PRICED_BATTERY_AH = 75.0  # likewise


def power_needs(plan: Plan) -> list[PartNeed]:
    """The energizer, its lead-out, diverter, supply and tester."""
    start = feed(plan)
    unit = unit_of(plan)
    if unit is None or start is None:
        return []
    spare = plan.allowance.lead_m
    words = f"{start.lead_m:.0f} m to the fence and {spare:g} m to spare"
    lines = [
        PartNeed("Power", unit.label, 1, "piece", 1, unit.price, "as chosen"),
        in_one(priced("Power", "lead_out", start.lead_m + spare, words), "lead-out"),
        *_lead_out(plan),
        priced("Power", "diverter", len(diverters(plan)), "between energizer and fence"),
        priced("Power", "tester", 1, "reads kV and amps"),
    ]
    if "mains" in unit.supply and plan.supply.surge:
        lines.append(priced("Power", "surge", 1, "on the mains side"))
    if unit.supply != "mains":
        lines.append(_batteries(plan.supply.battery_ah))
    if unit.supply == "battery":
        lines.append(priced("Power", "unit_box", 1, "rain, snow and thieves stay out"))
        lines.append(priced("Power", "charger", 1, "for the battery that rests; full before it is stored"))
    return lines


def _batteries(ah: float) -> PartNeed:
    """A pair of batteries of the plan's Ah; the table prices one size, others cost by their Ah."""
    one = priced("Power", "battery", 1, "one in use, one charging")
    return replace(
        one, label=f"Deep-cycle battery 12 V {ah:g} Ah, pair", price=round(one.price * ah / _PRICED_BATTERY_AH, 2)
    )


def _lead_out(plan: Plan) -> list[PartNeed]:
    """What the way of the lead-out asks beside its cable: duct, sleeves under wheels, conduit through the wall."""
    lead, way = lead_out_shape(plan), plan.lead_out
    if lead is None:
        return []
    wheels = sum(mark.kind in WITH_WHEELS for mark in ways_crossed(plan))
    buried = way.way == "buried"
    return [
        priced("Power", "duct", lead.length if buried else 0, "the lead-out in the ground; ends turned down, sealed"),
        priced("Power", "sleeve", wheels if buried and way.sleeve else 0, f"under {wheels} ways with wheels"),
        priced("Power", "duct_seal", 2 if buried else 0, "both ends: dirt, water and frost stay out"),
        priced("Power", "conduit", 1 if way.conduit else 0, "where the lead-out leaves the building"),
    ]


def diverters(plan: Plan) -> tuple[Diverter, ...]:
    """The lightning diverters that are drawn."""
    return tuple(f for f in plan.fixtures if isinstance(f, Diverter))


def earth_needs(plan: Plan) -> list[PartNeed]:
    """Rods and all that joins and beds them: at the energizer, along the line, and a diverter's own."""
    rods = plan.rods
    sites = [f.rods for f in plan.fixtures if isinstance(f, RodSite)]
    sites += [DIVERTER_RODS for diverter in diverters(plan) if diverter.earth == "own"]
    far = sum(sites)
    at = places_of(rods)
    between = sum(math.dist(a, b) for a, b in pairwise(at)) + sum((n - 1) * rods.spacing_m + 2 for n in sites)
    home = lead_m(plan) + plan.allowance.lead_m if rods.count else 0.0
    why = f"{rods.count} at the energizer" + (f", {far} along the line" if far else "")
    metal, price = rod_metals()[rods.metal], prices()["earth_rod"]
    pieces = rods.count + far
    kind = "galvanised" if rods.metal == "galvanised" else metal.label.lower()
    label = f"Earth rod {rods.length_m:g} m × {rods.diameter_mm:g} mm, {kind}"
    each = round(price.price * metal.price_factor * rods.length_m / _PRICED_ROD_M, 2)
    needs = [
        PartNeed("Earth", label, pieces + bool(rods.monitor), "piece", 1, each, why, "earth_rod"),
        priced("Earth", "rod_clamp", rods.count + far + bool(rods.monitor), "1 a rod, of the rod's metal"),
    ]
    bare = rods.bare_wire or rods.lead not in ("cable", "household")
    strung = home if rods.lead == "strand" else 0.0
    insulated = home - strung + (0.0 if bare else between)
    along = earth_lead_m(plan)
    if along is not None:
        words = f"{along:.0f} m from the unit to the earth strands"
        needs.append(
            in_one(priced("Earth", "earth_lead", along + plan.allowance.lead_m, words), "to the earth strands")
        )
    if pieces:
        needs.append(priced("Earth", "test_stake", 1, "a metre long, for the earth test"))
        needs.append(
            in_one(priced("Earth", "earth_lead", insulated, "to the rods and on through them, unbroken"), "to the rods")
        )
        needs.append(priced("Earth", "bare_lead", between if bare else 0.0, "through the rods, unbroken"))
        needs.append(priced("Earth", "bare_lead", strung, "on the posts to the rods"))
        clips = math.ceil(strung / plan.post_spacing_m)
        needs.append(priced("Insulators", "earth_clip", clips, "the earth lead, 1 on each post to the rods"))
    if rods.plate_m:
        needs.append(priced("Earth", "earth_plate", rods.plate_m**2, "flat, 60 cm deep, joined to the rods"))
    if rods.bore_cm:
        litres = math.pi / 4 * (rods.bore_cm / 10) ** 2 * 10 * min(rods.bore_m, rods.length_m) * (rods.count + far)
        needs.append(priced("Earth", "clay", CLAY_KG_PER_L * litres, f"bores of {rods.bore_cm:g} cm"))
    return needs
