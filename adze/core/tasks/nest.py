"""The job round a nest: short, rehearsed, with the clock of the bird that is off its eggs."""

import math
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from adze.core.animals.strand_rules import Role
from adze.core.basics.units import format_length
from adze.core.build.construction import fence_of
from adze.core.build.parts import needs_of
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import unit_of
from adze.core.plan.document import Plan
from adze.core.plan.ground import Diverter
from adze.core.tasks.steps import Step

# Limits of a job at a nest, minutes. Source: practice of those who fence nests; local wildlife law goes before them.
REHEARSED_MIN = 30.0
UNCOVERED_MIN = 5.0  # eggs in sun, wind or cold without a cover
BACK_MIN = 60.0  # not back within the hour: the fence is taken away
LEAST_BEFORE_DUSK_H = 3.0
ROUND_DAYS = (7, 10)
CLEAR_M = 300.0  # the birds are several hundred metres away before the fence is taken off
LOAD_KG = 15.0  # that one person carries over rough ground
# Weights for a load estimate. Source: density of steel, and what such things weigh as sold; an assumption.
_STEEL_KG_PER_M3, _BATTERY_KG_PER_AH, _LIGHT_POST_KG, _STIFF_POST_KG, _POLY_KG_PER_100M = 7850.0, 0.28, 0.35, 1.4, 0.4
_STIFF_POSTS = ("stiff_post", "end_post", "composite_end")
# What is packed beside what the plan's own fence takes, with its weight, kg.
_BESIDE = (
    ("Leads with clips", 0.5), ("Tester with its own probe", 0.5), ("Cover for the eggs", 0.3), ("Sighting canes", 1.0),
    ("Hammer and driver", 3.0), ("Pliers, knife", 0.7), ("Warning signs", 0.4), ("Nails for post tops", 0.3),
    ("Shears for the line", 1.0), ("Gloves, goggles", 0.5), ("Watch", 0.0), ("This sheet", 0.0),
)  # fmt: skip


# The kit is ticked when it is packed and again when it is back; nothing stays in the field.
KIT_WAYS = ("out", "in")
_KIT_KEY = re.compile(r"kit:(out|in):(\d{1,2})")


def kit_key(way: str, number: int) -> str:
    """The name of a tick of the kit: which way, and the thing's number from 0."""
    return f"kit:{way}:{number}"


def kit_of(plan: Plan) -> tuple[tuple[str, float], ...]:
    """What is packed for the plan's fence, each with its weight, kg; one battery of the pair goes along."""
    rods, unit, rows = plan.rods, unit_of(plan), fence_of(plan)
    posts, stiff = _posts(plan)
    metres = len(rows) * sum(length_m(run) for run in plan.runs)
    stake_kg = _STEEL_KG_PER_M3 * math.pi / 4 * (rods.diameter_mm / 1000) ** 2 * rods.length_m
    things = [
        (f"{posts} posts with their insulators on", posts * _LIGHT_POST_KG),
        (f"{stiff} end and corner posts", stiff * _STIFF_POST_KG),
        (f"Reel with {format_length(metres, plan.units)} wound, end free", 2.0 + metres / 100 * _POLY_KG_PER_100M),
        (f"Energizer on its stand, tested{f': {unit.label}' if unit else ''}", 2.5),
        (f"Battery of {plan.supply.battery_ah:g} Ah, charged", plan.supply.battery_ah * _BATTERY_KG_PER_AH),
        (f"{_stakes(plan)}, clamps and lead" if rods.count else "Earth lead", rods.count * stake_kg + 1.5),
    ]
    if any(isinstance(f, Diverter) for f in plan.fixtures):
        things.append(("Lightning diverter", 0.5))
    return (*((thing, round(kg, 1)) for thing, kg in things if not thing.startswith("0 ")), *_BESIDE)


