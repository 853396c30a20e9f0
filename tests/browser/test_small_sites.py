"""Small sites in the real interface: from a template to a plan that holds, a hive moved, a strand off the switch."""

from uuid import uuid4

import pytest
from selenium.webdriver import Keys

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench

pytestmark = pytest.mark.browser
STAGES = ("stock", "ground", "strands", "power", "earth", "volts", "parts")


def begun(browser: Browser, key: str) -> Bench:
    return SignIn(browser).open().demo().begin(f"Site {uuid4().hex[:8]}").begin_from(key)


def test_a_template_is_a_plan_that_holds(browser: Browser) -> None:
    bench = begun(browser, "show")
    assert [bench.rail(stage).partition(":")[0] for stage in STAGES] == ["holds"] * len(STAGES)
    assert browser.script_errors() == []


def test_a_hive_is_moved_until_it_is_safe(browser: Browser) -> None:
    bench = begun(browser, "hives").choose_thing("landmark:hive1").unfold("Corners").stand_thing("3.0, 0.4")
    findings = bench.tab("findings").text("#pane-findings")
    assert "No room round it" in findings
    assert "40 cm" in bench.stage("strands").text("#panel")
    assert bench.rail("strands").startswith("fails")
    bench.stage("ground").choose_thing("landmark:hive1").unfold("Corners").stand_thing("3.0, 1.5")
    assert "No room round it" not in bench.tab("findings").text("#pane-findings")
    assert bench.rail("ground").startswith("holds")
    assert bench.rail("strands").startswith("holds")


def test_a_strand_is_taken_off_the_switch(browser: Browser) -> None:
    bench = begun(browser, "hives").stage("strands").tick("bottom_off")
    live = [s["role"] for s in bench.forecast()["fences"][""]["strands"]].count("live")
    bench.unfold("On the bottom switch").switch_strand(0)
    roles = [s["role"] for s in bench.forecast()["fences"][""]["strands"]]
    assert roles.count("live") == live + 1
    assert bench.document()["strands"][0]["switched"] is False


def test_the_lead_out_is_drawn_and_what_joins_bring_is_said(browser: Browser) -> None:
    bench = begun(browser, "cattle").stage("ground").place("Lead-out").click_ground((-240, 190), (-60, 150), (-60, 60))
    bench.press(Keys.ENTER)
    bench.saved(lambda: bench.document()["lead_out"]["points"] != [])
    assert "from the energizer to the fence" in bench.tab("feed").text("#pane-feed")
    assert bench.choose("lead_out.way", "buried").document()["lead_out"]["way"] == "buried"
    bench.stage("strands").surface("joins")
    assert "A second joint raises the lowest strand there" in bench.until(
        lambda: "second join" in bench.answer() and bench.answer(), "nothing is said of joins"
    )
