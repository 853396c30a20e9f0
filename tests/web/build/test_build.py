"""Build on the page: ticks and holds, two phones, a changed plan, crew, day, rates, weather, calendar, sheets."""

import io
import threading
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient
from icalendar import Calendar

from adze.services.log.weather import hear_all
from adze.settings import Settings
from adze.standins.weather import feed, made_up_hours
from adze.web.app import create_app
from tests.web.conftest import PlanPage, said, word


def panel(plan: PlanPage) -> str:
    return said(plan.get("/panel/build").json()["panel"])


def work(plan: PlanPage, path: str, **body: Any) -> Any:
    headers = {"X-CSRF-Token": plan.csrf}
    return plan.client.post(f"/api/plans/{plan.id}/work/{path}", json=body, headers=headers)


def tick(plan: PlanPage, step: str, what: str = "done", **more: Any) -> Any:
    return work(plan, "tick", step=step, what=what, **more)


def test_a_plan_without_a_line_says_why_there_are_no_steps(plan: PlanPage) -> None:
    assert "the steps follow from it" in panel(plan)


def test_nothing_is_done_before_its_hold(plan: PlanPage) -> None:
    plan.draw()
    refused = tick(plan, "line1/ends")
    assert refused.status_code == 422
    assert "must wait for a hold point: Buried services located" in refused.text
    assert "Set out First line come before it" in tick(plan, "services").text
    assert tick(plan, "line1/mark").status_code == 200
    assert tick(plan, "services").status_code == 200
    assert tick(plan, "line1/ends").status_code == 200
    assert "3 of" in panel(plan)
    assert "no longer has that step" in tick(plan, "gone/ends").text


def test_two_phones_tick_one_step_once_and_a_lost_answer_is_no_second_tick(plan: PlanPage) -> None:
    plan.draw()
    once = uuid4().hex
    assert tick(plan, "line1/mark", once=once).status_code == 200
    assert tick(plan, "line1/mark", once=once).status_code == 200
    refused = tick(plan, "line1/mark", once=uuid4().hex)
    assert refused.status_code == 422
    assert "ticked it at" in refused.text
    assert tick(plan, "line1/mark", "note", note="Wet at the ford").status_code == 200
    assert "Wet at the ford" in panel(plan)
    assert tick(plan, "line1/mark", "undone").status_code == 200
    assert "0 of" in panel(plan)


def test_what_was_done_stays_done_when_the_plan_changes_and_the_change_is_told(plan: PlanPage) -> None:
    plan.draw()
    tick(plan, "line1/mark")
    longer = {"id": "line1", "name": "First line", "points": [[0, 0], [500, 0], [500, 300]]}
    plan.save(runs=[longer])
    assert "The plan has changed since you ticked this; was: Set out First line, 700 m." in panel(plan)
    other = {"id": "line2", "name": "Other", "points": [[0, 0], [90, 0]]}
    plan.save(runs=[other])
    page = panel(plan)
    assert "Done, but no longer in the plan" in page
    assert "Set out First line, 700 m" in page


def test_minutes_taken_teach_the_rates(plan: PlanPage) -> None:
    plan.draw()
    now = datetime.now(UTC)
    tick(plan, "line1/mark", "start", at=(now - timedelta(minutes=200)).isoformat())
    tick(plan, "line1/mark", "pause", at=(now - timedelta(minutes=100)).isoformat())
    tick(plan, "line1/mark", "start", at=(now - timedelta(minutes=82)).isoformat())
    tick(plan, "line1/mark")
    page = panel(plan)
    assert "took 182 min" in page
    assert "Set out took 2.0 times as long as planned" in page  # 700 m at 13 minutes a hundred are 91
    assert work(plan, "rates", learned="mark").status_code == 200
    assert 'value="10"' in panel(plan)
    assert "No minutes were recorded" in work(plan, "rates", learned="posts").text


