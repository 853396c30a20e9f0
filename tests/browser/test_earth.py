"""Earth in the real interface: a row laid, a rod where advised, a test run through to the mend."""

import math
from uuid import uuid4

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.pages.earth import EarthTestSheet

pytestmark = pytest.mark.browser


def ewes(browser: Browser) -> Bench:
    bench = (
        SignIn(browser).open().demo().begin(f"Farm {uuid4().hex[:8]}").zoom_out(2).draw((-200, 60), (0, 60), (150, -60))
    )
    return bench.stage("stock").add_animal("Ewe").tick("stock.0.schooled").stage("earth")


def test_a_row_is_laid_with_two_clicks_and_a_rod_added(browser: Browser) -> None:
    bench = ewes(browser)
    bench.lay("Lay a row", (-60, 100), (60, 100))
    rods = bench.document()["rods"]
    assert rods["bearing_deg"] == pytest.approx(90, abs=0.5)
    assert len(bench.ground()["rods"]) == rods["count"] == 3
    bench.lay("One by one", (90, 40))
    assert bench.document()["rods"]["count"] > 3
    assert len(bench.ground()["rods"]) == 4
    bench.undo()
    assert bench.document()["rods"]["count"] == 3
    assert browser.script_errors() == []


def test_a_rod_that_is_dragged_keeps_three_metres_from_the_next(browser: Browser) -> None:
    bench = ewes(browser)
    bench.lay("Lay a row", (-60, 100), (60, 100)).tool("To the rods")
    bench.drag_point("Rod 3", 2, 1)
    spots = bench.ground()["rods"]
    assert min(math.dist(spots[2], other) for other in spots[:2]) >= 2.99
    assert len(bench.document()["rods"]["places"]) == 3


def test_rods_go_where_it_is_advised(browser: Browser) -> None:
    bench = ewes(browser)
    bench.lay("Lay a row", (-60, 100), (60, 100))
    bench.tool("Where to")
    bench.do("Put them there", "#says")
    assert bench.ground()["rods"] != []
    assert browser.script_errors() == []


def test_the_next_rod_is_bought_where_it_buys_most(browser: Browser) -> None:
    bench = ewes(browser)
    before = bench.forecast()["stages"]["earth"]["line"]
    bench.surface("options")
    options = "[data-ask='/earth-options']"
    bench.until(lambda: "bare wire in a trench" in bench.text(options), "no options")
    bench.do("Do it", options)
    assert bench.document()["rods"]["count"] > 3
    assert bench.forecast()["stages"]["earth"]["line"] != before
    bench.unfold("Rules of thumb beside")
    bench.until(lambda: "By Adze" in bench.text("[data-ask='/rod-schools']"), "no rules")


def test_household_cable_is_refused_with_its_reason(browser: Browser) -> None:
    bench = ewes(browser).choose("rods.lead", "household")
    assert "600 V" in bench.text("#panel")
    bench.type_wrong("rods.length_m", "30 m")
    assert "6" in bench.fault()
    assert bench.value("rods.length_m") == "30 m"


def test_an_earth_test_is_run_through_to_the_mend(browser: Browser) -> None:
    bench = ewes(browser)
    bench.button("Do the earth test").click()
    sheet = EarthTestSheet(browser)
    assert "What to do" in sheet.text("main")
    refused = sheet.read(rods_kv="19", fence_kv="1.4")
    assert "cannot be" in refused.fault()
    told = refused.read(rods_kv="0.9", fence_kv="1.4", peg="3 m")
    assert "rod" in told.says()
    before = bench.all("#verdict form input[name=rods]")[0].get_attribute("value") or ""
    mended = told.mend(f"Put {before} rods on the plan")
    assert mended.document()["rods"]["count"] == int(before)
    assert browser.script_errors() == []


def test_the_sheet_fits_a_phone(browser: Browser) -> None:
    bench = ewes(browser)
    bench.button("Do the earth test").click()
    browser.size(390, 800)
    sheet = EarthTestSheet(browser)
    assert "steel stake" in sheet.text("main")
    assert not sheet.wider_than_screen()
    heights = [e.rect["height"] for e in sheet.all("main .thumb")]
    assert min(heights) >= 44
