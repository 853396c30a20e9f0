"""A sheet for each end and gate: every strong post once, of its own kind, with its own parts."""

from collections import Counter

from adze.core.build.parts import needs_of
from adze.core.plan.document import Plan
from adze.core.tasks.end_sheets import end_sheets
from adze.formats.drawings.build_drawings import drawing_of
from tests.conftest import simple_plan

RING = {"id": "r0", "name": "Ring", "points": [[0, 0], [80, 0], [80, 60], [0, 60], [0, 0]]}
GATE = {"id": "g", "kind": "gate", "name": "Field gate", "run": "r0", "at_m": 40.0, "posts": "prop"}
STRONG = {"End or corner post, 2.4 m, 15 cm"}


def test_a_ring_with_a_gate_has_one_end_its_corners_and_the_gate() -> None:
    sheets = list(end_sheets(simple_plan(runs=[RING], fixtures=[GATE])))
    assert [sheet.title for sheet in sheets] == [
        "Ring: start, braced", "Ring: 3 corners, braced", "Gate: Field gate"
    ]  # fmt: skip
    assert sheets[1].where == "at 80 m, 140 m, 220 m"
    assert any("prop" in line for line in sheets[2].lines)


def test_an_end_of_its_own_kind_is_told_and_drawn_as_that() -> None:
    line = {"id": "r0", "name": "Line", "points": [[0, 0], [200, 0]], "far_end": "concreted"}
    plan = simple_plan(runs=[line])
    near, far = end_sheets(plan)
    assert "concreted" in far.title
    assert any("bags" in line for line in far.lines)
    assert not any("bags" in line for line in near.lines)
    shown = [drawing_of(plan, sheet.drawings[0], sheet.run) for sheet in (near, far)]
    assert shown[0]
    assert shown[1]
    assert shown[0].svg != shown[1].svg


def test_sheets_take_the_strong_posts_that_the_list_has(hallow: Plan) -> None:
    told: Counter[str] = Counter()
    for sheet in end_sheets(hallow):
        assert all(drawing_of(hallow, name, sheet.run) for name in sheet.drawings)
        for label, many, _ in sheet.parts:
            told[label] += many
    listed: Counter[str] = Counter()
    for need in needs_of(hallow):
        listed[need.label] += need.quantity
    for label in STRONG:
        assert told[label] == listed[label] > 0


def test_netting_and_brackets_have_none() -> None:
    assert list(end_sheets(simple_plan(netting="sheep_90", strands=[]))) == []
