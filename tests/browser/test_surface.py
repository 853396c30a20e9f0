"""The work surface: tabs beside the drawing, where you stand as a bar, a short side column."""

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench

SCREEN_PX = 800
STAGES = ("stock", "ground", "strands", "power", "earth", "volts")


@pytest.fixture
def bench(browser: Browser) -> Bench:
    """The demo farm with something of everything."""
    return SignIn(browser).open().demo().open_plan("Terrace ring")


def test_the_side_column_is_at_most_a_screen_and_a_half(bench: Bench) -> None:
    tall = {stage: bench.stage(stage).column_px() for stage in STAGES}
    assert {stage: px for stage, px in tall.items() if px > 1.5 * SCREEN_PX} == {}


def test_a_tab_is_in_the_address_and_remembered(bench: Bench) -> None:
    bench.stage("power").surface("search")
    assert bench.driver.current_url.endswith("/power?tab=search")
    assert bench.find("#search-found").is_enabled()
    assert bench.reload().on_surface() == "search"
    assert bench.stage("earth").on_surface() == "drawing"
    assert bench.stage("power").on_surface() == "search"
    bench.surface("drawing")
    assert "tab=" not in bench.driver.current_url
    bench.press("g")
    assert bench.on_surface() == "search"
    bench.press("g")
    assert bench.on_surface() == "drawing"


def test_a_blank_plan_begins_with_the_kinds_of_animals(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().begin("Blank").stage("stock")
    assert bench.on_surface() == "kinds"
    bench.do("Ewe", "#surface").do("Fox", "#surface")
    assert bench.on_surface() == "kinds"
    assert bench.reload().on_surface() == "drawing"


def test_an_edit_on_the_surface_stays_on_its_tab(bench: Bench) -> None:
    bench.stage("strands").surface("patterns").do("Cattle perimeter of five", "#surface")
    assert bench.on_surface() == "patterns"
    assert len(bench.document()["strands"]) == 5


def test_on_a_phone_the_header_is_one_line_and_the_rest_is_behind_a_button(browser: Browser, bench: Bench) -> None:
    browser.size(390, 800)
    bench.stage("power")
    assert bench.header_px() <= 56
    assert not bench.wider_than_screen()
    assert not bench.driver.find_element("id", "seasons").is_displayed()
    bench.find("#more > summary").click()
    bench.until(lambda: bench.driver.find_element("id", "seasons").is_displayed(), "the seasons stay away")
    assert not bench.wider_than_screen()


def test_where_you_stand_is_a_bar_that_opens(bench: Bench) -> None:
    assert bench.stage("volts").place_bar().get_attribute("aria-expanded") == "true"
    bar = bench.stage("power").place_bar()
    assert bar.get_attribute("aria-expanded") == "false"
    bench.until(lambda: "kV" in bar.text, "the bar does not say the kV")
    assert not bench.driver.find_element("id", "stand").is_displayed()
    bar.click()
    bench.until(lambda: bench.driver.find_element("id", "stand").is_displayed(), "the card does not open")
    assert bench.reload().place_bar().get_attribute("aria-expanded") == "true"
    bench.press("w")
    assert bench.place_bar().get_attribute("aria-expanded") == "false"
