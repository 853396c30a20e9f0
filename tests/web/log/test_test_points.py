"""Fixed test points: proposed at Ground, asked for in the Log."""

from tests.web.conftest import PlanPage, said


def test_points_that_are_set_are_one_tap_away_when_a_reading_is_logged(plan: PlanPage) -> None:
    plan.draw()
    assert "Set the test points" in plan.get("/panel/ground").json()["panel"]
    assert plan.do("do_remedy", key="tests").status_code == 200
    points = [f for f in plan.state["document"]["fixtures"] if f["kind"] == "test"]
    assert points
    page = plan.client.get(f"/plans/{plan.id}/log/reading").text
    assert all(point["name"] in said(page) for point in points)
    last = points[-1]
    at = plan.client.get(f"/plans/{plan.id}/log/reading?run={last['run']}&at_m={last['at_m']:g}").text
    assert 'aria-current="true"' in at