@pytest.mark.parametrize("hours", [-1, 24 * 31])
def test_a_phone_with_a_wrong_clock_is_told(plan: PlanPage, hours: int) -> None:
    plan.draw()
    at = datetime.now(UTC) - timedelta(hours=hours)
    refused = tick(plan, "line1/mark", at=at.isoformat())
    assert refused.status_code == 422
    assert "set the phone" in refused.text


@pytest.mark.parametrize(
    ("crew", "words"),
    [
        ([], "nobody is named"),
        ([{"name": " ", "role": "leader"}], "row 1: give a name"),
        ([{"name": "Ann", "role": "king"}], "role: 'king' is not known"),
        ([{"name": "Ann", "role": "any", "may": ["driver"]}], "nobody leads"),
        ([{"name": "Ann", "role": "leader", "may": ["crane"]}], "row 1, machines: 'crane' is not known"),
    ],
)
def test_a_crew_that_cannot_be_is_named(plan: PlanPage, crew: list[dict[str, Any]], words: str) -> None:
    plan.draw()
    answer = work(plan, "crew", crew=crew)
    assert answer.status_code == 422
    assert words in answer.text
    assert "for 2" in panel(plan)


def test_more_people_need_fewer_days(plan: PlanPage) -> None:
    plan.draw()
    rows = [
        {"name": name, "role": role, "may": ["driver", "auger"]} for name, role in (("Ann", "leader"), ("Bo", "any"))
    ]
    assert work(plan, "crew", crew=rows[:1]).status_code == 200
    alone = panel(plan)
    assert work(plan, "crew", crew=[*rows, rows[1] | {"name": "Cy"}]).status_code == 200
    assert "for 3" in panel(plan)
    assert "for 1" in alone
    no_driver = work(plan, "crew", crew=[rows[0] | {"may": ["auger"]}])
    assert no_driver.status_code == 200
    assert "nobody may use the driver" in panel(plan)


@pytest.mark.parametrize(
    ("day", "words"),
    [
        (("soon", "08:00", "8"), "First day"),
        (("2027-05-12", "25:00", "8"), "Begin"),
        (("2027-05-12", "08:00", "30"), "is not from 1 to 16"),
        (("2027-05-12", "08:00", "x"), "is not a number"),
    ],
)
def test_a_day_that_cannot_be_is_named(plan: PlanPage, day: tuple[str, str, str], words: str) -> None:
    plan.draw()
    answer = work(plan, "day", begins_on=day[0], begins_at=day[1], day_h=day[2])
    assert answer.status_code == 422
    assert words in answer.text


@pytest.mark.parametrize("minutes", ["0", "-3", "5000", "quick"])
def test_a_rate_that_cannot_be_is_named(plan: PlanPage, minutes: str) -> None:
    plan.draw()
    answer = work(plan, "rates", kind="driven_post", minutes=minutes)
    assert answer.status_code == 422
    assert "Driven post" in answer.text


def tick_until(plan: PlanPage, last: str) -> None:
    """Tick what comes next, again and again, until the turn of one step."""
    for _ in range(60):
        page = plan.get("/panel/build").json()["panel"]
        step = next((part.split('"')[0] for part in page.split('data-tick="done" data-step="')[1:]), "")
        if not step or step == last or tick(plan, step).status_code != 200:
            break


def log(plan: PlanPage, **typed: str) -> None:
    """Log a reading on the field page."""
    form = plan.client.get(f"/plans/{plan.id}/log/reading", params=typed).text
    data = {"csrf": word(form), "strand": "1", "season": "usual", "once": uuid4().hex} | typed
    answer = plan.client.post(f"/plans/{plan.id}/log/reading", data=data)
    assert answer.status_code == 303, answer.text[:500]


def test_stock_waits_for_a_reading_at_every_end(plan: PlanPage) -> None:
    plan.draw()
    tick_until(plan, "wanted")
    refused = tick(plan, "wanted")
    assert "the end of First line is not measured yet" in refused.text
    for kv, words in (("1.2", "reads 1.2 kV"), ("9.0", "")):
        log(plan, run="line1", at_m="700", kv=kv)
        assert words in tick(plan, "wanted").text
    assert "animals may go in" in panel(plan)


