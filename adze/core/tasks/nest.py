"""The job round a nest: short, rehearsed, with the clock of the bird that is off its eggs."""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from adze.core.animals.strand_rules import Role
from adze.core.basics.units import format_length
from adze.core.build.construction import fence_of
from adze.core.ground.lines import length_m
from adze.core.plan.document import Plan
from adze.core.tasks.steps import Step

# Limits of a job at a nest, minutes. Source: practice of those who fence nests; local wildlife law goes before them.
REHEARSED_MIN = 30.0
UNCOVERED_MIN = 5.0  # eggs in sun, wind or cold without a cover
BACK_MIN = 60.0  # not back within the hour: the fence is taken away
LEAST_BEFORE_DUSK_H = 3.0
ROUND_DAYS = (7, 10)
CLEAR_M = 300.0  # the birds are several hundred metres away before the fence is taken off
LOAD_KG = 15.0  # that one person carries over rough ground
# What is packed, with its weight, kg.
KIT = (
    ("Stakes with insulators on", 6.0), ("Reel with the wire wound, end free", 3.0),
    ("Energizer on its stand, tested", 2.5), ("Battery, charged", 9.0), ("Earth stake, 1 m, and its lead", 2.0),
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


def is_kit_key(key: str) -> bool:
    """Whether a tick is of a thing of the kit."""
    found = _KIT_KEY.fullmatch(key)
    return bool(found and int(found[2]) < len(KIT))


def loads(people: int) -> tuple[float, int]:
    """What the kit weighs for each of so many people, kg, and how often each walks with at most 15 kg."""
    each = sum(kg for _, kg in KIT) / max(people, 1)
    return each, max(1, -int(-each // LOAD_KG))


def is_nest_job(plan: Plan) -> bool:
    """Whether a bird sits where the fence goes."""
    return any(mark.kind == "nest" for mark in plan.landmarks)


def nest_steps(plan: Plan, rates: Mapping[str, float]) -> Iterator[Step]:
    """Go or no-go, rehearsal, the kit, approach, the square level by level, power, watch, rounds, removal."""
    at = next(mark.points[0] for mark in plan.landmarks if mark.kind == "nest")
    for step in (*_prepared(), *_stood(plan, rates), *_watched()):
        yield replace(step, at=at)


def _prepared() -> Iterator[Step]:
    """Before anybody walks in."""
    go = (
        "Losses here are by predators on the ground; the clutch is complete; somebody experienced agrees.",
        "Local wildlife law and its licence are kept.",
        f"Dry, neither cold with wind nor hot; morning, or {LEAST_BEFORE_DUSK_H:g} h before dusk at the least.",
    )
    yield Step("go", "services", "Go or no-go", "", go, 10, is_hold=True, dry=True, still=True)
    drill = (f"The whole job on an empty field until it takes {REHEARSED_MIN:g} minutes; roles by name, one leads.",)
    yield Step(
        "rehearse", "mark", "Rehearsed by the watch", "", drill, 2 * REHEARSED_MIN, ("go",), least=2, most=4,
        is_hold=True,
    )  # fmt: skip
    yield Step(
        "kit",
        "mark",
        "Kit packed and ticked",
        f"{len(KIT)} things",
        tuple(thing for thing, _ in KIT),
        20,
        ("rehearse",),
        is_hold=True,
    )
    scan = (
        "Found the day before and marked by bearings from two trees: a mark at the nest is seen by others too.",
        "Crows in the trees: wait. They follow people to eggs.",
        "Straight in by one way; the minute the bird leaves is noted.",
    )
    yield Step("scan", "mark", "Tree line looked over, then in", "", scan, 5, ("kit",), reads="left")
    yield Step("cover", "mark", "Eggs covered", "", ("At once: sun and cold wind both kill.",), 1, ("scan",))


def _stood(plan: Plan, rates: Mapping[str, float]) -> Iterator[Step]:
    """The square, level by level, and its power."""
    metres = sum(length_m(run) for run in plan.runs)
    rows = fence_of(plan)
    live = ", ".join(f"{row.cm:g}" for row in rows if row.role is Role.LIVE)
    side = format_length(max(metres / 8, 1), plan.units)
    square = (
        f"From the nest {side} to each side by pacing, sighted over canes; only the line is trimmed.",
        "Stakes laid outside the line, clear of the wire's way.",
    )
    yield Step("square", "mark", "Square set out, trimmed", "", square, 4, ("cover",), least=2, most=3, drawing="nest")
    corners = ("Corners first, upright, spikes all the way in.",)
    yield Step("corners", "posts", "Corner stakes", "", corners, 4, ("square",), most=2)
    low = ("So that the wire can start while the rest is marked.",)
    yield Step("low", "insulators", "Two lowest insulators", "", low, 3, ("corners",), most=2)
    wire = (
        f"At {live} cm live; looped and twisted at the bottom insulator, round, one level up, round again.",
        "Reel anchored inside, wound tight: no end, no joint.",
        "Nails on post tops against perching; signs where people can come.",
    )
    minutes = max(6.0, metres * len(rows) / 100 * rates["strand_100m"])
    yield Step("wire", "strands", f"One wire, {len(rows)} levels", "", wire, minutes, ("low",), least=2, most=3)
    stake = ("In the dampest spot inside, about 1 m deep.",)
    yield Step("earth", "earth", "Earth stake", "", stake, 3, ("square",))
    off = ("Energizer off: earth, battery, fence. Normal rate, no night saver.",)
    yield Step("connect", "lead", "Connected, off", "", off, 3, ("wire", "earth"))


def _watched() -> Iterator[Step]:
    """Out, on, and until the birds are gone."""
    out = ("Counted; tools counted.",)
    yield Step("uncover", "out", "Eggs uncovered, everyone out", "", out, 2, ("connect",), is_hold=True)
    on = ("Pulse seen; read at the far corner; no trail is left.",)
    yield Step("on", "on", "On, and read", "", on, 3, ("uncover",), reads="end")
    watch = (
        "The minute and the way it returns are noted.",
        f"Not back within {BACK_MIN:g} minutes: the fence is taken away.",
    )
    yield Step("watch", "tests", "Watched from cover", "", watch, BACK_MIN, ("on",), is_hold=True, reads="back")
    rounds = ("From afar; trimmed only when the lower strands are browned.",)
    title = f"Looked at every {ROUND_DAYS[0]} to {ROUND_DAYS[1]} days"
    yield Step("rounds", "close", title, "", rounds, 10, ("watch",))
    gone = ("Wound on the reel without twisting; the earth stake too; all of it ticked in.",)
    yield Step("remove", "close", f"Removed once the birds are {CLEAR_M:g} m away", "", gone, 30, ("rounds",), most=2)


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
