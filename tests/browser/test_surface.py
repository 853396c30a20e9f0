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


def test_a_table_on_the_surface_is_printed_whole(bench: Bench) -> None:
    cut = {}
    for stage in (*STAGES, "parts", "build", "log"):
        for tab in bench.stage(stage).tabs()[1:]:
            if found := bench.surface(tab).cut_on_paper():
                cut[stage, tab] = found
    assert cut == {}


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
    assert bench.stage("volts").stage_in_sight("volts")
    bench.stage("power")
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


def test_panes_are_dragged_and_stay_as_they_were_left(bench: Bench) -> None:
    before = bench.stage("power").side_px()
    bench.drag_divider("upright", -80, 0)
    assert bench.side_px() == before + 80
    assert bench.stage("volts").side_px() == before + 80
    bench.drag_divider("level", 0, 200)
    assert bench.place_bar().get_attribute("aria-expanded") == "false"
    bench.drag_divider("level", 0, -200)
    assert bench.place_bar().get_attribute("aria-expanded") == "true"


def test_the_season_is_the_one_chosen_on_every_page_and_after_every_edit(bench: Bench) -> None:
    bench.stage("power").season("Wettest")
    assert bench.stage("volts").season_shown() == "Wettest"
    bench.choose("grass", "heavy")
    assert bench.season_shown() == "Wettest"
    assert bench.reload().season_shown() == "Wettest"


def test_what_was_refused_stays_with_its_reason_through_an_edit_and_a_reload(bench: Bench) -> None:
    bench.stage("earth").type_wrong("rods.count", "many")
    assert "such as 4" in bench.fault()
    bench.choose("earth_school", "strict" if bench.value("earth_school") != "strict" else "usual")
    assert bench.value("rods.count") == "many"
    assert "such as 4" in bench.fault()
    assert bench.reload().value("rods.count") == "many"
    bench.type("rods.count", "5")
    assert bench.document()["rods"]["count"] == 5
    assert not bench.all(".fault")


def test_values_of_one_plate_are_judged_together(bench: Bench) -> None:
    bench.stage("power").surface("own").do("Add one", "#surface")
    bench.type_wrong("own_energizers.0.released_j", "9")
    bench.type("own_energizers.0.stored_j", "12")
    unit = bench.document()["own_energizers"][0]
    assert (unit["released_j"], unit["stored_j"]) == (9, 12)


def test_a_blank_plan_begins_from_one_that_holds(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().begin("Blank")
    bench.begin_from("hives")
    assert [run["name"] for run in bench.document()["runs"]] == ["Round the hives"]
    assert bench.rail("earth").startswith("holds")
    assert bench.rail("volts").startswith("holds")
