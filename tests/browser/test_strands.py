"""Stock and strands in the real interface: bodies, dragging, both ways people build, the story pole."""

from uuid import uuid4

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.test_journeys import demo

pytestmark = pytest.mark.browser


def ewes(browser: Browser) -> Bench:
    bench = (
        SignIn(browser).open().demo().begin(f"Farm {uuid4().hex[:8]}").zoom_out(2).draw((-200, 60), (0, 60), (150, -60))
    )
    return bench.stage("stock").add_animal("Ewe").tick("stock.0.schooled").stage("strands")


def test_a_dragged_strand_is_judged_while_it_is_held_and_saved_when_let_go(browser: Browser) -> None:
    bench = ewes(browser)
    heights = [s["cm"] for s in bench.forecast()["fences"][""]["strands"]]
    top = len(heights) - 1
    with bench.strand_held(top, -90):
        said = bench.until(lambda: "Ewe" in bench.text(".trial") and bench.text(".trial"), "not judged")
        assert "head through a gap" in said
        assert bench.all("[data-opening]")
        assert bench.document()["strands"] == []
    bench.saved(lambda: bench.document()["strands"] != [])
    assert bench.document()["strands"][top]["cm"] > heights[top] + 10
    assert not bench.find(".trial").is_displayed()
    assert bench.rail("strands").startswith("fails")
    assert browser.script_errors() == []


def test_a_strand_dragged_within_its_limits_is_said_to_hold(browser: Browser) -> None:
    bench = ewes(browser)
    with bench.strand_held(0, -1):
        bench.until(lambda: "hold every animal" in bench.text(".trial"), "not said to hold")


def test_live_or_in_turn_changes_what_the_strands_carry(browser: Browser) -> None:
    bench = ewes(browser)
    assert {s["role"] for s in bench.forecast()["fences"][""]["strands"]} == {"live"}
    bench.choose("scheme", "alternate")
    assert {s["role"] for s in bench.forecast()["fences"][""]["strands"]} == {"live", "earth"}


def test_a_measured_ewe_moves_the_strands_and_nonsense_stays_as_typed(browser: Browser) -> None:
    bench = ewes(browser)
    before = bench.forecast()["fences"][""]["strands"][-1]["cm"]
    bench.stage("stock").unfold("Measured size").type("stock.0.shoulder_cm", "60")
    assert bench.forecast()["fences"][""]["strands"][-1]["cm"] < before
    bench.unfold("Measured size").type_wrong("stock.0.shoulder_cm", "500")
    assert "between" in bench.text(".herd .fault")
    assert bench.value("stock.0.shoulder_cm") == "500"
    bench.choose("loss", "bird")
    assert bench.rail("stock").startswith("fails")


def test_the_story_pole_goes_on_paper_in_true_millimetres(browser: Browser) -> None:
    bench = ewes(browser)
    cm = [s["cm"] for s in bench.forecast()["fences"][""]["strands"]]
    bench.link("Story pole and strand sheet on paper")
    assert bench.count_on_paper("[data-cm]") >= len(cm)
    # 96 CSS pixels are one inch of paper.
    for strip in bench.strips_mm():
        for height_cm, mm in strip:
            assert mm == pytest.approx(height_cm * 10, abs=0.1 + 0.0005 * height_cm * 10)


def test_a_pattern_is_a_beginning_and_a_strand_may_be_of_tape(browser: Browser) -> None:
    bench = ewes(browser)
    bench.do("Sheep of five", "#bench")
    assert [s["cm"] for s in bench.document()["strands"]] == [15, 30, 45, 65, 90]
    bench.choose_made(4, "tape_40")
    assert bench.document()["strands"][4]["conductor"] == "tape_40"
    assert "Posts far apart" in bench.text("#panel")
    bench.type("post_spacing_m", "4.5")
    assert bench.rail("strands").startswith("holds")
    bench.unfold("What each conductor")
    bench.until(lambda: "Polywire" in bench.text("#bench details[data-ask='/conductors']"), "no conductors")
    assert browser.script_errors() == []


def test_the_way_that_dry_sand_wants_is_taken(browser: Browser) -> None:
    bench = ewes(browser).stage("earth").choose("soil", "dry_sand").stage("strands").unfold("Ways to build it")
    said = bench.until(lambda: "taken here" in bench.answer() and bench.answer(), "no way taken")
    assert "In the driest week soil alone falls short" in said
    bench.do_nth("Build it so", 2)
    assert {s["role"] for s in bench.document()["strands"]} == {"live", "earth"}


def test_a_wrong_day_is_said_beside_its_input(browser: Browser) -> None:
    bench = ewes(browser).stage("stock").unfold("Measured size").note_training("came", "2026-05-20")
    bench.unfold("Measured size").note_training("released", "2026-05-01", refused=True)
    assert "before they came" in bench.text("[data-part=released] + .fault")


def test_a_line_is_built_in_its_own_way_and_its_strands_dragged_alone(browser: Browser) -> None:
    bench = ewes(browser)
    bench.stage("ground").draw((150, -60), (150, 140)).stage("stock").add_animal("Horse").stage("strands")
    own = bench.forecast()["fences"][""]["strands"]
    bench.do("A different fence on this line", "#bench")
    (fence,) = bench.document()["fences"]
    bench.until(lambda: bench.value("fences.0.name") == fence["name"], "the new fence is not shown")
    bench.type("fences.0.name", "Road side").choose("fences.0.duty", "last")
    with bench.strand_held(0, -20):
        bench.until(lambda: bench.text(".trial"), "not judged")
    bench.saved(lambda: bench.document()["fences"][0]["strands"] != [])
    assert bench.document()["strands"] == []
    assert bench.forecast()["fences"][""]["strands"] == own
    bench.unfold("Animals at this fence").find("[data-fence-herd='herd1']").click()
    bench.saved(lambda: bench.document()["fences"][0]["herds"] == ["herd2"])
    assert "Ewe" not in bench.text("#side")
    bench.do("Build these like the others", "#bench")
    assert bench.document()["fences"] == []
    assert {run["fence"] for run in bench.document()["runs"]} == {None}
    assert browser.script_errors() == []


def test_a_strand_is_parted_at_a_switch_and_read_as_what_it_is(browser: Browser) -> None:
    bench = demo(browser).stage("ground").choose_thing("fixture:pumpswitch").carry(1)
    index = next(i for i, f in enumerate(bench.document()["fixtures"]) if f["id"] == "pumpswitch")
    assert bench.document()["fixtures"][index]["strands"] == [1]
    bench.tick(f"fixtures.{index}.is_open")
    assert "takes the pulse off strand 1 on" in bench.text("#inspector")
    bench.stage("volts")
    told = '[data-surface="findings"]'
    assert "Strand 1 of Pump line carries nothing" in bench.surface("findings").text(told)
    bench.undo()
    assert "carries nothing" not in bench.text(told)


def test_strands_joined_at_one_end_are_read_one_by_one(browser: Browser) -> None:
    bench = ewes(browser).stage("power").choose("energizer", "mains_6").stage("ground")
    bench.choose_thing("run:line1").choose("runs.0.joined", "near")
    assert "Apart from the others: strand 1" in bench.text("#inspector")
    assert bench.find("[data-low-strands]")
    bench.until(lambda: "Strand 1, apart from the others" in bench.text("#stand"), "no strand by itself")
    assert browser.script_errors() == []
