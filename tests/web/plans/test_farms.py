"""What one owns: renamed, taken off and back, taken out whole."""

import io
import json
import re
import zipfile

import pytest
from fastapi.testclient import TestClient

from adze.formats.plan.plan_file import read_plan_document
from adze.settings import Settings
from adze.web.app import create_app
from tests.web.conftest import PlanPage, said, word
from tests.web.plans.test_ground import keep, picture


def farm_ids(client: TestClient) -> list[str]:
    return re.findall(r'data-test="farm-(\d+)"', client.get("/").text)


def test_a_farm_is_renamed_and_a_bad_name_is_told(demo: TestClient) -> None:
    csrf, farm = word(demo.get("/").text), farm_ids(demo)[0]
    assert demo.post(f"/farms/{farm}/rename", data={"csrf": csrf, "name": "North end"}).status_code == 303
    assert "North end" in demo.get("/").text
    money = demo.post(f"/farms/{farm}/rename", data={"csrf": csrf, "name": "North end", "currency": "EUR"})
    assert money.status_code == 303
    assert 'value="EUR"' in demo.get("/").text
    zone = {"csrf": csrf, "name": "North end", "time_zone": "Pacific/Auckland"}
    assert demo.post(f"/farms/{farm}/rename", data=zone).status_code == 303
    assert 'value="Pacific/Auckland"' in demo.get("/").text
    nowhere = demo.post(f"/farms/{farm}/rename", data=zone | {"time_zone": "Farm/Yard"})
    assert "choose one of the list" in nowhere.text
    long = demo.post(f"/farms/{farm}/rename", data={"csrf": csrf, "name": "North end", "currency": "doubloons"})
    assert "at most 6 letters" in long.text
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


def bring_in(client: TestClient, content: bytes, name: str = "adze.zip") -> str:
    data = {"csrf": word(client.get("/account").text)}
    return said(client.post("/account/everything", data=data, files={"file": (name, content)}).text)


def test_everything_goes_into_another_account_whole(plan: PlanPage, settings: Settings) -> None:
    plan.draw()
    number = keep(plan, picture()).json()["id"]
    note = {"id": "n", "name": "Gate", "at": [1, 1], "text": "=sag", "photos": [number]}
    assert plan.save(notes=[note]).status_code == 200
    reading = {"run": "line1", "at_m": "10", "strand": "1", "kv": "5.5", "amps": "2", "season": "dry", "note": "=low"}
    assert plan.client.post(f"/plans/{plan.id}/log/reading", data={"csrf": plan.csrf, **reading}).status_code == 303
    out = plan.client.get("/everything.zip").content
    with TestClient(create_app(settings), follow_redirects=False) as other:
        other.post("/demo", data={"csrf": word(other.get("/sign-in").text)})
        assert "4 farms, 4 plans" in bring_in(other, out)
        assert {"Vine Steps", "Vine Steps 2"} <= set(re.findall(r'aria-label="([^"]+)"', other.get("/").text))
        brought = contents(other)
        mine, theirs = (
            next(plan for name, plan in rows.items() if name.startswith("Farm ") and name.endswith("plan.json"))
            for rows in (contents(plan.client), brought)
        )
        mine, theirs = json.loads(mine), json.loads(theirs)
        photo = theirs["notes"][0].pop("photos")[0]
        assert photo != mine["notes"][0].pop("photos")[0]
        assert mine == theirs
        readings = next(rows for name, rows in brought.items() if name.startswith("Farm ") and "readings" in name)
        assert b"'=low" in readings
        assert b",5.5,2.0," in readings
        assert any(f"({photo})" in name for name in brought)


def contents(client: TestClient) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(client.get("/everything.zip").content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def made(**entries: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in entries.items():
            archive.writestr(name, content)
    return out.getvalue()


def test_what_is_no_such_file_is_said_and_leaves_nothing(plan: PlanPage) -> None:
    before = farm_ids(plan.client)
    document = json.dumps(plan.state["document"])
    for content, says in (
        (b"", "Adze did not write that file"),
        (made(**{"F (1)/P (1)/plan.json": document * 9})[:-400] + b"x" * 400, "Adze did not write that file"),
        (b"PK nonsense", "Adze did not write that file"),
        (made(**{"README.txt": "x"}), "no plan is in that file"),
        (made(**{"F (1)/P (1)/plan.json": "[" + "[]," * 20_000_000 + "[]]"}), "unpacks to 60 MB, at most 12 MB"),
        (made(**{"F (1)/P (1)/plan.json": "[" + "[]," * 1_000_000 + "[]]"}), "more than 2,000,000 values"),
        (made(**{f"F (1)/P ({i})/plan.json": " " * 11_999_999 for i in range(11)}), "unpack to more than 120 MB"),
        (made(**{"F (1)/P (1)/plan.json": document, "F (1)/P (1)/readings.csv": "a\n" * 200_002}), "200,000 rows"),
        (made(**{"F (1)/P (1)/plan.json": "{"}), "is not JSON"),
        (made(**{"F (1)/P (1)/plan.json": '{"format": "adze-plan", "version": 3}'}), "name"),
        (
            made(**{"F (1)/P (1)/plan.json": document, "F (1)/P (1)/readings.csv": "run,at_m\nline1,x"}),
            "row of the log",
        ),
    ):
        assert says in bring_in(plan.client, content), says
    assert "Choose the file" in bring_in(plan.client, b"", "")
    assert farm_ids(plan.client) == before


def test_an_option_keeps_its_pictures(plan: PlanPage) -> None:
    plan.draw()
    kept = keep(plan, picture()).json()
    note = {"id": "n", "name": "Gate", "at": [1, 1], "photos": [kept["id"]]}
    assert plan.save(notes=[note]).status_code == 200
    made = plan.client.post(f"/plans/{plan.id}/copy", data={"csrf": plan.csrf})
    option = PlanPage(plan.client, int(made.headers["location"].split("/")[2]))
    photo = option.state["document"]["notes"][0]["photos"][0]
    assert photo != kept["id"]
    assert option.client.get(f"/plans/{option.id}/pictures/{photo}").status_code == 200


def test_as_much_as_an_account_may_keep(plan: PlanPage, monkeypatch: pytest.MonkeyPatch) -> None:
    csrf = plan.csrf
    assert "You keep 4 of at most 2,000 plans" in said(plan.client.get("/account").text)
    monkeypatch.setattr("adze.services.limits.quotas.MOST_PLANS", 4)
    refused = plan.client.post("/farms", data={"csrf": csrf, "name": "One more"})
    assert refused.status_code == 422
    assert "the most allowed" in refused.text
    monkeypatch.setattr("adze.services.limits.quotas.MOST_BYTES", 10)
    full = keep(plan, picture())
    assert full.status_code == 422
    assert "Delete pictures or plans" in full.json()["message"]
