"""The story pole on paper: true millimetres, every strand once on the stick, joints that can be glued."""

import re
import xml.etree.ElementTree as ET

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.basics.units import Units
from adze.core.build.story_pole import story_pole
from adze.formats.drawings.pole_svg import PORTRAIT_MM, PoleSheets, pole_sheets
from tests.conftest import simple_plan

SVG = "{http://www.w3.org/2000/svg}"
SIX = [{"cm": 15}, {"cm": 30}, {"cm": 47.5, "role": "earth"}, {"cm": 70}, {"cm": 95, "role": "dead"}, {"cm": 123.4}]


def sheets(paper: str = "A4", units: Units = Units.METRIC, **changes: object) -> PoleSheets:
    return pole_sheets(story_pole(simple_plan(**({"strands": SIX} | changes))), "Long <line>", paper, units)


def heights_mm(found: PoleSheets) -> dict[float, set[float]]:
    """Where each strand stands on the glued stick, mm above its foot, as drawn."""
    marks: dict[float, set[float]] = {}
    for sheet in found.sheets:
        for strip in ET.fromstring(sheet).iter(f"{SVG}g"):
            if "data-strip" not in strip.attrib:
                continue
            foot, low = float(strip.attrib["data-base"]), float(strip.attrib["data-low"])
            for line in strip.iter(f"{SVG}line"):
                if "data-cm" in line.attrib:
                    assert line.attrib["y1"] == line.attrib["y2"]
                    drawn = low * 10 + foot - float(line.attrib["y1"])
                    marks.setdefault(float(line.attrib["data-cm"]), set()).add(round(drawn, 3))
    return marks


@pytest.mark.parametrize("paper", PORTRAIT_MM)
@pytest.mark.parametrize("units", list(Units))
def test_every_strand_stands_at_its_height_within_half_a_millimetre_to_the_metre(paper: str, units: Units) -> None:
    found = heights_mm(sheets(paper, units))
    assert sorted(found) == [row["cm"] for row in SIX]
    for cm, drawn in found.items():
        assert all(mm == pytest.approx(cm * 10, abs=0.0005 * cm * 10) for mm in drawn)


@settings(max_examples=25)
@given(st.lists(st.integers(20, 2900), min_size=1, max_size=8, unique=True), st.sampled_from(sorted(PORTRAIT_MM)))
def test_any_heights_come_out_true_on_either_paper(tenths: list[int], paper: str) -> None:
    strands = [{"cm": mm / 10} for mm in sorted(tenths)]
    found = heights_mm(sheets(paper, strands=strands))
    assert sorted(found) == [row["cm"] for row in strands]
    assert all(abs(mm - cm * 10) < 0.002 for cm, drawn in found.items() for mm in drawn)


@pytest.mark.parametrize("paper", PORTRAIT_MM)
def test_sheets_have_the_size_of_the_paper_and_a_rule_to_check_it(paper: str) -> None:
    found = sheets(paper)
    for sheet in found.sheets:
        root = ET.fromstring(sheet)
        width, height = PORTRAIT_MM[paper]
        assert root.attrib["width"] == f"{width}mm"
        assert root.attrib["viewBox"] == f"0 0 {width} {height}"
        check = next(g for g in root.iter(f"{SVG}g") if "data-check" in g.attrib)
        long = [float(x.attrib["x2"]) - float(x.attrib["x1"]) for x in check if x.attrib["y1"] == x.attrib["y2"]]
        assert long == pytest.approx([100.0, 101.6])


def test_strips_reach_from_the_ground_to_the_top_of_the_post_and_say_what_stands_where() -> None:
    found = sheets()
    text = " ".join(re.sub(r"<[^>]+>", " ", s) for s in found.sheets)
    assert found.strips == 6
    assert "from 0 cm, the ground" in text
    assert "post at least to here: 130 cm" in text
    assert "3: 47.5 cm earth" in text
    assert "bottom switch" in text
    assert "Long &lt;line&gt;" in text
    assert "glue strip 6 over this" in text


def test_insulators_stand_where_the_animal_pushes() -> None:
    held = story_pole(simple_plan(stock=[{"id": "a", "kind": "ewe"}, {"id": "b", "kind": "fox"}]))
    out = story_pole(simple_plan(stock=[{"id": "b", "kind": "boar"}]))
    assert held.side == "on the side facing the ewes"
    assert "outer side" in out.side


def test_feet_are_shown_in_inches() -> None:
    text = " ".join(re.sub(r"<[^>]+>", " ", s) for s in sheets("Letter", Units.IMPERIAL).sheets)
    assert "1 ft 6.75 in earth" in text
    assert "24 in" in text
