"""What one owns: renamed, taken off and back, taken out whole."""

import io
import json
import re
import zipfile

from fastapi.testclient import TestClient

from adze.formats.plan_file import read_plan_document
from tests.web.conftest import PlanPage, said, word
from tests.web.test_ground import keep, picture


def farm_ids(client: TestClient) -> list[str]:
    return re.findall(r'data-test="farm-(\d+)"', client.get("/").text)


def test_a_farm_is_renamed_and_a_bad_name_is_told(demo: TestClient) -> None:
    csrf, farm = word(demo.get("/").text), farm_ids(demo)[0]
    assert demo.post(f"/farms/{farm}/rename", data={"csrf": csrf, "name": "North end"}).status_code == 303
    assert "North end" in demo.get("/").text
    assert "a farm of that name" in demo.post(f"/farms/{farm}/rename", data={"csrf": csrf, "name": "Vine Steps"}).text
    assert "1 to 80" in demo.post(f"/farms/{farm}/rename", data={"csrf": csrf, "name": " "}).text
    assert demo.post("/farms/999999/rename", data={"csrf": csrf, "name": "Mine"}).status_code == 404


def test_a_farm_taken_off_is_gone_until_it_is_taken_back(demo: TestClient, reach: str) -> None:
    csrf, farm = word(demo.get("/").text), farm_ids(demo)[0]
    assert demo.post(f"/farms/{farm}/removal/take-off", data={"csrf": csrf}).status_code == 303
    assert farm not in farm_ids(demo)
    assert "Taken off" in demo.get("/").text
    assert demo.get(f"{reach}/ground").status_code == 404
    assert demo.post(f"/farms/{farm}/plans", data={"csrf": csrf}).status_code == 404
    assert demo.post(f"/farms/{farm}/removal/take-back", data={"csrf": csrf}).status_code == 303
    assert farm in farm_ids(demo)
    assert demo.get(f"{reach}/ground").status_code == 200


def test_a_plan_taken_off_takes_no_writes(plan: PlanPage) -> None:
    plan.draw()
    address = f"/plans/{plan.id}/removal"
    assert plan.client.post(f"{address}/take-off", data={"csrf": plan.csrf}).status_code == 303
    assert plan.save(soil="sandy_loam").status_code == 404
    assert f"/plans/{plan.id}/removal/take-back" in plan.client.get("/").text
    assert plan.client.post(f"{address}/take-back", data={"csrf": plan.csrf}).status_code == 303
    assert plan.client.get(f"/plans/{plan.id}/ground").status_code == 200
    assert plan.client.post("/plans/999999/removal/take-off", data={"csrf": plan.csrf}).status_code == 404


def test_everything_comes_out_in_one_file(plan: PlanPage) -> None:
    plan.draw()
    assert keep(plan, picture()).status_code == 200
    answer = plan.client.get("/everything.zip")
    assert answer.headers["content-type"] == "application/zip"
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        names = archive.namelist()
        plans = [name for name in names if name.endswith("plan.json")]
        assert len(plans) == 4
        for name in plans:
            read_plan_document(json.loads(archive.read(name)))
        assert sum(name.endswith("fence.geojson") for name in names) == 4
        readings = next(name for name in names if name.endswith("readings.csv"))
        assert archive.read(readings).startswith(b"run,at_m,strand,kv")
        assert any(name.endswith(".jpg") for name in names)


def test_the_account_page_offers_it(demo: TestClient) -> None:
    assert "Everything as one file" in said(demo.get("/account").text)
