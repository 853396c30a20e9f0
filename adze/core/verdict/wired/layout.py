"""How the fence is laid out to be fed, divided and traced: islands, branches, zones, crossings."""

from collections.abc import Iterator
from itertools import groupby

from adze.core.basics.cache import cached_by_fields
from adze.core.basics.status import Status
from adze.core.basics.units import format_length
from adze.core.ground.feed import jumper, nearest_gap
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.places import Place, place_words
from adze.core.ground.survey import JOIN_M, crossings, joins, survey
from adze.core.ground.wiring import can_part, carries
from adze.core.ground.zones import Stretch, Zones, zones
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, RoadCrossing, Switch, stands_open
from adze.core.plan.stages import Stage
from adze.core.verdict.actions import Action, ActionKind, meeting_action, place_action
from adze.core.verdict.findings import Finding
from adze.core.verdict.wired.shut_off import judge_shut_off

TRACE_MINUTES = 20.0  # looking at every insulator of what no switch parts
SWITCH_NEAR_M = 15.0  # from the branch or road that it sets apart
_SPUR_M = 30.0  # a shorter branch is seen from its start
_JUMPER_M = 30.0  # a line nearer than this feeds one beside it by a stake or two
_MUCH = 0.5  # of the fence that one break kills
_MUCH_LEAST_M = 500.0  # a shorter fence is walked at once
_MOST_SHOWN = 40


@cached_by_fields(
    "layout findings",
    16,
    identity_args=("runs", "fixtures", "landmarks", "meetings", "growths", "what_ifs"),
    equal=("energizer_at", "feed_at", "lead_out", "units"),
)
def judge_layout(plan: Plan) -> tuple[Finding, ...]:
    """Every finding about how lines meet, what hangs on what, and how gates are fed."""
    return tuple(_findings(plan))


def _findings(plan: Plan) -> Iterator[Finding]:
    found = zones(plan)
    if found is None:
        return
    yield from _crossings(plan)
    yield from _unfed(plan, found)
    yield from _branches(plan, found)
    yield from _roads(plan)
    yield from _long_zones(plan, found)
    yield from _single_break(plan, found)
    yield from judge_shut_off(plan, found)


def _crossings(plan: Plan) -> Iterator[Finding]:
    names = {run.id: run.name for run in plan.runs}
    for crossing in crossings(plan)[:_MOST_SHOWN]:
        if crossing.said:
            continue
        one, other = names[crossing.first.run], names[crossing.second.run]
        itself = crossing.first.run == crossing.second.run
        yield Finding(
            Stage.GROUND,
            "Crosses itself" if itself else "Joined or apart?",
            Status.FAILS if itself else Status.MARGINAL,
            f"{one} crosses itself: strands would touch there."
            if itself
            else (
                f"{one} and {other} cross. Until you say how, Adze counts no joint; strands that touch by chance "
                "spark and connect now and then."
            ),
            place=crossing.first,
            where=place_words(plan, crossing.first),
            mend="Move a point." if itself else "Join them there, or keep them apart with insulated spans.",
            action=None
            if itself
            else meeting_action(crossing.first.run, crossing.second.run, crossing.point, joined=True),
        )


def _unfed(plan: Plan, found: Zones) -> Iterator[Finding]:
    names, dead = {run.id: run for run in plan.runs}, {stretch.run for stretch in found.dead}
    open_now = [f for f in plan.fixtures if not carries(f)]
    for run_id, rows in groupby(found.dead, key=lambda s: s.run):
        run, stretches = names[run_id], list(rows)
        metres = sum(s.length_m for s in stretches)
        place = Place(run_id, stretches[0].from_m)
        by = [f for f in open_now if _beside(f, stretches)]
        if by or not _is_island(plan, run_id):
            is_open = bool(by) and stands_open(by[0])
            opened = f"{by[0].name} is {'open' if is_open else 'fed from one side only'}" if by else "open"
            yield Finding(
                Stage.GROUND,
                "Off",
                Status.HOLDS if is_open else Status.MARGINAL,
                f"{format_length(metres, plan.units)} of {run.name} get no pulse"
                + (f": {opened}." if by else ": what feeds it is off."),
                figure=format_length(metres, plan.units),
                place=place,
                where=place_words(plan, place),
                mend="" if is_open else "Run a cable under it, or let its strands hang on both sides.",
            )
            continue
        near, away = nearest_gap(plan, run)
        feeds = jumper(plan, run, dead)
        feeds = feeds if feeds and feeds[1] <= _JUMPER_M else None
        gap = f"{format_length(away, plan.units)} from {near}" if near else "nowhere near another"
        yield Finding(
            Stage.GROUND,
            "Not fed",
            Status.MARGINAL,
            f"{run.name} is connected to nothing: its ends lie {gap}.",
            figure=format_length(away, plan.units) if near else "",
            limit=format_length(JOIN_M, plan.units) if near else "",
            place=place,
            where=run.name,
            mend="Drag one of its ends onto the line that feeds it"
            + (f", or lead {format_length(feeds[1], plan.units)} of line over to it." if feeds else "."),
            action=Action(ActionKind.FEED, (run.id, feeds[0])) if feeds else None,
        )


