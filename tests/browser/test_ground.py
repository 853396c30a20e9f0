"""The ground as a farmer works on it: drawn, arranged, zoned, divided, brought in and printed."""

import io
from pathlib import Path

import pytest
from PIL import Image
from selenium.webdriver import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.test_journeys import begin, demo, drawn

pytestmark = pytest.mark.browser


def gpx(path: Path, points: list[tuple[float, float]]) -> str:
    rows = "".join(f'<trkpt lat="{lat}" lon="{lon}"><ele>{i % 7}</ele></trkpt>' for i, (lon, lat) in enumerate(points))
    head = '<gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">'
    path.write_text(f"{head}<trk><name>Spring walk</name><trkseg>{rows}</trkseg></trk></gpx>")
    return str(path)


def photo(path: Path) -> str:
    out = io.BytesIO()
    Image.new("RGB", (400, 300), "darkseagreen").save(out, "JPEG")
    path.write_bytes(out.getvalue())
    return str(path)


def test_ends_snap_to_ends_and_lines_and_a_ring_closes(browser: Browser) -> None:
    bench = begin(browser).draw((-200, 60), (0, 60), (150, -60)).draw((4, 63), (60, 150)).draw((-104, 57), (-100, 160))
    first, second, third = (run["points"] for run in bench.document()["runs"])
    assert second[0] == first[1]
    assert third[0][1] == pytest.approx(first[0][1], abs=0.01)
    assert len(bench.ground()["joins"]) == 2
    assert "Not fed" not in bench.text("#panel")
    bench.tool("Draw a line").click_ground((200, 100), (300, 100), (300, 180), (203, 103))
    bench.saved(lambda: len(bench.document()["runs"]) == 4)
    ring = bench.document()["runs"][3]["points"]
    assert ring[0] == ring[-1]
    assert len(bench.ground()["blocks"]) == 1


def test_a_crossing_is_apart_until_it_is_said(browser: Browser) -> None:
    bench = drawn(browser).draw((-100, -60), (-100, 160))
    assert "cross. Until you say how" in bench.text("#pane-findings")
    assert [d for d in bench.ground()["dead"] if d[0] == "line2"]
    bench.do("Join them", "#pane-findings")
    assert bench.ground()["dead"] == []
    assert bench.document()["meetings"][0]["joined"]
    bench.undo().do("Keep them apart", "#pane-findings")
    assert bench.ground()["dead"]
    assert "Until you say how" not in bench.text("#pane-findings")


def test_opening_a_switch_really_opens_and_its_zone_is_shown(browser: Browser) -> None:
    bench = drawn(browser).draw((0, 60), (60, 160))
    bench.place("Switch").click_ground((8, 73))
    bench.saved(lambda: len(bench.document()["fixtures"]) == 1)
    assert "it kills" in bench.text("#inspector .why")
    bench.button("Show what it kills", "#inspector").click()
    bench.until(lambda: "Dotted" in bench.says(), "the zone is not shown")
    bench.find("#map").click()
    bench.choose_thing("fixture:switch1").tick("fixtures.0.is_open")
    assert bench.ground()["dead"][0][0] == "line2"
    bench.tab("findings").find("#pane-findings details summary").click()
    assert "Switch 1 is open" in bench.text("#pane-findings")
    assert bench.tab("feed").text("#pane-feed").count("(off)") == 1


def test_a_gate_says_what_its_feed_makes_of_it(browser: Browser) -> None:
    bench = drawn(browser)
    bench.place("Gate").click_ground((-100, 60))
    bench.saved(lambda: len(bench.document()["fixtures"]) == 1)
    assert "live: park them" in bench.text("#inspector .why")
    bench.choose("fixtures.0.feeds", "end")
    assert "strands are dead" in bench.until(
        lambda: "dead" in bench.text("#inspector .why") and bench.text("#inspector .why"), "still live"
    )
    bench.tick("fixtures.0.under_cable")
    bench.until(lambda: "does not pass" in bench.text("#inspector .why"), "it still passes")
    bench.choose("fixtures.0.style", "drive_over")
    bench.until(lambda: "Driven over" in bench.text("#inspector .why"), "no drive-over")


