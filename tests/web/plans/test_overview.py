"""The five questions, the proposals and the overview over HTTP."""

import re

from tests.web.conftest import PlanPage

ANSWERS = {"kind_cow": "on", "count_cow": "5", "trained": "on", "shape": "rectangle", "width_m": "80", "depth_m": "60"}


def asked(plan: PlanPage, **answers: str) -> str:
    data = ANSWERS | answers | {"csrf": plan.csrf}
    return str(plan.client.post(f"/plans/{plan.id}/start", data=data).text)


def test_a_new_plan_opens_at_the_questions_and_a_drawn_one_at_its_overview(plan: PlanPage) -> None:
    blank = plan.client.get(f"/plans/{plan.id}", follow_redirects=False)
    assert blank.headers["location"] == f"/plans/{plan.id}/start"
    plan.draw()
    drawn = plan.client.get(f"/plans/{plan.id}", follow_redirects=False)
    assert drawn.headers["location"] == f"/plans/{plan.id}/overview"


def test_a_proposal_is_taken_as_one_step_that_undo_brings_back(plan: PlanPage) -> None:
    html = asked(plan)
    assert "The cheapest that holds" in html
    brief = re.search(r'name="brief" value="([^"]+)"', html)
    assert brief
    data = {"brief": brief[1].replace("&#34;", '"'), "proposal": "cheapest", "csrf": plan.csrf}
    taken = plan.client.post(f"/plans/{plan.id}/design", data=data)
    assert taken.headers["location"] == f"/plans/{plan.id}/overview"
    assert "This fence holds" in plan.get("/overview").json()["html"]
    state = plan.get("/panel/ground").json()
    assert state["document"]["energizer"]
    plan.state = state
    assert plan.send("POST", "/undo").json()["document"]["runs"] == []


def test_what_is_missing_is_named_and_what_was_typed_stays(plan: PlanPage) -> None:
    html = asked(plan, depth_m="wide")
    assert "Depth: must be a number, such as 100" in html
    assert 'value="80"' in html
    assert "choose at least one kind" in asked(plan, kind_cow="")
    assert "Gates: -1; up to 20 are taken" in asked(plan, gates="-1")


def test_each_finding_has_its_fix_and_everything_is_mended_by_one_press(plan: PlanPage) -> None:
    plan.draw()
    made = plan.save(
        stock=[{"id": "c", "kind": "cow", "count": 5, "schooled": True}],
        energizer="mains_3",
        rods={"count": 1, "position": [-20, -20]},
        strands=[{"cm": 40}],
    )
    assert made.status_code == 200
    body = plan.get("/overview").json()
    assert "to fix before you buy" in body["html"]
    assert "Overview" in body["rail"]
    first = plan.get("/fix/0").json()["html"]
    assert "data-key" in first
    assert plan.get("/fix/99").status_code == 404
    whole = plan.get("/mended").json()["html"]
    key = re.search(r'data-key="([^"]+)"', whole)
    assert key
    assert plan.do("do_remedy", key=key[1].replace("&#43;", "+")).status_code == 200
    assert "to fix before you buy" not in plan.get("/overview").json()["html"]
