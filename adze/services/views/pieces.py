"""Pieces of a stage's page that take longer to compute: each is asked for when it is looked at.

All raise Incomplete where the plan cannot be solved yet.
"""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from adze.core.advice.carried import none_of_its_kind
from adze.core.advice.earth_here import EarthHere
from adze.core.advice.earth_options import options
from adze.core.advice.other_fences import fences_beside, next_stock
from adze.core.advice.reroute import unit_places
from adze.core.advice.supplies import KWH_PRICE, SWAP_HOURS, supply_ways
from adze.core.advice.ways import chosen_way, conductors_here, ways
from adze.core.animals.touch import PATH_WORDS
from adze.core.basics.status import Status, rank
from adze.core.basics.units import Units, format_length, parse_length_m
from adze.core.energizer.supply import charge_left, days_left
from adze.core.forecast.budget import budget
from adze.core.forecast.compare_units import UnitHere, grown, units_here
from adze.core.forecast.earth_test import TEST_SCHOOLS
from adze.core.forecast.strand_joins import Cut, strand_joins
from adze.core.forecast.stray import NOTICED_V, REFUSED_V, WATERS, monitor_v, strays
from adze.core.forecast.volts import solved
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import catalogue, unit_of, unpriced_units
from adze.core.plan.changes import changed
from adze.core.plan.constructions import built_as
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.plan.stock import wanted_by, wanted_of
from adze.core.soil.earth import EarthError
from adze.core.tables.animals import animal_kinds
from adze.core.tables.construction import conductors
from adze.core.tables.ground import grasses
from adze.services.answers.earth import curve
from adze.services.answers.pulse import budget_rows
from adze.services.log.readings import ReadingError, number
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log import earth_tests

View = dict[str, Any]


@contextmanager
def _of_earth() -> Iterator[None]:
    """Rods that cannot stand so are an incomplete plan."""
    try:
        yield
    except EarthError as error:
        raise Incomplete(Stage.EARTH, str(error)) from error


def _bare(plan: Plan) -> View:
    return {"plan": plan, "units": plan.units}


def ways_view(plan: Plan, fence: str | None) -> View:
    """All live and in turn, computed side by side."""
    found = ways(plan, fence)
    patterns = {w.kind: [{"cm": s.cm, "role": s.role.value} for s in w.strands] for w in found}
    own = {"ways": found, "chosen": chosen_way(found), "path_words": PATH_WORDS, "patterns": patterns}
    return _bare(plan) | own


def conductors_view(plan: Plan, fence: str | None) -> View:
    """What each conductor would do on this fence."""
    rows = conductors_here(plan, fence)
    return {"plan": built_as(plan, fence).view, "rows": rows, "conductors": conductors()}


def other_fences_view(plan: Plan) -> View:
    """This fence per metre beside fences without electricity."""
    return _bare(plan) | {"rows": fences_beside(plan)}


def strand_joins_view(plan: Plan, season: Season, run: str, cut: tuple[str, str]) -> View:
    """What joining the live strands of a line brings, with the strand and place of a cut as typed.

    Raises ReadingError naming the field.
    """
    strand, at = cut
    chosen = next((r for r in plan.runs if r.id == run), plan.runs[0] if plan.runs else None)
    if chosen is None:
        raise Incomplete(Stage.GROUND, "No fence is drawn yet. Draw a line from the energizer outward at Ground.")
    long_m = length_m(chosen)
    at_m = _along_m(plan, at, long_m) if at.strip() else long_m / 2
    lowest_first = (
        int(number(strand, "strand", "strand, counted from the lowest live one", 12)) if strand.strip() else 1
    )
    found = strand_joins(plan, chosen.id, Cut(max(lowest_first, 1) - 1, at_m), Weather(season))
    return _bare(plan) | {"joins": found, "run": chosen, "season": season, "words": JOIN_WORDS}


def _along_m(plan: Plan, text: str, long_m: float) -> float:
    """A typed distance along a line, in the plan's unit where none is said. Raises ReadingError."""
    try:
        at_m = parse_length_m(text, "ft" if plan.units is Units.IMPERIAL else "m")
    except ValueError as error:
        raise ReadingError("cut_at", f"Cut at: {error}.") from error
    if not 0 <= at_m <= long_m:
        raise ReadingError("cut_at", f"Cut at: must lie between 0 and {format_length(long_m, plan.units)}.")
    return at_m


JOIN_WORDS = {
    "near": "Joined where the pulse comes in",
    "both": "Joined at both ends",
    "none": "Fed on the top strand alone",
}


def next_stock_view(plan: Plan, kind: str) -> View:
    """What a kind of stock that comes later asks of the fence. Raises ReadingError for an unknown kind."""
    if kind not in animal_kinds():
        raise ReadingError("kind", f"there is no kind of animal {kind!r}; choose one of the list")
    found = next_stock(plan, kind)
    return _bare(plan) | {"next": found, "more": len(found.then) - len(found.now)}