def test_exact_lengths_are_typed_while_drawing_and_without_a_mouse(browser: Browser) -> None:
    bench = begin(browser).tool("Draw a line").click_ground((-100, 0))
    bench.find("#next-leg").send_keys("100 m N", Keys.ENTER)
    bench.until(lambda: "100 m so far" in bench.says(), "no stretch")
    bench.find("#next-leg").send_keys("50 E", Keys.ENTER)
    bench.until(lambda: "150 m so far" in bench.says(), "no second stretch")
    bench.find("#next-leg").send_keys("up the hill", Keys.ENTER)
    bench.until(lambda: "bearing" in bench.says() or "length" in bench.says(), "nothing said")
    bench.find("#next-leg").send_keys(Keys.CONTROL + "a" + Keys.NULL, Keys.DELETE, Keys.ENTER)
    bench.saved(lambda: len(bench.document()["runs"]) == 1)
    a, b, c = bench.document()["runs"][0]["points"]
    assert (b[0] - a[0], b[1] - a[1]) == pytest.approx((0, 100), abs=0.01)
    assert (c[0] - b[0], c[1] - b[1]) == pytest.approx((50, 0), abs=0.01)
    bench.tab("setout").find("#legs").send_keys("60 m S\n20 m SW")
    bench.do("Lay this line", "#pane-setout")
    assert len(bench.document()["runs"]) == 2
    bench.find("#legs").send_keys("sideways")
    bench.button("Lay this line", "#pane-setout").click()
    assert "line 1" in bench.fault()
    assert bench.find("#legs").get_attribute("value") == "sideways"


def test_corners_and_heights_are_typed_and_wrong_ones_stay_as_typed(browser: Browser) -> None:
    bench = drawn(browser).choose_thing("run:line1")
    for summary in bench.all("#inspector details summary"):
        summary.click()
    bench.fill("#corners", "0, 0\n100, 0\nfar, 30")
    bench.press(Keys.TAB)
    assert "point" in bench.fault() or "number" in bench.fault()
    assert "far, 30" in (bench.find("#corners").get_attribute("value") or "")
    bench.fill("#corners", "0, 0\n100, 0\n100, 30")
    bench._changed(lambda: bench.press(Keys.TAB))
    assert bench.document()["runs"][0]["points"] == [[0, 0], [100, 0], [100, 30]]
    bench.fill("#heights", "0 5\n60 4\n130")
    bench.press(Keys.TAB)
    assert "line 3" in bench.fault()
    bench.fill("#heights", "0 5\n60 4\n130 6")
    bench._changed(lambda: bench.press(Keys.TAB))
    assert bench.document()["runs"][0]["profile"] == [[0, 5], [60, 4], [130, 6]]


def test_a_square_is_set_out_with_its_pegs(browser: Browser) -> None:
    bench = drawn(browser).tab("setout")
    bench.fill("#sq-side", "20 m")
    bench.fill("#sq-at", "60, 90")
    bench.do("Set out the square", "#pane-setout")
    bench.choose_thing("run:line2").find("#inspector details summary").click()
    assert "equal, so it stands square" in bench.text("#inspector")


def test_a_track_comes_in_after_a_look_and_undo_survives_a_reload(browser: Browser, tmp_path: Path) -> None:
    walk = [(-30 + i * 2e-5, 52 + (i % 2) * 2e-6) for i in range(120)]
    bench = begin(browser).tab("files")
    bench.find("#ground-file").send_keys(gpx(tmp_path / "walk.gpx", walk))
    bench.until(lambda: "120 points came, 2 are kept" in bench.text("#import-box"), "no preview")
    assert "judge dips and rises by eye" in bench.text("#import-box")
    assert bench.document()["runs"] == []
    bench.fill("#import-thin", "0")
    bench.press(Keys.TAB)
    bench.until(lambda: "120 are kept" in bench.text("#import-box"), "not looked at again")
    bench.fill("#import-thin", "1")
    bench.press(Keys.TAB)
    bench.until(lambda: "2 are kept" in bench.text("#import-box"), "not thinned")
    bench.scroll_to("[data-test=take-file]").do("Take it into the plan", "#import-box")
    assert [len(r["points"]) for r in bench.document()["runs"]] == [2]
    assert len(bench.document()["runs"][0]["profile"]) > 10
    assert "Preview" not in bench.text("#pane-files")
    bench.until(lambda: "ground 0.0 m" in bench.text("#strip"), "no ground under the strip")
    bench.reload().undo()
    assert bench.document()["runs"] == []
    bench.reload().redo()
    assert len(bench.document()["runs"]) == 1


