"""What is known of the things that are chosen on the ground."""

from typing import Any

from shapely import Point

from adze.core.basics.units import Units, exact_metres
from adze.core.build.construction import bottom_group_of, fence_of, live_numbers
from adze.core.build.ends import END_WORDS, has_no_ends
from adze.core.energizer.lightning import DIVERTER_EARTH_WORDS
from adze.core.forecast.apart import are_apart, groups_of, strand_words
from adze.core.forecast.circuit import circuit
from adze.core.ground.edit import Chosen
from adze.core.ground.lines import CORNER_DEGREES, length_m, line_of, point_at, run_of, shape_of, turns
from adze.core.ground.relief import bumps
from adze.core.ground.set_out import legs_of, pegs
from adze.core.ground.survey import survey
from adze.core.ground.wiring import cable_m, carries
from adze.core.ground.zones import zones
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, Run, Switch
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.core.tables.ground import fixture_kinds, grasses, landmark_kinds, soils
from adze.core.verdict.actions import meeting_action
from adze.core.verdict.surroundings.unit_site import ASSUMED_TALL_M
from adze.core.verdict.wired.gates import open_gate_is_live
from adze.services.answers.ground import area_words
from adze.services.views.ground import USE_WORDS

GATE_WORDS = {
    "handle": "Handle on each strand",
    "rope": "Rope",
    "removable_post": "Removable post",
    "spring": "Spring",
    "drive_over": "Drive-over span",
}
CONDITION_WORDS = {
    "sound": "sound, can be used",
    "climbable": "climbable, a step over",
    "keep": "to be kept as it is",
    "carry": "to carry an offset strand",
}
MADE_WORDS = {
    "": "not said",
    "woven": "woven wire",
    "barbed": "barbed wire",
    "mesh": "close mesh",
    "rail": "wood: posts and rails",
    "panel": "steel panels",
    "hedge": "a hedge",
}
JOINED_WORDS = {
    "along": "all along, as one",
    "near": "where the pulse comes in",
    "both": "at both ends",
    "none": "nowhere: the top one is fed",
}
WHOSE_WORDS = {"": "not said", "mine": "mine", "neighbour": "the neighbour's"}
_MOST_CORNERS = 200
_MOST_HEIGHTS = 500


def read_chosen(text: str) -> Chosen:
    """What the browser says is chosen: run:terraces,fixture:g1."""
    pairs = (part.partition(":") for part in text.split(",")[:500] if ":" in part)
    return frozenset((what, key) for what, _, key in pairs)


def inspector_view(plan: Plan, chosen: Chosen) -> dict[str, Any]:
    """What is known of the chosen things."""
    runs = [r for r in plan.runs if ("run", r.id) in chosen]
    fixtures = [f for f in plan.fixtures if ("fixture", f.id) in chosen]
    marks = [m for m in plan.landmarks if ("landmark", m.id) in chosen]
    notes = [n for n in plan.notes if ("note", n.id) in chosen]
    context: dict[str, Any] = {
        "plan": plan,
        "units": plan.units,
        "soils": soils(),
        "grasses": grasses(),
        "fixture_kinds": fixture_kinds(),
        "use_words": USE_WORDS,
        "gate_words": GATE_WORDS,
        "condition_words": CONDITION_WORDS,
        "made_words": MADE_WORDS,
        "whose_words": WHOSE_WORDS,
        "shades": ASSUMED_TALL_M,
        "end_words": {**END_WORDS, "": "as the fence says"},
        "joined_words": JOINED_WORDS,
        "diverter_earths": DIVERTER_EARTH_WORDS,
        "landmark_kinds": landmark_kinds(),
        "runs": runs,
        "fixtures": fixtures,
        "marks": marks,
        "notes": notes,
        "count": len(runs) + len(fixtures) + len(marks) + len(notes),
        "total_m": sum(length_m(r) for r in runs),
        "index": {
            **{r.id: i for i, r in enumerate(plan.runs) if r in runs},
            **{f.id: i for i, f in enumerate(plan.fixtures) if f in fixtures},
            **{m.id: i for i, m in enumerate(plan.landmarks) if m in marks},
            **{n.id: i for i, n in enumerate(plan.notes) if n in notes},
        },
    }
    if len(runs) == 1:
        context["run"] = _run(plan, runs[0])
    if len(fixtures) == 1:
        context["fixture"] = _fixture(plan, fixtures[0])
    if len(marks) == 1:
        shape = shape_of(marks[0])
        context["mark"] = {"length_m": float(shape.length), "area": area_words(float(shape.area), plan.units)}
    return context