def units_view(plan: Plan, *, more_km: float, rolls: int, growth: int | None) -> View:
    """What every energizer would do on this fence, with so much more line, netting and growth everywhere.

    `growth` is a step of the table of growth, None as planned. Those that are enough come first, the cheapest of
    them at the top; then those under which the rods fail their test; then those that are not enough, the nearest at
    the top. Raises ValidationError.
    """
    wider = grown(plan, 1000 * more_km, rolls)
    if growth is not None:
        runs = [run.model_copy(update={"grass": None}) for run in wider.runs]
        wider = changed(wider, {"grass": list(grasses())[growth], "runs": runs, "growths": ()})
    here = units_here(wider, catalogue(plan).values())
    wanted = wanted_of(plan)
    most_kv = max((wanted, *(kv for row in here for kv in row.kv.values()))) * 1.06
    unpriced = unpriced_units(plan)

    def cost(row: UnitHere) -> tuple[bool, float, float]:
        return row.unit.key in unpriced, row.unit.price, -row.margin

    return {
        "plan": plan,
        "unpriced": unpriced,
        "ways": supply_ways(wider, here),
        "assumed": {"kwh": KWH_PRICE, "swap_hours": SWAP_HOURS, "battery_ah": plan.supply.battery_ah},
        "cannot": none_of_its_kind(wider, here),
        "enough": sorted((r for r in here if r.margin >= 1 and r.test_margin >= 1), key=cost),
        "weak_earth": sorted((r for r in here if r.margin >= 1 > r.test_margin), key=cost),
        "short": sorted((r for r in here if r.margin < 1), key=lambda r: (-r.margin, r.unit.price)),
        "wanted_kv": wanted,
        "wanted_by": wanted_by(plan),
        "most_kv": most_kv,
    }


def budget_view(plan: Plan, season: Season) -> View:
    """Where the pulse goes in a season."""
    found = budget(solved(plan, Weather(season)))
    return {"rows": budget_rows(plan, found), "found": found, "season": season}


def battery_view(plan: Plan, rest_v: str, *, agm: bool) -> View:
    """How full a battery is by its volts at rest, and for how long it still feeds the unit.

    Raises Incomplete, ReadingError, ValueError.
    """
    unit, own = unit_of(plan), plan.supply
    if unit is None:
        raise Incomplete(Stage.POWER, "Choose an energizer first: its current decides.")
    charge = charge_left(number(rest_v, "rest_v", "Volts at rest", 20), agm=agm)
    left = days_left(unit, own.rate, own.battery_ah, charge, deep_cycle=own.deep_cycle)
    return {"charge": charge, "days": left, "own": own}


def earth_view(plan: Plan) -> View:
    """What the rods cost the fence in each season, and ohms against rods."""
    with _of_earth():
        here = EarthHere(plan)
        own = {"rows": here.seasons(), "curve": curve(here), "watch": monitor_v(plan, Season.DRY)}
        return _bare(plan) | own | {"returns": here.returns}


def rod_schools_view(plan: Plan) -> View:
    """Every rule for the number of rods beside what it gives here."""
    with _of_earth():
        here = EarthHere(plan)
        own = {"rows": here.schools(), "curve": curve(here), "limit": TEST_SCHOOLS[plan.earth_school]}
        return _bare(plan) | own | {"returns": here.returns}


def unit_places_view(plan: Plan) -> View:
    """The energizer's own place and others: what is better there and what is worse, by the findings' titles."""
    rows = unit_places(plan)
    told = [
        {f.title: f.status for v in row.judged.verdicts.values() for f in v.findings if f.status is not Status.HOLDS}
        for row in rows
    ]
    places = [
        {
            "place": row,
            "better": [title for title, was in told[0].items() if rank(has.get(title, Status.HOLDS)) < rank(was)],
            "worse": [title for title, is_now in has.items() if rank(is_now) > rank(told[0].get(title, Status.HOLDS))],
        }
        for row, has in zip(rows, told, strict=True)
    ]
    return _bare(plan) | {"places": places}


def earth_options_view(plan: Plan) -> View:
    """What the next rod buys against all else."""
    with _of_earth():
        return _bare(plan) | {"rows": options(plan, EarthHere(plan))}


def stray_view(begin_transaction: BeginTransaction, opened: OpenPlan) -> View:
    """Where animals drink: how far the ground rises there, and what was read."""
    plan = opened.plan
    with _of_earth():
        rows = strays(plan)
    with begin_transaction() as connection:
        read = earth_tests.list_stray_readings(connection, plan_id=opened.id, most=12)
    return _bare(plan) | {
        "rows": rows,
        "placed": bool(plan.rods.position or plan.rods.places),
        "marked": any(m.kind in WATERS for m in plan.landmarks),
        "read": read,
        "noticed_v": NOTICED_V,
        "refused_v": REFUSED_V,
        "plan_id": opened.id,
    }