@pytest.fixture
def weather_plan(settings: Settings) -> Iterator[PlanPage]:
    """A drawn plan where a weather feed answers over the wire."""
    server = feed()
    threading.Thread(target=server.serve_forever, daemon=True).start()
    address = f"http://127.0.0.1:{server.server_address[1]}/forecast"
    own = settings.model_copy(update={"weather_url": address})
    with TestClient(create_app(own), follow_redirects=False) as client:
        client.post("/demo", data={"csrf": word(client.get("/sign-in").text)})
        home = client.get("/").text
        made = client.post("/farms", data={"csrf": word(home), "name": f"Farm {uuid4()}"})
        page = PlanPage(client, int(made.headers["location"].split("/")[2]))
        page.draw()
        yield page
    server.shutdown()
    server.server_close()


def test_the_feed_is_asked_over_the_wire(weather_plan: PlanPage) -> None:
    assert "No forecast yet" in panel(weather_plan)
    answer = work(weather_plan, "forecast", text="")
    assert answer.status_code == 200
    assert "No forecast yet" not in panel(weather_plan)
    page = said(weather_plan.get("/panel/log").json()["panel"])
    assert "Today by the weather record of 15 days" in page
    html = said(weather_plan.client.get(f"/plans/{weather_plan.id}/log/reading?run=line1&at_m=700").text)
    assert 'data-test="today"' in html


def test_every_farm_that_hears_the_feed_hears_it_each_day(weather_plan: PlanPage) -> None:
    assert work(weather_plan, "forecast", text="").status_code == 200
    store = weather_plan.client.app.state.store  # type: ignore[attr-defined]
    url = weather_plan.client.app.state.settings.weather_url  # type: ignore[attr-defined]
    assert hear_all(store.begin_transaction, url) >= 1
    assert hear_all(store.begin_transaction, "") == 0
    assert "heard" in panel(weather_plan)


def test_without_a_feed_a_forecast_is_pasted(plan: PlanPage) -> None:
    plan.draw()
    assert "No weather feed is set up" in work(plan, "forecast", text="").text
    begin = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
    rows = [f"{(begin + timedelta(hours=h)).isoformat()},15,3,0,0" for h in range(72)]
    text = "\n".join(["at,temp_c,wind_ms,rain_mm,thunder", *rows])
    assert work(plan, "forecast", text=text).status_code == 200
    assert "<th>Suits</th>" in panel(plan)
    wrong = work(plan, "forecast", text=text.replace(",15,", ",999,", 1))
    assert wrong.status_code == 422
    assert "row 1, temp_c: 999 is not from -70 to 60" in wrong.text
    assert "<th>Suits</th>" in panel(plan)


def test_made_up_weather_is_the_same_each_time() -> None:
    day = datetime(2027, 5, 12, tzinfo=UTC).date()
    assert made_up_hours(52, -6, day, 3) == made_up_hours(52, -6, day, 3)
    assert len(made_up_hours(52, -6, day, 3)) == 72


def test_the_calendar_opens_and_has_days_and_moves(plan: PlanPage) -> None:
    plan.draw()
    plan.save(moves=[{"id": "m", "name": "Low field", "at": [200, 100], "strips": 3, "days": 2}])
    text = plan.client.get(f"/plans/{plan.id}/work.ics").text
    events = list(Calendar.from_ical(text).walk("VEVENT"))
    titles = [str(event["summary"]) for event in events]
    assert any(title.endswith("fence, day 1") for title in titles)
    assert "Tighten earth and joint clamps" in titles
    moves = [event for event in events if "Low field" in str(event["summary"])]
    assert [str(event["summary"]) for event in moves] == [f"Low field: strip {n} of 3" for n in (1, 2, 3)]
    assert moves[1].decoded("dtstart") - moves[0].decoded("dtstart") == timedelta(days=2)


