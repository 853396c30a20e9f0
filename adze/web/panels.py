"""What each stage's panel shows, gathered for its template."""

import math
from collections.abc import Callable
from datetime import date
from itertools import groupby
from typing import Any

from adze.core.advice.schools import power_schools
from adze.core.advice.ways import JudgedPattern, judged_patterns
from adze.core.animals.strand_reasons import reasons
from adze.core.animals.strand_rules import Role, design
from adze.core.basics.units import format_height
from adze.core.build.construction import bottom_group_of, fence_of, has_earth_strands
from adze.core.build.materials import HIT_WORDS, farthest_m, insulators_for, post_of
from adze.core.build.parts import bill
from adze.core.build.rods import soil_words
from adze.core.build.story_pole import insulator_side
from adze.core.energizer.lightning import spark_gap_mm
from adze.core.energizer.supply import Rate, days, draw_a, dullest, usable_ah
from adze.core.forecast.earth_test import TEST_SCHOOLS
from adze.core.forecast.touches import needs
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m
from adze.core.ground.places import place_words
from adze.core.plan.catalogue import catalogue, pulse_of, unit_of
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import Built, built_as, every_fence, standing_fences, views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import WHAT_IF_WORDS
from adze.core.plan.season import Season, Weather, soil_ohm_m
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animals_of, body_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors, insulators, nettings, post_kinds
from adze.core.tables.energizers import EnergizerModel
from adze.core.tables.ground import grasses, rod_metals, soils
from adze.core.verdict.judge import Judgement
from adze.core.verdict.judge_fence import judge_built, lost_without_bottom
from adze.core.verdict.judge_stock import LOSS_WORDS
from adze.services.earth_tests import test_rows, tests_due
from adze.services.earth_view import cut_list, lead_words
from adze.services.forecasts import judgement_of
from adze.services.readings import reading_words
from adze.store import readings
from adze.store.connection import Connection
from adze.store.earth_tests import list_earth_tests
from adze.web.ground_panel import Pane, ground_context

STAGES = (
    Stage.STOCK,
    Stage.GROUND,
    Stage.STRANDS,
    Stage.POWER,
    Stage.EARTH,
    Stage.VOLTS,
    Stage.PARTS,
    Stage.LOG,
)


def _stock(plan: Plan, judged: Judgement) -> dict[str, Any]:
    bodies = {herd.id: body_of(herd) for herd in plan.stock}
    return {
        "kinds": animal_kinds(),
        "wanted_kv": judged.wanted_kv,
        "bodies": bodies,
        "losses": LOSS_WORDS,
        "needs": needs(plan),
    }


def _strands(whole: Plan, built: Built) -> dict[str, Any]:
    plan = built.view
    animals = animals_of(plan)
    number = next((i for i, row in enumerate(whole.fences) if row.id == built.id), None)
    return {
        "built": built,
        "verdict": judge_built(whole, built),
        "stands": {b.id: judge_built(whole, b).status for b in every_fence(whole)} if whole.fences else {},
        "at": "" if number is None else f"fences.{number}.",
        "own": whole if number is None else whole.fences[number],
        "ways_to_build": every_fence(whole),
        "lengths": {run.id: length_m(run) for run in whole.runs},
        "own_m": sum(length_m(run) for run in whole.runs if run.id in built.runs),
        "fence": fence_of(replaced(plan, bottom_off=False)),
        "bottom": bottom_group_of(plan),
        "lost": lost_without_bottom(plan),
        "pattern": design(animals, plan.duty, plan.scheme) if animals else None,
        "patterns": [_pattern_row(plan, p) for p in judged_patterns(plan)],
        "conductors": conductors(),
        "nettings": nettings(),
        "in_net": len(nettings()[plan.netting].heights.split()) if plan.netting else 0,
        "posts": post_kinds(),
        "kinds": animal_kinds(),
        "insulators": insulators(),
        "fitting": insulators_for(plan),
        "hit_words": HIT_WORDS,
        "farthest_m": farthest_m(plan),
        "post_cm": post_of(plan),
        "side": insulator_side(plan),
        "reasons": [(animal_kinds()[a.kind].label, reasons(a, plan.duty)) for a in animals],
    }


