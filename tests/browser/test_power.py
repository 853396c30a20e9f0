"""Power and volts in the real interface: side by side, the search, what-ifs, where the pulse goes, options."""

import math
from itertools import pairwise
from uuid import uuid4

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench

pytestmark = pytest.mark.browser


def ewes(browser: Browser) -> Bench:
    bench = (
        SignIn(browser).open().demo().begin(f"Farm {uuid4().hex[:8]}").zoom_out(2).draw((-200, 60), (0, 60), (150, -60))
    )
    return bench.stage("stock").add_animal("Ewe").tick("stock.0.schooled")


def test_energizers_stand_side_by_side_and_growth_moves_them(browser: Browser) -> None:
    bench = ewes(browser).stage("power").unfold("Compare energizers")
    before = bench.until(lambda: "Mains 25 J" in bench.answer() and bench.answer(), "not compared")
    assert "enough with" in before
    bench.slide("[data-query=more_km]", 10)
    bench.until(lambda: "Mains 25 J" in bench.answer() and bench.answer() != before, "growth changes nothing")
    assert browser.script_errors() == []


def test_the_search_ends_with_a_design_that_holds_and_builds_it(browser: Browser) -> None:
    bench = ewes(browser).stage("power")
    bench.find("[data-search]").click()
    bench.until(lambda: "Done" in bench.text("#search-found"), "the search does not end")
    assert "cheapest that holds" in bench.text("#search-found")
    bench.do("Build it so", "#search-found")
    assert bench.rail("volts").startswith("holds")
    assert browser.script_errors() == []


def test_a_search_can_be_stopped_and_keeps_its_best(browser: Browser) -> None:
    bench = ewes(browser).stage("power")
    bench.find("#wish-conductor").click()
    bench.find("[data-search]").click()
    bench.until(lambda: bench.all("#search-found [data-design]"), "nothing found yet")
    bench.button("Stop", "#search-found").click()
    bench.until(lambda: "Stopped" in bench.text("#search-found"), "does not stop")
    assert bench.all("#search-found [data-design]")


def test_a_plate_that_contradicts_itself_is_refused_where_it_was_typed(browser: Browser) -> None:
    bench = ewes(browser).stage("power").unfold("Enter your own").do("Add one", "#bench").unfold("Your own")
    bench.type_wrong("own_energizers.0.released_j", "9")
    assert "cannot come from" in bench.fault()
    assert bench.value("own_energizers.0.released_j") == "9"


def test_a_strand_on_a_post_is_tried_and_mended(browser: Browser) -> None:
    bench = ewes(browser).stage("volts")
    before = bench.kv_here()
    bench.do("Strand on a steel post", "#bench")
    bench.until(lambda: bench.kv_here() < before, "nothing is lost")
    assert "gone wrong" in bench.text("[data-surface=what-if]")
    bench.do("Mend all", "#bench")
    bench.until(lambda: bench.kv_here() == before, "it does not come back")
    bench.do("Grow it here", "#bench")
    assert bench.document()["growths"][0]["grass"] == "heavy"
    bench.unfold("Joules by place")
    bench.until(lambda: "Stays in the unit" in bench.answer(), "no budget")
    assert browser.script_errors() == []


def test_growth_is_dragged_onto_a_stretch_of_the_strip_and_amps_show_its_leak(browser: Browser) -> None:
    bench = ewes(browser).stage("volts")
    before = bench.kv_here()
    bench.grow_on_strip("heavy", 0.3, 0.8)
    rows = bench.document()["growths"]
    assert {row["run"] for row in rows} == {bench.document()["runs"][0]["id"]}
    size = sum(math.dist(a, b) for a, b in pairwise(bench.document()["runs"][0]["points"]))
    assert rows[0]["from_m"] == pytest.approx(0.3 * size, abs=3)
    assert rows[0]["to_m"] == pytest.approx(0.8 * size, abs=3)
    bench.until(lambda: bench.kv_here() < before, "growth leaks nothing")
    bench.find("#amps").click()
    bench.until(lambda: " A" in bench.text("#strip"), "no amps on the strip")
    assert browser.script_errors() == []


def test_the_pulse_is_led_in_where_somebody_stands(browser: Browser) -> None:
    bench = ewes(browser).stage("power")
    near = bench.text("[data-panel]")
    bench.do("Connect it where you stand", "#bench")
    assert bench.document()["feed_at"] is not None
    bench.do("Nearest again", "#bench")
    assert bench.document()["feed_at"] is None
    assert "Led in at" in near


def test_an_option_stands_beside_its_plan(browser: Browser) -> None:
    bench = ewes(browser)
    bench.find("a[href$='/compare']").click()
    bench.button("Start an option of First line", "main").click()
    bench.find("#over-body")
    bench.until(lambda: not bench.all("[data-pending]"), "still checking the fence")
    bench.stage("power").choose("energizer", "mains_10")
    bench.find("a[href$='/compare']").click()
    said = bench.until(lambda: "Parts that differ" in bench.text("main") and bench.text("main"), "not beside it")
    assert "First line, option 2" in said
    assert "Mains 10 J" in said
