"""What the line as drawn asks for, before prices: ends, corners, posts, strains, signs."""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy import sparse
from scipy.sparse import csgraph
from scipy.spatial import KDTree
from shapely import LineString, unary_union

from adze.core.basics.cache import cached_by_fields
from adze.core.ground.lines import CORNER_DEGREES, length_m, line_of, turns
from adze.core.ground.relief import bumps
from adze.core.ground.survey import JOIN_M
from adze.core.plan.constructions import views_by_run
from adze.core.plan.document import Plan
from adze.core.plan.ground import Fixture, Gate, Run

SPRING_ABOVE_M = 300.0
SIGN_EVERY_M = 100.0  # along a public path: each is seen from the last
PATH_NEAR_M = 20.0  # a path nearer than this is walked beside the fence


@dataclass(frozen=True)
class Count:
    """What the line as drawn asks for, before prices; `gates` are those that open."""

    ends: int
    corners: int
    line_posts: int
    sections: int
    long_sections: int
    gates: int
    drive_overs: int
    dips: int
    rises: int


def _opens(fixture: Fixture) -> bool:
    return isinstance(fixture, Gate) and fixture.opens


def strains_m(fixtures: list[Fixture], run: Run) -> tuple[tuple[float, float], ...]:
    """From where to where each strain goes, m along: ends, gates, strain ends (corners are pulled through)."""
    inner = sorted(f.at_m for f in fixtures if _opens(f) or f.kind == "strain")
    stops = [0.0, *inner, length_m(run)]
    return tuple((a, b) for a, b in pairwise(stops) if b - a > JOIN_M)


def strain_lengths_m(fixtures: list[Fixture], run: Run) -> tuple[float, ...]:
    """Lengths between strain posts."""
    return tuple(b - a for a, b in strains_m(fixtures, run))


def _spots(plan: Plan) -> int:
    """How many spots the ends of all runs stand on."""
    ends = np.array([p for run in plan.runs for p in (run.points[0], run.points[-1])])
    near = KDTree(ends).query_pairs(JOIN_M, output_type="ndarray")
    links = sparse.coo_matrix((np.ones(len(near)), near.T), shape=(len(ends), len(ends)))
    return int(csgraph.connected_components(links, directed=False)[0])


def count_line(plan: Plan, run: Run, fixtures: list[Fixture], post_spacing_m: float) -> Count:
    """Corners, posts, sections and gates of one run; its ends are told apart from those of its neighbours elsewhere."""
    bends = [at for at, degrees in turns(run) if degrees > CORNER_DEGREES]
    fixed = sorted({0.0, length_m(run), *bends, *(f.at_m for f in fixtures)})
    posts = sum(math.ceil((b - a) / post_spacing_m - 1e-9) - 1 for a, b in pairwise(fixed) if b > a)
    lengths = strain_lengths_m(fixtures, run)
    found = bumps(plan, run)
    dips = sum(b.is_dip for b in found)
    rises = len(found) - dips
    gates = sum(_opens(f) for f in fixtures)
    return Count(
        ends=0,
        corners=len(bends),
        line_posts=posts + rises,
        sections=len(lengths),
        long_sections=sum(x > SPRING_ABOVE_M for x in lengths),
        gates=gates,
        drive_overs=sum(f.kind == "gate" for f in fixtures) - gates,
        dips=dips,
        rises=rises,
    )


def count(plan: Plan) -> Count:
    """Ends, corners, posts and sections of all runs."""
    own: dict[str, list[Fixture]] = {run.id: [] for run in plan.runs}
    for fixture in plan.fixtures:
        own[fixture.run].append(fixture)
    views = views_by_run(plan)
    rows = [count_line(plan, run, own[run.id], views[run.id].post_spacing_m) for run in plan.runs]
    return Count(_spots(plan), *(sum(getattr(row, name) for row in rows) for name in _SUMMED))


_SUMMED = ("corners", "line_posts", "sections", "long_sections", "gates", "drive_overs", "dips", "rises")


@cached_by_fields("signs", 16, identity_args=("runs", "fixtures", "landmarks"))
def sign_count(plan: Plan) -> int:
    """Signs: one for each side, each gate, and along a public path at most 100 m apart."""
    paths = [p for p in plan.landmarks if p.kind == "path" and len(p.points) > 1]
    beside = 0
    if paths and plan.runs:
        near = unary_union([LineString(p.points).buffer(PATH_NEAR_M) for p in paths])
        along = sum(line_of(run).intersection(near).length for run in plan.runs)
        beside = math.ceil(along / SIGN_EVERY_M) + 1 if along else 0
    gates = sum(_opens(f) for f in plan.fixtures)
    placed = sum(f.kind == "sign" for f in plan.fixtures)
    return 4 + gates + max(beside, placed)
