"""Parts on the page: own prices for this plan and the farm's next, files to take along."""

import io
import re

import openpyxl

from tests.web.conftest import PlanPage, said, word


def test_own_prices_are_paid_and_the_farm_s_next_plan_has_them(plan: PlanPage) -> None:
    plan.draw()
    assert "Prices are made up." in said(plan.get("/panel/parts").json()["panel"])
    answer = plan.do("bring_prices", text="part,pack,price,code\nend_post,1,10,E-7")
    assert answer.status_code == 200
    panel = said(plan.get("/panel/parts").json()["panel"])
    assert "prices are your own; those marked ~ are made up" in panel
    assert "E-7" in panel
    home = plan.client.get("/").text
    newest = max(int(number) for number in re.findall(r'action="/farms/(\d+)/plans"', home))
    made = plan.client.post(f"/farms/{newest}/plans", data={"csrf": word(home)})
    after = PlanPage(plan.client, int(made.headers["location"].split("/")[2]))
    assert [row["code"] for row in after.state["document"]["own_prices"]] == ["E-7"]


def test_a_wrong_price_list_names_its_line_and_changes_nothing(plan: PlanPage) -> None:
    plan.draw()
    answer = plan.do("bring_prices", text="part,price\nend_post,10\nend_post,11")
    assert answer.status_code == 422
    assert "line 3" in answer.text
    assert plan.state["document"]["own_prices"] == []


def test_lists_to_take_along(plan: PlanPage) -> None:
    plan.draw()
    at = f"/plans/{plan.id}"
    assert plan.client.get(f"{at}/prices.csv").text.startswith("part,label,unit,pack,price,code")
    book = openpyxl.load_workbook(io.BytesIO(plan.client.get(f"{at}/parts.xlsx").content))
    assert book["All"].max_row > 5
    panel = said(plan.get("/panel/parts").json()["panel"])
    assert "Cut list" in panel
    assert "Line by line" in panel
