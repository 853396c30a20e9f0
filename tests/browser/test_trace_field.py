"""A search on a phone: begun with signal, gone on without, closed midway, handed in; the server then says the same."""

from pathlib import Path
from uuid import uuid4

import pytest
from PIL import Image

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.shed import Shed
from tests.browser.pages.trace import Trace
from tests.browser.pages.trace_field import TraceField

pytestmark = pytest.mark.browser


def drawn(browser: Browser) -> str:
    return SignIn(browser).open().demo().begin(f"Site {uuid4().hex[:8]}").begin_from("show").plan_id


def test_a_search_goes_on_without_signal_and_is_handed_in(browser: Browser) -> None:
    plan = drawn(browser)
    browser.size(390, 800)
    page = TraceField(browser).open(plan)
    page.keep_here()
    with browser.without_signal():
        page = TraceField(browser).open(plan).begin()
        assert "computed on this device" in page.here().says
        first = page.title()
        assert page.elsewhere("line1", "5", "99").fault().startswith("kV: 99 is more than")
        page.elsewhere("line1", "5", "1,9", "12")
        assert page.title() != first
        assert page.waits().startswith("5 on this device wait to be sent.")
        assert not page.wider_than_screen()
        browser.driver.get("about:blank")  # the phone is put away, the browser ends
        page = TraceField(browser).open(plan)
        assert page.here().steps == 5
        assert page.take_back().title() == first
        page.elsewhere("line1", "5", "1.9", "12")
        asked = page.title()
        page.found("line1", "12", "insulator")
        assert page.title().startswith("Read again here")
    page = TraceField(browser).open(plan)
    page.until(lambda: not page.waits(), "the steps are not sent")
    assert page.ready().title().startswith("Read again here")
    own = Trace(browser).of(plan)
    assert own.title().startswith("Read again here")
    rows = [row.get_attribute("textContent") or "" for row in own.all('[data-surface="steps"] tr')]
    assert len(rows) == 5, [" ".join(row.split())[:30] for row in rows]
    own.take_back()
    assert own.title() == asked
    browser.driver.execute_async_script(
        "const [done] = arguments; Promise.all([caches.delete('adze-pages'), "
        "navigator.serviceWorker.getRegistrations().then((all) => Promise.all(all.map((one) => one.unregister())))])"
        ".then(() => done())"
    )


def test_what_the_server_refuses_stays_on_the_phone_with_its_reason(browser: Browser) -> None:
    plan = drawn(browser)
    page = TraceField(browser).open(plan).begin()
    page.until(lambda: not page.waits(), "the steps are not sent")
    with browser.without_signal():
        page.elsewhere("line1", "5", "2")
        page.driver.execute_async_script(
            "const [done] = arguments; const asked = indexedDB.open('adze-trace', 2); asked.onsuccess = () => {"
            "const all = asked.result.transaction('steps', 'readwrite').objectStore('steps');"
            "all.getAll().onsuccess = ({ target }) => { const row = target.result[0]; row.typed.run = 'no such line';"
            "all.put(row).onsuccess = () => { asked.result.close(); done(); }; }; }"
        )
    page.until(lambda: "Refused" in page.waits(), "nothing is refused")
    assert "choose a line of this plan" in page.waits()
    page.button("Delete refused entries").click()
    page.until(lambda: not page.waits(), "the refused one is still there")


def test_without_amps_a_switch_is_worked_on_a_phone(browser: Browser) -> None:
    plan = SignIn(browser).open().demo().open_plan("Terrace ring").plan_id
    browser.size(390, 800)
    page = TraceField(browser).open(plan)
    page.keep_here()
    with browser.without_signal():
        page = TraceField(browser).open(plan)
        page.find("#search-kv-alone").click()
        page.begin()
        assert page.title().startswith("Read kV at")
        assert not page.find("#search-next-amps").is_displayed()
        page.switch("Goose far switch", "open")
        assert page.title().endswith("on the fed side")
        assert "Goose far switch open" in page.text("#search-reason")
        page.fill("#search-next-kv", "2.1")
        page.press("Keep the reading")
        assert page.title() == "Shut Goose far switch again"
        assert not page.wider_than_screen()
        page.press("It is shut")
        assert not page.title().startswith("Shut")
    page.until(lambda: not page.waits(), "the steps are not sent")
    own = Trace(browser).of(plan)
    rows = [" ".join((row.get_attribute("textContent") or "").split()) for row in own.all('[data-surface="steps"] tr')]
    assert rows[0].startswith("Goose far switch shut")
    assert rows[2].startswith("Goose far switch open")


