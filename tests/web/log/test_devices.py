"""Devices: a token of their own, batches kept once, clocks set right, alarms told, a made-up year."""

import re
from datetime import UTC, datetime, timedelta
from threading import Thread
from typing import Any

import pytest
import uvicorn
from fastapi.testclient import TestClient

from adze.core.ground.places import Place
from adze.demo.farms import HALLOW_REACH
from adze.services.log.devices import watch_all
from adze.settings import Settings
from adze.standins.monitor import MonitorReading, send, year
from adze.store.messages.mails import list_mails
from adze.web.app import create_app
from tests.web.conftest import PlanPage, said


def make(plan: PlanPage, **body: Any) -> Any:
    return plan.client.post(
        f"/api/plans/{plan.id}/devices", json={"name": "Shed"} | body, headers={"X-CSRF-Token": plan.csrf}
    )


def post(client: TestClient, token: str, *rows: dict[str, Any], **more: Any) -> Any:
    body = {"readings": list(rows)} | more
    return client.post("/api/devices/readings", json=body, headers={"Authorization": f"Bearer {token}"})


def at(minutes: float) -> str:
    return (datetime.now(UTC) - timedelta(minutes=minutes)).isoformat()


def panel(plan: PlanPage) -> str:
    return said(plan.get("/panel/log").json()["panel"])


@pytest.fixture
def token(plan: PlanPage) -> str:
    plan.draw()
    answer = make(plan, alarm_kv="2.5")
    assert answer.status_code == 200, answer.text[:300]
    return str(answer.json()["token"])


def test_a_batch_is_kept_once_however_often_it_is_sent(plan: PlanPage, token: str) -> None:
    rows = [{"at": at(20 - k), "kv": 6.0 + k / 10, "amps": 3.0, "battery_v": 12.6} for k in range(10)]
    first = post(plan.client, token, *rows).json()
    assert (first["kept"], first["known"], first["refused"]) == (10, 0, [])
    again = post(plan.client, token, *rows, *rows[:2]).json()
    assert (again["kept"], again["known"]) == (0, 12)
    page = panel(plan)
    assert "<b>6.9 kV</b>, 3 A, battery 12.6 V" in page
    assert 'class="trend"' in page


def test_a_clock_that_is_wrong_by_a_day_is_set_right(plan: PlanPage, token: str) -> None:
    ahead = datetime.now(UTC) + timedelta(days=1)
    answer = post(plan.client, token, {"at": ahead.isoformat(), "kv": 6.0}, sent_at=ahead.isoformat()).json()
    assert answer["kept"] == 1
    assert answer["clock_off_s"] == pytest.approx(-86400, abs=5)
    refused = post(plan.client, token, {"at": "2049-01-01T00:00:00Z", "kv": 6.0}).json()
    assert "in the future" in refused["refused"][0]["why"]


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ({"kv": 1e9}, "kv: 1e+09 is not from 0 to 20"),
        ({"kv": -1}, "kv: -1 is not"),
        ({"kv": 5, "amps": 9000}, "amps: 9000"),
        ({"kv": 5, "at": "2001-01-01T00:00:00Z"}, "days ago"),
    ],
)
def test_one_bad_row_is_refused_and_the_others_are_kept(
    plan: PlanPage, token: str, row: dict[str, Any], says: str
) -> None:
    answer = post(plan.client, token, {"at": at(5), "kv": 6.0}, {"at": at(4)} | row).json()
    assert answer["kept"] == 1
    assert answer["refused"][0]["row"] == 1
    assert says in answer["refused"][0]["why"]


def test_without_a_token_or_with_another_nothing_is_kept(plan: PlanPage, token: str) -> None:
    row = {"at": at(1), "kv": 6.0}
    assert plan.client.post("/api/devices/readings", json={"readings": [row]}).status_code == 401
    assert post(plan.client, token + "x", row).status_code == 401
    assert post(plan.client, token).status_code == 422  # no reading at all
    device = panel(plan).split('data-device-removed="')[1].split('"')[0]
    body = {"device": int(device)}
    plan.client.post(f"/api/plans/{plan.id}/devices/remove", json=body, headers={"X-CSRF-Token": plan.csrf})
    assert post(plan.client, token, row).status_code == 401


def test_an_alarm_goes_to_the_page_and_is_over_again(plan: PlanPage, token: str) -> None:
    post(plan.client, token, *({"at": at(60 - 10 * k), "kv": 6.0} for k in range(3)))
    assert 'data-test="alarm"' not in panel(plan)
    post(plan.client, token, {"at": at(10), "kv": 1.2}, {"at": at(8), "kv": 1.1})
    page = panel(plan)
    assert 'data-test="alarm"' in page
    assert "1.1 kV, below 2.5 kV" in page
    assert "<b>Alarm:</b> Shed low since" in plan.client.get("/").text
    post(plan.client, token, {"at": at(4), "kv": 6.0}, {"at": at(2), "kv": 6.1})
    page = panel(plan)
    assert 'data-test="alarm"' not in page
    assert "Alarms before: 1.1 kV, below 2.5 kV" in page
    assert "<b>Alarm:</b> Shed low" not in plan.client.get("/").text


