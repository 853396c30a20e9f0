"""Gates: whether each block has one, whether they fit where they stand, and what is live while they are open."""

from collections.abc import Iterator
from itertools import pairwise

from shapely import Point
from shapely.ops import nearest_points

from adze.core.basics.status import Status
from adze.core.basics.units import format_length
from adze.core.ground.blocks import ON_EDGE_M, GrazingBlock, blocks, gates_of
from adze.core.ground.lines import CORNER_DEGREES, length_m, line_of, point_at, run_of, shape_of, turns
from adze.core.ground.nearby import short_words
from adze.core.ground.places import Place, place_words
from adze.core.ground.zones import zones
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, Run
from adze.core.plan.stages import Stage
from adze.core.plan.stock import is_schooled
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.actions import Action, ActionKind, place_action
from adze.core.verdict.findings import Finding

_POSTS_APART_M = 1.0  # of a gate's post from a corner's, or their braces cross
_FIELD_M2 = 400.0  # a smaller ring is stepped into
_WANTS_GATE = ("hive", "hutch")
_COME_FROM, _COME_FROM_M = ("track", "road", "yard", "building", "milk_house", "path"), 30.0
_GATE_M = 4.0  # that is proposed


def judge_gates(plan: Plan) -> Iterator[Finding]:
    """Every finding about the plan's gates and the blocks without one."""
    yield from _closed_blocks(plan)
    for fixture in plan.fixtures:
        if isinstance(fixture, Gate):
            run = run_of(plan, fixture.run)
            yield from _fits(plan, fixture, run)
            yield from _overlaps(plan, fixture)
            yield from _when_open(plan, fixture, run)
            yield from _mostly_open(plan, fixture)
            yield from _before_new_stock(plan, fixture)


def _closed_blocks(plan: Plan) -> Iterator[Finding]:
    held = any(animal_kinds()[herd.kind].purpose == "hold" for herd in plan.stock)
    things = [Point(mark.points[0]) for mark in plan.landmarks if mark.kind in _WANTS_GATE]
    for block in blocks(plan):
        if not ((held and block.area_m2 > _FIELD_M2) or any(block.shape.contains(thing) for thing in things)):
            continue
        if gates_of(plan, block.shape) or all(fence_at(plan, run).view.netting for run in block.runs):
            continue  # netting is lifted off its posts anywhere
        place = _where_one_comes(plan, block)
        yield Finding(
            Stage.GROUND,
            "A block without a gate",
            Status.MARGINAL,
            f"{block.name} is closed all round: nobody gets in with stock, barrow or vehicle without taking strands "
            "down.",
            place=place,
            where=place_words(plan, place),
            mend="Place a gate on the side you come from, away from its wet corner.",
            action=place_action(ActionKind.GATE, place.run, place.at_m),
        )


def _where_one_comes(plan: Plan, block: GrazingBlock) -> Place:
    """Where a way or a yard meets a block or comes nearest to it, clear of its corners; else its longest side."""
    ways = [shape_of(mark) for mark in plan.landmarks if mark.kind in _COME_FROM]
    edge = block.shape.exterior
    way = min(ways, key=edge.distance, default=None)
    if way is None or edge.distance(way) > _COME_FROM_M:
        return _middle(plan, block)
    met = edge.intersection(way)
    spot = nearest_points(edge, way if met.is_empty else met.representative_point())[0]
    run = min((run_of(plan, key) for key in block.runs), key=lambda r: line_of(r).distance(spot))
    at_m = float(line_of(run).project(spot))
    corners = [0.0, *(at for at, degrees in turns(run) if degrees > CORNER_DEGREES), length_m(run)]
    before = max((c for c in corners if c <= at_m), default=0.0)
    after = min((c for c in corners if c > at_m), default=length_m(run))
    clear = _GATE_M / 2 + _POSTS_APART_M
    if after - before <= 2 * clear:
        return _middle(plan, block)
    return Place(run.id, min(max(at_m, before + clear), after - clear))


