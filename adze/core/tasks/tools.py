"""What to own, borrow or hire for the work of a plan, and what to wear."""

from adze.core.build.construction import conductors_of
from adze.core.build.ends import end_kind, has_no_ends
from adze.core.plan.constructions import standing_fences
from adze.core.plan.document import Plan

ALWAYS = ("Tape, string and pegs", "Pliers and a knife for cable", "Tester", "Hammer or rod driver", "Gloves, goggles")


def tools_for(plan: Plan) -> tuple[str, ...]:
    """The tools of a plan's work: by what its strands, posts and ends are made of."""
    views = [built.view for built in standing_fences(plan)]
    kinds = {made.kind for view in views for made in conductors_of(view)}
    posts = {view.post for view in views if not view.netting or view.strands}
    ends = {end_kind(view) for view in views if not has_no_ends(view)}
    digs = plan.lead_out.way == "buried" or any(f.kind in ("gate", "crossing") for f in plan.fixtures)
    found = list(ALWAYS)
    for tools, wanted in (
        (("Spinning jenny", "Strainer tool", "Crimper or spanner for clamps"), kinds & {"wire", "coated", "barbed"}),
        (("Reel or axle for rolls",), kinds & {"tape", "rope", "polywire"}),
        (("Post driver, ear muffs",), posts & {"steel_t", "timber", "dense_timber", "fibreglass", "composite"}),
        (("Pilot rod or drill for stony ground",), posts & {"fibreglass", "composite"}),
        (("Auger or spade", "Chisel and drill for rail pins", "Level"), ends & {"braced", "block", "prop"}),
        (("Auger of 22 cm", "Barrow and water for concrete"), ends & {"concreted"}),
        (("Trench spade",), digs),
    ):
        if wanted:
            found += tools
    return tuple(found)
