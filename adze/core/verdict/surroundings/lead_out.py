"""The lead-out on its way: what it passes, crosses and leaves."""

import math
from collections.abc import Iterator

from shapely import LineString, Point

from adze.core.basics.status import Status
from adze.core.ground.feed import WITH_WHEELS, feed, lead_out_shape, ways_crossed
from adze.core.ground.lines import shape_of
from adze.core.ground.nearby import name_of, short_words
from adze.core.ground.old_fences import is_metal
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.ground import Landmark
from adze.core.plan.stages import Stage
from adze.core.tables.ground import landmark_kinds
from adze.core.verdict.findings import Finding
from adze.core.verdict.surroundings.unit_site import OWN_BUILDING_M

_METAL_CLEAR_M = 0.3
_ALONG_M = 2.0


def leaves_building(plan: Plan) -> Landmark | None:
    """The building whose wall the lead-out goes through: that which the energizer hangs in."""
    if plan.energizer_at is None:
        return None
    home = Point(plan.energizer_at)
    inside = (m for m in plan.landmarks if m.kind in ("building", "milk_house") and len(m.points) > 2)
    return next((m for m in inside if shape_of(m).buffer(0.3).contains(home)), None)


def judge_lead_out(plan: Plan) -> Iterator[Finding]:
    """Every finding about the lead-out."""
    lead, start = lead_out_shape(plan), feed(plan)
    if lead is None or start is None:
        return
    yield from _near(plan, lead, start.place)
    yield from _crossed(plan, start.place)
    yield from _along_metal(plan, lead, start.place)
    if not lead.is_simple:
        yield _finding(
            start.place, "The lead-out crosses itself", Status.FAILS,
            "Both sheaths rub through where it lies over itself.", "Draw it again without the loop.", "the lead-out",
        )  # fmt: skip
    house = leaves_building(plan)
    if house is not None and not plan.lead_out.conduit:
        yield _finding(
            start.place, "Through the wall", Status.HOLDS,
            f"It leaves {name_of(house)}. Drawn over an edge of tin or brick the sheath is cut through in a winter.",
            "Drill the wall slightly downward to the outside, lead it through in conduit and tick it at Feed.",
            name_of(house),
        )  # fmt: skip


def _finding(place: Place, title: str, status: Status, reason: str, mend: str, where: str) -> Finding:
    return Finding(Stage.GROUND, title, status, reason, place=place, where=where, mend=mend)


def _near(plan: Plan, lead: LineString, place: Place) -> Iterator[Finding]:
    for mark in plan.landmarks:
        clear = landmark_kinds()[mark.kind].lead_clear_m
        shape = shape_of(mark)
        # The building that the energizer hangs in is where every lead-out begins.
        own = mark.kind in ("building", "milk_house") and shape.distance(Point(lead.coords[0])) < OWN_BUILDING_M
        away = float(shape.distance(lead)) if clear and not own else math.inf
        if away < clear:
            yield Finding(
                Stage.GROUND,
                "Lead-out near " + landmark_kinds()[mark.kind].label.lower(),
                Status.MARGINAL,
                f"The lead-out passes {short_words(plan, away)} from {name_of(mark)}. Never put both in one duct: a "
                "leaking cable would put the pulse on it.",
                figure=short_words(plan, away),
                limit=short_words(plan, clear),
                place=place,
                where=name_of(mark),
                mend="Lead it out on another side of the building. Check your local code.",
            )


def _crossed(plan: Plan, place: Place) -> Iterator[Finding]:
    for mark in ways_crossed(plan):
        wheels, name = mark.kind in WITH_WHEELS, name_of(mark)
        if plan.lead_out.way == "posts":
            yield _finding(
                place, "Lead-out over a way", Status.FAILS if mark.kind == "road" else Status.MARGINAL,
                f"It hangs across {name}: what passes below can tear it down, and people can reach it.",
                "Lay it in duct under the way" + (", in a steel sleeve under wheels." if wheels else "."), name,
            )  # fmt: skip
        elif wheels and not plan.lead_out.sleeve:
            yield _finding(
                place, "Lead-out under wheels", Status.MARGINAL,
                f"It lies under {name} in plain duct: wheels crush duct and cable, and the short is underground.",
                "Put a steel sleeve under the way, with its ends turned down and sealed against water and frost.", name,
            )  # fmt: skip


def _along_metal(plan: Plan, lead: LineString, place: Place) -> Iterator[Finding]:
    for mark in plan.landmarks:
        if mark.kind == "old_fence" and is_metal(mark):
            metres = float(lead.intersection(shape_of(mark).buffer(_METAL_CLEAR_M)).length)
            if metres > _ALONG_M and plan.lead_out.way == "posts":
                yield _finding(
                    place, "Lead-out on old metal", Status.MARGINAL,
                    f"It runs {short_words(plan, metres)} along {name_of(mark)}: bare lead shorts on it, and "
                    "sheathed lead rubs through in time.",
                    "Use insulated lead on stand-off clips, or lead it clear of the mesh.", name_of(mark),
                )  # fmt: skip