def _middle(plan: Plan, block: GrazingBlock) -> Place:
    """The middle of the longest straight side of a block, on the line that is its edge there."""
    sides = [(a, b) for a, b in pairwise(block.shape.exterior.coords) if a != b]
    (ax, ay), (bx, by) = max(sides, key=lambda side: Point(side[0]).distance(Point(side[1])))
    middle = Point((ax + bx) / 2, (ay + by) / 2)
    run = min((run_of(plan, key) for key in block.runs), key=lambda r: line_of(r).distance(middle))
    return Place(run.id, float(line_of(run).project(middle)))


def _fits(plan: Plan, gate: Gate, run: Run) -> Iterator[Finding]:
    """Whether a gate's posts have room between the corners beside it."""
    corners = [0.0, *(at for at, degrees in turns(run) if degrees > CORNER_DEGREES), length_m(run)]
    before = max((c for c in corners if c <= gate.at_m), default=0.0)
    after = min((c for c in corners if c > gate.at_m), default=length_m(run))
    place = Place(gate.run, gate.at_m)
    where = place_words(plan, place)
    if gate.width_m > after - before:
        yield Finding(
            Stage.GROUND,
            "Gate wider than its side",
            Status.FAILS,
            f"{gate.name} is {short_words(plan, gate.width_m)} wide on a side of {short_words(plan, after - before)}.",
            figure=short_words(plan, gate.width_m),
            limit=short_words(plan, after - before),
            place=place,
            where=where,
            mend="A narrower gate, or another side.",
        )
        return
    spare = min(gate.at_m - before, after - gate.at_m) - gate.width_m / 2
    if spare < _POSTS_APART_M and gate.style != "drive_over":
        yield Finding(
            Stage.GROUND,
            "Gate at a corner",
            Status.FAILS if spare < 0 else Status.MARGINAL,
            f"{gate.name} reaches "
            f"{'past the corner' if spare < 0 else 'to ' + short_words(plan, spare) + ' from it'}: its post and the "
            "braces of the corner stand in each other's way.",
            figure=short_words(plan, max(spare, 0.0)),
            limit=short_words(plan, _POSTS_APART_M),
            place=place,
            where=where,
            mend=f"Move it along by {short_words(plan, _POSTS_APART_M - spare)}, or make it narrower.",
        )


def _overlaps(plan: Plan, gate: Gate) -> Iterator[Finding]:
    """A gate that stands on the one before it."""
    for other in plan.fixtures:
        if not isinstance(other, Gate) or other.run != gate.run or (other.at_m, other.id) >= (gate.at_m, gate.id):
            continue
        between = gate.at_m - other.at_m - (gate.width_m + other.width_m) / 2
        if between < 0:
            place = Place(gate.run, gate.at_m)
            yield Finding(
                Stage.GROUND,
                "A gate on a gate",
                Status.FAILS,
                f"{gate.name} and {other.name} overlap by {short_words(plan, -between)}.",
                figure=short_words(plan, -between),
                place=place,
                where=place_words(plan, place),
                mend=f"Move one of them by {short_words(plan, _POSTS_APART_M - between)}, or take one off.",
            )


def _before_new_stock(plan: Plan, gate: Gate) -> Iterator[Finding]:
    """Handles and ropes hold only those that know what they are."""
    view = fence_at(plan, gate.run).view
    new = [
        animal_kinds()[herd.kind].plural.lower()
        for herd in view.stock
        if animal_kinds()[herd.kind].purpose == "hold" and not is_schooled(herd, plan.on_date)
    ]
    if new and gate.style in _LIGHT and view.behind != "barrier":
        place = Place(gate.run, gate.at_m)
        yield Finding(
            Stage.GROUND,
            "A light gate before new stock",
            Status.MARGINAL,
            f"{gate.name} is {_LIGHT[gate.style]}: {', '.join(dict.fromkeys(new))} that do not know the fence go "
            "through where it looks open.",
            place=place,
            where=place_words(plan, place),
            mend="Train them first, or use a gate of bars until they know it.",
        )


