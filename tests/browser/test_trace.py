"""A search in the real interface: from elimination to the end on the demo farm, with a step back and a surprise."""

import pytest

from adze.core.ground.places import Place
from adze.core.plan.season import Season
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm
from adze.core.trace.plan_farm import farm_of, spot_of
from adze.demo.farms import HALLOW_REACH
from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.trace import Trace

pytestmark = pytest.mark.browser
PLAN = HALLOW_REACH.plan
AT = Place(next(run.id for run in PLAN.runs if run.name == "Sea bank"), 250.0)


def hidden() -> SimulatedFarm:
    """A short of 90 ohms on the sea bank."""
    spot = spot_of(PLAN, AT)
    return simulated_farm(farm_of(PLAN, Season.USUAL), [HiddenFault("LS", spot.span, spot.at_m, 90.0)], Truth(), 1)


def answered(page: Trace, farm: SimulatedFarm) -> str:
    """Do what the page asks for, as the farm has it; the key that was pressed."""
    step = page.next()
    if step.key == "look":
        if farm.left and step.run == AT.run and abs(step.at_m - AT.at_m) < 20:
            farm.left.clear()
            farm.solved = None
            page.found(AT.run, AT.at_m, "insulator")
            return "found"
        page.press("look")
        return "look"
    if step.key == "rods":
        page.read_rods(farm.answer({"do": "read_rods"})["rods_kv"])
        return "rods"
    assert step.key == "read", page.title()
    spot = spot_of(PLAN, Place(step.run, step.at_m)) if step.run else farm.here  # the lead-out, at the unit
    page.read(*farm.true_reading(spot, step.leg))
    return "read"


def test_a_search_fits_a_small_screen(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring")
    browser.size(390, 800)
    farm = hidden()
    page = Trace(browser).of(bench.plan_id).begin_search().eliminate("8.6")
    for _ in range(3):
        assert not page.wider_than_screen()
        answered(page, farm)
    assert not page.wider_than_screen()


def test_a_search_to_the_end(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring")
    farm = hidden()
    page = Trace(browser).of(bench.plan_id).begin_search().eliminate("8.6")
    assert page.drawn() > 0
    assert page.rail() == "a search goes on"
    assert page.mending("gate").endswith("Take along: a handle.")
    assert page.mending("diverter").endswith("Take along: a diverter.")
    asked = page.title()
    answered(page, farm)
    assert page.take_back().title() == asked
    page.place_bar().click()
    page.until(lambda: page.all("#strip [data-likely]"), "the strip does not say where it may lie")
    page.place_bar().click()
    assert not page.wider_than_screen()
    done: list[str] = []
    while "Stop here" not in page.title():
        if page.title().startswith("Look"):
            assert "What to look for there" in page.text("#panel")
        if "Closing round" in page.text("#panel"):
            assert "Stop here: chance of a fault" in page.text("#trace-next-step")
        done.append(answered(page, farm))
        assert len(done) < 60, done
    assert done.count("found") == 1
    assert any("kV, " in (name.get_attribute("textContent") or "") for name in page.all(".ground-label"))
    assert "Probably clear" in page.text("#panel")
    page.press("end")
    assert "Begin the search" in page.text("#panel")
    assert page.rail() == "find a fault"
    assert browser.script_errors() == []


@pytest.mark.parametrize(
    ("truth", "asked", "key", "then"),
    [
        (Truth(rods=6.0), "Look at the rods", "Mended at the rods", "Read again here"),
        (Truth(grass=3.0), "Look at the growth", "No, it is clean", ""),
    ],
)
def test_rods_and_growth_are_looked_at(browser: Browser, truth: Truth, asked: str, key: str, then: str) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring")
    page = Trace(browser).of(bench.plan_id).begin_search().eliminate("8.6")
    farm = simulated_farm(farm_of(PLAN, Season.USUAL), [], truth, 5)
    for _ in range(14):
        if asked in page.title():
            break
        answered(page, farm)
    page.answer(key)
    page.until(lambda: asked not in page.title(), "the search asks again")
    assert page.title().startswith(then)
    assert page.take_back().title().startswith(asked)
    assert browser.script_errors() == []


def test_a_reading_that_nothing_explains_is_questioned(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring")
    farm = hidden()
    page = Trace(browser).of(bench.plan_id).begin_search().eliminate("8.6")
    while page.next().key != "read":
        answered(page, farm)
    page.read(8.4, -260)
    assert "Check its place" in page.text("#panel")
    page.take_back()
    assert "Check its place" not in page.text("#panel")
    assert browser.script_errors() == []


def test_what_another_does_is_shown_once_nothing_typed_would_be_lost(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Two flats")
    page = Trace(browser).of(bench.plan_id).begin_search().eliminate("8.6")
    page.find("#trace-next-kv").send_keys("4.1")
    page.by_another("look", run="outer", at_m="120")
    assert not page.looked_at_again()
    page.find("#trace-next-kv").clear()
    assert page.looked_at_again()
    page.until(lambda: "Looked at Outer flat, 120 m along" in page.text("#panel"), "it is not heard")
    assert browser.script_errors() == []


@pytest.mark.parametrize("width", [1280, 390])
def test_strands_are_compared_with_what_each_should_show(browser: Browser, width: int) -> None:
    bench = SignIn(browser).open().demo().open_plan("Two flats")
    browser.size(width, 800)
    page = Trace(browser).of(bench.plan_id).begin_search().eliminate("8.6")
    page.strands("1.2", "5.9")
    assert "Low: strands 1, 3 and 4, at 1.2 of" in page.text("[data-test=strands]")
    assert "The earth strand is at 5.9 kV to soil" in page.text("[data-test=strands]")
    assert not page.wider_than_screen()
    page.take_back()
    assert not page.all("[data-test=strands]")
