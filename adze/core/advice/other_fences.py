"""This fence beside fences without electricity, and beside what the next kind of stock will ask of it."""

from dataclasses import dataclass

from adze.core.animals.strand_rules import Strand, design
from adze.core.build.construction import conductors_of, fence_of
from adze.core.build.materials import post_of
from adze.core.build.parts import bill
from adze.core.ground.edit import fresh_id
from adze.core.plan.changes import changed
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of
from adze.core.tables.animals import animal_kinds
from adze.core.tables.fences import OtherFence, other_fences
from adze.core.verdict.compare import hours

_IN_GROUND_CM = 70.0  # of a post, whatever stands above
_HOURS_A_POST = 0.25  # to draw one and set another
SHOCK = "A pulse and a fright. An animal that is tangled in netting or wire cannot get away from it."


OWN = "own"  # the key of the plan's fence beside the others


def fences_beside(plan: Plan) -> tuple[OtherFence, ...]:
    """The plan's fence, unit and earth with it, and every other kind, cheapest by the year first."""
    found, rows = bill(plan), [*other_fences().values()]
    if found.fence_m:
        years = min(made.life_years for built in standing_fences(plan) for made in conductors_of(built.view))
        upkeep = "Trim its line, read its kV, train the animals."
        own_hours = hours(found) / found.fence_m
        rows.append(OtherFence(OWN, "This electric fence", found.per_m, own_hours, years, SHOCK, upkeep))
    return tuple(sorted(rows, key=lambda row: row.price_a_year))


@dataclass(frozen=True)
class NextStock:
    """What a kind of stock that comes later asks: strands and posts now and then, and money for either order.

    `ready` is what taller posts cost more now; `strands` what the strands cost when they come; `redone` what posts and
    hours cost if they are set too short now. `refusal` says why no single set of strands holds all of them.
    """

    kind: str
    now: tuple[Strand, ...]
    then: tuple[Strand, ...]
    post_now_cm: float
    post_then_cm: float
    ready: float
    strands: float
    redone: float
    redone_hours: float
    refusal: str


def next_stock(plan: Plan, kind: str) -> NextStock:
    """The plan with one kind more, as the rules build for it. Raises KeyError for a kind that is not known."""
    label = animal_kinds()[kind].plural
    herd = {"id": fresh_id((h.id for h in plan.stock), "herd"), "kind": kind, "count": 1}
    then = changed(plan, {"stock": [*plan.stock, herd], "strands": (), "netting": None, "post_cm": None})
    posts = [line for line in bill(plan).lines if line.group == "Posts" and line.part != "bracket"]
    cost, pieces = sum(line.cost for line in posts), sum(line.quantity for line in posts)
    before, after = post_of(plan), post_of(then)
    grows = max(0.0, (after + _IN_GROUND_CM) / (before + _IN_GROUND_CM) - 1)
    taller = grows > 0
    return NextStock(
        kind=label,
        now=fence_of(plan),
        then=fence_of(then),
        post_now_cm=before,
        post_then_cm=after,
        ready=round(cost * grows, 2),
        strands=round(max(0.0, bill(then).total - bill(plan).total), 2),
        redone=round(cost * (1 + grows), 2) if taller else 0.0,
        redone_hours=round(pieces * _HOURS_A_POST, 1) if taller else 0.0,
        refusal=design(animals_of(then), then.duty, then.scheme).refusal,
    )