def test_silence_is_told_once_by_mail_and_stays_on_the_page(client: TestClient, owner: str) -> None:
    made = client.post("/farms", data={"csrf": _csrf(client), "name": "Silent farm"})
    plan = PlanPage(client, int(made.headers["location"].split("/")[2]))
    plan.draw()
    token = make(plan, name="Far sensor", run="line1", at_m="300").json()["token"]
    store, jobs = client.app.state.store, client.app.state.jobs  # type: ignore[attr-defined]
    with store.begin_transaction() as connection:
        connection.execute("UPDATE account SET mail = 'ann@farm.example' WHERE login = %s", (owner,))
    post(client, token, {"at": at(2), "kv": 6.0}, {"at": at(1), "kv": 6.0})

    def told() -> list[str]:
        with store.begin_transaction() as connection:
            return [m.body for m in list_mails(connection, most=50) if m.subject == "Fence: Far sensor"]

    later = datetime.now(UTC) + timedelta(hours=3)
    watch_all(store.begin_transaction, jobs, now=datetime.now(UTC))
    assert told() == []
    watch_all(store.begin_transaction, jobs, now=later)
    watch_all(store.begin_transaction, jobs, now=later + timedelta(minutes=5))
    assert len(told()) == 1
    assert "nothing heard for 3 hours" in told()[0]
    assert "nothing heard for 3 hours" in panel(plan)


def _csrf(client: TestClient) -> str:
    return client.get("/").text.split('name="csrf" value="')[1].split('"')[0]


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"name": " "}, "write 1 to 60 characters"),
        ({"run": "line9"}, "choose one of this plan"),
        ({"run": "line1", "at_m": "99999"}, "m long"),
        ({"alarm_kv": "90"}, "must lie between 0 and 20"),
        ({"silent_min": "1"}, "at least 10 minutes"),
        ({"quiet_from": "late"}, "is not a time such as 22:00"),
    ],
)
def test_a_device_that_cannot_be_is_said(plan: PlanPage, body: dict[str, str], says: str) -> None:
    plan.draw()
    answer = make(plan, **body)
    assert answer.status_code == 422
    assert says in answer.text


def test_where_a_device_is_is_told_in_the_units_of_the_plan(plan: PlanPage) -> None:
    plan.draw()
    plan.save(units="imperial")
    assert "Feet along" in panel(plan)
    assert "Metres along" not in panel(plan)
    assert make(plan, run="line1", at_m="1000").status_code == 200
    assert "1,000 ft" in panel(plan)
    refused = make(plan, run="line1", at_m="2400")
    assert "Feet along: First line is 2,297 ft long" in refused.text


def test_a_made_up_year_has_faults_that_show_and_cuts() -> None:
    plan = HALLOW_REACH.plan
    end = datetime(2027, 10, 1, 12, tzinfo=UTC)
    rows, hidden, cuts = year(plan, Place(plan.runs[0].id, 0.0), 120, 3, end)
    assert len(rows) > 2800
    assert cuts
    assert hidden
    well = sorted(row.kv for row in rows)[len(rows) // 2]
    for fault in hidden:
        own = [row.kv for row in rows if fault.since < row.at < fault.until]
        assert not own or min(own) < 0.95 * well
    assert rows == year(plan, Place(plan.runs[0].id, 0.0), 120, 3, end)[0]


def test_the_stand_in_speaks_over_the_wire(settings: Settings) -> None:
    app = create_app(settings)
    with TestClient(app, follow_redirects=False) as client:
        csrf = client.get("/sign-in").text.split('name="csrf" value="')[1].split('"')[0]
        client.post("/demo", data={"csrf": csrf})
        plan = PlanPage(client, int(client.get("/").text.split('href="/plans/')[1].split('"')[0]))
        token = make(plan, name="Monitor").json()["token"]
        server = uvicorn.Server(uvicorn.Config(app, port=0, log_level="error", lifespan="off"))
        thread = Thread(target=server.run, daemon=True)
        thread.start()
        while not server.started:
            thread.join(0.05)
        port = server.servers[0].sockets[0].getsockname()[1]
        now = datetime.now(UTC)
        rows = [MonitorReading(now - timedelta(hours=k), 6.0) for k in range(700)]
        assert send(rows, f"http://127.0.0.1:{port}", token) == {"kept": 700, "known": 0, "refused": 0}
        assert send(rows[:600], f"http://127.0.0.1:{port}", token)["known"] == 600
        server.should_exit = True
        thread.join(5)


def test_without_a_limit_it_alarms_by_the_forecast_of_its_place(plan: PlanPage) -> None:
    answer = make(plan, alarm_kv="", run="line1", at_m="400")
    assert answer.status_code == 422
    assert "write the kV" in answer.text or "choose one of this plan" in answer.text
    plan.draw()
    assert make(plan, alarm_kv="", run="line1", at_m="400").status_code == 200
    least = min(row["traces"][0]["kv"][-1] for row in plan.state["forecast"]["seasons"].values())
    told = re.search(r"alarm below ([\d.]+) kV", panel(plan))
    assert told
    assert 0.5 * least < float(told[1]) < least
    assert make(plan, alarm_kv="").status_code == 200


def test_a_place_without_pulse_has_no_limit_of_its_own(plan: PlanPage) -> None:
    plan.draw()
    shut = {"id": "s", "kind": "switch", "name": "Switch", "run": "line1", "at_m": 50, "is_open": True}
    plan.save(fixtures=[shut])
    answer = make(plan, alarm_kv="", run="line1", at_m="400")
    assert answer.status_code == 422
    assert "gets no pulse" in answer.text
