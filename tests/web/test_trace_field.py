"""A search in the field: what a phone gets, what it hands in, once each, in its order, with what is refused said."""

import json
import struct
from typing import Any
from uuid import uuid4

from adze.core.trace.plan_farm import LEAD_OUT
from tests.web.conftest import PlanPage
from tests.web.test_trace import at_the_fence, panel, post, step


def known(plan: PlanPage, season: str = "usual") -> dict[str, Any]:
    told: dict[str, Any] = plan.get(f"/trace/field?season={season}").json()
    return told


def kit(plan: PlanPage, season: str = "usual") -> dict[str, Any]:
    """The head of the packed search."""
    answer = plan.get(f"/trace/kit?season={season}")
    assert answer.status_code == 200, answer.text[:300]
    (size,) = struct.unpack_from("<I", answer.content)
    head: dict[str, Any] = json.loads(answer.content[4 : 4 + size])
    return head


def done(what: str, **body: Any) -> dict[str, Any]:
    return {"what": what, "once": uuid4().hex[:12]} | body


def hand_in(plan: PlanPage, *steps: dict[str, Any]) -> dict[str, str]:
    answer = post(plan, "/field", steps=list(steps))
    assert answer.status_code == 200, answer.text[:300]
    refused: dict[str, str] = answer.json()["refused"]
    return refused


BEGUN = (done("begin"), done("checked"), done("unit"), done("lead"))


def test_a_search_begun_without_signal_stands_with_all_its_steps(plan: PlanPage) -> None:
    plan.draw()
    assert known(plan)["search"] == 0
    steps = [done(row["what"]) for row in BEGUN] + [done("read", run="line1", at_m="400", kv="3.1", amps="8")]
    assert hand_in(plan, *steps) == {}
    told = known(plan)
    assert told["search"] > 0
    assert [row["what"] for row in told["steps"]] == ["checked", "unit", "lead", "read"]
    assert told["steps"][-1]["once"] == steps[-1]["once"]
    assert (told["steps"][-1]["kv"], told["steps"][-1]["amps"]) == (3.1, 8.0)
    assert "3.1 kV, 8 A outward" in panel(plan)


def test_what_is_handed_in_twice_counts_once(plan: PlanPage) -> None:
    plan.draw()
    steps = [done(row["what"]) for row in BEGUN] + [done("look", run="line1", at_m="100")]
    hand_in(plan, *steps)
    before = known(plan)
    assert hand_in(plan, *steps) == {}
    assert known(plan) == before


def test_what_is_refused_is_named_and_the_rest_is_kept(plan: PlanPage) -> None:
    at_the_fence(plan)
    wrong = done("read", run="line1", at_m="100", kv="99")
    other = done("found", cause="none of these", run="line1", at_m="5")
    good = done("read", run="line1", at_m="100", kv="5.5")
    refused = hand_in(plan, wrong, other, good)
    assert set(refused) == {wrong["once"], other["once"]}
    assert "kV: must lie between 0 and 20" in refused[wrong["once"]]
    assert "choose one from the list" in refused[other["once"]]
    assert [row["once"] for row in known(plan)["steps"]][-1] == good["once"]


def test_a_packed_search_names_places_and_says_when_it_is_another(plan: PlanPage) -> None:
    at_the_fence(plan)
    head, told = kit(plan), known(plan)
    field = head["field"]
    assert field["mark"] == told["mark"]
    assert field["lead"] == LEAD_OUT
    assert any("First line" in place["words"] for place in field["places"])
    assert {line["run"] for line in field["lines"].values()} == {"line1"}
    assert len(field["places"]) == len(head["legs"])
    step(plan, "read", run="line1", at_m="400", kv="3")
    assert known(plan)["mark"] == told["mark"]
    step(plan, "found", run="line1", at_m="400", cause="insulator")
    assert known(plan)["mark"] != told["mark"]
    assert kit(plan)["search"]["finds"] == 1


def test_a_step_is_taken_back_by_its_token_and_once(plan: PlanPage) -> None:
    at_the_fence(plan)
    step(plan, "read", run="line1", at_m="400", kv="3")
    first = known(plan)["steps"][-1]["once"]
    second = done("look", run="line1", at_m="100")
    hand_in(plan, second, done("undo", of=second["once"]), done("undo", of=second["once"]))
    assert known(plan)["steps"][-1]["once"] == first
    hand_in(plan, done("undo", of=first), done("undo", of="none of these"))
    assert [row["what"] for row in known(plan)["steps"]] == ["checked", "unit", "lead"]


def test_who_ends_a_search_that_has_ended_does_no_harm(plan: PlanPage) -> None:
    at_the_fence(plan)
    first = known(plan)["search"]
    assert hand_in(plan, done("end", search=first)) == {}
    assert known(plan)["search"] == 0
    post(plan, season="usual")
    assert hand_in(plan, done("end", search=first)) == {}
    assert known(plan)["search"] > first


def test_what_cannot_be_kept_for_the_field_says_why(plan: PlanPage) -> None:
    assert "No fence is drawn yet" in plan.get("/trace/kit").json()["message"]
    plan.draw()
    assert "take dry, usual or wet" in plan.get("/trace/kit?season=mud").json()["message"]
    post(plan, season="usual", hidden=1)
    assert "Practice is going on" in plan.get("/trace/field").json()["message"]


def test_the_page_is_there_for_who_may_read(plan: PlanPage) -> None:
    plan.draw()
    page = plan.client.get(f"/plans/{plan.id}/trace/field").text
    assert 'data-do="begin"' in page
    assert "Power off at the nearest switch" in page
