"""What the fence is made of: each strand's conductor, posts and insulators, and whether they go together."""

from adze.core.animals.strand_rules import Role, post_over_cm
from adze.core.build.construction import conductors_of, fence_of
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.tables.construction import Insulator, insulators, nettings, post_kinds

# Farthest apart posts may stand for a kind of conductor, m: it sags, flaps or is leaned on beyond.
_FARTHEST_M = {"tape": 5.0, "rope": 8.0, "polywire": 10.0, "wire": 10.0, "coated": 9.0, "barbed": 6.0}
HIT_WORDS = {
    "stays": "stays put: the strand or the post gives",
    "pops": "lets the strand pop off: quick to clip back, easy to miss",
    "breaks": "breaks its pin: whole fence stays up, one to renew",
}


def post_of(plan: Plan) -> float:
    """Height of the posts above ground, cm: as said, else what the top strand asks, up to the fives."""
    if plan.post_cm is not None:
        return plan.post_cm
    if plan.netting and not plan.strands:
        return nettings()[plan.netting].post_cm
    return float(post_over_cm(fence_of(plan)[-1].cm))


def farthest_m(plan: Plan) -> float:
    """How far apart posts may stand: the post's own reach, and the least of its conductors'."""
    own = [_FARTHEST_M[c.kind] for c in conductors_of(plan)]
    return min([post_kinds()[plan.post].high_m, *own])


def insulators_for(plan: Plan) -> tuple[tuple[str, Insulator | None], ...]:
    """Each kind of conductor that is live, and what holds it on the plan's posts; None where nothing made does."""
    plain = replaced(plan, netting=None) if plan.netting else plan
    strung = zip(fence_of(plain), conductors_of(plain), strict=True) if plan.strands or not plan.netting else ()
    kinds = dict.fromkeys(c.kind for s, c in strung if s.role is Role.LIVE)
    chosen = insulators().get(plan.insulator or "")
    found = []
    for kind in kinds:
        fitting = [i for i in insulators().values() if i.fits(kind, plan.post)]
        found.append((kind, chosen if chosen in fitting else next(iter(fitting), None)))
    return tuple(found)
