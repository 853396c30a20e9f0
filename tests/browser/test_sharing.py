"""A link that shows one plan, opened in another browser without an account."""

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser, Page
from tests.browser.pages.bench import Bench


def test_who_has_the_link_looks_at_the_plan_and_has_no_tools(browser: Browser, other_browser: Browser) -> None:
    SignIn(browser).open().demo()
    page = Page(browser)
    page.find("[data-test^=farm-] summary").click()
    page.find("a[href$='/people']").click()
    page.find("[data-test=show] button").click()
    link = page.find("[data-test=link]").get_attribute("value")

    page = Page(other_browser)
    page.driver.get(link)
    page.find("button.main").click()
    page.find("#over-body")
    page.until(lambda: not page.all("[data-pending]"), "still checking the fence")
    page.find('#rail [data-stage="volts"]').click()
    Bench(other_browser).ready()
    assert not page.find("#tools").is_displayed()
    assert not page.find("#undo").is_displayed()
    page.driver.get(page.driver.current_url.replace("/volts", "/stock"))
    Bench(other_browser).ready()
    controls = page.all("#bench [data-add-herd], #panel [data-path], #panel [data-remove-herd]")
    assert controls
    assert not any(control.is_enabled() for control in controls)
    assert page.find("#seasons button").is_enabled()
    for stage, what in (
        ("build", "[data-tick], [data-crew], [data-set-day]"),
        ("log", "[data-upkeep-done], [data-righted]"),
        ("trace", "[data-trace]"),
    ):
        page.driver.get(f"{page.driver.current_url.split('?')[0].rpartition('/')[0]}/{stage}")
        Bench(other_browser).ready()
        page.until(lambda what=what: page.all(what), f"nothing of {what}")
        page.until(lambda what=what: not any(one.is_enabled() for one in page.all(what)), f"{what} can be pressed")
