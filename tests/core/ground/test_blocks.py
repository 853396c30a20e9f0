"""Grazing blocks, their water, dividing and strips; dips and rises of the ground."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import MultiPolygon, Polygon
from shapely.affinity import scale
from shapely.ops import split

from adze.core.ground.blocks import (
    acres,
    block_at,
    blocks,
    divide,
    gates_of,
    hectares,
    stock_sides,
    strips,
    tank_sources,
)
from adze.core.ground.relief import bumps, height_at
from adze.core.plan.document import Plan
from tests.conftest import simple_plan

RING = {"id": "ring", "name": "Ring", "points": [[0, 0], [200, 0], [200, 100], [0, 100], [0, 0]]}
CROSS = {"id": "cross", "name": "Cross", "points": [[80, 0], [80, 100.3]], "use": "cross"}


def farm(*runs: dict[str, object], **changes: object) -> Plan:
    return simple_plan(runs=list(runs or (RING, CROSS)), **changes)


def test_lines_enclose_blocks_with_their_area_and_runs() -> None:
    large, small = blocks(farm())
    assert (large.area_m2, small.area_m2) == (pytest.approx(12000), pytest.approx(8000))
    assert large.runs == ("ring", "cross")
    assert hectares(large.area_m2) == pytest.approx(1.2)
    assert acres(4046.8564224) == pytest.approx(1)
    assert block_at(farm(), (20, 20)) == small
    assert block_at(farm(), (500, 20)) is None


def test_a_gap_at_a_join_still_encloses_and_temporary_lines_do_not_part() -> None:
    assert len(blocks(farm(RING, CROSS | {"points": [[80, 0.4], [80, 99.6]]}))) == 2
    assert len(blocks(farm(RING, CROSS | {"use": "temporary"}))) == 1
    assert blocks(farm(CROSS)) == ()


def test_posts_stand_on_the_side_of_the_stock() -> None:
    back = {**RING, "points": RING["points"][::-1]}
    lone = {"id": "lone", "name": "Lone", "points": [[500, 0], [600, 0]]}
    assert stock_sides(farm(RING, CROSS, lone)) == {"ring": "left", "cross": "left"}
    assert stock_sides(farm(back)) == {"ring": "right"}


def test_blocks_say_their_name_and_their_water() -> None:
    plan = farm(
        blocks=[{"id": "b", "name": "Top meadow", "at": [10, 10]}],
        landmarks=[{"id": "t", "kind": "trough", "name": "Old trough", "points": [[79, 50]]}],
    )
    large, small = blocks(plan)
    assert (large.name, small.name) == ("Block 1", "Top meadow")
    # A trough in the line serves both sides.
    assert large.water == small.water == ("Old trough",)
    assert small.farthest_water_m == pytest.approx(93.5, abs=0.1)
    assert blocks(farm())[0].farthest_water_m is None


@given(st.integers(2, 7), st.floats(0, 359))
def test_parts_of_a_divided_block_are_equal(parts: int, bearing: float) -> None:
    face = Polygon([(0, 0), (200, 0), (230, 90), (120, 160), (-20, 80)])
    rest = MultiPolygon([face])
    for cut in divide(face, parts, bearing):
        rest = MultiPolygon(split(rest, scale(cut, 1.01, 1.01)).geoms)
    assert [piece.area for piece in rest.geoms] == pytest.approx([face.area / parts] * parts, rel=1e-3)


def test_strips_add_up_to_the_block() -> None:
    moves = {"id": "m", "name": "May", "at": [150, 50], "strips": 4, "bearing_deg": 0, "days": 2}
    water = {"id": "t", "kind": "water_point", "points": [[80, 0]]}
    plan = farm(moves=[moves], landmarks=[water])
    rows = strips(plan, plan.moves[0])
    assert [r.area_m2 for r in rows] == pytest.approx([3000] * 4)
    assert [round(r.length_m) for r in rows] == [100, 100, 100, 0]
    assert rows[0].line[0][0] == pytest.approx(110)
    assert [r.water_m for r in rows] == sorted(r.water_m or 0 for r in rows)
    nowhere = farm(moves=[moves | {"at": [900, 900]}])
    assert strips(nowhere, nowhere.moves[0]) == ()


def hilly(heights: list[tuple[float, float]]) -> Plan:
    return simple_plan(
        runs=[{"id": "r", "name": "R", "points": [[0, 0], [200, 0]], "profile": heights}], post_spacing_m=10
    )


def test_dips_want_a_tie_down_and_rises_a_post() -> None:
    plan = hilly([(0, 10), (40, 10), (50, 9), (60, 10), (130, 10), (140, 11), (150, 10), (200, 10)])
    dip, rise = bumps(plan, plan.runs[0])
    assert (dip.at_m, dip.is_dip, dip.words) == (50, True, "Dip: tie down")
    assert (rise.at_m, rise.is_dip) == (140, False)
    assert dip.off_m == pytest.approx(-1)
    assert height_at(plan.runs[0], 45) == pytest.approx(9.5)


def test_even_slopes_and_missing_heights_have_none() -> None:
    slope = hilly([(0, 0), (100, 20), (200, 40)])
    assert bumps(slope, slope.runs[0]) == ()
    plain = simple_plan()
    assert bumps(plain, plain.runs[0]) == ()
    assert height_at(plain.runs[0], 5) is None


@given(st.floats(-80, 80), st.floats(-0.5, 0.5))
def test_height_and_tilt_of_the_whole_do_not_matter(lift: float, tilt: float) -> None:
    base = [(0.0, 10.0), (40.0, 10.0), (50.0, 9.0), (60.0, 10.0), (200.0, 10.0)]
    first, second = (hilly(rows) for rows in (base, [(x, h + lift + tilt * x) for x, h in base]))
    assert [round(b.at_m) for b in bumps(first, first.runs[0])] == [
        round(b.at_m) for b in bumps(second, second.runs[0])
    ]


def test_the_source_with_the_shortest_hose_for_all_blocks_is_told_first() -> None:
    well = {"id": "w", "kind": "well", "name": "Well", "points": [[300, 50]]}
    trough = {"id": "t", "kind": "trough", "name": "Trough", "points": [[90, 50]]}
    best, other = tank_sources(farm(landmarks=[well, trough]))
    assert (best.name, other.name) == ("Trough", "Well")
    assert best.hose_m == (("Block 1", 0.0), ("Block 2", pytest.approx(1.1 * 10)))
    assert other.hose_m == (("Block 1", pytest.approx(1.1 * 100)), ("Block 2", pytest.approx(1.1 * 220)))
    assert tank_sources(farm()) == ()


def test_a_strip_names_the_gates_in_its_edge() -> None:
    gate = {"id": "g", "kind": "gate", "run": "ring", "at_m": 10, "name": "West gate"}
    moves = {"id": "m", "name": "Moves", "at": [20, 20], "strips": 2, "bearing_deg": 0}
    plan = farm(fixtures=[gate], moves=[moves])
    first, second = strips(plan, plan.moves[0])
    assert (first.gates, second.gates) == (("West gate",), ())
    large, small = blocks(plan)
    assert (gates_of(plan, large.shape), gates_of(plan, small.shape)) == ((), ("West gate",))
