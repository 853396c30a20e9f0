"""What Power shows."""

import math
from typing import Any

from adze.core.advice.schools import power_schools
from adze.core.animals.strand_rules import Role
from adze.core.build.construction import fence_of
from adze.core.energizer.lightning import spark_gap_mm
from adze.core.energizer.supply import Rate, brought_wh, days, draw_a, dullest, needed_wh, usable_ah
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m
from adze.core.ground.places import place_words
from adze.core.plan.catalogue import catalogue, pulse_of, unit_of
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.tables.construction import nettings
from adze.core.tables.energizers import EnergizerModel
from adze.core.tables.ground import grasses
from adze.services.judging.searches import latest
from adze.services.views.base import ViewRequest


def power_view(asked: ViewRequest) -> dict[str, Any]:
    """The energizer, all others, rules of thumb, rates, where the pulse is led in."""
    plan, judged = asked.plan, asked.judged
    unit = unit_of(plan)
    length = sum(length_m(run) for run in plan.runs)
    lengths = {run.id: length_m(run) for run in plan.runs}
    wire = sum(
        sum(s.role is Role.LIVE for s in fence_of(built.view)) * sum(lengths[run] for run in built.runs)
        for built in standing_fences(plan)
    )
    rolls = sum(
        math.ceil(sum(lengths[run] for run in built.runs) / nettings()[built.view.netting].roll_m)
        for built in standing_fences(plan)
        if built.view.netting
    )
    return {
        "energizers": catalogue(plan),
        "growths": [grass.label.lower() for grass in grasses().values()],
        "fed": place_words(plan, start.place) if (start := feed(plan)) else "",
        "gap_mm": spark_gap_mm(unit.open_kv) if unit else 0.0,
        "unit": unit,
        "search": latest(asked.begin_transaction, asked.opened),
        "schools": power_schools(length, wire, unit, rolls) if unit and length else (),
        "rates": _rates(plan, unit) if unit else (),
        "sun": _sun_by_month(plan, unit) if unit and unit.supply == "solar" else None,
        "warnings": {u.key: _told(catalogue(plan)[u.key]) for u in plan.own_energizers},
        "starts": {season: v.start_kv for season, v in judged.volts.items()},
    }


def _told(unit: EnergizerModel) -> tuple[str, ...]:
    pulse = pulse_of(unit)
    return (*pulse.warnings, *pulse.notes)


def _sun_by_month(plan: Plan, unit: EnergizerModel) -> dict[str, Any] | None:
    """What the sun brings and the unit takes on a day of each month; None where the dullest has no sun."""
    own, rate = plan.supply, Rate(plan.supply.rate)
    worst = dullest(unit, rate, plan.origin.lat, own.clearness)
    if worst is None:
        return None
    months = brought_wh(worst.panel_w, worst.tilt_deg, plan.origin.lat, own.clearness)
    return {"worst": worst, "months": months, "need_wh": needed_wh(unit, rate), "most_wh": max(months)}


def _rates(plan: Plan, unit: EnergizerModel) -> list[dict[str, Any]]:
    """Draw, days and panel at every rate."""
    own = plan.supply
    ah = usable_ah(own.battery_ah, deep_cycle=own.deep_cycle, celsius=own.coldest_c)
    found = []
    for rate in Rate:
        sun = dullest(unit, rate, plan.origin.lat, own.clearness)
        row: dict[str, Any] = {"rate": rate.value, "draw_a": draw_a(unit, rate), "days": days(unit, rate, ah)}
        found.append(row | {"panel_w": sun and sun.panel_w})
    return found
