"""The five questions and the overview in the browser, on a screen and on a phone."""

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser


def test_a_fence_is_designed_from_five_questions_in_few_clicks(browser: Browser) -> None:
    farms = SignIn(browser).open().demo()
    farms.fill("#farm-name", "Two horses")
    farms.button("Add the farm").click()
    farms.find("[data-test=start]")
    farms.find('[name="kind_horse"]').click()
    farms.fill('[name="count_horse"]', "2")
    farms.find('[name="trained"]').click()
    farms.fill('[name="width_m"]', "100")
    farms.fill('[name="depth_m"]', "100")
    farms.button("Design it").click()
    proposals = farms.until(lambda: farms.all("[data-test=proposal]"), "no proposals")
    assert "The cheapest that holds" in proposals[0].text
    farms.button("Take this one").click()
    farms.until(lambda: "This fence holds" in farms.find("[data-test=sentence]").text, "it does not hold")
    browser.size(390, 800)
    assert browser.driver.execute_script("return document.documentElement.scrollWidth") <= 390
    farms.find("[data-test=next] a").click()
    farms.until(lambda: "/parts" in browser.driver.current_url, "not at the shopping list")


def test_one_press_fixes_and_undo_takes_it_back(browser: Browser) -> None:
    farms = SignIn(browser).open().demo()
    farms.open_overview("Terrace ring")
    farms.until(lambda: farms.all("[data-finding][data-ready] [data-key]"), "no fix found")
    before = farms.find("[data-test=sentence]").text
    assert "to fix before you buy" in before
    first = farms.find("[data-finding] b").text
    farms.find("[data-finding] [data-do] button").click()
    farms.until(
        lambda: not farms.all("[data-pending]") and farms.find("[data-finding] b").text != first, "it was not done"
    )
    farms.find("[data-undo]").click()
    farms.until(
        lambda: not farms.all("[data-pending]") and farms.find("[data-finding] b").text == first, "it is not undone"
    )
