"""Each judged limit of this room, just inside and just outside of it."""

import math

import pytest

from adze.core.build.parts import Bill, PartLine
from adze.core.energizer.supply import days, usable_ah
from adze.core.plan.document import Plan
from adze.core.tables.energizers import energizers
from adze.core.verdict.compare import hours
from adze.core.verdict.judge_fence import judge_strands
from adze.core.verdict.judge_ground import judge_ground
from adze.core.verdict.judge_materials import material_cautions, material_findings
from adze.core.verdict.judge_supply import supply_findings
from tests.conftest import simple_plan

STEM = {"id": "r0", "name": "Stem", "points": [[0, 0], [400, 0]]}
HORSE = [{"id": "h", "kind": "horse"}]
SHED = {"id": "s", "kind": "building", "name": "Shed"}


def strands(*heights: int, **more: object) -> dict[str, object]:
    return {"strands": [{"cm": cm} for cm in heights]} | more


def ground_titles(**changes: object) -> set[str]:
    return {f.title for f in judge_ground(simple_plan(**{"runs": [STEM]} | changes)).findings}


def material_titles(plan: Plan) -> set[str]:
    return {f.title for f in material_findings(plan)}


def power_titles(unit: str, **changes: object) -> set[str]:
    plan = simple_plan(energizer=unit, **changes)
    return {f"{f.title}: {f.status}" for f in supply_findings(plan, energizers()[unit])}


@pytest.mark.parametrize(
    ("inside", "outside", "title"),
    [
        (strands(40, 117, post_cm=120), strands(40, 118, post_cm=120), "Posts too short"),
        ({"conductor": "tape_20"}, {"conductor": "rope_steel"}, "Can a horse see it?"),
        ({"conductor": "steel_16", "post": "plastic"}, {"post": "plastic"}, "Light posts under tight wire"),
        (strands(90, post_cm=113), strands(90, post_cm=111), "Posts too low for horses"),
    ],
)
def test_materials(inside: dict[str, object], outside: dict[str, object], title: str) -> None:
    tall = [{"id": "h", "kind": "horse", "shoulder_cm": 150}]
    titles = [
        {f.title for f in material_findings(simple_plan(**{"stock": tall} | changes)) if f.mend}
        for changes in (inside, outside)
    ]
    assert [title in found for found in titles] == [False, True]


def test_a_tape_of_40_mm_is_good_and_one_of_20_is_seen() -> None:
    assert "Can a horse see it?" not in material_titles(simple_plan(stock=HORSE, conductor="tape_40"))
    assert "Can a horse see it?" in material_titles(simple_plan(stock=HORSE, conductor="tape_20"))


@pytest.mark.parametrize(
    ("inside", "outside", "word"),
    [
        (strands(80, 88, conductor="tape_40"), strands(80, 87, conductor="tape_40"), "flaps together"),
        (strands(10, 60), strands(9, 60), "bare strip"),
        (strands(30, 60, stock=HORSE), strands(29, 60, stock=HORSE), "pawing hoof"),
    ],
)
def test_cautions_of_strands(inside: dict[str, object], outside: dict[str, object], word: str) -> None:
    stock = {"stock": [{"id": "c", "kind": "cow"}]}
    notes = [
        " ".join((*judge_strands(simple_plan(**stock | changes)).cautions, *material_cautions(simple_plan(**changes))))
        for changes in (inside, outside)
    ]
    assert [word in note for note in notes] == [False, True]


@pytest.mark.parametrize(
    ("unit", "wanted_days", "title"),
    [("battery_1", 7, "Days between charges"), ("solar_06", 5, "Days without sun")],
)
def test_a_battery_lasts_as_long_as_it_is_left_alone(unit: str, wanted_days: float, title: str) -> None:
    plan = simple_plan(energizer=unit)
    supply = plan.supply
    per_ah = days(energizers()[unit], supply.rate, usable_ah(1.0, deep_cycle=True, celsius=supply.coldest_c))
    for share, status in ((1.1, "holds"), (0.9, "marginal")):
        found = power_titles(unit, supply={"battery_ah": share * wanted_days / per_ah, "deep_cycle": True})
        assert f"{title}: {status}" in found


@pytest.mark.parametrize(("away_m", "found"), [(9, False), (11, True)])
def test_mains_parts_hang_under_a_roof(away_m: float, found: bool) -> None:
    shed = SHED | {"points": [[0, away_m], [5, away_m], [5, 30]]}
    assert ("Mains parts outdoors: fails" in power_titles("mains_6", landmarks=[shed])) == found


@pytest.mark.parametrize(("at_m", "status"), [(29, "holds"), (31, "marginal")])
def test_a_diverter_stands_at_the_feed(at_m: float, status: str) -> None:
    diverter = {"id": "d", "kind": "diverter", "run": "line1", "at_m": at_m, "name": "Diverter", "earth": "own"}
    assert f"Lightning diverter: {status}" in power_titles("mains_6", fixtures=[diverter])


