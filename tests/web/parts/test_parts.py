"""Parts on the page: own prices for this plan and the farm's next, files to take along."""

import io
import re

import openpyxl

from adze.core.build.parts import bill
from adze.core.plan.document import Plan
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
    assert "Load the trailer in this order" in panel


def shed(page: PlanPage) -> str:
    home = page.client.get("/").text
    numbers = [int(n) for n in re.findall(r'href="/farms/(\d+)/shed"', home)]
    return f"/farms/{max(numbers)}/shed"


def put(page: PlanPage, part: str, quantity: str) -> int:
    at = shed(page)
    data = {"csrf": word(page.client.get(at).text), "part": part, "quantity": quantity}
    return page.client.post(at, data=data).status_code


def test_what_the_shed_has_is_taken_and_not_bought(plan: PlanPage) -> None:
    plan.draw()
    before = bill(Plan.model_validate(plan.state["document"])).total
    assert put(plan, "End or corner post, 2.4 m, 15 cm", "5") == 303
    panel = said(plan.get("/panel/parts").json()["panel"])
    assert "take 3" in panel
    assert plan.do("take_from_shed", takes={"end_post": 2}).status_code == 200
    after = bill(Plan.model_validate(plan.state["document"]))
    assert after.total == before - 2 * 24
    page = said(plan.client.get(shed(plan)).text)
    assert re.search(r'<td class="n">5 piece</td>.*First line</a> 2.*<td class="n"> 3', page)


def test_a_shed_names_what_is_wrong_and_keeps_what_was_typed(plan: PlanPage) -> None:
    for part, quantity, words in (("Unicorn", "3", "is not in the list"), ("Warning sign", "-1", "0 removes it")):
        at = shed(plan)
        data = {"csrf": word(plan.client.get(at).text), "part": part, "quantity": quantity}
        answer = plan.client.post(at, data=data)
        assert answer.status_code == 422
        assert words in answer.text
        assert f'value="{part}"' in answer.text
    assert put(plan, "Warning sign", "4") == 303
    assert put(plan, "Warning sign", "0") == 303
    assert "The shed is empty" in plan.client.get(shed(plan)).text


def test_a_fence_taken_down_comes_back_to_the_shed(plan: PlanPage) -> None:
    plan.draw()
    home = plan.client.get("/").text
    plan.client.post(f"/plans/{plan.id}/taken-down", data={"csrf": word(home)})
    page = plan.client.get(shed(plan)).text
    assert "Steel T-post" in page
    assert not re.search(r"<td>(Concrete|Earth rod)", page)


def test_quotes_of_two_shops_stand_side_by_side(plan: PlanPage) -> None:
    plan.draw()
    for shop, price in (("North", 10), ("South", 30)):
        text = f"part,pack,price\nend_post,1,{price}"
        assert plan.do("bring_prices", text=text, shop=shop).status_code == 200
    panel = said(plan.get("/panel/parts").json()["panel"])
    assert "Shops side by side" in panel
    assert re.search(r"<b>\d+\.00</b></td> <td class=\"n\">\d+\.00", panel)
    assert plan.do("take_quote", shop="North").status_code == 200
    assert [row["price"] for row in plan.state["document"]["own_prices"]] == [10]
    for shop in ("East", "West"):
        plan.do("bring_prices", text="part,price\nend_post,9", shop=shop)
    refused = plan.do("bring_prices", text="part,price\nend_post,9", shop="Fifth")
    assert refused.status_code == 422
    assert "at most 4" in refused.text


def test_other_rods_gates_and_cheaper_things_say_what_is_lost(plan: PlanPage) -> None:
    plan.draw()
    piece = said(plan.client.get(f"/api/plans/{plan.id}/parts-otherwise").json()["html"])
    assert "Rods of Copper" in piece
    assert "hose clamp for: rod clamp" in piece


def test_a_paper_to_tick_has_no_prices_for_the_shop(plan: PlanPage) -> None:
    plan.draw()
    at = f"/plans/{plan.id}/paper/parts"
    assert "In all</b>" in plan.client.get(at).text
    assert "In all</b>" not in plan.client.get(f"{at}?prices=no").text


def test_a_shop_s_workbook_is_read_as_text_before_it_is_brought_in(plan: PlanPage) -> None:
    plan.draw()
    book = plan.client.get(f"/plans/{plan.id}/prices.xlsx").content
    sent = plan.client.post(f"/api/plans/{plan.id}/price-text", content=book, headers={"X-CSRF-Token": plan.csrf})
    text = sent.json()["text"]
    assert text.startswith("part,label,unit,pack,price,code")
    assert plan.state["document"]["own_prices"] == []
    assert plan.do("bring_prices", text=text).status_code == 200
    assert len(plan.state["document"]["own_prices"]) > 5
    wrong = plan.client.post(f"/api/plans/{plan.id}/price-text", content=b"PK0", headers={"X-CSRF-Token": plan.csrf})
    assert wrong.status_code == 422
    assert wrong.json()["faults"][0]["path"] == "bring_prices.text"


def test_a_list_beside_a_kit(plan: PlanPage) -> None:
    plan.draw()
    told = said(plan.get("/kit?kit=hives").json()["html"])
    assert "This fence leaves out" in told
    assert "In both, per 100 m" in told
    assert plan.get("/kit?kit=castle").status_code == 422


def test_a_unit_of_the_shed_is_tried_on_every_plan_of_the_farm(plan: PlanPage) -> None:
    plan.draw()
    plan.save(stock=[{"id": "e", "kind": "ewe", "schooled": True}])
    at = shed(plan)
    plan.client.post(at, data={"csrf": word(plan.client.get(at).text), "part": "Mains 3 J", "quantity": "1"})
    assert "Where would it be enough?" in plan.client.get(at).text
    told = said(plan.client.get(f"{at}/unit", params={"part": "Mains 3 J"}).text)
    assert plan.state["document"]["name"] in told
    assert re.search(r"\d+ %</td>", told)
    wrong = plan.client.get(f"{at}/unit", params={"part": "strainer"})
    assert wrong.status_code == 422
    assert "is not an energizer" in wrong.text
