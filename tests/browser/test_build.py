"""The work in the real interface: from the first step to stock going in, and the clock at a nest."""

from datetime import UTC, datetime, timedelta
from itertools import pairwise
from math import dist
from uuid import uuid4

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.pages.reading import Reading
from tests.browser.pages.work import Work

pytestmark = pytest.mark.browser


def begun(browser: Browser, key: str) -> Bench:
    return SignIn(browser).open().demo().begin(f"Site {uuid4().hex[:8]}").begin_from(key)


def test_from_the_first_step_to_stock_may_go_in(browser: Browser) -> None:
    bench = begun(browser, "show")
    plan = bench.plan_id
    work = Work(browser).of(plan)
    assert "must wait for a hold point: Buried services located" in work.refused("out")
    assert work.stock().startswith("Not yet")
    work = work.of(plan)
    while (step := work.next()) and step != "wanted":
        work.done(step)
    assert work.next() == "wanted"
    for row in work.document()["runs"]:
        browser.size(390, 800)
        long = sum(dist(a, b) for a, b in pairwise(row["points"]))
        Reading(browser).open(plan, row["id"], round(long, 1)).thumb("8.8").keep()
        work = Work(browser).of(plan)
    assert not work.wider_than_screen()
    assert "animals may go in" in work.stock()
    while step := work.next():
        work.done(step)
    assert "Everything is done" in work.text("#panel")
    assert browser.script_errors() == []


def test_the_clock_at_a_nest_is_loud_when_a_limit_passes(browser: Browser) -> None:
    bench = begun(browser, "nest")
    work = Work(browser).of(bench.plan_id)
    for step in ("go", "rehearse"):
        work.done(step)
    assert "Not ticked as packed: 12 posts with their insulators on" in work.refused("kit")
    things = work.kit()
    for number, thing in enumerate(things, 1):
        work.pack(f"{thing}, packed")
        work.until(lambda n=number: work.text("[data-test=kit]") == f"{n} of {len(things)} packed.", f"{thing} is lost")
    work.surface("day")
    work.done("kit")
    now = datetime.now(UTC)
    work.tick_at("scan", now - timedelta(minutes=20))
    assert "cover them now" in work.clock()
    work.tick_at("cover", now - timedelta(minutes=19))
    assert "since it left" in work.clock()
    for step in ("square", "corners", "low", "wire", "earth", "connect"):
        work.done(step)
    work.tick_at("uncover", now - timedelta(minutes=2))
    assert "since it left" in work.clock()
    work.done("on")
    work.done("watch")
    assert not work.all("[data-test=clock]")
    assert browser.script_errors() == []


def test_what_stands_otherwise_is_typed_judged_and_made_the_plan(browser: Browser) -> None:
    work = Work(browser).of(begun(browser, "show").plan_id)
    work.measured("Rods in the ground", "many")
    assert "whole number from 0 to" in work.fault()
    assert work.find('[aria-label^="Rods in the ground"]').get_attribute("value") == "many"
    work.measured("Rods in the ground", "1")
    work.until(lambda: "As it stands:" in work.text("[data-test=as-built]"), "nothing is judged")
    browser.size(390, 800)
    assert not work.wider_than_screen()
    browser.size(1280, 800)
    work.button("Make it the plan").click()
    work.until(lambda: work.document()["rods"]["count"] == 1, "it is not the plan")
    driver, before = work.driver, work.document()
    driver.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"], "origin": browser.address})
    at = {"latitude": before["origin"]["lat"] + 0.0005, "longitude": before["origin"]["lon"], "accuracy": 4}
    driver.execute_cdp_cmd("Emulation.setGeolocationOverride", at)
    work.button("The first rod is where I stand").click()
    work.until(lambda: work.document()["rods"]["position"] != before["rods"]["position"], "the rods are not there")
    east, north = work.document()["rods"]["position"]
    assert abs(east) < 1
    assert 54 < north < 57  # 0.0005 of a degree north
    assert browser.script_errors() == []
