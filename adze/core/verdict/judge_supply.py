"""Findings on what feeds the energizer, on its rate, and on lightning."""

import calendar
from collections.abc import Iterator
from functools import partial

from shapely import Point

from adze.core.basics.status import Status
from adze.core.basics.units import format_length
from adze.core.build.construction import conductors_of
from adze.core.energizer.lightning import spark_gap_mm
from adze.core.energizer.supply import Rate, days, dullest, usable_ah
from adze.core.ground.feed import feed
from adze.core.ground.lines import point_at, run_of, shape_of
from adze.core.ground.places import Place
from adze.core.plan.catalogue import MOST_J_IN_500
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.ground import Diverter
from adze.core.plan.stages import Stage
from adze.core.tables.animals import animal_kinds
from adze.core.tables.energizers import EnergizerModel
from adze.core.verdict.actions import Action, ActionKind, setting
from adze.core.verdict.findings import Finding

_BATTERIES_AH = (12.0, 24.0, 45.0, 60.0, 75.0, 90.0, 110.0, 140.0, 180.0, 230.0, 400.0)
WEEK = 7.0  # a battery is looked at and changed once a week
SUNLESS_DAYS = 5.0  # a solar unit's battery bridges so many days without sun
MAINS_NEAR_M = 10.0  # farther from a roof, mains parts stand outdoors or hang on a long lead
MOST_OPEN_KV = 10.0  # that an energizer may show without load. Source: IEC 60335-2-76
DIVERTER_NEAR_M = 30.0  # a strike between it and the feed passes it by
_MONTHS = (*calendar.month_name,)


def supply_findings(plan: Plan, unit: EnergizerModel) -> Iterator[Finding]:
    """Battery, sun, rate, mains and lightning, as far as they belong to the unit."""
    if "battery" in unit.supply or unit.supply == "solar":
        yield from _battery(plan, unit)
    if unit.supply == "solar":
        yield from _sun(plan, unit)
    yield from _rate(plan)
    yield from _output(plan, unit)
    yield from _limits(unit)
    if "mains" in unit.supply:
        yield from _surge(plan)
    if unit.supply == "mains":
        yield from _mains(plan)
    yield from _lightning(plan, unit)


_finding = partial(Finding, Stage.POWER)


def _battery(plan: Plan, unit: EnergizerModel) -> Iterator[Finding]:
    supply = plan.supply
    ah = usable_ah(supply.battery_ah, deep_cycle=supply.deep_cycle, celsius=supply.coldest_c)
    lasts, wanted = days(unit, supply.rate, ah), SUNLESS_DAYS if unit.supply == "solar" else WEEK
    holds = lasts >= wanted
    yield _finding(
        "Days without sun" if unit.supply == "solar" else "Days between charges",
        Status.HOLDS if holds else Status.MARGINAL,
        f"{supply.battery_ah:g} Ah gives {ah:.0f} Ah at {supply.coldest_c:g} °C without harm. Use two in turn: one "
        "in use, one charging. Charge each full before the first day, and every three months in store.",
        "" if holds else f"Use a larger battery, or set the unit {_saver(plan)}.",
        f"{lasts:.1f} days",
        f"{wanted:g} days",
        setting("supply", battery_ah=f"{_enough_ah(supply.battery_ah * wanted / max(lasts, 1e-9)):g}"),
    )
    if not supply.deep_cycle:
        yield _finding(
            "Car battery",
            Status.MARGINAL,
            "A car battery dies when it is emptied: only a fifth of it may be used.",
            "Use a deep-cycle battery: half of it may be used.",
            action=setting("supply", deep_cycle="on"),
        )


def _enough_ah(ah: float) -> float:
    """The next size of battery that is sold, Ah; what is asked where that is more than any."""
    return next((size for size in _BATTERIES_AH if size >= ah), ah)


def _comes_at_night(plan: Plan) -> list[str]:
    """The wild animals that are to be kept out: they come in the dark."""
    return [k.plural for k in (animal_kinds()[h.kind] for h in plan.stock) if k.wild and k.purpose == "out"]


def _saver(plan: Plan) -> str:
    """The rate that saves without weakening the fence when it is tried."""
    if _comes_at_night(plan):
        return "slow by day, where the unit can, for they come at night: a quarter less"
    return "slow at night: a quarter less"


def _sun(plan: Plan, unit: EnergizerModel) -> Iterator[Finding]:
    sun = dullest(unit, plan.supply.rate, plan.origin.lat, plan.supply.clearness)
    if sun is None:
        yield _finding(
            "Panel in the dullest month",
            Status.FAILS,
            "The sun does not rise high enough in the dullest month at this latitude.",
            "Use mains, or two batteries in turn, in those months.",
        )
        return
    yield _finding(
        "Panel in the dullest month",
        Status.HOLDS,
        f"{_MONTHS[sun.month]} brings {sun.sun_hours:.1f} hours of full sun a day on a panel tilted "
        f"{sun.tilt_deg}°. The unit's own panel should be no smaller. Give it full sun, without shade at noon, and "
        "charge the battery full before the first day.",
        figure=f"{sun.panel_w:.0f} W",
    )


def _rate(plan: Plan) -> Iterator[Finding]:
    wild = _comes_at_night(plan)
    if wild and plan.supply.rate in (Rate.NIGHT, Rate.SLOW):
        yield _finding(
            "Slow at night",
            Status.FAILS,
            f"The {', '.join(dict.fromkeys(wild))} come at night, and a saver weakens the fence just then.",
            "Run it at the full rate at night. Slow by day saves as much, where the unit can do it.",
            action=setting("supply", rate=Rate.FULL.value),
        )
    new = [h for h in plan.stock if animal_kinds()[h.kind].purpose == "hold" and not h.schooled]
    if plan.half_power and new:
        yield _finding(
            "Reduced terminal with untrained animals",
            Status.MARGINAL,
            "Animals that do not know the fence need its full pulse at the first touch.",
            "Use the full terminal until they are trained.",
            action=setting("plan", half_power="off"),
        )


