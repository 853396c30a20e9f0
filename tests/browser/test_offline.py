"""Readings without signal: kept on the device through a reload, sent once there is signal, never twice."""

import time
from uuid import uuid4

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.pages.reading import Reading

pytestmark = pytest.mark.browser


def begun(browser: Browser) -> str:
    return SignIn(browser).open().demo().begin(f"Site {uuid4().hex[:8]}").begin_from("show").plan_id


def test_a_round_without_signal_is_sent_once_there_is_some(browser: Browser) -> None:
    plan = begun(browser)
    browser.size(390, 800)
    page = Reading(browser).open(plan, "line1", 5)
    with browser.without_signal():
        for kv in ("7.1", "6.9", "6.4"):
            page.thumb(kv).keep_offline()
        assert page.outbox().startswith("3 on this device wait to be sent.")
        assert page.waiting() == 3
    page = Reading(browser).open(plan, "line1", 5)
    page.until(lambda: page.waiting() == 0, "the readings are not sent")
    bench = Bench(browser).open(plan, "log")
    rows = [row.text for row in bench.all("[data-test=reading]")]
    assert len(rows) == 3
    assert all(any(kv in row for row in rows) for kv in ("7.1", "6.9", "6.4"))


def test_what_the_server_refuses_stays_on_the_device_with_its_reason(browser: Browser) -> None:
    plan = begun(browser)
    page = Reading(browser).open(plan, "line1", 5)
    with browser.without_signal():
        page.thumb("99").keep_offline()
    page.until(lambda: "Refused" in page.outbox(), "nothing is refused")
    assert "99 kV" in page.outbox()
    page.button("Delete refused entries").click()
    page.until(lambda: page.waiting() == 0, "the refused one is still there")


def test_pages_are_kept_on_the_device_when_somebody_asks(browser: Browser) -> None:
    plan = begun(browser)
    page = Reading(browser).open(plan, "line1", 5)
    page.find("#keep-here").click()
    page.until(lambda: "opens without signal" in page.text("#keep-here"), "the pages are not kept")
    kept = page.driver.execute_async_script(
        "const [path, done] = arguments; caches.match(path).then((found) => done(Boolean(found)))",
        f"/plans/{plan}/log/reading",
    )
    assert kept is True
    page.driver.execute_async_script(
        "const [done] = arguments; Promise.all([caches.delete('adze-pages'), "
        "navigator.serviceWorker.getRegistrations().then((all) => Promise.all(all.map((one) => one.unregister())))])"
        ".then(() => done())"
    )


def test_five_hundred_readings_are_sent_once_and_soon_though_the_page_is_closed_midway(browser: Browser) -> None:
    plan = begun(browser)
    page = Reading(browser).open(plan, "line1", 5)
    with browser.without_signal():
        page.put_on_device(plan, 500)
    begun_at = time.monotonic()
    page = Reading(browser).open(plan, "line1", 5)
    page.until(lambda: page.waiting() < 400, "nothing is sent")
    browser.driver.get("about:blank")  # closed while some are under way
    page = Reading(browser).open(plan, "line1", 5)
    page.until(lambda: page.waiting() == 0, "the readings are not sent")
    took_s = time.monotonic() - begun_at
    assert sorted(page.kept_notes(plan)) == list(range(500))
    assert took_s < 30, took_s  # under 10 s alone; other tests share the processor here
