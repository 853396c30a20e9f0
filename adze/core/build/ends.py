"""Ends and corners: what strains on them, the kind that takes it, and what each kind is made of."""

import math
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse import csgraph
from scipy.spatial import KDTree

from adze.core.basics.units import counted
from adze.core.build.construction import conductors_of
from adze.core.build.count import Count
from adze.core.build.needs import PartNeed, priced
from adze.core.ground.survey import JOIN_M
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Gate, Run

TIGHT_KN = 0.5  # a strand strained by more pulls a stiff light post over
HOLE_M, HOLE_DEEP_M, LIGHT_POST_M = 0.22, 0.95, 0.06  # of a concreted light post: widths 20 to 25 cm, 0.9 to 1.0 m deep
BAG_M3 = 0.012  # that a bag of 25 kg yields
END_WORDS = {
    "": "by the strain",
    "braced": "braced: post, brace post, rail, twitch wire",
    "block": "a deep post with a breast block",
    "concreted": "a light post in concrete",
    "prop": "a post with a prop at 45°",
    "stiff": "a stiff light post",
}


@dataclass(frozen=True)
class Pulls:
    """What pulls on the strong posts of a line: ends of its own, corners, gates that open."""

    ends: int
    corners: int
    gates: int

    @property
    def posts(self) -> int:
        """Strong posts: one at an end and a corner, two at a gate."""
        return self.ends + self.corners + 2 * self.gates

    @property
    def sides(self) -> int:
        """Sides that strands pull from: one at an end and a gate's post, two at a corner."""
        return self.ends + 2 * self.corners + 2 * self.gates


def strain_kn(view: Plan) -> float:
    """What all strands of a fence pull together, kN."""
    return sum(made.tension_kn for made in conductors_of(view))


def end_kind(view: Plan) -> str:
    """The kind of end of a fence: as said, else a stiff light post where no strand is tight, else braced."""
    if view.end_kind:
        return str(view.end_kind)
    return "braced" if any(made.tension_kn > TIGHT_KN for made in conductors_of(view)) else "stiff"


def bags_for(posts: int) -> int:
    """Bags of concrete for light posts: the holes less the posts in them."""
    hole = math.pi / 4 * (HOLE_M**2 - LIGHT_POST_M**2) * HOLE_DEEP_M
    return math.ceil(round(posts * hole / BAG_M3, 6))


def end_needs(view: Plan, kind: str, pulls: Pulls) -> Iterator[PartNeed]:
    """What the ends, corners and gate posts of a line that are of one kind are made of."""
    kn = strain_kn(view)
    counts = ((pulls.ends, "end"), (pulls.corners, "corner"), (2 * pulls.gates, "gate post"))
    why = ", ".join(counted(n, noun) for n, noun in counts if n) + f"; {kn:.1f} kN pull each"
    each = f"{counted(pulls.sides, 'side')} pulled from"
    if kind == "stiff":
        yield priced("Posts", "stiff_post", pulls.posts, why)
        return
    if kind == "concreted":
        yield priced("Posts", "composite_end", pulls.posts, why)
        yield priced("Posts", "concrete_bag", bags_for(pulls.posts), "holes of 22 cm, 95 cm deep, less the posts")
        return
    yield priced("Posts", "end_post", pulls.posts, why)
    part = {"braced": "brace_kit", "block": "breast_block", "prop": "prop_stake"}[kind]
    yield priced("Posts", part, pulls.sides, each)


def pulls_by_kind(view: Plan, run: Run, own: tuple[str, ...], n: Count) -> dict[str, Pulls]:
    """The strong posts of a line by the kind that each is, the fence's own kind first; `own`: ends of its own."""
    usual = end_kind(view)
    ends = Counter((run.start_end if end == "start" else run.far_end) or usual for end in own)
    opened = [f for f in view.fixtures if isinstance(f, Gate) and f.run == run.id and f.opens]
    gates = Counter(gate.posts or usual for gate in opened)
    kinds = dict.fromkeys((usual, *ends, *gates))
    found = {kind: Pulls(ends[kind], n.corners if kind == usual else 0, gates[kind]) for kind in kinds}
    return {kind: pulls for kind, pulls in found.items() if pulls.posts}


def end_kinds(plan: Plan) -> frozenset[str]:
    """Every kind of end that stands on a plan."""
    views = views_by_run(plan)
    usual = {end_kind(view) for view in views.values() if not has_no_ends(view)}
    said = {kind for run in plan.runs if not has_no_ends(views[run.id]) for kind in (run.start_end, run.far_end)}
    gates = {f.posts for f in plan.fixtures if isinstance(f, Gate) and not has_no_ends(views[f.run])}
    return frozenset((usual | said | gates) - {""})


def owned_ends(plan: Plan) -> dict[str, tuple[str, ...]]:
    """Which ends, start or end, each run has to itself: where several end on a spot it is the first's that strains
    most.
    """
    if not plan.runs:
        return {}
    views = views_by_run(plan)
    ends = np.array([p for run in plan.runs for p in (run.points[0], run.points[-1])])
    near = KDTree(ends).query_pairs(JOIN_M, output_type="ndarray")
    links = sparse.coo_matrix((np.ones(len(near)), near.T), shape=(len(ends), len(ends)))
    _, spot = csgraph.connected_components(links, directed=False)
    owner: dict[int, tuple[str, str]] = {}
    strain = {run.id: 0.0 if has_no_ends(views[run.id]) else 1.0 + strain_kn(views[run.id]) for run in plan.runs}
    for number, run in enumerate(plan.runs):
        for here, end in ((int(spot[2 * number]), "start"), (int(spot[2 * number + 1]), "end")):
            if here not in owner or strain[run.id] > strain[owner[here][0]]:
                owner[here] = run.id, end
    found: dict[str, tuple[str, ...]] = {run.id: () for run in plan.runs}
    for run_id, end in owner.values():
        found[run_id] += (end,)
    return found


def has_no_ends(view: Plan) -> bool:
    """Whether a fence needs no end posts: netting brings its own, strands before something solid hang on that."""
    return bool(view.netting and not view.strands) or bool(view.behind)
