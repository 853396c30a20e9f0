"""The log over the year, and the energizer moved: what got through is told, a place is judged and taken."""

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser


@pytest.mark.parametrize("wide", [1280, 390])
def test_what_got_through_where_one_stands_is_told_with_what_speaks_for_it(browser: Browser, wide: int) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage("log")
    browser.size(wide, 800)
    bench.surface("through").note_through("4", "under")
    told = bench.until(
        lambda: words if "What the ewe feels" in (words := bench.text("[data-surface=through]")) else "", "no reasons"
    )
    assert "4 ewes, under" in told
    assert "Sea bank, 418 m along" in told
    assert "No reading of that week" in told
    assert not bench.wider_than_screen()


def test_the_energizer_moves_to_a_judged_place_with_its_rods(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage("power").surface("places")
    before = bench.document()
    bench.move_unit_to("Milk-house")
    after = bench.document()
    assert after["energizer_at"] != before["energizer_at"]
    assert after["rods"]["position"] != before["rods"]["position"]
    assert bench.undo().document()["energizer_at"] == before["energizer_at"]
