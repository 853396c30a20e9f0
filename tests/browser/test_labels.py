"""Names on the ground: none lies over another, over a fence or under what floats there."""

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench
from tests.browser.pages.ground_labels import GroundLabels

WITH_GROUND = ("ground", "power", "earth", "volts")


def collisions(bench: Bench) -> dict[str, object]:
    found = {}
    for stage in WITH_GROUND:
        names = GroundLabels(bench.stage(stage))
        assert names.words()
        found |= {stage: (names.on_each_other(), names.on_fences())}
    return {stage: pair for stage, pair in found.items() if pair != ([], [])}


def test_no_name_covers_another_nor_a_fence(browser: Browser) -> None:
    farms = SignIn(browser).open().demo()
    addresses = farms.plan_addresses()
    assert len(addresses) == 3
    assert {plan: found for plan in addresses if (found := collisions(Bench(browser).open(plan, "ground")))} == {}


def test_signs_that_crowd_stand_beside_their_places(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage("ground")
    assert GroundLabels(bench).signs_on_each_other() == 0


def test_forty_fixtures_keep_their_names_apart(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage("ground")
    bench.place("Switch").every("12 m")
    assert sum(f["kind"] == "switch" for f in bench.document()["fixtures"]) >= 40
    assert collisions(bench) == {}
    names = GroundLabels(bench.stage("ground"))
    assert names.point_at_unsaid()


def test_several_of_a_kind_in_a_row_by_enter(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage("ground")
    before = len(bench.document()["fixtures"])
    bench.place("Gate")
    for count in (1, 2):
        bench.press("\ue007")
        bench.saved(lambda wanted=before + count: len(bench.document()["fixtures"]) == wanted)
        bench.press("\ue014")
    bench.press("\ue00c")
    assert bench.button("Arrange").get_attribute("aria-pressed") == "true"
