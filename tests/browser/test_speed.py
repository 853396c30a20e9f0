"""What a page weighs, and whether it stays still once it is there."""

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser
from tests.browser.pages.bench import Bench

STAGES = ("stock", "ground", "strands", "power", "earth", "volts", "parts")
MOST_KB = 250


@pytest.fixture
def bench(browser: Browser) -> Bench:
    return SignIn(browser).open().demo().open_plan("Terrace ring")


def test_no_page_weighs_more_than_it_may(bench: Bench) -> None:
    kilobytes = {stage: bench.stage(stage).weight_kb() for stage in STAGES}
    assert {stage: kb for stage, kb in kilobytes.items() if not 20 < kb <= MOST_KB} == {}


def test_nothing_shifts_once_a_page_is_there(bench: Bench) -> None:
    shifts = {stage: bench.stage(stage).layout_shift() for stage in STAGES}
    assert {stage: shift for stage, shift in shifts.items() if shift > 0.02} == {}