def test_sheets_for_the_crew(plan: PlanPage) -> None:
    plan.draw()
    page = plan.client.get(f"/plans/{plan.id}/paper/work").text
    assert "brace post" in page
    assert page.count("<svg") >= 5


def test_everything_taken_out_has_the_work_and_the_shed(plan: PlanPage) -> None:
    plan.draw()
    tick(plan, "line1/mark", note="Stony")
    archive = zipfile.ZipFile(io.BytesIO(plan.client.get("/everything.zip").content))
    own = [name for name in archive.namelist() if name.endswith("work.csv")]
    assert any("Stony" in archive.read(name).decode() for name in own)


def test_whether_it_stands_in_time_is_said_with_what_would_do(plan: PlanPage) -> None:
    plan.draw()
    day = {"begins_on": "2027-05-10", "begins_at": "08:00", "day_h": "8", "ready_for": "stock"}
    assert work(plan, "day", **day, ready_by="2027-07-01T08:00").status_code == 200
    assert "<b>Go:</b> the animals come Thu 1 Jul, 08:00" in panel(plan)
    assert work(plan, "day", **day, ready_by="2027-05-10T09:00").status_code == 200
    late = panel(plan)
    assert "No go:" in late
    assert "the work had to start by" in late
    assert work(plan, "day", **day, ready_by="").status_code == 200
    assert 'data-test="ready"' not in panel(plan)
    assert "is not from 2000" in work(plan, "day", **day, ready_by="0001-01-01T00:00").text
    for wrong, words in (
        ({"ready_by": "soon"}, "is not a time"),
        ({"ready_by": day["begins_on"], "ready_for": "x"}, "known"),
    ):
        answer = work(plan, "day", **day | wrong)
        assert answer.status_code == 422
        assert words in answer.text


def test_a_sheet_for_each_end_and_gate(plan: PlanPage) -> None:
    plan.draw()
    told = said(plan.client.get(f"/plans/{plan.id}/paper/ends").text)
    assert told.count("built as drawn") == told.count("<h2>") > 2


def test_what_stands_otherwise_is_judged_and_made_the_plan(plan: PlanPage) -> None:
    plan.draw()
    assert plan.do("add_herd", kind="cow").status_code == 200
    assert work(plan, "built", key="rods.count", figure="999").json()["faults"][0]["path"] == "built.rods.count"
    assert "no longer has that figure" in work(plan, "built", key="end.gone.start", figure="stiff").text
    assert "at most 200" in work(plan, "built", key="spacing.", figure="7" * 250).text
    assert work(plan, "built", key="rods.count", figure="1").status_code == 200
    assert "As it stands:" in panel(plan)
    assert plan.do("take_as_built", figures={"rods.count": "1"}).status_code == 200
    assert plan.state["document"]["rods"]["count"] == 1
    assert "Everything noted was built as drawn" in panel(plan)
    assert work(plan, "built", key="rods.count", figure=" ").status_code == 200
    assert "What was noted" not in panel(plan)


def test_readings_of_the_commissioning_are_the_baseline_of_the_log(plan: PlanPage) -> None:
    plan.draw()
    assert "As commissioned" not in said(plan.get("/panel/log").json()["panel"])
    now = datetime.now(UTC)
    ago = now - timedelta(days=3)
    tick_until(plan, "on")
    assert tick(plan, "on", at=ago.isoformat()).status_code == 200
    log(plan, run="line1", at_m="700", kv="6.0", at=(ago + timedelta(minutes=9)).isoformat())
    log(plan, run="@unit", kv="3.0", at=(ago + timedelta(minutes=5)).isoformat())
    log(plan, run="line1", at_m="700", kv="2.0")
    page = said(plan.get("/panel/log").json()["panel"])
    assert "As commissioned" in page
    assert "33 % of what it was, allowing for the weather of both days: it fell" in page
    assert "Unit alone, fence lead off" in page
    assert "Do that before anybody walks the fence" in page
