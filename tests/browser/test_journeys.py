"""What a farmer does, in the real interface."""

from pathlib import Path
from uuid import uuid4

import pytest
from selenium.webdriver import Keys

from tests.browser.pages.accounts import Farms, SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.pages.reading import Reading

pytestmark = pytest.mark.browser
AXE = Path(__file__).parents[2] / "node_modules" / "axe-core" / "axe.min.js"


def demo(browser: Browser) -> Bench:
    return SignIn(browser).open().demo().open_plan("Terrace ring")


def begin(browser: Browser) -> Bench:
    """A blank plan of the demo account."""
    return SignIn(browser).open().demo().begin(f"Farm {uuid4().hex[:8]}").zoom_out(2)


def drawn(browser: Browser) -> Bench:
    return begin(browser).draw((-200, 60), (0, 60), (150, -60))


def test_from_bare_ground_to_proven_volts(browser: Browser, second_address: str) -> None:
    login = f"farmer-{uuid4().hex[:8]}"
    farms = SignIn(browser).open().new_account("Ann", login, "long enough")
    assert farms.names() == []
    bench = farms.begin("Home farm").zoom_out(2)
    assert "not known yet" in bench.rail("volts")

    bench.draw((-250, 80), (-50, 90), (120, -40)).draw((-50, 90), (40, 160))
    assert len(bench.document()["runs"]) == 2
    bench.place("Gate").click_ground((-150, 85))
    bench.saved(lambda: len(bench.document()["fixtures"]) == 1)
    bench.place("Energizer").click_ground((-270, 100))
    bench.place("Rods").click_ground((-300, 120))
    bench.saved(lambda: bench.document()["rods"]["position"] is not None)
    # A branch wants a switch: said, with the button that places it.
    assert "Branch without a switch" in bench.text("#pane-findings")
    bench.try_mend()
    assert bench.rail("ground").startswith("holds")

    bench.stage("stock").add_animal("Ewe").tick("stock.0.schooled").tick("stock.0.woolled")
    assert "ewes" in bench.rail("stock")
    bench.stage("strands").choose("duty", "last")
    assert "strands" in bench.text("#panel .figure")
    assert len(bench.all("[data-strand-grip]")) == len(bench.all(".strand-row")) > 2
    bench.stage("power").choose("energizer", "mains_1")
    bench.stage("earth").choose("soil", "sandy_loam").type("rods.count", "4")
    assert "Ω dry" in bench.rail("earth")

    bench.stage("volts").choose("grass", "heavy")
    assert "fails" in bench.rail("volts")
    offered = bench.mends()
    assert len(offered) >= 3
    assert "Costs" in offered[0] or "Takes" in offered[0]
    bench.try_mend()
    assert bench.edition() > 10

    bench.stage("parts")
    assert "High-tensile" in bench.text("#surface") or "high-tensile" in bench.text("#surface")
    assert bench.button("Take the list as CSV").get_attribute("href")
    bench = Reading(browser).open(bench.plan_id, bench.document()["runs"][0]["id"], 60).thumb("3.1").keep()
    assert "3.1" in bench.text("[data-test=reading]")
    assert "forecast" in bench.text("[data-test=reading]")

    kept = bench.document()
    plan_id = bench.plan_id
    assert bench.stage("volts").reload().document() == kept
    bench.driver.get(browser.address)
    farms = Farms(browser).sign_out().as_person(login, "long enough")
    assert farms.names() == ["Home farm"]
    browser.address = second_address
    SignIn(browser).open().as_person(login, "long enough")
    assert Bench(browser).open(plan_id, "volts").document() == kept


def test_a_moved_point_moves_the_volts_and_undo_brings_them_back(browser: Browser) -> None:
    bench = drawn(browser)
    before = bench.document()["runs"][0]["points"]
    line = bench.rail("ground")
    bench.drag_point("Point 3 of First line", 60, -40)
    after = bench.document()["runs"][0]["points"]
    assert after[:2] == before[:2]
    assert after[2] != before[2]
    assert bench.rail("ground") != line
    assert bench.undo().document()["runs"][0]["points"] == before
    bench.reload()
    assert bench.redo().document()["runs"][0]["points"] == after


def test_a_joined_end_stays_joined_when_its_line_moves(browser: Browser) -> None:
    bench = drawn(browser).draw((-100, 60), (-100, 150))
    assert len(bench.ground()["joins"]) == 1
    bench.drag_point("Point 2 of First line", 0, -50)
    assert len(bench.ground()["joins"]) == 1
    assert bench.ground()["dead"] == []


def test_points_and_lines_are_taken_off(browser: Browser) -> None:
    bench = drawn(browser)
    bench.find('[title="Point 2 of First line"]').click()
    bench.press(Keys.DELETE)
    bench.saved(lambda: len(bench.document()["runs"][0]["points"]) == 2)
    bench.find('[title="Point 2 of First line"]').click()
    bench.press(Keys.DELETE)
    assert "two points" in bench.text("#says")
    bench.choose_thing("run:line1").do("Take it off")
    assert bench.document()["runs"] == []


def test_two_browsers_on_one_plan_lose_nothing(browser: Browser, other_browser: Browser) -> None:
    first = drawn(browser).stage("volts")
    SignIn(other_browser).open().like(browser)
    second = Bench(other_browser).open(first.plan_id, "earth")
    first.choose("grass", "heavy")
    second.type_only("rods.count", "7")
    said = second.clash()
    assert "Ruth Hallow changed this plan meanwhile" in said
    assert "moderate → heavy" in said
    assert "3 → 7" in said
    second.settle("keep-both").saved(lambda: second.document()["rods"]["count"] == 7)
    assert second.document()["grass"] == "heavy"


