"""How the pages speak: short sentences, right plurals, figures with their units, the trade's terms."""

import html
import re
from collections.abc import Iterator
from html.parser import HTMLParser

import pytest
from fastapi.testclient import TestClient

from adze.core.plan.stages import Stage
from tests.web.conftest import PlanPage

MOST_WORDS = 25
ANSWERS = (
    *("battery", "budget", "calibration", "conductors", "earth", "earth-options", "kit", "mended", "next-stock"),
    *("other-fences", "parts-otherwise", "rod-schools", "seen", "strand-joins", "stray", "unit-places", "units"),
    *("wave", "ways", "fix/0", "fix/0/others"),
)
PAGES = (
    *("start", "compare", "history", "readings", "log/reading", "earth-test", "trace/field"),
    *("paper/ground", "paper/parts", "paper/ask", "paper/pole", "paper/work", "paper/ends"),
)
_INLINE = {"a", "abbr", "b", "em", "i", "kbd", "small", "span", "strong", "sub", "sup"}
_UNSEEN = {"script", "style", "option", "svg", "title"}
_ONE_OF_MANY = re.compile(r"(?<![\d.,:×-])\b1 (?!is\b|has\b|was\b|this\b|less\b|as\b)[a-z]+s\b")
_BANNED = re.compile(
    r"\b(?:schools?|schooled|document|revision|edition|hypothesis|construction|duty|deed|wanted|mends|1e\+?\d+)\b|Mend:"
)
# Sums have two decimals; they are without a currency until the farm has one.
_FIGURE = re.compile(r"\d+\.\d\b(?! ?[×A-Za-zΩ%°µ²/])")


class Blocks(HTMLParser):
    """The texts of a page, one for each block and for each link that looks like a button."""

    def __init__(self) -> None:
        super().__init__()
        self.texts: list[str] = [""]
        self.unseen = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.unseen += tag in _UNSEEN
        if tag not in _INLINE or "act" in (dict(attrs).get("class") or "").split():
            self.texts.append("")

    def handle_endtag(self, tag: str) -> None:
        self.unseen -= tag in _UNSEEN
        if tag not in _INLINE:
            self.texts.append("")

    def handle_data(self, data: str) -> None:
        if not self.unseen:
            self.texts[-1] += data


def sentences(page: str) -> Iterator[str]:
    """The sentences of a page's texts and the rows of its lists, white space made single."""
    blocks = Blocks()
    blocks.feed(page)
    for text in blocks.texts:
        yield from re.split(r"(?<=[.?!…])\s+(?=[A-Z“\d])|; ", " ".join(html.unescape(text).split()))


def pages_of(client: TestClient, plan_id: int) -> Iterator[tuple[str, str]]:
    """Each page and each answer of a plan, by its address."""
    page = PlanPage(client, plan_id)
    yield "overview", page.get("/overview").json()["html"]
    for stage in Stage:
        yield stage, page.get(f"/panel/{stage}").json()["panel"]
    for name in ANSWERS:
        answer = page.get(f"/{name}")
        if answer.status_code == 200:
            yield name, answer.json()["html"]
    for name in PAGES:
        yield name, client.get(f"/plans/{plan_id}/{name}").text


def faults(sentence: str) -> Iterator[str]:
    """What is wrong with a sentence."""
    if len(re.findall(r"[A-Za-z]{2,}", sentence)) > MOST_WORDS:
        yield f"over {MOST_WORDS} words"
    if _ONE_OF_MANY.search(sentence):
        yield "one of many"
    if found := _BANNED.search(sentence):
        yield f"“{found[0]}” is no word of a page"
    if sentence.endswith(".") and "kV" not in sentence and (found := _FIGURE.search(sentence)):
        yield f"{found[0]} has no unit"


@pytest.mark.parametrize("number", [0, 1, 2])
def test_each_sentence_of_the_demo_farms_reads_at_once(demo: TestClient, number: int) -> None:
    plans = list(dict.fromkeys(re.findall(r'href="/plans/(\d+)" data-test="plan"', demo.get("/").text)))
    spoken = {s: name for name, page in pages_of(demo, int(plans[number])) for s in sentences(page)}
    wrong = [f"{name}: {fault}: {s}" for s, name in spoken.items() for fault in faults(s)]
    assert len(spoken) > 400
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize(
    ("sentence", "fault"),
    [
        ("Add 1 rods.", "one of many"),
        ("Add " + "very " * 25 + "many rods.", "over 25 words"),
        ("It passes by the school.", "“school” is no word of a page"),
        ("The far end has 2.6.", "2.6 has no unit"),
        ("Add 6 rods of 1.8 m.", None),
    ],
)
def test_what_a_sentence_may_not_hold(sentence: str, fault: str | None) -> None:
    assert list(faults(sentence)) == ([fault] if fault else [])
