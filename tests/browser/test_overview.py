"""The five questions and the overview in the browser, on a screen and on a phone."""

from selenium.webdriver import ActionChains

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser


def test_a_fence_is_designed_from_five_questions_in_few_clicks(browser: Browser) -> None:
    farms = SignIn(browser).open().demo()
    farms.fill("#farm-name", "Two horses")
    farms.button("Add the farm").click()
    farms.find("[data-test=start]")
    farms.find('[name="kind_horse"]').click()
    farms.fill('[name="count_horse"]', "2")
    farms.find('[name="trained_horse"]').click()
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
    farms.until(lambda: farms.all("[data-finding][data-ready] [data-mend]"), "no fix found")
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


def test_a_shape_is_drawn_and_typed_and_answers_outlast_a_reload(browser: Browser) -> None:
    start = SignIn(browser).open()
    start.find("[data-test=try]").click()
    start.find('[name="kind_ewe"]').click()
    start.fill('[name="count_ewe"]', "30")
    start.find('[name="shape"][value="draw"]').click()
    for metres, towards in (("100", "90"), ("80", "0")):
        start.find(f'#side-way option[value="{towards}"]').click()
        start.fill("#side-m", metres)
        start.find("[data-side]").click()
    assert "Open line: sides of 100 m, 80 m, 180 m of fence." in start.find("#size-told").text
    start.find("[data-close]").click()
    assert start.find("#size-told").text == "0.40 ha inside, sides of 100 m, 80 m, 128.1 m, 308.1 m of fence."
    pad = start.find(".pad")
    ActionChains(browser.driver).move_to_element_with_offset(pad, -100, -100).click().perform()
    assert "0.40 ha inside" in start.find("#size-told").text  # a closed shape takes no more corners
    browser.driver.refresh()
    start.until(lambda: "0.40 ha inside" in start.find("#size-told").text, "what was drawn is lost")
    assert start.find('[name="count_ewe"]').get_attribute("value") == "30"
    start.find("[data-back]").click()
    ActionChains(browser.driver).move_to_element_with_offset(start.find(".pad"), -100, -100).click().perform()
    start.until(lambda: "Open line" in start.find("#size-told").text, "no corner was set")


def test_one_question_at_a_time_on_a_phone_and_a_wrong_one_is_shown(browser: Browser) -> None:
    browser.size(390, 800)
    start = SignIn(browser).open()
    start.find("[data-test=try]").click()
    start.find('[name="kind_horse"]').click()
    assert not start.find('[name="width_m"]').is_displayed()
    start.find("[data-next]").click()
    start.fill('[name="width_m"]', "1")
    start.fill('[name="depth_m"]', "60")
    for _ in range(3):
        start.find("[data-next]").click()
    start.button("Design it").click()
    start.until(lambda: start.all("[aria-invalid=true]"), "nothing is marked")
    assert start.find("[data-step]").text == "2 of 5"
    assert start.find("[data-test=fault]").text == "Width: must be 2 m or more."
    start.fill('[name="width_m"]', "90")
    for _ in range(3):
        start.find("[data-next]").click()
    start.button("Design it").click()
    start.until(lambda: start.all("[data-test=proposal]"), "no proposals")
    assert browser.driver.execute_script("return document.documentElement.scrollWidth") <= 390
    browser.driver.refresh()
    start.until(lambda: start.all("[data-test=proposal]"), "a reload lost them")
    start.button("Take this one").click()
    start.until(lambda: start.all("[data-test=sentence]"), "no overview")
    start.find("[data-test=keep]").click()
    assert "keeps what" in start.find("[data-test=comes-along]").text
