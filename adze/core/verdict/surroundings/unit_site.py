"""Where the energizer stands: water beside it, shade on its panel, stock that reach it, a road that shows it."""

import math
from collections.abc import Iterator

from shapely import Point, Polygon

from adze.core.basics.status import Status
from adze.core.basics.units import Units
from adze.core.ground.blocks import block_at
from adze.core.ground.lines import shape_of
from adze.core.ground.nearby import name_of, short_words
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_kinds
from adze.core.tables.ground import landmark_kinds
from adze.core.verdict.findings import Finding

DAIRY_M = 10.0  # of the energizer from water that stock drinks
SEEN_FROM_M = 30.0  # a portable unit is carried off from a road this near
OWN_BUILDING_M = 3.0  # the energizer hangs in it
_DECLINATION_DEG = 23.45  # of the sun in the dullest month, towards the other pole
_LEAST_SUN_DEG = 5.0  # lower than that the shade of anything reaches everywhere
_SHADE_WAY_DEG = 45.0  # to either side of noon: three hours of the day's best six
_PANEL_M = 1.0  # over the ground
# What is not measured is taken to be so tall.
ASSUMED_TALL_M = {"tree": 8.0, "wood": 10.0, "building": 5.0, "milk_house": 5.0, "hutch": 2.5}
_WATERS = ("milk_house", "trough", "well", "pipe")


def judge_unit_site(plan: Plan) -> Iterator[Finding]:
    """Findings about the energizer's place; none while it has none."""
    if plan.energizer_at is None:
        return
    here = Point(plan.energizer_at)
    yield from _waters(plan, here)
    unit = unit_of(plan)
    if unit is not None and unit.supply == "solar":
        yield from _shade(plan, here)
    if any(shape_of(m).distance(here) < OWN_BUILDING_M for m in plan.landmarks if m.kind in ("building", "milk_house")):
        return
    yield from _stock(plan)
    if unit is not None and unit.supply != "mains":
        yield from _seen(plan, here)


def _finding(title: str, reason: str, mend: str, where: str, figure: str = "", limit: str = "") -> Finding:
    return Finding(Stage.GROUND, title, Status.MARGINAL, reason, figure=figure, limit=limit, where=where, mend=mend)


def _waters(plan: Plan, here: Point) -> Iterator[Finding]:
    for mark in plan.landmarks:
        away = float(shape_of(mark).distance(here)) if mark.kind in _WATERS else math.inf
        if away < DAIRY_M:
            yield _finding(
                "Energizer near " + landmark_kinds()[mark.kind].label.lower(),
                f"It hangs {short_words(plan, away)} from {name_of(mark)}: stray volts in water keep cattle from "
                "drinking.",
                "Hang it in another building, with rods well away from the water.",
                name_of(mark),
                short_words(plan, away),
                short_words(plan, DAIRY_M),
            )


def shade_m(tall_m: float, latitude_deg: float) -> float:
    """How far something throws its shade at noon on the shortest day, m along level ground."""
    altitude_deg = max(_LEAST_SUN_DEG, 90 - abs(latitude_deg) - _DECLINATION_DEG)
    return max(0.0, tall_m - _PANEL_M) / math.tan(math.radians(altitude_deg))


def _sunward(here: Point, reach_m: float, latitude_deg: float) -> Polygon:
    """The ground that lies towards the noon sun from a place, so far."""
    south = -1 if latitude_deg >= 0 else 1
    ways = [math.radians(step * _SHADE_WAY_DEG / 4) for step in range(-4, 5)]
    arc = [(here.x + reach_m * math.sin(way), here.y + south * reach_m * math.cos(way)) for way in ways]
    return Polygon([(here.x, here.y), *arc])


def _shade(plan: Plan, here: Point) -> Iterator[Finding]:
    for mark in plan.landmarks:
        tall_m = mark.tall_cm / 100 if mark.tall_cm else ASSUMED_TALL_M.get(mark.kind)
        shape = shape_of(mark)
        if tall_m is None or mark.kind not in ASSUMED_TALL_M or shape.distance(here) < 0.5:
            continue
        reach_m = shade_m(tall_m, plan.origin.lat)
        away = shape.intersection(_sunward(here, reach_m, plan.origin.lat)).distance(here)
        if away < reach_m:
            yield _finding(
                "Panel in the shade",
                f"{name_of(mark)} stands {short_words(plan, away)} towards the noon sun; {_tall_words(plan, tall_m)} "
                f"tall{'' if mark.tall_cm else ', as assumed'}, it throws {short_words(plan, reach_m)} of shade at "
                "noon on the shortest day.",
                "Stand the panel where nothing shades it at noon, or lead its current there by cable.",
                name_of(mark),
                short_words(plan, away),
                short_words(plan, reach_m),
            )


def _tall_words(plan: Plan, tall_m: float) -> str:
    return f"{tall_m:g} m" if plan.units is Units.METRIC else short_words(plan, tall_m)


def _stock(plan: Plan) -> Iterator[Finding]:
    held = [animal_kinds()[h.kind].plural.lower() for h in plan.stock if animal_kinds()[h.kind].purpose == "hold"]
    block = block_at(plan, plan.energizer_at) if held and plan.energizer_at else None
    if block is not None:
        yield _finding(
            "Stock reach the energizer",
            f"It stands inside {block.name}: {held[0]} rub on it, chew its leads and tip its battery.",
            "Put it outside the line, on a post behind it, or inside a ring of its own strand.",
            block.name,
        )


def _seen(plan: Plan, here: Point) -> Iterator[Finding]:
    for mark in plan.landmarks:
        away = float(shape_of(mark).distance(here)) if mark.kind == "road" else math.inf
        if away < SEEN_FROM_M:
            yield _finding(
                "Energizer in sight of a road",
                f"It stands {short_words(plan, away)} from {name_of(mark)}: a unit with its battery is stolen in a "
                "minute.",
                "Put it out of sight, chain it to a post or lock it in a box.",
                name_of(mark),
                short_words(plan, away),
                short_words(plan, SEEN_FROM_M),
            )