def _run(plan: Plan, run: Run) -> dict[str, Any]:
    closed = run.points[0] == run.points[-1] and len(run.points) > 3
    corners = [(at, degrees) for at, degrees in turns(run) if degrees > CORNER_DEGREES]
    return {
        "length_m": length_m(run),
        "corners": len(corners),
        "bumps": bumps(plan, run),
        "legs": legs_of(run.points) if len(run.points) <= _MOST_CORNERS else (),
        "pegs": pegs(run.points) if closed and len(run.points) <= 9 else None,
        "meets": _meets(plan, run),
        "heights": _heights(plan, run),
        "live": live_numbers(views_by_run(plan)[run.id]),
        "has_ends": not has_no_ends(views_by_run(plan)[run.id]),
        "apart": _apart(plan, run),
    }


def _apart(plan: Plan, run: Run) -> list[str]:
    return [strand_words(group.numbers) for group in groups_of(plan, run)[1:]] if are_apart(plan, run) else []


def _heights(plan: Plan, run: Run) -> str | None:
    """The profile as it is typed: a bare number is read in the page's unit, so metres say so where feet are meant.

    None for a profile too long to be shown whole: typing into a part of it would lose the rest.
    """
    unit = "" if plan.units is Units.METRIC else " m"
    if len(run.profile) > _MOST_HEIGHTS:
        return None
    return "\n".join(f"{exact_metres(at)}{unit}, {exact_metres(height)}{unit}" for at, height in run.profile)


def _meets(plan: Plan, run: Run) -> list[dict[str, Any]]:
    """Where a run meets others: at which distance, joined or apart, and the action that says it otherwise."""
    runs, there = {r.id: r for r in plan.runs}, survey(plan)
    rows = [(j.run, j.onto.run, point_at(runs[j.run], j.at_m), True) for j in there.joins]
    rows += [(j.run, j.onto.run, point_at(runs[j.run], j.at_m), False) for j in there.apart]
    rows += [(c.first.run, c.second.run, c.point, c.joined) for c in there.crossings]
    found: dict[tuple[str, int], dict[str, Any]] = {}
    for first, second, (east, north), joined in rows:
        if run.id in (first, second) and first != second:
            action = meeting_action(first, second, (east, north), joined=not joined)
            other = runs[second if first == run.id else first].name
            at = float(line_of(run).project(Point(east, north)))
            # Two ends on one spot are found from both lines and are one meeting.
            found.setdefault((other, round(at)), {"other": other, "at_m": at, "joined": joined, "action": action})
    return sorted(found.values(), key=lambda row: row["at_m"])


def _off_m(plan: Plan, fixture: Fixture) -> float:
    """Metres on which a switch takes the pulse off the strands that it names, open; 0 while nothing can be said."""
    if not isinstance(fixture, Switch) or not fixture.strands:
        return 0.0
    fixtures = tuple(replaced(f, is_open=True) if f.id == fixture.id else f for f in plan.fixtures)
    try:
        return circuit(replaced(plan, fixtures=fixtures), Weather(Season.USUAL)).off_m(fixture.strands)
    except Incomplete:
        return 0.0


def _fixture(plan: Plan, fixture: Fixture) -> dict[str, Any]:
    run, view = run_of(plan, fixture.run), views_by_run(plan)[fixture.run]
    seen, fence = zones(plan), fence_of(view)
    return {
        "live": {n: fence[n - 1].cm for n in live_numbers(view)},
        "bottom": [i + 1 for i in bottom_group_of(view)],
        "has_ends": not has_no_ends(view),
        "off_m": _off_m(plan, fixture),
        "named": strand_words(named) if (named := getattr(fixture, "strands", ())) else "",
        "run": run,
        "carries": carries(fixture),
        "open_live": isinstance(fixture, Gate) and open_gate_is_live(plan, fixture),
        "cable_m": cable_m(fixture),
        "kills_m": seen.kills_m(fixture.id) if seen and isinstance(fixture, Switch) else 0.0,
        "live_m": seen.live_m if seen else 0.0,
        "point": point_at(run, fixture.at_m),
    }
