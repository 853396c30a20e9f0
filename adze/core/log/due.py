"""What is due on a fence, when, where and why: upkeep that keeps it as it was planned. Source: farm practice."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from shapely import LineString, Point

from adze.core.basics.cache import cached
from adze.core.build.construction import bottom_switch_of, conductors_of
from adze.core.energizer.supply import days_left
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.season import grass_of

READ_DAYS, TRIM_DAYS, HEAVY_TRIM_DAYS, YEAR_DAYS = 10, 45, 21, 365
PANEL_DAYS, STORM_DAYS, LONGEST_SWAP_DAYS = 60, 2, 30
NEAR_TREE_M = 15.0  # a tree this near throws its branches on the line
GROWING_MONTHS = (4, 10)  # first and last, north of the equator; half a year later south of it
_LEAFY = 0.05  # canopy of a growth, m, from which it is cut


@dataclass(frozen=True)
class Upkeep:
    """One kind of upkeep: its key, what is done, why, where, and every how many days; `only` names when it counts."""

    key: str
    title: str
    why: str
    where: str
    every_days: int
    only: str = ""


@dataclass(frozen=True)
class Due:
    """An upkeep with the day on which it falls due, when it was done last, and days by which it is late."""

    upkeep: Upkeep
    last: date | None
    on: date
    late_days: int


def is_growing(plan: Plan, day: date) -> bool:
    """Whether grass grows at the farm on a day."""
    month = day.month if plan.origin.lat >= 0 else (day.month + 5) % 12 + 1
    return GROWING_MONTHS[0] <= month <= GROWING_MONTHS[1]


@cached("upkeep of a plan", 200, identity_args=1)
def upkeep_of(plan: Plan) -> tuple[Upkeep, ...]:
    """The upkeep that this fence asks."""
    return tuple(_upkeep(plan))


def _upkeep(plan: Plan) -> Iterator[Upkeep]:
    if not plan.runs:
        return
    points = [f.name for f in plan.fixtures if f.kind == "test"]
    where = ", ".join(points[:5]) if points else "unit, ends and switches"
    why = "you see a fall while it is small; read the battery at rest too"
    yield Upkeep("kv", "Read kV at the fixed points", why, where, READ_DAYS)
    yield from _green(plan)
    yield from _supply(plan)
    yield from _hardware(plan)
    for season, words in (("dry", "driest"), ("wet", "wettest")):
        why = "rods that pass in wet ground may fail in dry; only a loaded fence shows it"
        yield Upkeep(f"earth_{season}", f"Earth test in the {words} spell", why, "the rods", YEAR_DAYS)
    under = _under_trees(plan)
    why = "branches lie on the line, and the diverter may be struck"
    where = ", ".join(under) if under else "everywhere; no line stands under trees"
    yield Upkeep("storm", "Walk after the storm", why, where, STORM_DAYS, only="storm")


def _green(plan: Plan) -> Iterator[Upkeep]:
    heavy = [run.name for run in plan.runs if grass_of(plan, run).canopy_m > _LEAFY]
    if heavy:
        thick = any(grass_of(plan, run).key == "heavy" for run in plan.runs)
        why = "wet grass on the lowest strand is the usual slow loss; a strong fence burns it off except in wet years"
        days = HEAVY_TRIM_DAYS if thick else TRIM_DAYS
        title = "Trim under the line: trimmer, mower, stock, gravel, or spray where the law allows it"
        yield Upkeep("trim", title, why, ", ".join(heavy[:4]), days, only="growing")
    if any(bottom_switch_of(built.view) for built in standing_fences(plan)):
        why = "the lowest strands stand in the grass and drain the pulse"
        yield Upkeep("bottom_off", "Bottom strands off", why, "their switch", YEAR_DAYS, only="growing")
        why = "the grass has gone: small stock and visitors meet those strands again"
        yield Upkeep("bottom_on", "Bottom strands on again", why, "their switch", YEAR_DAYS, only="resting")


def _supply(plan: Plan) -> Iterator[Upkeep]:
    unit = unit_of(plan)
    if unit is None or unit.supply == "mains":
        return
    own = plan.supply
    left = days_left(unit, own.rate, own.battery_ah, 1.0, deep_cycle=own.deep_cycle)
    if unit.supply == "solar":
        yield Upkeep("panel", "Clean panel and contacts", "dust and droppings halve its power", "the unit", PANEL_DAYS)
    else:
        why = f"a full one lasts {left:.0f} days without harm; charge the other one meanwhile"
        yield Upkeep("battery", "Swap the batteries", why, "the unit", max(1, min(LONGEST_SWAP_DAYS, int(left))))


def _hardware(plan: Plan) -> Iterator[Upkeep]:
    views = [built.view for built in standing_fences(plan)]
    kinds = {made.kind for view in views for made in conductors_of(view)}
    why = "a loose clamp loses volts, at the rods and at every joint"
    yield Upkeep("clamps", "Tighten earth and joint clamps", why, "rods, ends, gates, switches", YEAR_DAYS)
    why = "pins break where deer cross, bright plastic ages and tape rubs at corners; carry spares"
    yield Upkeep("insulators", "Look at every insulator", why, "corners and crossings first", YEAR_DAYS)
    if kinds & {"wire", "coated", "tape"}:
        yield Upkeep("tension", "Tension again", "posts settle and strands creep", "each strain", YEAR_DAYS)
    if any(view.post in ("timber", "dense_timber") or view.end_post for view in views):
        why = "wet timber leaks where a strand touches it, and looks dry again by noon"
        yield Upkeep("posts", "Look at wooden posts after rain", why, "ends and corners", YEAR_DAYS)
    gates = [f.name for f in plan.fixtures if f.kind in ("gate", "crossing")]
    if gates:
        why = "hooks on the ground, corroded handles, water in ducts"
        yield Upkeep("gates", "Gates, handles, hooks and ducts", why, ", ".join(gates[:5]), YEAR_DAYS)
    yield Upkeep("signs", "Signs still readable", "a person who cannot read them is not warned", "all sides", YEAR_DAYS)


def _under_trees(plan: Plan) -> list[str]:
    trees = [mark for mark in plan.landmarks if mark.kind in ("tree", "wood")]
    found = []
    for run in plan.runs:
        shape = LineString(run.points)
        near = (LineString(m.points) if len(m.points) > 1 else Point(m.points[0]) for m in trees)
        if any(shape.distance(tree) < NEAR_TREE_M for tree in near):
            found.append(run.name)
    return found


def due(plan: Plan, done: Mapping[str, date], today: date, storm: date | None = None) -> tuple[Due, ...]:
    """What falls due, latest first. `done` is the last day of each; what was never noted is due today.

    `storm` is the day of the last one; its walk counts until it was done after that.
    """
    growing = is_growing(plan, today)
    found = []
    for row in upkeep_of(plan):
        last = done.get(row.key)
        if (row.only == "growing" and not growing) or (row.only == "resting" and growing):
            continue
        if row.only == "storm":
            if storm is None or (last is not None and last >= storm):
                continue
            on = storm + timedelta(days=row.every_days)
        else:
            on = last + timedelta(days=row.every_days) if last else today
        found.append(Due(row, last, on, (today - on).days))
    return tuple(sorted(found, key=lambda row: -row.late_days))