def _output(plan: Plan, unit: EnergizerModel) -> Iterator[Finding]:
    """Thin filaments melt and burn under anything but short pulses; people let go only between pulses."""
    kinds = {c.kind for built in standing_fences(plan) for c in conductors_of(built.view)}
    netting = any(built.view.netting for built in standing_fences(plan))
    poly = [kind for kind in ("polywire", "rope", "tape") if kind in kinds] + ["netting"] * netting
    if unit.output == "continuous":
        yield _finding(
            "Continuous output",
            Status.FAILS,
            "Whoever grips it cannot let go"
            + (f", and the filaments of {' and '.join(poly)} burn through under it" if poly else "")
            + ". Pulses at least 1 s apart are the usual rule; check your local code.",
            "Use an energizer that pulses.",
        )
    elif unit.output == "high impedance" and (set(poly) - {"polywire"}):
        yield _finding(
            "Wide poly on a high-impedance unit",
            Status.MARGINAL,
            f"{' and '.join(poly).capitalize()} loads it: a high-impedance pulse is long and soft, falls with every "
            "leak, and warms thin filaments.",
            "Use a low-impedance unit.",
        )


def _limits(unit: EnergizerModel) -> Iterator[Finding]:
    """A plate beyond what the usual standard for energizers lets one give."""
    told_j = unit.j_500 or 0.0
    if unit.open_kv > MOST_OPEN_KV or told_j > MOST_J_IN_500:
        yield _finding(
            "Beyond the usual limits",
            Status.FAILS,
            f"The usual standard lets a pulse reach {MOST_OPEN_KV:g} kV and leave {MOST_J_IN_500:g} J in 500 Ω: "
            "more can kill. Read the plate again; check your local code.",
            "Use an energizer within the limits.",
            f"{unit.open_kv:g} kV" + (f", {told_j:g} J" if told_j else ""),
            f"{MOST_OPEN_KV:g} kV, {MOST_J_IN_500:g} J",
        )


def _surge(plan: Plan) -> Iterator[Finding]:
    if not plan.supply.surge:
        yield _finding(
            "No surge strip",
            Status.MARGINAL,
            "Surges on the mains kill energizers as often as lightning on the fence.",
            "Put a surge protector between socket and unit.",
            action=setting("supply", surge="on"),
        )


def _mains(plan: Plan) -> Iterator[Finding]:
    roofs = [shape_of(m) for m in plan.landmarks if m.kind in ("building", "milk_house", "mains") and len(m.points)]
    if plan.energizer_at is None or not roofs:
        return
    away = min(roof.distance(Point(plan.energizer_at)) for roof in roofs)
    if away > MAINS_NEAR_M:
        yield _finding(
            "Mains parts outdoors",
            Status.FAILS,
            "A mains unit belongs under a roof beside its socket. A long household lead over the ground is a "
            "stop-gap at best, and wet plugs kill.",
            "Move it to a building and bring its pulse out by insulated cable, or use a battery unit.",
            format_length(away, plan.units),
            format_length(MAINS_NEAR_M, plan.units),
        )


def _lightning(plan: Plan, unit: EnergizerModel) -> Iterator[Finding]:
    start = feed(plan)
    if start is None:
        return
    near = Point(point_at(run_of(plan, start.place.run), start.place.at_m))
    placed = [f for f in plan.fixtures if isinstance(f, Diverter)]
    spots = [Point(point_at(run_of(plan, f.run), f.at_m)).distance(near) for f in placed]
    gap = f"{spark_gap_mm(unit.open_kv):.0f} mm"
    if not placed and unit.supply in CARRIED:
        return  # a caution of Power's says to carry it in
    if not placed:
        yield _finding(
            "Lightning diverter",
            Status.MARGINAL,
            "No diverter stands between the energizer and the fence, so lightning on the line goes through the "
            "unit. A diverter does not change the computed kV.",
            "Place one at the feed, earthed on rods of its own or at the farthest of these.",
            action=Action(ActionKind.DIVERTER, ()),
        )
    elif min(spots) > DIVERTER_NEAR_M:
        yield _finding(
            "Lightning diverter",
            Status.MARGINAL,
            "It stands away from the feed: lightning that strikes nearer the energizer bypasses it.",
            "Place another one at the feed, before the energizer.",
            format_length(min(spots), plan.units),
            format_length(DIVERTER_NEAR_M, plan.units),
            Action(ActionKind.DIVERTER, ()),
        )
    else:
        yield _finding(
            "Lightning diverter",
            Status.HOLDS,
            f"It stands at the feed. Its gap must be about {gap} to hold off {unit.open_kv:g} kV.",
        )
    for fixture in placed:
        if fixture.earth in _BAD_EARTH:
            reason, mend = _BAD_EARTH[fixture.earth]
            place = Place(fixture.run, fixture.at_m)
            yield Finding(
                Stage.POWER,
                "Diverter wrongly earthed",
                Status.FAILS,
                reason,
                place=place,
                where=fixture.name,
                mend=mend,
                action=Action(ActionKind.DIVERTER, (fixture.id,)),
            )


CARRIED = ("battery", "solar")
_BAD_EARTH = {
    "none": (
        "A diverter without an earth diverts nothing: lightning goes on to the energizer.",
        "Connect it to the farthest rod, to the middle one by its own cable, or to rods of its own.",
    ),
    "supply": (
        "Lightning and the fence's pulses would enter the house through the supply's earth.",
        "Give it rods of its own, at least 10 m from the supply's earth. Check your local code.",
    ),
}