def _beside(fixture: Fixture, stretches: list[Stretch]) -> bool:
    return any(s.run == fixture.run and s.from_m - 0.1 <= fixture.at_m <= s.to_m + 0.1 for s in stretches)


def _is_island(plan: Plan, run_id: str) -> bool:
    """Whether nothing joins a run, whatever is open."""
    there = survey(plan)
    joined = any(run_id in (j.run, j.onto.run) and j.run != j.onto.run for j in there.joins)
    return not joined and not any(c.joined and run_id in (c.first.run, c.second.run) for c in there.crossings)


def _switches(plan: Plan) -> dict[str, list[float]]:
    """Where the switches of all strands are on each run, m."""
    found: dict[str, list[float]] = {}
    for fixture in plan.fixtures:
        if isinstance(fixture, Switch) and can_part(fixture):
            found.setdefault(fixture.run, []).append(fixture.at_m)
    return found


def _branches(plan: Plan, found: Zones) -> Iterator[Finding]:
    runs = {run.id: run for run in plan.runs}
    fed_at = {h.run: h for h in found.hanging}
    switches = _switches(plan)
    for join in joins(plan):
        run, onto = runs[join.run], runs[join.onto.run]
        at_end = min(join.onto.at_m, length_m(onto) - join.onto.at_m) <= JOIN_M
        hang = fed_at.get(run.id)
        feeds_here = hang is not None and hang.on is not None and hang.on.run == onto.id
        short = length_m(run) < _SPUR_M or run.use == "temporary"
        has_switch = any(abs(at - join.at_m) <= SWITCH_NEAR_M for at in switches.get(run.id, ()))
        if at_end or short or not feeds_here or run.id == onto.id or has_switch:
            continue
        place = Place(run.id, join.at_m)
        at = 4.0 if join.at_m == 0 else join.at_m - 4.0
        yield Finding(
            Stage.GROUND,
            "Branch without a switch",
            Status.MARGINAL,
            f"{run.name} leaves {onto.name} without a switch: a fault on it weakens the whole fence, and you cannot "
            "tell which part it is on.",
            figure=format_length(length_m(run), plan.units),
            place=place,
            where=place_words(plan, place),
            mend="Place a switch where it leaves.",
            action=place_action(ActionKind.SWITCH, run.id, at),
        )


def _roads(plan: Plan) -> Iterator[Finding]:
    switches = _switches(plan)
    for f in (f for f in plan.fixtures if isinstance(f, RoadCrossing)):
        if all(abs(at - f.at_m) > SWITCH_NEAR_M + f.width_m for at in switches.get(f.run, ())):
            place = Place(f.run, f.at_m)
            run = run_of(plan, f.run)
            at = max(1.0, min(f.at_m - f.width_m / 2 - 2, length_m(run) - 1))
            yield Finding(
                Stage.GROUND,
                "Road crossing without a switch",
                Status.MARGINAL,
                f"Without a switch at {f.name} you cannot tell on which side of it a fault lies, nor disconnect the "
                "cable in the ground.",
                place=place,
                where=place_words(plan, place),
                mend="Place a switch before it.",
                action=place_action(ActionKind.SWITCH, f.run, at),
            )


TRACE_TITLE = "Too long to trace quickly"


def _long_zones(plan: Plan, found: Zones) -> Iterator[Finding]:
    for zone in found.zones:
        if zone.live and zone.minutes > TRACE_MINUTES:
            longest = max(zone.stretches, key=lambda s: s.length_m)
            at = (longest.from_m + longest.to_m) / 2
            place = Place(longest.run, at)
            yield Finding(
                Stage.GROUND,
                TRACE_TITLE,
                Status.MARGINAL,
                f"To find a fault here you would walk {format_length(zone.length_m, plan.units)} "
                f"({zone.minutes:.0f} min), looking at every insulator at 3 km/h.",
                figure=f"{zone.minutes:.0f} min",
                limit=f"{TRACE_MINUTES:.0f} min",
                place=place,
                where=place_words(plan, place),
                mend="A switch half-way halves that; on a ring place one on each way round.",
                action=place_action(ActionKind.SWITCH, longest.run, at),
            )


def _single_break(plan: Plan, found: Zones) -> Iterator[Finding]:
    worst = next(found.breaks(_MUCH), None)
    dead_runs = len({h.run for h in found.hanging if h.on is not None})
    if worst is None or not dead_runs or found.live_m < _MUCH_LEAST_M:
        return
    share = 100 * worst.kills_m / found.live_m
    yield Finding(
        Stage.GROUND,
        "One break stops much of it",
        Status.MARGINAL,
        f"A single break past here cuts off {format_length(worst.kills_m, plan.units)}, {share:.0f} % of the fence.",
        figure=f"{share:.0f} %",
        limit=f"{100 * _MUCH:.0f} %",
        place=worst.place,
        where=place_words(plan, worst.place),
        mend="Join the far ends into a ring, so that the pulse comes from both sides.",
    )