def test_swapped_degrees_and_broken_files_say_what_to_do(browser: Browser, tmp_path: Path) -> None:
    swapped, broken = tmp_path / "swapped.csv", tmp_path / "broken.kml"
    swapped.write_text("line,lon,lat\nA,52,-130\nA,52,-130.002\n")
    broken.write_text("<kml><Document>")
    bench = begin(browser).tab("files")
    bench.find("#ground-file").send_keys(str(broken))
    assert "not whole XML" in bench.text("#import-box .fault")
    bench.find("#ground-file").send_keys(str(swapped))
    assert "shown the other way round" in bench.text("[data-test=swapped]")
    bench.scroll_to("[data-test=take-file]").do("Take it into the plan", "#import-box")
    assert len(bench.document()["runs"]) == 1


def test_many_things_are_chosen_moved_and_taken_off(browser: Browser) -> None:
    bench = drawn(browser).draw((-150, 130), (-60, 130))
    ground = bench.find("#map")
    chain = bench.actions().move_to_element_with_offset(ground, -180, 110).key_down(Keys.SHIFT).click_and_hold()
    chain.move_by_offset(80, 30).move_by_offset(70, 10).release().key_up(Keys.SHIFT).perform()
    bench.until(lambda: bench.text("#inspector h2") == "Line 2", "the box chose nothing")
    before = bench.document()["runs"][1]["points"]
    edition = bench.edition()
    bench.hold(Keys.ALT, Keys.SHIFT).press(Keys.ARROW_RIGHT)
    bench.let_go(Keys.ALT, Keys.SHIFT)
    bench.saved(lambda: bench.edition() > edition)
    assert bench.document()["runs"][1]["points"][0][0] == pytest.approx(before[0][0] + 10)
    bench.hold(Keys.CONTROL).press("a")
    bench.let_go(Keys.CONTROL)
    bench.until(lambda: "2 things chosen" in bench.text("#inspector"), "not all chosen")
    bench.press(Keys.DELETE)
    bench.saved(lambda: bench.document()["runs"] == [])
    assert len(bench.undo().document()["runs"]) == 2


def test_lines_are_split_reversed_and_joined(browser: Browser) -> None:
    bench = drawn(browser)
    whole = bench.document()["runs"][0]["points"]
    bench.click_ground((-100, 60)).do("Split where you stand")
    assert len(bench.document()["runs"]) == 2
    bench.choose_thing("run:line1").do("Walk it from the other end")
    bench.tab("lines")
    bench.find('[data-choose="run:line1"]').click()
    bench.actions().key_down(Keys.SHIFT).click(bench.find('[data-choose="run:line2"]')).key_up(Keys.SHIFT).perform()
    bench.do("Join the two lines")
    (run,) = bench.document()["runs"]
    assert {tuple(p) for p in whole} <= {tuple(p) for p in run["points"]}


def test_a_block_is_named_divided_and_its_moves_planned(browser: Browser) -> None:
    bench = (
        begin(browser).tool("Draw a line").click_ground((-150, -60), (150, -60), (150, 120), (-150, 120), (-150, -60))
    )
    bench.saved(lambda: len(bench.document()["runs"]) == 1)
    bench.tab("blocks")
    bench.fill("[data-block-at]", "Top meadow")
    bench._changed(lambda: bench.press(Keys.TAB))
    assert bench.ground()["blocks"][0]["name"] == "Top meadow"
    assert "no water within reach" in bench.text("#pane-blocks")
    bench.do("Plan moves of one line", "#pane-blocks")
    assert "Line to carry" in bench.text("#pane-blocks")
    bench.fill("#div-way", "sideways")
    bench.button("Divide by cross-fences", "#pane-blocks").click()
    assert "is not a bearing" in bench.fault()
    bench.fill("#div-way", "N 10 E")
    bench.do("Divide by cross-fences", "#pane-blocks")
    assert len(bench.ground()["blocks"]) == 3


def test_landmarks_are_drawn_judged_and_layers_switched(browser: Browser) -> None:
    bench = drawn(browser).place("Overhead power line").click_ground((-220, 70), (120, 75))
    bench.press(Keys.ENTER)
    bench.saved(lambda: len(bench.document()["landmarks"]) == 1)
    assert "Beside an overhead line" in bench.tab("findings").text("#pane-findings")
    bench.choose_thing("landmark:overhead1").type("landmarks.0.line_kv", "20")
    assert bench.document()["landmarks"][0]["line_kv"] == 20
    bench.place("Hive").click_ground((100, 100))
    bench.saved(lambda: len(bench.document()["landmarks"]) == 2)
    Select(bench.tab("setout").find("#off-of")).select_by_value("hive1")
    bench.fill("#off-m", "1 m")
    bench.do("Round it", "#pane-setout")
    assert bench.document()["runs"][1]["name"] == "Round hive"
    bench.find("#tools details summary").click()
    bench.find('[data-layer="labels"]').click()
    bench.until(lambda: not bench.all(".ground-label"), "names stay")
    bench.reload()
    assert not bench.all(".ground-label")