def test_strands_parts_and_a_photo_wait_on_the_phone_until_there_is_signal(browser: Browser, tmp_path: Path) -> None:
    plan = SignIn(browser).open().demo().open_plan("Two flats").plan_id
    shed = Shed(browser).of(plan).put_in("Rope clamp", "5")
    browser.size(390, 800)
    page = TraceField(browser).open(plan)
    page.keep_here()
    picture = tmp_path / "joint.jpg"
    Image.new("RGB", (640, 480), "darkolivegreen").save(picture)
    with browser.without_signal():
        page = TraceField(browser).open(plan).begin()
        assert "kV: type what at least one strand shows" in page.strands("outer").fault()
        assert "Outer flat: Low: strands 1, 3 and 4, at 2.1" in page.strands("outer", "2.1", "0.9").said("strands")
        assert "the fence that joins at Outer flat, 297 m along" in page.joins("outer", "300").said("spurs")
        steps = page.here().steps
        assert "What it is: write up to 300" in page.later("outer", "20", "").fault()
        assert page.later("outer", "20", "leaning post").here().steps == steps + 1
        assert "leaning post (waits)" in page.text("#search-noted")
        steps += 1
        assert "the shed has 5 piece, not 9" in page.used("9", "Ford").fault()
        assert page.used("2", "Ford").here().steps == steps + 1
        assert "the shed has 3 piece, not 4" in page.used("4", "Ford").fault()
        assert page.photo(str(picture)).photos() == "Photos: 1 on this device."
        assert not page.wider_than_screen()
        browser.driver.get("about:blank")
        page = TraceField(browser).open(plan)
        assert page.photos() == "Photos: 1 on this device."
    page.until(lambda: not page.waits(), "what was kept is not sent")
    page.until(lambda: page.photos() == "Photos: 1 kept.", "the photo is not there")
    assert "at 2.1" in page.said("strands")
    assert page.opened("#search-noted").text("#search-noted") == "leaning post, Outer flat, 20 m along"
    assert page.here().steps == steps - 2  # that it was begun is no step of its own on the server
    assert shed.of(plan).has("Rope clamp") == "3 piece"


def test_practice_without_signal_is_answered_scored_and_sent_later(browser: Browser) -> None:
    plan = SignIn(browser).open().demo().open_plan("Two flats").plan_id
    browser.size(390, 800)
    page = TraceField(browser).open(plan)
    page.keep_here()
    with browser.without_signal():
        page = TraceField(browser).open(plan).practise("1")
        assert not page.find("#search-next-kv").is_displayed()
        assert page.go_on().steps == 1
        assert "far is no figure" in page.reads_at("far").fault()
        assert not page.wider_than_screen()
        browser.driver.get("about:blank")
        page = TraceField(browser).open(plan)
        assert page.here().steps == 1
        while page.title() != "Stop here":
            page.go_on()
            assert page.here().steps < 60
        assert "of 1 found" in page.press_last("Stop here").score()
        assert "By every advice" in page.score()
        assert page.waits().startswith("1 on this device waits")
    page.until(lambda: not page.waits(), "how it went is not sent")
    own = Trace(browser).of(plan)
    assert own.text("[data-test=record]").startswith("Practised 1 time, the fence restored")


def test_a_switch_is_worked_in_practice_without_signal(browser: Browser) -> None:
    plan = SignIn(browser).open().demo().open_plan("Terrace ring").plan_id
    browser.size(390, 800)
    TraceField(browser).open(plan).keep_here()
    with browser.without_signal():
        page = TraceField(browser).open(plan)
        page.find("#search-kv-alone").click()
        page.practise("1").go_on()
        assert page.switch("Goose far switch", "open").title().endswith("on the fed side")
        assert page.go_on().title == "Shut Goose far switch again"
        assert "kV" in page.text("#search-steps tr")
        assert not page.wider_than_screen()
        page.go_on()
        assert page.text("#search-steps tr").startswith("Goose far switch shut")


def test_a_page_that_nobody_kept_goes_on_without_signal_while_it_is_open(browser: Browser) -> None:
    plan = SignIn(browser).open().demo().open_plan("Two flats").plan_id
    page = TraceField(browser).open(plan)
    with browser.without_signal():
        ask = "document.getElementById('search-season').dispatchEvent(new Event('change', { bubbles: true }))"
        page.driver.execute_script(ask)
        page.until(lambda: "computed on this device" in page.text("#search-says"), "it does not go on")
    kept = "const done = arguments[0]; caches.open('adze-pages').then((c) => c.keys()).then((k) => done(k.length))"
    assert page.driver.execute_async_script(kept) == 0