def test_taking_theirs_shows_theirs(browser: Browser, other_browser: Browser) -> None:
    first = drawn(browser).stage("earth")
    SignIn(other_browser).open().like(browser)
    second = Bench(other_browser).open(first.plan_id, "earth")
    first.type("rods.count", "5")
    second.type_only("rods.count", "9")
    assert "You both changed this" in second.clash()
    second.settle("take-theirs").until(lambda: second.value("rods.count") == "5", "theirs is not shown")


@pytest.mark.parametrize(
    ("stage", "path", "typed", "says"),
    [
        ("earth", "rods.count", "99999999999999999999999999", "too large"),
        ("earth", "rods.count", "201", "200 or less"),
        ("earth", "rods.length_m", "tall", "write a length"),
        ("earth", "rods.spacing_m", "-3 m", "0.1"),
        ("earth", "soil_ohm_m", "wet", "number"),
        ("strands", "post_spacing_m", "5 furlongs", "unit of length"),
    ],
)
def test_what_is_wrong_stays_as_typed_with_the_reason(
    browser: Browser, stage: str, path: str, typed: str, says: str
) -> None:
    bench = drawn(browser).stage(stage)
    edition = bench.edition()
    bench.type_only(path, typed)
    assert says in bench.fault()
    assert bench.value(path) == typed
    assert bench.edition() == edition


def test_strand_heights_out_of_order_are_named(browser: Browser) -> None:
    bench = drawn(browser).stage("stock").add_animal("Goat").stage("strands")
    bench.fill('[data-strand="0"]', "150")
    bench.press(Keys.TAB)
    assert "is not above strand 1" in bench.fault()


def test_lengths_are_typed_in_feet(browser: Browser) -> None:
    bench = drawn(browser)
    bench.button("ft", "#units").click()
    bench.saved(lambda: bench.document()["units"] == "imperial")
    bench.stage("earth").type("rods.length_m", "8")
    assert bench.document()["rods"]["length_m"] == pytest.approx(2.4384)
    bench.type("rods.spacing_m", "9 ft 6 in")
    assert bench.document()["rods"]["spacing_m"] == pytest.approx(2.8956)


def test_walking_the_line_by_keyboard(browser: Browser) -> None:
    bench = demo(browser)
    bench.find("#strip").click()
    start = bench.where()
    bench.press(Keys.ARROW_RIGHT)
    bench.until(lambda: bench.where() != start, "did not walk")
    bench.press(Keys.SHIFT + Keys.ARROW_LEFT)
    bench.press("s")
    bench.until(lambda: bench.find("#seasons .on").text == "Usual", "the season stays")
    bench.press("?")
    assert "walk one post" in bench.text("#dialog[open]")
    bench.button("Close", "#dialog").click()
    bench.press(Keys.ARROW_UP)
    bench.until(lambda: "strand 2 of" in bench.text("#stand"), "the strand stays")


def test_the_ground_the_strip_and_the_card_tell_one_place(browser: Browser) -> None:
    bench = demo(browser).season("Wettest")
    assert "Sea bank" in bench.where()
    flag = float(bench.text(".flag text"))
    bench.until(
        lambda: bench.kv_here() == pytest.approx(float(bench.text(".flag text")), abs=0.11), "card and flag differ"
    )
    bench.season("Driest week").until(lambda: float(bench.text(".flag text")) != flag, "the flag stays")
    bench.season("Usual")
    place = bench.go_to("driest week").removesuffix(", driest week")
    bench.until(lambda: bench.where() == place, "the card stays")
    assert bench.find("#seasons .on").text == "Driest week"


def test_dragging_a_strand_is_judged_at_once(browser: Browser) -> None:
    bench = drawn(browser).stage("stock").add_animal("Ewe").stage("strands")
    assert "Holds" in bench.verdict() or "Marginal" in bench.verdict()
    grips = bench.all("[data-strand-grip]")
    grips[0].send_keys(Keys.ARROW_UP)
    bench.saved(lambda: bool(bench.document()["strands"]))
    bench.until(lambda: "Fails" in bench.verdict() or "Marginal" in bench.verdict(), "the verdict stays")
    bench.button("Take the computed heights", "#bench").click()
    bench.saved(lambda: bench.document()["strands"] == [])


def test_the_field_page_suits_a_thumb(browser: Browser) -> None:
    bench = demo(browser)
    browser.size(390, 800)
    page = Reading(browser).open(bench.plan_id, "orchard", 300).thumb("2.0")
    assert "low: the fence has a leak" in page.says()
    assert page.smallest_target_px() >= 44
    assert not page.wider_than_screen()


@pytest.mark.parametrize("stage", ["stock", "ground", "strands", "power", "earth", "volts", "parts", "build", "log"])
def test_axe_finds_nothing_serious(browser: Browser, stage: str) -> None:
    bench = demo(browser).stage(stage)
    if stage == "volts":
        bench.mends()
    if stage == "ground":
        bench.choose_thing("fixture:lane").tab("feed")
    for tab in bench.tabs():
        bench.surface(tab)
    bench.show_every_tab()
    bench.driver.execute_script(AXE.read_text())
    result = bench.driver.execute_async_script(
        "axe.run({ resultTypes: ['violations'], preload: false }).then(arguments[arguments.length - 1])"
    )
    serious = [
        f"{v['id']}: {n['target']} {n['failureSummary'][:160]}"
        for v in result["violations"]
        if v["impact"] in ("serious", "critical")
        for n in v["nodes"]
    ]
    assert serious == []
