"""One figure on every page: the rail, the overview, each stage, the chart's data and the steps of random plans."""

import html
import re
from itertools import chain

import pytest

from adze.core.basics.units import Units, kv_words
from adze.core.build.parts import bill
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.verdict.judge import Judgement, judge
from tests.core.random_plans import random_plan
from tests.web.conftest import PlanPage, said

STAGES = ("stock", "ground", "strands", "power", "earth", "volts", "parts", "build", "log", "trace")


def text_of(page: str) -> str:
    return said(html.unescape(re.sub(r"<[^>]*>", " ", page)))


def rail_of(page: str) -> dict[str, tuple[str, str]]:
    """The status and the line of each stage in a page's rail."""
    links = re.findall(
        r'class="stage"[^>]*data-stage="(\w+)".*?aria-label="([^"]+)".*?<i data-line>(.*?)</i>', page, re.S
    )
    return {stage: (status, text_of(line)) for stage, status, line in links}


def differences(page_of: PlanPage, plan: Plan) -> list[str]:
    """What two places of the pages tell differently of a plan."""
    assert page_of.send("PUT", "", document=plan.model_dump(mode="json"), summary="Drawn").status_code == 200
    # Whatever the pages show is computed from the plan as it is stored.
    plan = Plan.model_validate(page_of.state["document"])
    judged = judge(plan)
    pages = {stage: page_of.client.get(f"/plans/{page_of.id}/{stage}").text for stage in STAGES}
    overview = text_of(page_of.get("/overview").json()["html"])
    return [
        *chain.from_iterable(_rails(pages, {s: v.status.value for s, v in judged.verdicts.items()})),
        *_told(judged.sentence, {"overview": overview}),
        *_told(judged.sentence if judged.to_fix else "animals", {"build": text_of(pages["build"])}),
        *_told(f"{bill(plan).total:,.0f}", {"overview": overview, "parts": text_of(pages["parts"])}),
        *_told(
            f" {kv_words(min(v.worst[1] for v in judged.volts.values() if v.worst))} at its weakest",
            {"overview": overview},
        ),
        *_chart(page_of, pages["volts"], judged),
    ]


def _rails(pages: dict[str, str], status: dict[Stage, str]) -> list[list[str]]:
    own = rail_of(pages["volts"])
    wrong = [
        f"{stage}: {own[stage][0]} in the rail, judged {was}"
        for stage, was in status.items()
        if was != "unknown" and own[stage][0] != was
    ]
    return [
        wrong,
        *([f"{s}'s rail: {rail_of(page)}, Volts' {own}"] for s, page in pages.items() if rail_of(page) != own),
    ]


def _told(words: str, places: dict[str, str]) -> list[str]:
    return [f"{words!r} is not told in {place}" for place, text in places.items() if words not in text]


def _chart(page_of: PlanPage, page: str, judged: Judgement) -> list[str]:
    """The rail's line of Volts, and the strip's least figure of that week or the touch that decides."""
    line = rail_of(page)["volts"][1]
    season = line.rpartition(" ")[2]
    deciding = judged.verdicts[Stage.VOLTS].worst
    least_kv = page_of.state["forecast"]["seasons"][season]["worst"]["kv"]
    if " feels " in line and deciding:
        least_kv = deciding.value_kv
    return [] if f"{kv_words(least_kv)} kV" in line else [f"rail {line!r}, {kv_words(least_kv)} kV elsewhere"]


@pytest.mark.parametrize("seed", [2, 5])
def test_the_pages_of_a_random_plan_tell_one_thing(plan: PlanPage, seed: int) -> None:
    assert differences(plan, random_plan(seed)) == []


def test_so_do_they_in_feet(plan: PlanPage) -> None:
    assert differences(plan, replaced(random_plan(9), units=Units.IMPERIAL)) == []


@pytest.mark.slow
@pytest.mark.parametrize("seed", range(10, 50))
def test_forty_plans_tell_one_thing_on_every_page(plan: PlanPage, seed: int) -> None:
    assert differences(plan, random_plan(seed)) == []
