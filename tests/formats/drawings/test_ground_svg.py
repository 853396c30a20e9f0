"""The ground on paper: true to scale, north up, over several sheets."""

import re

import pytest

from adze.core.plan.document import Plan
from adze.formats.drawings.ground_svg import PAPERS_MM, TooMany, ground_sheets
from tests.conftest import simple_plan


def first_path(svg: str) -> list[tuple[float, float]]:
    """The points in mm of the first line of fence."""
    found = re.search(r'<path d="M([^"]+)" fill="none" stroke="#20241f" stroke-width="0.7"', svg)
    assert found
    return [(float(x), float(y)) for x, y in (p.split() for p in found[1].split("L"))]


@pytest.mark.parametrize(("scale", "paper"), [(500, "A3"), (1000, "A4"), (2500, "Letter")])
def test_lengths_on_paper_are_true(scale: int, paper: str) -> None:
    plan = simple_plan(runs=[{"id": "a", "name": "A", "points": [[0, 0], [100, 0], [100, 60]]}])
    (sheet,) = ground_sheets(plan, paper, scale).sheets
    (ax, ay), (bx, by), (cx, cy) = first_path(sheet.svg)
    mm = 1000 / scale
    assert bx - ax == pytest.approx(100 * mm, rel=0.0005)
    assert by - cy == pytest.approx(60 * mm, rel=0.0005)
    assert (ay, bx) == pytest.approx((by, cx), abs=0.001)


def test_the_scale_bar_is_as_long_as_it_says(hallow: Plan) -> None:
    drawn = ground_sheets(hallow)
    bar = re.search(r'class="bar" d="M[\d.]+ [\d.]+v2h([\d.]+)v-2".*?>(\d+) m<', drawn.sheets[0].svg, re.S)
    assert bar
    assert float(bar[1]) == pytest.approx(float(bar[2]) * 1000 / drawn.scale, rel=0.0005)


def test_the_whole_farm_fits_one_sheet_or_takes_many(hallow: Plan) -> None:
    one = ground_sheets(hallow, "A4")
    assert len(one.sheets) == 1
    width, height = PAPERS_MM["A4"]
    assert all(10 <= x <= width - 10 and 10 <= y <= height - 34 for x, y in first_path(one.sheets[0].svg))
    many = ground_sheets(hallow, "A4", 1000)
    assert len(many.sheets) == len({(s.column, s.row) for s in many.sheets}) > 6
    assert "sheet 1 of" in many.sheets[0].svg
    with pytest.raises(TooMany, match="at most 40"):
        ground_sheets(hallow, "A4", 100)


def test_north_names_and_legend_stand_on_it(hallow: Plan) -> None:
    svg = ground_sheets(hallow).sheets[0].svg
    assert ">N</text>" in svg
    for words in ("Terraces, 1.20 km", "Lane gate", "1:5000 on A4", "temporary", "lead-out"):
        assert words in svg
    odd = simple_plan(name="A & <b>", runs=[])
    assert "A &amp; &lt;b&gt;" in ground_sheets(odd).sheets[0].svg
