"""Earth by its addresses: what rods cost, options, rules, laying out, soil from pins, the test, stray volts."""

import re
from typing import Any

import pytest

from tests.web.conftest import PlanPage, said

EWES = [{"id": "e", "kind": "ewe", "schooled": True}]
TROUGH = {"id": "t", "kind": "trough", "name": "Low trough", "points": [[60, -30]]}


@pytest.fixture
def farm(plan: PlanPage) -> PlanPage:
    plan.draw()
    rods = {"count": 3, "position": [0, -40]}
    assert (
        plan.save(stock=EWES, soil="clay_loam", energizer="mains_6", rods=rods, landmarks=[TROUGH]).status_code == 200
    )
    return plan


def html(plan: PlanPage, path: str) -> str:
    answer = plan.get(path)
    assert answer.status_code == 200, answer.text
    found: str = answer.json()["html"]
    return found


def post(plan: PlanPage, path: str, **data: str) -> Any:
    return plan.client.post(f"/plans/{plan.id}/{path}", data={"csrf": plan.csrf, **data})


def test_what_the_rods_cost_what_the_next_buys_and_the_rules(farm: PlanPage) -> None:
    here = html(farm, "/earth")
    assert "Driest" in here
    assert "ringed: yours" in here
    rules = html(farm, "/rod-schools")
    assert rules.count('class="school') == 8
    assert "By Adze" in rules
    options = html(farm, "/earth-options")
    assert "Add 2 rods" in options
    taken = farm.do("take_earth_option", key="more-2")
    assert taken.status_code == 200
    assert farm.state["document"]["rods"]["count"] == 5
    assert farm.do("take_earth_option", key="gold").status_code == 422


def test_earth_pieces_say_what_is_missing(plan: PlanPage) -> None:
    for path in ("/earth", "/rod-schools", "/earth-options"):
        assert plan.get(path).status_code == 422
    assert "Place the rods" in html(plan, "/stray")
    page = plan.client.get(f"/plans/{plan.id}/earth-test")
    assert "No fence is drawn" in page.text


def test_rods_are_laid_in_a_row_a_ring_one_by_one_and_where_it_is_proposed(farm: PlanPage) -> None:
    assert farm.do("lay_rods", how="row", points=[[10, -30], [10, -60]]).status_code == 200
    rods = farm.state["document"]["rods"]
    assert rods["position"] == [10, -30]
    assert rods["bearing_deg"] == 180
    assert farm.state["forecast"]["ground"]["rods"] == [[10, -30], [10, -33], [10, -36]]
    assert farm.do("lay_rods", how="one", points=[[10.5, -36.2]]).status_code == 200
    spots = farm.state["forecast"]["ground"]["rods"]
    assert len(spots) == 4
    assert min((spots[3][0] - x) ** 2 + (spots[3][1] - y) ** 2 for x, y in spots[:3]) >= 8.9
    assert farm.do("lay_rods", how="ring", points=[[0, -40]]).status_code == 200
    assert farm.state["document"]["rods"]["layout"] == "ring"
    assert farm.do("lay_rods", how="along", points=[[100, 0], [120, 0]]).status_code == 200
    assert farm.do("lay_rods", how="monitor", points=[[60, -60]]).status_code == 200
    assert "rod that watches" in html(farm, "/earth")
    sites = farm.get("/rod-sites").json()
    assert sites["proposed"]
    assert farm.do("lay_rods", how="site", site=0).status_code == 200
    assert farm.do("lay_rods", how="row", points=[[1, 1], [1, 1]]).status_code == 422
    assert farm.do("lay_rods", how="row").status_code == 422
    assert farm.do("lay_rods", how="site", site=9).status_code == 422


def test_pins_teach_the_soil_in_one_layer_or_two(farm: PlanPage) -> None:
    assert farm.do("test_soil", kind="four", text="1 15.9\n2 8\n4 4").status_code == 200
    assert farm.state["document"]["soil_ohm_m"] == pytest.approx(100, rel=0.02)
    assert farm.do("test_soil", kind="four", text="0.5 31\n1 14\n2 5\n4 1.2\n8 0.4").status_code == 200
    assert farm.state["document"]["subsoil"]["depth_m"] > 0.5
    assert farm.do("test_soil", kind="rod", text="47").status_code == 200
    assert farm.state["document"]["soil_ohm_m"] == pytest.approx(100, rel=0.02)
    assert farm.state["document"]["subsoil"] is None
    assert farm.do("test_soil", kind="four", text="2 m, 8").status_code == 200
    for text, says in (
        ("", "at least one"),
        ("2 x", "not a number"),
        ("2", "not a spacing"),
        ("2 1e9", "soils lie between"),
    ):
        refused = farm.do("test_soil", kind="four", text=text)
        assert refused.status_code == 422
        assert says in refused.json()["message"]


