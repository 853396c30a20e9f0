"""What is seen at a fence, and what it points to on this plan: before anybody searches. Source: practice of tracing."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from shapely import LineString, Point

from adze.core.animals.strand_rules import Purpose, Role
from adze.core.basics.units import format_length, kv_words
from adze.core.build.construction import conductors_of, fence_of
from adze.core.ground.lines import length_m
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark, Switch
from adze.core.plan.season import SEASON_WORDS, Season, grass_of
from adze.core.plan.stock import is_schooled
from adze.core.tables.animals import animal_kinds, animal_word
from adze.core.tables.construction import post_kinds
from adze.core.verdict.judge import Judgement

_BESIDE_M = 10.0  # rods and other metal in the ground: usual rules of practice
_ALONG_M = 30.0  # a line that runs so near a cable or a house is heard in it
_DRINKS = ("trough", "water_point", "milk_house")
_LISTENS = ("building", "buried", "overhead", "mains")


@dataclass(frozen=True)
class Symptom:
    """Something that is seen: its key, its name, what it points to here, and whether the search for a fault begins."""

    key: str
    label: str
    points_to: tuple[str, ...]
    searches: bool = False


def symptoms(plan: Plan, judged: Judgement) -> tuple[Symptom, ...]:
    """What can be seen beside low volts, each with what it points to on this plan, the likeliest first."""
    return (
        Symptom("respect", "kV is well, but animals do not respect it", tuple(_respect(plan, judged))),
        Symptom("water", "Animals avoid the water, or lick it", tuple(_water(plan))),
        Symptom("radio", "Radio or telephone ticks with the pulse", tuple(_radio(plan)), searches=True),
        Symptom("clicks", "It clicks or sparks somewhere", tuple(_clicks(plan)), searches=True),
        Symptom("end", "Well at the start, poor at the end", tuple(_end(plan, judged)), searches=True),
        Symptom("rain", "Low after rain, well when it is dry", tuple(_rain(plan)), searches=True),
        Symptom("dead", "Dead everywhere, or no click at the unit", tuple(_dead(plan))),
    )


def _respect(plan: Plan, judged: Judgement) -> Iterator[str]:
    felt = [(season, touch) for season, rows in judged.touches.items() for _, touch in rows]
    for season, touch in sorted(felt, key=lambda row: row[1].body_kv / row[1].wanted_kv)[:1]:
        who, body, strand = animal_word(touch.animal.kind), kv_words(touch.body_kv), kv_words(touch.strand_kv)
        yield (
            f"The {who} feels {body} of the {strand} kV on the strand in the {SEASON_WORDS[season]}; it needs "
            f"{kv_words(touch.wanted_kv)} kV. Dry hooves and coat take the rest."
        )
    views = [built.view for built in standing_fences(plan)]
    if not any(strand.role is Role.EARTH for view in views for strand in fence_of(view)):
        yield "No strand is earth: on dry ground, snow or stones the pulse can only return through the hooves."
    held = [herd for herd in plan.stock if animal_kinds()[herd.kind].purpose == Purpose.HOLD]
    raw = [animal_kinds()[herd.kind].label.lower() for herd in held if not is_schooled(herd, None)]
    if raw:
        yield f"Not trained on this plan: {', '.join(raw)}. A night or two in a training pen does more than kV."
    yield "Hair and fleece insulate. Touches on nose and ears teach; see the heights at Strands."


def _water(plan: Plan) -> Iterator[str]:
    rods, units = plan.rods.position, plan.units
    clear = format_length(_BESIDE_M, units)
    drinks = [mark for mark in plan.landmarks if mark.kind in _DRINKS]
    for mark in drinks:
        away = _away(mark, rods) if rods is not None else math.inf
        if away < 3 * _BESIDE_M:
            yield f"{mark.name} stands {format_length(away, units)} from the rods; the usual rule is {clear} or more."
    names = ", ".join(mark.name for mark in drinks[:4])
    yield f"Read volts between water and soil where they stand to drink{': ' + names if names else ''} (Log, A round)."
    yield "Earth shows how far the ground rises there, season by season."
    yield "A strand that touches the pipe or trough, or rods on the farm's own earth, shows there with every pulse."
    yield "Stray volts of the mains supply are there with the fence off too: they need an electrician."


def _radio(plan: Plan) -> Iterator[str]:
    near = []
    for run in plan.runs:
        line = LineString(run.points)
        kinds = {m.name for m in plan.landmarks if m.kind in _LISTENS and line.distance(_shape(m)) < _ALONG_M}
        near += [f"{run.name} beside {name}" for name in sorted(kinds)]
    yield "A tick in time with the pulse is a spark: a loose joint, a cracked insulator, a leaf on the strand."
    if near:
        yield f"You hear it at {', '.join(near[:4])}. Look there first, at joints before insulators."
    yield "Walk with a small radio tuned off its station: the tick is loudest at the spark."
    clear = format_length(_BESIDE_M, plan.units)
    yield f"Rods near the telephone's or the house's earth carry it in: keep them {clear} apart or more."


def _clicks(plan: Plan) -> Iterator[str]:
    steel = [built for built in standing_fences(plan) if "steel" in built.view.post]
    if steel:
        names = ", ".join(post_kinds()[built.view.post].label.lower() for built in steel[:2])
        yield f"A strand on a post that conducts ({names}): its insulator is broken or its pin is gone, a hard short."
    gates = [f.name for f in plan.fixtures if f.kind in ("gate", "crossing")]
    if gates:
        yield f"Look at handles, hooks and ducts: {', '.join(gates[:4])}. Popping in a duct is water or a nick."
    yield "Look at the diverter: with too small a gap, or after a strike, it sparks at every pulse."
    yield (
        "Go at dusk without wind: you see and hear a spark from afar. Keep your hands off; switch off before you "
        "mend it."
    )


def _end(plan: Plan, judged: Judgement) -> Iterator[str]:
    usual = judged.volts.get(Season.USUAL)
    if usual is not None:
        start, end = kv_words(usual.start_kv), kv_words(usual.end_kv)
        yield f"The plan itself falls from {start} to {end} kV in a usual week; anything below that is a fault."
    made = {one.key: one for built in standing_fences(plan) for one in conductors_of(built.view)}
    thin = max(made.values(), key=lambda one: one.ohm_per_km, default=None)
    if thin is not None:
        metres = format_length(max((length_m(run) for run in plan.runs), default=0.0), plan.units)
        yield f"{thin.label} has {thin.ohm_per_km:.0f} Ω a km; the longest line is {metres}. Bare joints add to it."
    yield "Amps show which: falling at each stop means many small leaks, few all along means a bad joint."


def _rain(plan: Plan) -> Iterator[str]:
    timber = [built.name for built in standing_fences(plan) if "timber" in (built.view.post, built.view.end_post)]
    if timber:
        yield "Wooden posts and ends: a strand on wet timber leaks, and it is dry again by noon. Look while it is wet."
    green = [run.name for run in plan.runs if grass_of(plan, run).canopy_m > 0.05]
    if green:
        yield f"Growth: {', '.join(green[:4])}. Wet grass loses twice as much as dry grass."
    if any(f.kind in ("gate", "crossing") for f in plan.fixtures):
        yield "Cable under gates and ways: a nick fills with water and leaks until it drains."


def _dead(plan: Plan) -> Iterator[str]:
    yield (
        "Check the unit first: plug, switch, fuse, battery at rest, a light or click at each pulse, no saver, full "
        "terminal."
    )
    switches = [f.name for f in plan.fixtures if isinstance(f, Switch) and not f.is_open]
    if switches:
        yield f"Then check the first switch: {', '.join(switches[:3])}."
    yield "Alone, without the fence, it must give what it gave when new (Log, A round). Below 7 kV ask the repairer."


def _shape(mark: Landmark) -> LineString | Point:
    return LineString(mark.points) if len(mark.points) > 1 else Point(mark.points[0])


def _away(mark: Landmark, spot: tuple[float, float]) -> float:
    return float(_shape(mark).distance(Point(spot)))