def _pattern_row(plan: Plan, found: JudgedPattern) -> dict[str, Any]:
    heights = [format_height(s.cm, plan.units) + ("" if s.role is Role.LIVE else f" {s.role}") for s in found.strands]
    return {
        "label": found.row.label,
        "words": ", ".join(heights),
        "strands": [{"cm": s.cm, "role": s.role.value} for s in found.strands],
        "status": found.status,
        "says": found.worst,
    }


def _power(plan: Plan, judged: Judgement) -> dict[str, Any]:
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
        "fed": place_words(plan, start.place) if (start := feed(plan)) else "",
        "gap_mm": spark_gap_mm(unit.open_kv) if unit else 0.0,
        "unit": unit,
        "schools": power_schools(length, wire, unit, rolls) if unit and length else (),
        "rates": _rates(plan, unit) if unit else (),
        "warnings": {u.key: pulse_of(catalogue(plan)[u.key]).warnings for u in plan.own_energizers},
        "starts": {season: v.start_kv for season, v in judged.volts.items()},
    }


def _rates(plan: Plan, unit: EnergizerModel) -> list[dict[str, Any]]:
    """Draw, days and panel at every rate."""
    own = plan.supply
    ah = usable_ah(own.battery_ah, deep_cycle=own.deep_cycle, celsius=own.coldest_c)
    found = []
    for rate in Rate:
        sun = dullest(unit, rate, plan.origin.lat, own.clearness)
        row = {"rate": rate.value, "draw_a": draw_a(unit, rate), "days": days(unit, rate, ah)}
        found.append(row | {"panel_w": sun and sun.panel_w})
    return found


def _earth(plan: Plan, judged: Judgement) -> dict[str, Any]:
    return {
        "soils": soils(),
        "metals": rod_metals(),
        "test_schools": TEST_SCHOOLS,
        "soil_words": soil_words(plan),
        "cuts": cut_list(plan),
        "lead_words": lead_words(plan),
        "ohms": {season: v.rods_ohm for season, v in judged.volts.items()},
        "soil_ohm_m": {season: soil_ohm_m(plan, Weather(season)) for season in Season},
    }


def _volts(plan: Plan, judged: Judgement) -> dict[str, Any]:
    return {
        "grasses": grasses(),
        "what_if_words": WHAT_IF_WORDS,
        "returns": [run for run, view in views_by_run(plan).items() if has_earth_strands(view)],
        "names": {run.id: run.name for run in plan.runs},
    }


def _parts(plan: Plan, judged: Judgement) -> dict[str, Any]:
    found = bill(plan)
    return {"bill": found, "groups": [(name, list(lines)) for name, lines in groupby(found.lines, lambda x: x.group)]}


_GATHER: dict[Stage, Callable[[Plan, Judgement], dict[str, Any]]] = {
    Stage.STOCK: _stock,
    Stage.POWER: _power,
    Stage.VOLTS: _volts,
    Stage.PARTS: _parts,
}


def panel_context(
    connection: Connection, plan_id: int, plan: Plan, stage: Stage, pane: Pane, fence: str | None = None
) -> dict[str, Any]:
    """Everything that a stage's panel template names; `pane` is the ground's list, `fence` the way that is shown."""
    judged = judgement_of(plan)
    context: dict[str, Any] = {
        "plan_id": plan_id,
        "plan": plan,
        "stage": stage,
        "verdict": judged.verdicts.get(stage),
        "judged": judged,
        "units": plan.units,
    }
    if stage is Stage.LOG:
        rows = readings.list_readings(connection, plan_id=plan_id)
        return context | {"readings": [reading_words(plan, r) for r in rows]}
    if stage is Stage.EARTH:
        tests = list_earth_tests(connection, plan_id=plan_id)
        own = {"kept": test_rows(tests, plan.earth_school), "due": tests_due(tests, date.today())}
        return context | _earth(plan, judged) | own
    if stage is Stage.GROUND:
        return context | ground_context(plan, pane)
    if stage is Stage.STRANDS:
        return context | _strands(plan, built_as(plan, fence))
    return context | _GATHER[stage](plan, judged)


def drawn_kinds() -> dict[str, dict[str, Any]]:
    """Every kind's body as the side view draws it."""
    return {
        key: {
            "label": k.label,
            "plural": k.plural,
            "purpose": k.purpose,
            "nose_cm": k.nose_cm,
            "shoulder_cm": k.shoulder_cm,
            "head_cm": k.head_cm,
            "young_kind": k.young,
        }
        for key, k in animal_kinds().items()
    }
