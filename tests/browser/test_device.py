"""One phone, several people: what it keeps is its owner's alone, and goes with them."""

from uuid import uuid4

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.pages.reading import Reading

pytestmark = pytest.mark.browser
PASSWORD = "eleven grey geese"


def person(browser: Browser, name: str) -> tuple[str, str]:
    """A new account on the phone, signed in, with a fence: its sign-in name and the plan."""
    login = f"{name.lower()}-{uuid4().hex[:8]}"
    farms = SignIn(browser).open().new_account(name, login, PASSWORD)
    return login, farms.begin(f"Site {uuid4().hex[:8]}").begin_from("show").plan_id


def waiting_at_home(browser: Browser, plan: str, many: int) -> Reading:
    """So many readings wait on the phone, and the page of the farms is open, which sends none."""
    page = Reading(browser).open(plan, "line1", 5)
    page.driver.get(f"{browser.address}/")
    page.put_on_device(plan, many)
    return page


def sign_over(browser: Browser) -> None:
    """The session is gone without signing out, as when somebody else takes the phone."""
    browser.driver.delete_all_cookies()


def as_visitor(browser: Browser) -> None:
    """Somebody else is signed in, as in another tab: the page that is open stays."""
    browser.driver.delete_all_cookies()
    demo = """const done = arguments[0]; fetch("/sign-in").then((a) => a.text()).then((html) => {
        const csrf = new DOMParser().parseFromString(html, "text/html").querySelector("[name=csrf]").value;
        return fetch("/demo", { method: "POST", body: new URLSearchParams({ csrf }) });
    }).then(() => done());"""
    browser.driver.execute_async_script(demo)


def keep_pages(browser: Browser, plan: str) -> Reading:
    page = Reading(browser).open(plan, "line1", 5)
    page.find("#keep-here").click()
    page.until(lambda: "opens without signal" in page.text("#keep-here"), "the pages are not kept")
    assert kept(page, plan)
    return page


def kept(page: Reading, plan: str) -> bool:
    ask = "const [path, done] = arguments; caches.match(path).then((found) => done(Boolean(found)))"
    return bool(page.driver.execute_async_script(ask, f"/plans/{plan}/log/reading"))


def readings(browser: Browser, plan: str) -> list[str]:
    return [row.text for row in Bench(browser).open(plan, "log").all("[data-test=reading]")]


def test_what_one_typed_is_not_sent_as_anothers(browser: Browser) -> None:
    ann, plan = person(browser, "Ann")
    page = Reading(browser).open(plan, "line1", 5)
    with browser.without_signal():
        page.thumb("7.1").keep_offline()
        # The signal comes back while somebody else is signed in.
        sign_over(browser)
    _, other = person(browser, "Ben")
    page = Reading(browser).open(other, "line1", 5)
    assert not page.find("#outbox").is_displayed()
    page.thumb("6.0").keep()
    assert page.waiting() == 1
    assert len(readings(browser, other)) == 1
    sign_over(browser)
    SignIn(browser).open().as_person(ann, PASSWORD)
    page = Reading(browser).open(plan, "line1", 5)
    page.until(lambda: page.waiting() == 0, "the reading is not sent by who typed it")
    assert "Ann" in readings(browser, plan)[0]


def test_pages_that_one_kept_are_gone_when_another_signs_in(browser: Browser) -> None:
    _, plan = person(browser, "Ann")
    page = keep_pages(browser, plan)
    page.driver.execute_script("sessionStorage.setItem('mine', 1)")
    page.driver.get(f"{browser.address}/")
    page.find("html[data-arrived]")
    assert kept(page, plan)  # another page of one's own takes nothing off
    as_visitor(browser)
    page.driver.get(f"{browser.address}/")
    page.find("html[data-arrived]")
    assert not kept(page, plan)
    assert page.driver.execute_script("return sessionStorage.getItem('mine')") is None


def test_pages_are_gone_where_nobody_is_signed_in(browser: Browser) -> None:
    _, plan = person(browser, "Ann")
    page = keep_pages(browser, plan)
    sign_over(browser)
    SignIn(browser).open()
    page.find("html[data-arrived]")
    assert not kept(page, plan)


def test_signing_out_asks_about_what_waits(browser: Browser) -> None:
    ann, plan = person(browser, "Ann")
    browser.size(390, 800)
    page = waiting_at_home(browser, plan, 2)
    page.find("[data-test=sign-out]").click()
    assert "Not sent yet: 2 readings" in page.text("#leaving")
    page.button("Stay signed in", "#leaving").click()
    assert page.waiting() == 2
    page.find("[data-test=sign-out]").click()
    page.button("Keep for this account", "#leaving").click()
    page.find("#login")
    assert page.waiting() == 2
    SignIn(browser).as_person(ann, PASSWORD)
    page.find("[data-test=sign-out]").click()
    page.button("Send and sign out", "#leaving").click()
    page.find("#login")
    assert page.waiting() == 0
    SignIn(browser).as_person(ann, PASSWORD)
    assert len(readings(browser, plan)) == 2


def test_what_waits_may_be_thrown_away_and_goes_with_an_account_that_ends(browser: Browser) -> None:
    ann, plan = person(browser, "Ann")
    page = waiting_at_home(browser, plan, 1)
    page.find("[data-test=sign-out]").click()
    page.button("Throw away", "#leaving").click()
    page.find("#login")
    assert page.waiting() == 0
    SignIn(browser).as_person(ann, PASSWORD)
    assert readings(browser, plan) == []
    waiting_at_home(browser, plan, 1)
    page.driver.get(f"{browser.address}/account")
    page.fill("#end", PASSWORD)
    page.button("Delete the account and everything in it").click()
    page.find("#login")
    page.find("html[data-arrived]")
    assert page.waiting() == 0


def test_what_names_no_account_is_nobodys_until_somebody_says_so(browser: Browser) -> None:
    _, plan = person(browser, "Ann")
    page = Reading(browser).open(plan, "line1", 5)
    page.put_on_device(plan, 2, account="")
    page.driver.get(f"{browser.address}/plans/{plan}/log/reading?run=line1&at_m=5")
    assert "not sent yet, without an account: 2." in page.text(".device-ask")
    page.button("I typed them").click()
    page.until(lambda: page.waiting() == 0, "not sent after they were taken")
    assert len(readings(browser, plan)) == 2


def test_a_page_that_stays_open_saves_nothing_as_another(browser: Browser) -> None:
    _, plan = person(browser, "Ann")
    bench = Bench(browser).open(plan, "earth")
    as_visitor(browser)
    bench.find("[data-path='rods.count']").send_keys("9\t")
    bench.until(lambda: "typed by another account" in bench.text("body"), "it is not said")
