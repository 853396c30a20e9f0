"""How far it is from any place of the fence to where it is shut off, and where it is read first."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from adze.core.basics.status import Status
from adze.core.basics.units import format_length
from adze.core.ground.feed import feed
from adze.core.ground.lines import length_m, point_at, run_of
from adze.core.ground.places import Place, place_words
from adze.core.ground.zones import Stretch, Zones
from adze.core.plan.document import Plan
from adze.core.plan.scalars import Position
from adze.core.plan.stages import Stage
from adze.core.verdict.actions import Action, ActionKind, place_action
from adze.core.verdict.findings import Finding

WALK_M_PER_MINUTE = 75.0  # 4.5 km/h over a field, looking at nothing
FAR_MINUTES = 8.0  # longer there, and people work on it live
READ_EVERY_M = 500.0  # a test point each so far, and at every end that hangs
_SAMPLE_M = 50.0
_ALREADY_M = 60.0  # a test point this near reads the same


@dataclass(frozen=True)
class ShutOff:
    """The place of the live fence that is farthest from what shuts it off: how far, m, and what that is."""

    place: Place
    away_m: float
    by: str


def judge_shut_off(plan: Plan, found: Zones) -> Iterator[Finding]:
    """A long walk to the nearest switch that kills a place, and test points that are not there."""
    worst = farthest_from_shut_off(plan, found)
    if worst is not None and worst.away_m / WALK_M_PER_MINUTE > FAR_MINUTES:
        minutes = worst.away_m / WALK_M_PER_MINUTE
        yield Finding(
            Stage.GROUND,
            "A long walk to shut it off",
            Status.MARGINAL,
            f"The nearest switch for this place is {worst.by}, {format_length(worst.away_m, plan.units)} away in a "
            f"straight line. A walk of {minutes:.0f} minutes each way tempts people to work on it live.",
            figure=f"{minutes:.0f} min",
            limit=f"{FAR_MINUTES:.0f} min",
            place=worst.place,
            where=place_words(plan, worst.place),
            mend="Place a switch on the way to it, or use a unit with a remote control.",
            action=place_action(ActionKind.SWITCH, worst.place.run, _towards_feed(plan, worst.place)),
        )
    wanted = missing_test_points(plan, found)
    if wanted:
        yield Finding(
            Stage.GROUND,
            "Test points",
            Status.HOLDS,
            f"{len(wanted)} place{'s' * (len(wanted) > 1)} would tell most when the fence is low: where the pulse "
            f"comes in, at open ends, and every {format_length(READ_EVERY_M, plan.units)}.",
            place=wanted[0],
            where=place_words(plan, wanted[0]),
            mend="Set them; the Log then asks for their kV.",
            action=Action(ActionKind.TEST_POINTS, ()),
        )


def _towards_feed(plan: Plan, place: Place) -> float:
    """Half way back from a place to the end of its line that the pulse comes from, m along."""
    start = feed(plan)
    length = length_m(run_of(plan, place.run))
    if start is None:
        return place.at_m / 2
    home = point_at(run_of(plan, start.place.run), start.place.at_m)
    near = min((0.0, length), key=lambda at: math.dist(home, point_at(run_of(plan, place.run), at)))
    return min(max((place.at_m + near) / 2, 1.0), max(length - 1.0, 0.0))


def farthest_from_shut_off(plan: Plan, found: Zones) -> ShutOff | None:
    """The worst place of what is live; None without an energizer's place."""
    if plan.energizer_at is None:
        return None
    places, spots = _sampled(plan, [s for zone in found.zones if zone.live for s in zone.stretches])
    if not places:
        return None
    at = np.array(spots)
    away = np.hypot(*(at - np.array(plan.energizer_at)).T)
    by = np.full(len(places), "the energizer", dtype=object)
    start = feed(plan)
    if plan.lead_out.switch and start is not None:
        home = np.hypot(*(at - np.array(point_at(run_of(plan, start.place.run), start.place.at_m))).T)
        by[home < away] = "the cut-out where the lead-out meets the fence"
        away = np.minimum(away, home)
    for switch in found.switches:
        spot = np.array(point_at(run_of(plan, switch.run), switch.at_m))
        killed = found.killed(switch.id)
        inside = np.array([any(_in(place, stretch) for stretch in killed) for place in places])
        metres = np.where(inside, np.hypot(*(at - spot).T), np.inf)
        by[metres < away] = switch.name
        away = np.minimum(away, metres)
    worst = int(np.argmax(away))
    return ShutOff(places[worst], float(away[worst]), str(by[worst]))


def _in(place: Place, stretch: Stretch) -> bool:
    return place.run == stretch.run and stretch.from_m <= place.at_m <= stretch.to_m


def _sampled(plan: Plan, stretches: list[Stretch]) -> tuple[list[Place], list[Position]]:
    places = [
        Place(s.run, float(at))
        for s in stretches
        for at in np.linspace(s.from_m, s.to_m, max(2, math.ceil(s.length_m / _SAMPLE_M) + 1))
    ]
    return places, [point_at(run_of(plan, place.run), place.at_m) for place in places]


def missing_test_points(plan: Plan, found: Zones) -> list[Place]:
    """Where fixed test points are missing: at the feed, at ends that hang, each so far along what is live."""
    there = [Place(f.run, f.at_m) for f in plan.fixtures if f.kind == "test"]
    wanted: list[Place] = []
    start = feed(plan)
    spots = [point_at(run_of(plan, place.run), place.at_m) for place in there]

    def ask(place: Place) -> None:
        spot = point_at(run_of(plan, place.run), place.at_m)
        if all(math.dist(spot, other) > _ALREADY_M for other in spots):
            wanted.append(place)
            spots.append(spot)

    if start is not None:
        ask(start.place)
    for end in found.ends:
        ask(end)
    for zone in found.zones:
        for stretch in zone.stretches if zone.live else ():
            for step in range(1, math.ceil(stretch.length_m / READ_EVERY_M)):
                ask(Place(stretch.run, round(stretch.from_m + step * READ_EVERY_M, 1)))
    return wanted