def _posts(plan: Plan) -> tuple[int, int]:
    """How many light posts and how many end and corner posts the bill has."""
    posts = [need for need in needs_of(plan) if need.group == "Posts"]
    light, stiff = (sum(need.quantity for need in posts if need.part in keys) for keys in (("",), _STIFF_POSTS))
    return int(light), int(stiff)


def _stakes(plan: Plan) -> str:
    many = f"{plan.rods.count} earth stakes" if plan.rods.count > 1 else "Earth stake"
    return f"{many} of {format_length(plan.rods.length_m, plan.units)}"


def is_kit_key(key: str, things: int) -> bool:
    """Whether a tick is of one of so many things of the kit."""
    found = _KIT_KEY.fullmatch(key)
    return bool(found and int(found[2]) < things)


def loads(kit: Sequence[tuple[str, float]], people: int) -> tuple[float, int]:
    """What a kit weighs for each of so many people, kg, and how often each walks with at most 15 kg."""
    each = sum(kg for _, kg in kit) / max(people, 1)
    return each, max(1, -int(-each // LOAD_KG))


def is_nest_job(plan: Plan) -> bool:
    """Whether a bird sits where the fence goes."""
    return any(mark.kind == "nest" for mark in plan.landmarks)


def nest_steps(plan: Plan, rates: Mapping[str, float]) -> Iterator[Step]:
    """Go or no-go, rehearsal, the kit, approach, the square level by level, power, watch, rounds, removal."""
    at = next(mark.points[0] for mark in plan.landmarks if mark.kind == "nest")
    for step in (*_prepared(plan), *_stood(plan, rates), *_watched()):
        yield replace(step, at=at)


def _prepared(plan: Plan) -> Iterator[Step]:
    """Before anybody walks in."""
    go = (
        "Losses here are by predators on the ground; the clutch is complete; somebody experienced agrees.",
        "You have the licence that local wildlife law requires.",
        f"It is dry, neither cold with wind nor hot; start in the morning, or at least {LEAST_BEFORE_DUSK_H:g} h "
        "before dusk.",
    )
    yield Step("go", "services", "Go or no-go", "", go, 10, is_hold=True, dry=True, still=True)
    kit = kit_of(plan)
    drill = (
        f"Practise the whole job on an empty field until it takes {REHEARSED_MIN:g} minutes. Give each person a "
        "role; one leads.",
    )
    yield Step(
        "rehearse", "mark", "Rehearsed by the watch", "", drill, 2 * REHEARSED_MIN, ("go",), least=2, most=4,
        is_hold=True,
    )  # fmt: skip
    yield Step(
        "kit",
        "mark",
        "Kit packed and ticked",
        f"{len(kit)} things",
        tuple(thing for thing, _ in kit),
        20,
        ("rehearse",),
        is_hold=True,
    )
    scan = (
        "Find it the day before and mark it by bearings from two trees: others see a mark at the nest too.",
        "Wait while crows sit in the trees. They follow people to eggs.",
        "Go straight in by one way and note the minute the bird leaves.",
    )
    yield Step("scan", "mark", "Tree line looked over, then in", "", scan, 5, ("kit",), reads="left")
    cover = ("Do it at once: sun and cold wind both kill.",)
    yield Step("cover", "mark", "Eggs covered", "", cover, 1, ("scan",))


def _stood(plan: Plan, rates: Mapping[str, float]) -> Iterator[Step]:
    """The square, level by level, and its power."""
    metres = sum(length_m(run) for run in plan.runs)
    rows = fence_of(plan)
    live = ", ".join(f"{row.cm:g}" for row in rows if row.role is Role.LIVE)
    side = format_length(max(metres / 8, 1), plan.units)
    square = (
        f"Pace from the nest {side} to each side and sight over canes. Trim only the line.",
        "Lay stakes outside the line, clear of the wire.",
    )
    yield Step("square", "mark", "Square set out, trimmed", "", square, 4, ("cover",), least=2, most=3, drawing="nest")
    corners = ("Set the corners first, upright, with the spikes all the way in.",)
    yield Step("corners", "posts", "Corner stakes", "", corners, 4, ("square",), most=2)
    low = ("The wire can start while the rest is marked.",)
    yield Step("low", "insulators", "Two lowest insulators", "", low, 3, ("corners",), most=2)
    wire = (
        f"Run it live at {live} cm: loop and twist at the bottom insulator, go round, up one level, and round again.",
        "Anchor the reel inside and wind it tight: no end, no joint.",
        "Put nails on post tops against perching, and signs where people can come.",
    )
    minutes = max(6.0, metres * len(rows) / 100 * rates["strand_100m"])
    yield Step("wire", "strands", f"One wire, {len(rows)} levels", "", wire, minutes, ("low",), least=2, most=3)
    if plan.rods.count:
        stake = (f"Drive {_stakes(plan)} fully in the dampest spot beside the unit; clamp the lead to each in turn.",)
        yield Step("earth", "earth", "Earth stakes", f"{plan.rods.count}", stake, 3.0 * plan.rods.count, ("square",))
    off = ("With the energizer off connect earth, battery and fence. Use the normal rate, no night saver.",)
    yield Step("connect", "lead", "Connected, off", "", off, 3, ("wire", "earth"))


def _watched() -> Iterator[Step]:
    """Out, on, and until the birds are gone."""
    out = ("Count the people and the tools.",)
    yield Step("uncover", "out", "Eggs uncovered, everyone out", "", out, 2, ("connect",), is_hold=True)
    on = ("See the pulse; read at the far corner; leave no trail.",)
    yield Step("on", "on", "On, and read", "", on, 3, ("uncover",), reads="end")
    watch = (
        "Note the minute and the way by which it returns.",
        f"If it is not back within {BACK_MIN:g} minutes, take the fence away.",
    )
    yield Step(
        "watch",
        "tests",
        "Watched from cover",
        "",
        watch,
        BACK_MIN,
        ("on",),
        is_hold=True,
        reads="back",
        rests_days=ROUND_DAYS[0],
    )
    rounds = (
        "Look from afar; trim only when the lower strands brown the grass.",
        "Write down the battery volts and the kV at the far corner. Swap the battery before it is half empty.",
    )
    title = f"Looked at every {ROUND_DAYS[0]} to {ROUND_DAYS[1]} days"
    yield Step("rounds", "close", title, "", rounds, 10, ("watch",), rests_days=1)
    away = (
        "The young have left, or the clutch is lost; somebody experienced agrees.",
        f"Old and young birds are {CLEAR_M:g} m or more away, seen from cover.",
    )
    yield Step("gone", "close", "Birds gone", "", away, 10, ("rounds",), is_hold=True)
    wound = (
        "Switch the energizer off. Wind the wire on the reel without twisting, take the earth stakes too and tick "
        "everything in.",
    )
    yield Step("remove", "close", "Fence taken away", "", wound, 30, ("gone",), most=2)


@dataclass(frozen=True)
class BirdClock:
    """Minutes since the bird left, and how loud it is: what limit is near or passed."""

    minutes: float
    says: str
    is_loud: bool


def bird_clock(
    left: datetime | None, covered: datetime | None, out: datetime | None, back: datetime | None, now: datetime
) -> BirdClock | None:
    """The clock from the minute the bird left; None before that and once it is back."""
    if left is None or back is not None:
        return None
    away = (now - left) / timedelta(minutes=1)
    if covered is None and away > UNCOVERED_MIN:
        return BirdClock(away, f"Eggs uncovered for {away:.0f} minutes: cover them now.", True)
    if out is not None and (waited := (now - out) / timedelta(minutes=1)) > BACK_MIN:
        return BirdClock(away, f"Not back {waited:.0f} minutes after you left: take the fence away.", True)
    if out is None and away > REHEARSED_MIN:
        return BirdClock(away, f"{away:.0f} minutes: longer than rehearsed; finish or leave.", True)
    return BirdClock(away, f"{away:.0f} minutes since it left.", False)