def test_a_note_keeps_its_photo(browser: Browser, tmp_path: Path) -> None:
    bench = drawn(browser).place("Note").click_ground((-50, 120))
    bench.find("#nt-text")
    edition = bench.edition()
    bench.find("#note-photo").send_keys(photo(tmp_path / "post.jpg"))
    bench.saved(lambda: bench.edition() > edition)
    image = bench.find("#inspector .photos img")
    bench.until(
        lambda: bench.driver.execute_script("return arguments[0].naturalWidth", bench.find(".photos img")) == 400,
        "no photo",
    )
    assert image.get_attribute("alt") == "Photo 1 of Note"
    wrong = tmp_path / "wrong.jpg"
    wrong.write_text("not a picture")
    bench.find("#note-photo").send_keys(str(wrong))
    assert "not a picture that Adze can read" in bench.fault()


def test_an_aerial_photo_is_pinned_by_two_known_points(browser: Browser, tmp_path: Path) -> None:
    bench = drawn(browser).tab("files")
    bench.find("#photo-file").send_keys(photo(tmp_path / "air.jpg"))
    bench.until(lambda: "click a thing in the photo" in bench.says(), "not laid")
    bench.click_ground((-100, -40), (-100, 0), (100, -40), (100, 0))
    bench.saved(lambda: "Pinned" in bench.says())
    points = bench.document()["underlay"]["points"]
    assert len(points) == 2
    assert points[1]["at"][0] > points[0]["at"][0]
    assert max(bench.ground()["underlay"]["misses_m"]) < 0.01
    assert bench.all("#map image")


def test_a_point_is_added_where_you_stand(browser: Browser) -> None:
    bench = drawn(browser)
    driver = bench.driver
    driver.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["geolocation"], "origin": browser.address})
    browser.size(390, 800)

    def stand(lat: float, lon: float) -> None:
        driver.execute_cdp_cmd("Emulation.setGeolocationOverride", {"latitude": lat, "longitude": lon, "accuracy": 4})

    stand(52.0005, -30.0)
    bench.reload().scroll_to("#where-am-i").find("#where-am-i").click()
    bench.until(lambda: "You are here, within 4 m" in bench.says(), "not here")
    for lat in (52.0005, 52.0010):
        stand(lat, -30.0)
        bench.scroll_to("#add-here").find("#add-here").click()
        bench.until(lambda: "so far" in bench.says(), "no point")
    bench.until(lambda: "56 m so far" in bench.says(), "no second point")
    bench.press(Keys.ENTER)
    bench.saved(lambda: len(bench.document()["runs"]) == 2)
    stand(10, 10)
    bench.scroll_to("#where-am-i").find("#where-am-i").click()
    bench.until(lambda: "km from this farm" in bench.says(), "too far is not said")
    assert driver.execute_script("return document.documentElement.scrollWidth <= innerWidth")


def test_the_paper_is_as_large_as_it_says(browser: Browser) -> None:
    bench = demo(browser)
    bench.driver.get(f"{browser.address}/plans/{bench.plan_id}/paper/ground?paper=A4&scale=5000")
    box = bench.find(".paper-sheet svg").rect
    assert (box["width"], box["height"]) == pytest.approx((297 * 96 / 25.4, 210 * 96 / 25.4), abs=0.5)
    assert "1:5000 on A4" in bench.text(".paper")


def test_the_demo_farm_is_drawn_with_every_kind_of_fixture(browser: Browser) -> None:
    bench = Bench(browser)
    SignIn(browser).open().demo().open_plan("Terrace ring")
    bench.stage("ground")
    assert {f["kind"] for f in bench.document()["fixtures"]} == {
        "gate", "switch", "crossing", "join", "strain", "rods", "diverter", "test", "sign",
    }  # fmt: skip
    assert len(bench.all("#map .sign")) >= len(bench.document()["fixtures"])
    assert bench.tab("feed").text("#pane-feed").count("min to walk") >= 5