def test_an_earth_test_from_the_sheet_to_the_mend(farm: PlanPage) -> None:
    sheet = farm.client.get(f"/plans/{farm.id}/earth-test?season=dry&peg=5 m").text
    assert "steel stake" in sheet
    assert "5 m</b> past the last rod" in sheet.replace("5.0 m", "5 m")
    typed = {"run": "line1", "at_m": "100 m", "season": "dry", "rods_kv": "1.1", "fence_kv": "1.4", "peg": "5 m"}
    assert "Not tested in a driest week, nor in a wettest" in farm.get("/panel/earth").json()["panel"]
    kept = post(farm, "earth-test", **typed)
    assert kept.status_code == 303
    page = farm.client.get(kept.headers["location"]).text
    assert "The last test" in page
    assert "Not tested in a wettest week for a year" in said(farm.get("/panel/earth").json()["panel"])
    more = re.search(r'name="rods"\s+value="(\d+)"', page)
    assert more
    assert int(more[1]) > 3
    assert post(farm, "earth-test/mend", rods=more[1]).status_code == 303
    farm.state = farm.get("/panel/earth").json()
    assert farm.state["document"]["rods"]["count"] == int(more[1])
    learn = re.search(r'name="learn"\s+value="(\d+)"', farm.client.get(f"/plans/{farm.id}/earth-test").text)
    assert learn
    assert post(farm, "earth-test/mend", learn=learn[1]).status_code == 303
    farm.state = farm.get("/panel/earth").json()
    assert farm.state["document"]["calibration"]["soil_factor"] > 1
    again = post(farm, "earth-test", **(typed | {"rods_kv": "0.5", "read_on": "2026-01-05"}))
    assert again.status_code == 303
    assert "2026-01-05" in farm.client.get(f"/plans/{farm.id}/earth-test").text


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"rods_kv": "19"}, "cannot be at 19 kV"),
        ({"rods_kv": ""}, "kV at the rods: write a number"),
        ({"fence_kv": "0"}, "the energizer is off"),
        ({"fence_kv": "4", "before_kv": "3"}, "more than the 3 kV before it"),
        ({"rods_kv": "6", "before_kv": "5"}, "above the fence"),
        ({"peg": "wide"}, "Peg:"),
        ({"peg": "0.1 m"}, "between 0.3 and 200 m"),
        ({"at_m": "9999 m"}, "Shorted at"),
        ({"run": "gone"}, "Choose the line"),
        ({"read_on": "2099-01-01"}, "future"),
        ({"tester": "multimeter"}, "Never a multimeter"),
    ],
)
def test_readings_that_cannot_be_are_refused_and_stay_as_typed(
    farm: PlanPage, change: dict[str, str], says: str
) -> None:
    typed = {"run": "line1", "at_m": "100 m", "season": "dry", "rods_kv": "0.7", "fence_kv": "1.4", "peg": "10 m"}
    page = post(farm, "earth-test", **(typed | change | {"note": "after rain"}))
    assert page.status_code == 422
    assert says in page.text
    assert 'value="after rain"' in page.text


def test_stray_volts_are_computed_and_kept_beside_what_was_read(farm: PlanPage) -> None:
    assert "Low trough" in html(farm, "/stray")

    def read(**body: str) -> Any:
        return farm.client.post(f"/api/plans/{farm.id}/stray", json=body, headers={"X-CSRF-Token": farm.csrf})

    kept = read(landmark="t", volts="300", season="wet")
    assert kept.status_code == 200
    assert "licensed electrician" in kept.json()["html"]
    assert read(landmark="gone", volts="1").status_code == 422
    assert read(landmark="t", volts="many").json()["faults"][0]["path"] == "stray.volts"


def test_strangers_see_no_earth_test(farm: PlanPage) -> None:
    farm.client.cookies.clear()
    assert farm.client.get(f"/plans/{farm.id}/earth-test").status_code in (303, 404)