def test_hours_of_own_work_by_part() -> None:
    def one(group: str, unit: str, part: str = "", quantity: float = 1.0) -> float:
        line = PartLine(group, "Part", quantity, unit, 1, 1, 1.0, "", part)
        return hours(Bill((line,), 1.0))

    assert one("Posts", "pcs", quantity=100) == pytest.approx(12)
    assert one("Posts", "pcs", "end_post", 2) == pytest.approx(3)
    assert one("Conductor", "m", quantity=400) == pytest.approx(1)
    assert one("Earth", "piece", "earth_rod", 5) == pytest.approx(2)
    assert one("Earth", "m", "bare_lead", 5) == pytest.approx(1)
    assert one("Insulators", "pcs", quantity=100) == pytest.approx(1)
    assert one("Joints", "pcs", quantity=100) == pytest.approx(3)
    assert one("Gates", "pcs", quantity=4) == pytest.approx(1)


@pytest.mark.parametrize(
    ("inside", "outside", "title"),
    [
        ([[0, 9], [29, 9]], [[0, 9], [31, 9]], "Beside an overhead line"),
        ([[0, 14], [400, 14]], [[0, 16], [400, 16]], "-Beside an overhead line"),
        ([[200, -50], [240, 50]], [[200, -50], [265, 50]], "Crosses an overhead line at a slant"),
    ],
)
def test_overhead_lines(inside: list[list[float]], outside: list[list[float]], title: str) -> None:
    found = [
        ground_titles(landmarks=[{"id": "o", "kind": "overhead", "name": "Line", "points": points}])
        for points in (inside, outside)
    ]
    wanted = [True, False] if title.startswith("-") else [False, True]
    assert [title.lstrip("-") in titles for titles in found] == wanted


@pytest.mark.parametrize(("degrees", "found"), [(31, False), (29, True)])
def test_a_line_that_runs_off_aslant_is_not_beside(degrees: float, found: bool) -> None:
    away = [[0, -14], [300, -14 + 300 * math.tan(math.radians(degrees))]]
    short = {"id": "r0", "name": "Stem", "points": [[0, 0], [300, 0]]}
    wide = ground_titles(runs=[short], landmarks=[{"id": "o", "kind": "overhead", "name": "Line", "points": away}])
    assert ("Beside an overhead line" in wide) == found


@pytest.mark.parametrize(("cm", "found"), [(199, False), (201, True)])
def test_the_top_under_an_overhead_line(cm: int, found: bool) -> None:
    line = {"id": "o", "kind": "overhead", "name": "Line", "points": [[100, -50], [100, 50]]}
    assert ("Too high under an overhead line" in ground_titles(landmarks=[line], **strands(cm))) == found


@pytest.mark.parametrize(
    ("length_m", "switch_m", "found"), [(200, 14, False), (200, 16, True), (29, None, False), (31, None, True)]
)
def test_a_branch_wants_a_switch_near_its_start(length_m: float, switch_m: float | None, found: bool) -> None:
    branch = {"id": "r1", "name": "Branch", "points": [[150, 0], [150, length_m]]}
    switch = {"id": "k", "kind": "switch", "run": "r1", "at_m": switch_m, "name": "Switch"}
    titles = ground_titles(runs=[STEM, branch], fixtures=[switch] if switch_m else [])
    assert ("Branch without a switch" in titles) == found


@pytest.mark.parametrize(
    ("ring_m", "branch_m", "found"), [(300, 330, True), (300, 270, False), (200, 310, True), (200, 290, False)]
)
def test_one_break_kills_half_of_a_long_fence(ring_m: float, branch_m: float, found: bool) -> None:
    """A branch on a ring: only its own break kills, and only what hangs on it."""
    side = ring_m / 4
    runs = [
        {"id": "r0", "name": "Ring", "points": [[0, 0], [0, -side], [side, -side], [side, 0], [0, 0]]},
        {"id": "r1", "name": "Branch", "points": [[side, -side], [side + branch_m, -side]]},
    ]
    assert ("One break stops much of it" in ground_titles(runs=runs)) == found


@pytest.mark.parametrize(("length_m", "found"), [(990, False), (1010, True)])
def test_twenty_minutes_at_three_km_an_hour(length_m: float, found: bool) -> None:
    runs = [STEM | {"points": [[0, 0], [length_m, 0]]}]
    assert ("Too long to trace quickly" in ground_titles(runs=runs)) == found


@pytest.mark.parametrize(("away_m", "found"), [(9.5, True), (10.5, False)])
def test_an_energizer_keeps_off_water(away_m: float, found: bool) -> None:
    trough = {"id": "t", "kind": "trough", "name": "Trough", "points": [[-away_m, 0]]}
    assert ("Energizer near water trough" in ground_titles(landmarks=[trough])) == found


@pytest.mark.parametrize(("away_m", "found"), [(2.9, False), (3.1, True)])
def test_a_lead_out_begins_in_its_own_building(away_m: float, found: bool) -> None:
    shed = SHED | {"points": [[-4, -30 - away_m], [4, -30 - away_m], [4, -40]]}
    assert ("Lead-out near building" in ground_titles(energizer_at=[0, -30], landmarks=[shed])) == found


@pytest.mark.parametrize(("gate_m", "found"), [(111, False), (113, True)])
def test_a_way_is_passed_by_a_gate_nearby(gate_m: float, found: bool) -> None:
    road = {"id": "w", "kind": "road", "name": "Road", "points": [[100, -50], [100, 50]]}
    gate = {"id": "g", "kind": "gate", "run": "r0", "at_m": gate_m, "name": "Gate"}
    assert ("A way is fenced off" in ground_titles(landmarks=[road], fixtures=[gate])) == found
