"""What a page weighs, and whether it stays still once it is there."""

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser

STAGES = ("stock", "ground", "strands", "power", "earth", "volts", "parts")
MOST_KB = 250
MOST_SHIFT = 0.02


def test_a_page_weighs_little_and_nothing_shifts_once_it_is_there(browser: Browser) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring")
    shifts, kilobytes = {}, {}
    for stage in STAGES:
        bench.stage(stage)
        shifts[stage], kilobytes[stage] = bench.layout_shift(), bench.weight_kb()
    assert {stage: shift for stage, shift in shifts.items() if shift > MOST_SHIFT} == {}
    assert {stage: kb for stage, kb in kilobytes.items() if not 20 < kb <= MOST_KB} == {}
