"""The five questions, the proposals and the overview over HTTP."""

import re

import pytest

from tests.web.conftest import PlanPage

ANSWERS = {
    "kind_cow": "on",
    "count_cow": "5",
    "trained_cow": "on",
    "shape": "rectangle",
    "width_m": "80",
    "depth_m": "60",
}


def asked(plan: PlanPage, **answers: str) -> str:
    data = ANSWERS | answers | {"csrf": plan.csrf}
    return str(plan.client.post(f"/plans/{plan.id}/start", data=data, follow_redirects=True).text)


def proposed(plan: PlanPage, **answers: str) -> str:
    """The proposals that a script fetches once the page is there."""
    page = asked(plan, **answers)
    assert "Designing this fence" in page
    brief = re.search(r'data-brief="([^"]+)"', page)
    assert brief
    return str(plan.get(f"/proposals?brief={brief[1]}").json()["html"])


def test_a_new_plan_opens_at_the_questions_and_a_drawn_one_at_its_overview(plan: PlanPage) -> None:
    blank = plan.client.get(f"/plans/{plan.id}", follow_redirects=False)
    assert blank.headers["location"] == f"/plans/{plan.id}/start"
    plan.draw()
    drawn = plan.client.get(f"/plans/{plan.id}", follow_redirects=False)
    assert drawn.headers["location"] == f"/plans/{plan.id}/overview"


def test_a_proposal_is_taken_as_one_step_that_undo_brings_back(plan: PlanPage) -> None:
    html = proposed(plan)
    assert "The cheapest that holds" in html
    brief = re.search(r'name="brief" value="([^"]+)"', html)
    assert brief
    data = {"brief": brief[1], "proposal": "cheapest", "csrf": plan.csrf}
    taken = plan.client.post(f"/plans/{plan.id}/design", data=data)
    assert taken.headers["location"] == f"/plans/{plan.id}/overview"
    assert "This fence holds" in plan.get("/overview").json()["html"]
    state = plan.get("/panel/ground").json()
    assert state["document"]["energizer"]
    plan.state = state
    assert plan.send("POST", "/undo").json()["document"]["runs"] == []


def test_what_is_missing_is_named_and_what_was_typed_stays(plan: PlanPage) -> None:
    html = asked(plan, depth_m="wide")
    assert "Depth: &#39;wide&#39; is not understood" in html
    assert re.search(r'name="depth_m"[^>]*aria-invalid="true"', html)
    assert 'value="80"' in html
    assert "Choose at least one kind" in asked(plan, kind_cow="")


@pytest.mark.parametrize(
    ("answers", "field", "words"),
    [
        ({"gates": "-1"}, "gates", "Gates: -1; a whole number from 0 to 20 is taken."),
        ({"width_m": "0"}, "width_m", "Width: must be 2 m or more."),
        ({"count_cow": "2.5"}, "count_cow", "a whole number, such as 4"),
        ({"count_cow": "0"}, "count_cow", "must be 1 or more"),
        ({"shape": "area", "area_ha": "1e9"}, "area_ha", "must be 2000 or less"),
        ({"shape": "area", "area_ha": "nan"}, "area_ha", "must be a number"),
        ({"shape": "draw", "corners": ""}, "", "set two corners or more"),
        ({"shape": "draw", "corners": "[[0,0],["}, "", "The drawing arrived incomplete."),
        ({"shape": "draw", "corners": "[[0,0],[0,0]]", "gates": "0", "beside": "on"}, "", "in one place"),
        ({"gate_width_m": "0"}, "gate_width_m", "Gate width: must be 0.5 m or more."),
        ({"shape": "hive", "round_count": "2.5"}, "round_count", "a whole number, such as 4"),
        ({"shape": "map"}, "", "Nothing is drawn on the map yet"),
        (
            {"kind_hen": "on", "width_m": "3000", "depth_m": "2000"},
            "",
            "600 ha of netting is more than anybody puts up",
        ),
        (
            {"supply": "own", "stored_j": "1", "released_j": "9", "open_kv": "8", "kv_500": "5"},
            "released_j",
            "cannot come from",
        ),
        ({"rock_m": "-3"}, "rock_m", "Rock: must be 0.1 m or more."),
    ],
)
def test_a_wrong_answer_is_told_at_its_input(plan: PlanPage, answers: dict[str, str], field: str, words: str) -> None:
    html = asked(plan, **answers)
    assert html.count('data-test="fault"') == 1
    assert words in html
    if field:
        assert re.search(rf'name="{field}"[^>]*aria-invalid="true"', html)


def test_a_drawn_shape_and_the_lines_of_the_map_are_designed(plan: PlanPage) -> None:
    corners = "[[0,0],[90,0],[60,80],[0,0]]"
    assert "The cheapest that holds" in proposed(plan, shape="draw", corners=corners)
    plan.draw()
    assert "The lines on the map" in plan.client.get(f"/plans/{plan.id}/start").text
    assert 'data-test="proposal"' in proposed(plan, shape="map")


def test_feet_and_acres_are_taken_where_the_plan_has_them(plan: PlanPage) -> None:
    plan.save(units="imperial")
    assert "acres" in plan.client.get(f"/plans/{plan.id}/start").text
    html = asked(plan, width_m="5", depth_m="300")
    assert "Width: must be 6.56 ft or more." in html  # 5 ft are 1.52 m


def test_a_broken_address_of_a_design_says_so(plan: PlanPage) -> None:
    for word in ("x", "eJwDAAAAAAE="):
        html = plan.get(f"/proposals?brief={word}").json()["html"]
        assert "Change the answers" in html
        assert 'data-test="proposal"' not in html


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
    assert "data-mend" in first
    assert plan.get("/fix/99").status_code == 404
    # Build, Log and Trace have no verdict of their own.
    assert [plan.get(f"/stages/{stage}/fix").json()["html"] for stage in ("build", "log", "trace")] == [""] * 3
    whole = plan.get("/mended").json()["html"]
    key = re.search(r'data-mend="([^"]+)"', whole)
    assert key
    assert plan.do("do_remedy", key=key[1].replace("&#43;", "+")).status_code == 200
    assert "to fix before you buy" not in plan.get("/overview").json()["html"]


@pytest.mark.parametrize("usual", ["hives", "nest", "trees", "horses", "netting", "apart", "brackets", "spine"])
def test_a_usual_fence_fills_in_the_answers(plan: PlanPage, usual: str) -> None:
    html = plan.client.get(f"/plans/{plan.id}/start?usual={usual}").text
    answers = dict(re.findall(r'<input[^>]*name="(\w+)"[^>]*value="([^"]*)"[^>]*checked', html))
    typed = dict(re.findall(r'<input name="(\w+)"[^>]*value="([^"]*)"', html))
    counts = dict(re.findall(r'name="(count_\w+)"[^>]*value="(\d+)"', html.replace("\n", " ")))
    assert any(name.startswith("kind_") for name in answers)
    page = plan.client.post(
        f"/plans/{plan.id}/start", data=typed | answers | counts | {"csrf": plan.csrf}, follow_redirects=True
    )
    assert "Designing this fence" in page.text


def test_a_usual_fence_that_is_not_known_is_not_there(plan: PlanPage) -> None:
    assert plan.client.get(f"/plans/{plan.id}/start?usual=moat").status_code == 404
