"""What is in view of each stage's page when it opens: few words and few controls beside the drawing."""

import pytest

from tests.browser.pages.accounts import SignIn
from tests.browser.pages.base import Browser

MOST_WORDS, MOST_CONTROLS = 120, 12
# What stands beside the drawing or the sheet and is in view: its words, and what can be pressed or filled in.
COUNTED = """
const inView = (box) => box.width && box.height && box.top < innerHeight && box.bottom > 0 && box.left < innerWidth;
const seen = (e) => e.checkVisibility({ visibilityProperty: true }) && inView(e.getBoundingClientRect());
const walker = document.createTreeWalker(document.querySelector(arguments[0]), NodeFilter.SHOW_TEXT);
const words = [];
while (walker.nextNode()) {
  const { parentElement, textContent } = walker.currentNode;
  if (parentElement.closest("select, .visually-hidden, svg") || !seen(parentElement)) continue;
  words.push(...textContent.split(/\\s+/).filter(Boolean));
}
const controls = [...document.querySelectorAll(`${arguments[0]} :is(button, input, select, textarea, a[href])`)];
return [words.length, controls.filter(seen).length, words.join(" ")];
"""


@pytest.mark.parametrize(
    "stage", ["stock", "ground", "strands", "power", "earth", "volts", "parts", "build", "log", "trace"]
)
def test_a_stage_opens_on_few_words_and_controls(browser: Browser, stage: str) -> None:
    bench = SignIn(browser).open().demo().open_plan("Terrace ring").stage(stage)
    bench.until(lambda: "Computing" not in bench.text("body"), "still computing")
    words, controls, text = bench.driver.execute_script(COUNTED, "#card")
    assert words <= MOST_WORDS, text
    assert controls <= MOST_CONTROLS
