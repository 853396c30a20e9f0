"""The plan's rods in its ground: where each stands, the soil's layers there, ohms, and the rise of the ground around.

Even soil and plain upright rods are answered by the closed forms (core.soil.earth), all else piece by piece
(core.soil.electrodes). The season's factor holds for the upper layer; what lies below keeps its moisture, and so
does a wet hollow, which in the driest week is as it usually is.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from adze.core.basics.cache import cached
from adze.core.basics.types import Real
from adze.core.ground.places import Place
from adze.core.ground.soil_areas import is_damp, soil_of, soil_under
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.earth import Rods
from adze.core.plan.scalars import Position
from adze.core.plan.season import Season, Weather, soil_ohm_m
from adze.core.soil.earth import RodField, rod_ohm
from adze.core.soil.electrodes import Buried, Field, Layers, buried_plate
from adze.core.tables.ground import rod_metals, soils

CLAY_OHM_M = 3.0  # moist conductive clay round a rod (1 to 5)
WIRE_DEPTH_M = 0.4
PLATE_DEPTH_M = 0.6
_WIRE_M = 0.0025
DIVERTER_RODS = 2  # of a diverter with an earth of its own; an assumption
CLAMP_OHM = 0.05  # a clean, tight clamp (0.01 to 0.2)
LEAD_OHM_PER_M = {
    "cable": 0.035,
    "strand": 0.035,  # 2.5 mm steel, as the cable's core
    "galvanised": 0.035,
    "stainless": 0.147,
    "copper": 0.0036,
    "household": 0.007,
}
FROZEN_FACTOR = 7.0  # of the soil's usual ohm m in the frozen layer (5 to 10)


@dataclass(frozen=True)
class Array:
    """Rods in the ground: ohms to far soil without lead and clamps, and the rise of the surface per amp."""

    ohm: float
    rise_ohm: Callable[[Real], Real]

    def peg_fraction(self, peg_m: Position) -> float:
        """What part of the true rod volts an earth test shows with its peg at a point (eq. 18), 0 to 1."""
        return 1 - float(self.rise_ohm(np.array([peg_m]))[0]) / self.ohm


def places_of(rods: Rods) -> tuple[Position, ...]:
    """Where each rod stands, m east and north; from the origin while they are not placed."""
    count, start = rods.count, rods.position or (0.0, 0.0)
    east, north = math.sin(math.radians(rods.bearing_deg)), math.cos(math.radians(rods.bearing_deg))
    if rods.layout == "ring" and count > 2 and not rods.places:
        radius = rods.spacing_m / (2 * math.sin(math.pi / count))
        turns = [2 * math.pi * i / count for i in range(count)]
        return tuple((start[0] + radius * math.sin(t), start[1] + radius * math.cos(t)) for t in turns)
    given = rods.places[:count]
    last, more = (given[-1], 1) if given else (start, 0)
    row = (
        (last[0] + (i + more) * rods.spacing_m * east, last[1] + (i + more) * rods.spacing_m * north)
        for i in range(count - len(given))
    )
    return (*given, *row)


def middle_of(rods: Rods) -> Position | None:
    """The middle of the rods, whose soil is taken for all of them; None while they have no place."""
    if not (rods.position or rods.places) or not rods.count:
        return None
    east, north = np.mean(places_of(rods), axis=0)
    return float(east), float(north)


def least_apart_m(rods: Rods) -> float:
    """The distance of the two rods that stand nearest to each other, m; infinite for one."""
    at = places_of(rods)
    return min((math.dist(a, b) for i, a in enumerate(at) for b in at[:i]), default=math.inf)


def layers_of(plan: Plan, weather: Weather, at: str | None = None) -> Layers:
    """The soil that the rods stand in, in a season: its layers as described. `at` names another soil."""
    spot = middle_of(plan.rods)
    key = at or (soil_under(plan, spot) if spot else None)
    if spot and not at and weather.season is Season.DRY and is_damp(plan, spot):
        weather = Weather(Season.USUAL, weather.guess)
    upper = soil_ohm_m(plan, weather, key)
    if plan.subsoil is None or at:
        return Layers(upper)
    lower = plan.subsoil.ohm_m or soil_ohm_m(plan, Weather(Season.USUAL, weather.guess), plan.subsoil.soil)
    return Layers(upper, plan.subsoil.depth_m, lower)


def electrodes_of(rods: Rods, soil_ohm_m: float, film: float) -> tuple[Buried, ...]:
    """Every rod, its clay and the bare wire between as straight pieces. `film` is the factor of its metal."""
    thick, lean = rods.diameter_mm / 1000, math.radians(rods.slant_deg)
    aside = math.radians(rods.bearing_deg + 90)  # slanted across the row, so that none comes nearer to another
    east, north = math.sin(aside) * math.sin(lean), math.cos(aside) * math.sin(lean)
    series = (film - 1) * rod_ohm(soil_ohm_m, rods.length_m, thick)
    found: list[Buried] = []
    stops = [(0.0, rods.length_m, thick, series)]
    if rods.bore_cm:
        bore, deep = rods.bore_cm / 100, min(rods.bore_m, rods.length_m)
        share = deep / rods.length_m
        shell = CLAY_OHM_M * math.log(bore / thick) / (2 * math.pi * deep)
        stops = [(0.0, deep, bore, shell + series / share)]
        if deep < rods.length_m - bore:
            stops.append((deep, rods.length_m, thick, series / (1 - share)))
    at = places_of(rods)
    for x, y in at:
        for low, high, wide, extra in stops:
            start, end = ((x + d * east, y + d * north, d * math.cos(lean)) for d in (low, high))
            found.append(Buried(start, end, wide, extra))
    if rods.bare_wire:
        for (ax, ay), (bx, by) in pairwise(at):
            found.append(Buried((ax, ay, WIRE_DEPTH_M), (bx, by, WIRE_DEPTH_M), _WIRE_M))
    if rods.plate_m:
        away = rods.spacing_m + rods.plate_m / 2
        back = math.radians(rods.bearing_deg)
        spot = (at[0][0] - away * math.sin(back), at[0][1] - away * math.cos(back))
        found += buried_plate(rods.plate_m, PLATE_DEPTH_M, spot)
    return tuple(found)


@cached("rod arrays", 512)
def array(rods: Rods, layers: Layers, film: float | None = None) -> Array:
    """Rods of a description in layered soil. `film`: another factor than the likely one of their metal."""
    factor = rod_metals()[rods.metal].film if film is None else film
    upper = layers.upper_ohm_m
    plain = not (rods.slant_deg or rods.bore_cm or rods.bare_wire or rods.plate_m) and factor == 1.0
    if plain and layers.k == 0.0:
        even = RodField(places_of(rods), rods.length_m, rods.diameter_mm / 1000)
        return Array(even.ohm(upper), lambda points: even.surface_ohm(upper, points))
    field = Field(electrodes_of(rods, upper, factor), layers)
    return Array(field.ohm, field.surface_ohm)


def lead_m(plan: Plan) -> float:
    """From the energizer to its nearest rod, m; 3 m while either has no place."""
    if plan.energizer_at is None or not (plan.rods.position or plan.rods.places):
        return 3.0
    return min((math.dist(plan.energizer_at, at) for at in places_of(plan.rods)), default=0.0)


def lead_ohm(plan: Plan) -> float:
    """The earth lead and its clamps, ohm: small beside the soil."""
    clamp = 20 * CLAMP_OHM if plan.rods.clamp == "none" else CLAMP_OHM
    return LEAD_OHM_PER_M[plan.rods.lead] * lead_m(plan) + clamp


def rods_ohm(plan: Plan, weather: Weather, *, frozen: bool = False, film: float | None = None) -> float:
    """The rods near the energizer with lead and clamps to far soil, ohm. Raises EarthError for no rods.

    Frost over another soil would be a third layer: what it does in even soil is taken as a factor.
    """
    layers = layers_of(plan, weather)
    ohm, upper = array(plan.rods, layers, film).ohm, layers.upper_ohm_m
    if frozen and plan.frost_m > 0:
        frost = Layers(FROZEN_FACTOR * upper, plan.frost_m, upper)
        ohm *= array(plan.rods, frost, film).ohm / array(plan.rods, Layers(upper), film).ohm
    return ohm + lead_ohm(plan)


def site_ohm(plan: Plan, weather: Weather, place: Place, count: int) -> float:
    """So many of the plan's rods in a row on an earth strand at a place, ohm."""
    rods = replaced(plan.rods, count=count, places=(), layout="row", position=None)
    soil = soil_of(plan, place)
    return array(rods, layers_of(plan, weather, soil) if soil else _own(plan, weather)).ohm


def _own(plan: Plan, weather: Weather) -> Layers:
    return layers_of(replaced(plan, rods=replaced(plan.rods, position=None, places=())), weather)


def soil_words(plan: Plan) -> str:
    """The soil at the rods and below, in words."""
    spot = middle_of(plan.rods)
    top = soils()[(soil_under(plan, spot) if spot else None) or plan.soil].label.lower()
    below = f" over {soils()[plan.subsoil.soil].label.lower()}" if plan.subsoil else ""
    return top + below
