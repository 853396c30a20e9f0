"""The tester that kV are read with: chosen once per farm, at Volts; refused figures by name."""

import re

from tests.web.conftest import PlanPage, said, word


def test_a_slower_tester_shows_less_and_the_farm_s_next_plan_has_it_too(plan: PlanPage) -> None:
    plan.draw()
    before = plan.state["forecast"]["seasons"]["usual"]["start_kv"]
    assert plan.do("set_field", path="tester.kind", value="lamps").status_code == 200
    assert plan.state["forecast"]["seasons"]["usual"]["start_kv"] < before
    assert "Read with: row of lamps" in said(plan.get("/panel/volts").json()["panel"])
    home = plan.client.get("/").text
    newest = max(int(number) for number in re.findall(r'action="/farms/(\d+)/plans"', home))
    made = plan.client.post(f"/farms/{newest}/plans", data={"csrf": word(home)})
    assert made.status_code == 303
    after = PlanPage(plan.client, int(made.headers["location"].split("/")[2]))
    assert after.state["document"]["tester"]["kind"] == "lamps"


def test_a_tester_out_of_range_is_refused_by_its_box(plan: PlanPage) -> None:
    for path, value in (("tester.own_us", 1_000_000), ("tester.most_kv", 40), ("tester.kind", "stethoscope")):
        answer = plan.do("set_field", path=path, value=value)
        assert answer.status_code == 422
        assert path in answer.text


def test_kv_past_the_end_of_the_scale_are_said_as_such(plan: PlanPage) -> None:
    plan.draw()
    assert plan.do("set_field", path="tester.most_kv", value=2).status_code == 200
    card = plan.get("/stand?run=line1&at_m=100&season=dry&strand=0").json()
    assert card["kv_soil"] == "2.0 or more"
    assert float(card["true_kv"]) > 2
