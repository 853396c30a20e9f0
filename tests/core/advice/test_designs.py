"""Designs: what each change of strands makes of a plan, rods in another number and place, far rods."""

import pytest

from adze.core.advice.designs import Build, Choice, RodWay, StrandChange, built_so, chosen, rods_so, with_far_rods
from adze.core.animals.strand_rules import Role, Scheme
from adze.core.build.construction import fence_of
from adze.core.build.rods import places_of
from adze.core.ground.lines import length_m
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from tests.conftest import simple_plan


@pytest.fixture
def plan() -> Plan:
    """A line of three live strands for ewes, its rods placed."""
    rods = {"count": 3, "position": [-8, -8]}
    return changed(simple_plan(stock=[{"id": "e", "kind": "ewe"}], rods=rods), {"strands": strands(30, 60, 90)})


def strands(*heights: int) -> list[dict[str, float]]:
    """Live strands at heights, cm."""
    return [{"cm": cm} for cm in heights]


def test_a_build_that_changes_nothing_is_the_plan(plan: Plan) -> None:
    assert built_so(plan, Build()) == plan


@pytest.mark.parametrize(
    ("change", "scheme"), [(StrandChange.ALL_LIVE, Scheme.LIVE), (StrandChange.ALTERNATE, Scheme.ALTERNATE)]
)
def test_a_scheme_takes_the_computed_heights(plan: Plan, change: StrandChange, scheme: Scheme) -> None:
    built = built_so(plan, Build(change))
    assert built.scheme is scheme
    assert built.strands == ()
    assert (Role.EARTH in {s.role for s in fence_of(built)}) == (scheme is Scheme.ALTERNATE)


def test_earth_between_and_mesh_keep_what_stands_live(plan: Plan) -> None:
    between = built_so(plan, Build(StrandChange.EARTH_BETWEEN))
    assert {s.role for s in fence_of(between)} == {Role.LIVE, Role.EARTH}
    mesh = built_so(plan, Build(StrandChange.MESH_BEFORE))
    assert mesh.apron
    assert fence_of(mesh) == fence_of(plan)


def test_one_live_strand_more_stands_in_the_widest_gap(plan: Plan) -> None:
    wide = changed(plan, {"strands": strands(20, 40, 100)})
    more = built_so(wide, Build(more_live=True))
    assert [s.cm for s in fence_of(more)] == [20, 40, 70, 100]


def test_rods_are_as_many_as_long_and_where_a_choice_says(plan: Plan) -> None:
    moved = rods_so(plan, RodWay(5, 2.4, (40.0, 10.0, 90.0)))
    assert (moved.count, moved.length_m, moved.position) == (5, 2.4, (40.0, 10.0))
    assert len(places_of(moved)) == 5
    here = rods_so(plan, RodWay(5, 2.4, None))
    assert here.position == plan.rods.position
    built = chosen(plan, Choice("mains_6", 6, build=Build(StrandChange.MESH_BEFORE)))
    assert (built.energizer, built.rods.count, built.apron) == ("mains_6", 6, True)


def test_far_rods_stand_at_the_end_of_the_longest_line(plan: Plan) -> None:
    (site,) = with_far_rods(plan).fixtures
    longest = max(plan.runs, key=length_m)
    assert (site.kind, site.run, site.rods) == ("rods", longest.id, 3)
    assert site.at_m == pytest.approx(length_m(longest), abs=0.01)
    assert len(with_far_rods(with_far_rods(plan)).fixtures) == 2
