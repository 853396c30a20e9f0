"""Seasons, and what they do to soil, grass, insulators and hooves."""

from dataclasses import dataclass
from enum import StrEnum

from adze.core.animals.strand_rules import Role, Strand
from adze.core.animals.touch import Hooves
from adze.core.plan.document import Plan
from adze.core.plan.earth import Feel
from adze.core.plan.ground import Run
from adze.core.tables.construction import insulation
from adze.core.tables.ground import Grass, grasses, soils


class Season(StrEnum):
    """The driest week, the usual, the wettest week."""

    DRY = "dry"
    USUAL = "usual"
    WET = "wet"


SEASON_WORDS = {Season.DRY: "driest week", Season.USUAL: "usual week", Season.WET: "wettest week"}


class Guess(StrEnum):
    """Soil and grass are guesses: which end of their range is taken (of the kV that comes out)."""

    LOW = "low"
    LIKELY = "likely"
    HIGH = "high"


@dataclass(frozen=True)
class LineLoss:
    """What a line loses by itself: how far steel is from its small-signal permeability, its loss angle, the least leak.

    `least_leak_s_per_m` is that of one strand's insulators to soil, S/m.
    """

    steel_factor: float
    loss_angle_rad: float
    least_leak_s_per_m: float


# Steel at pulse currents and dusty insulators are not measured on fences: an ideal line, one in use, a lossy one (S18).
LINE_LOSS = {
    Guess.HIGH: LineLoss(1.0, 0.0, 0.0),
    Guess.LIKELY: LineLoss(2.0, 0.4, 3e-8),
    Guess.LOW: LineLoss(4.0, 0.6, 1e-7),
}
HOOVES = {Season.DRY: Hooves.DRY, Season.USUAL: Hooves.MOIST, Season.WET: Hooves.MOIST}
_CLEAR_OF_GRASS, _IN_GRASS = 1.3, 0.7
_LEAK_COLUMN = {Season.DRY: "dry_s_per_m", Season.USUAL: "usual_s_per_m", Season.WET: "wet_s_per_m"}


@dataclass(frozen=True)
class Weather:
    """A season with an end of the guesses' range."""

    season: Season
    guess: Guess = Guess.LIKELY


def soil_ohm_m(plan: Plan, weather: Weather, soil_key: str | None = None) -> float:
    """Soil resistivity in a season, ohm m; a resistivity typed for the plan goes before its soil's table."""
    soil = soils()[soil_key or plan.soil]
    likely, low, high = soil.ohm_m, soil.low_ohm_m, soil.high_ohm_m
    if plan.soil_ohm_m is not None and soil_key is None:
        # A measured figure still varies: keep the table's spread around it.
        likely, low, high = (plan.soil_ohm_m * x / soil.ohm_m for x in (likely, low, high))
    far = {Guess.LIKELY: likely, Guess.HIGH: low, Guess.LOW: high}[weather.guess]
    known = plan.calibration
    base: float = known.soil_factor * likely * (far / likely) ** known.soil_share
    if soil_key is None and plan.soil_ohm_m is None:
        base *= feel_factor(plan)
    return base * {Season.DRY: soil.dry_factor, Season.USUAL: 1.0, Season.WET: soil.wet_factor}[weather.season]


_FEEL_SHARE = {Feel.UNKNOWN: 0.0, Feel.SINKS: -0.7, Feel.PUSHES: 0.0, Feel.BARELY: 0.6, Feel.NEVER: 1.0}


def feel_factor(plan: Plan) -> float:
    """What a screwdriver in the ground says of the soil within its range: a guess, of the likely ohm m."""
    soil, share = soils()[plan.soil], _FEEL_SHARE[plan.soil_feel]
    end = soil.high_ohm_m if share > 0 else soil.low_ohm_m
    return float((end / soil.ohm_m) ** abs(share))


def grass_weight(height_m: float, canopy_m: float) -> float:
    """How much of a wire's length lies in growth, 0 to 1: all below 0.7 canopies, none above 1.3."""
    if canopy_m <= 0:
        return 0.0
    ratio = height_m / canopy_m
    return min(1.0, max(0.0, (_CLEAR_OF_GRASS - ratio) / (_CLEAR_OF_GRASS - _IN_GRASS)))


def wire_leak_s_per_m(height_m: float, grass: Grass, weather: Weather, growth_factor: float = 1.0) -> float:
    """Leak of one wire to soil through posts and growth, S/m. Tuned figures: core/tables/data/grass.csv."""
    growth: float = getattr(grass, _LEAK_COLUMN[weather.season])
    posts = max(insulation()[weather.season.value].live_soil_s_per_m, LINE_LOSS[weather.guess].least_leak_s_per_m)
    return posts + growth_factor * growth * grass_weight(height_m, grass.canopy_m)


def group_leak_s_per_m(
    strands: tuple[Strand, ...], role: Role, grass: Grass, weather: Weather, growth_factor: float = 1.0
) -> float:
    """Leak to soil of all strands with a role, S/m; netting leaks more through the same growth."""
    return sum(wire_leak_s_per_m(s.cm / 100, grass, weather, growth_factor) for s in strands if s.role is role)


def growth_scale(plan: Plan, weather: Weather) -> float:
    """How much more growth leaks than the table says: as calibrated, at the weather's end of what is not known."""
    known = plan.calibration
    ends = {Guess.LOW: known.leak_spread, Guess.LIKELY: 1.0, Guess.HIGH: 1 / known.leak_spread}
    return known.leak_factor * ends[weather.guess]


def grass_of(plan: Plan, run: Run) -> Grass:
    """The growth along a run."""
    return grasses()[run.grass or plan.grass]