_LIGHT = {"handle": "strands with handles", "rope": "a pair of ropes", "spring": "a spring"}


def open_gate_is_live(plan: Plan, gate: Gate) -> bool:
    """Whether a gate's own strands stay live while it is open."""
    if not gate.opens:
        return False
    if gate.feeds == "both":
        # They stay hooked on the side that is not opened: live there when the pulse comes that way.
        found = zones(plan)
        if gate.under_cable or found is None:
            return True
        return found.fed_side(gate.id) not in (gate.opens_at, "none")
    return gate.feeds != gate.opens_at


def _mostly_open(plan: Plan, gate: Gate) -> Iterator[Finding]:
    """What a gate that stands open for most of the season does to the fence, and whom it lets meet."""
    if not (gate.mostly_open and gate.opens):
        return
    found, place = zones(plan), Place(gate.run, gate.at_m)
    kills_m = found.kills_m(gate.id) if found and not gate.is_open else 0.0
    dead = f"{format_length(kills_m, plan.units)} beyond it are dead while it is open. " if kills_m else ""
    live = "Its own strands stay live, unhooked. " if open_gate_is_live(plan, gate) else ""
    meet, mixes = _lets_meet(plan, gate)
    yield Finding(
        Stage.GROUND,
        "Open most of the season",
        Status.MARGINAL if dead or live or mixes else Status.HOLDS,
        f"{gate.name} is open more than shut. "
        f"{dead}{live}{meet or ('' if dead or live else 'Nothing beyond depends on it.')}",
        figure=format_length(kills_m, plan.units) if kills_m else "",
        place=place,
        where=place_words(plan, place),
        mend="A cable under it keeps the fence beyond live."
        if kills_m
        else "Feed it from the side that opens: unhooked it is dead."
        if live
        else "",
        action=Action(ActionKind.DEAD_GATE, (gate.id,)) if kills_m or live else None,
    )


def _lets_meet(plan: Plan, gate: Gate) -> tuple[str, bool]:
    """The blocks that a gate makes one while it is open, in words, and whether other animals graze each."""
    spot = Point(point_at(run_of(plan, gate.run), gate.at_m))
    sides = [block for block in blocks(plan) if block.shape.boundary.distance(spot) < ON_EDGE_M]
    if len(sides) < 2:
        return "", False
    kinds = {herd.id: animal_kinds()[herd.kind].plural.lower() for herd in plan.stock}
    grazed = [{kinds[key] for b in plan.blocks if b.id == block.id for key in b.herds} for block in sides]
    told = f"{' and '.join(block.name for block in sides)} are one block then"
    if all(grazed) and grazed[0] != grazed[1]:
        return f"{told}: {', '.join(sorted(set.union(*grazed)))} meet. ", True
    return f"{told}. ", False


def _when_open(plan: Plan, gate: Gate, run: Run) -> Iterator[Finding]:
    place = Place(gate.run, gate.at_m)
    if not gate.opens:
        return
    if open_gate_is_live(plan, gate):
        yield Finding(
            Stage.GROUND,
            "Gate live when open",
            Status.MARGINAL if gate.is_open else Status.HOLDS,
            f"{gate.name} stays live when it is unhooked: whoever carries it gets the pulse, and on the ground it "
            "leaks. Park it on an insulated hook.",
            place=place,
            where=place_words(plan, place),
            mend="Feed it from the side that opens, with a cable under the gate: unhooked it is dead.",
            action=Action(ActionKind.DEAD_GATE, (gate.id,)),
        )
    if run.use in ("cross", "spine", "temporary") and gate.style in ("handle", "rope"):
        yield Finding(
            Stage.GROUND,
            "A drive-over would do",
            Status.HOLDS,
            f"{gate.name} stands on an inner line. A low sprung span that you drive over needs no gate, no brace "
            "and nobody to open it.",
            place=place,
            where=place_words(plan, place),
            mend="Make it a drive-over span.",
            action=Action(ActionKind.DRIVE_OVER, (gate.id,)),
        )
