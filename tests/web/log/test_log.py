"""The log on the page: readings put right, judged by strand and by what is wanted; upkeep, defects, trends, amps."""

import io
import re
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import openpyxl
import pytest

from tests.web.conftest import PlanPage, said, word


def panel(plan: PlanPage) -> str:
    return said(plan.get("/panel/log").json()["panel"])


def post(plan: PlanPage, path: str, **body: Any) -> Any:
    return plan.client.post(f"/api/plans/{plan.id}/log/{path}", json=body, headers={"X-CSRF-Token": plan.csrf})


def read(plan: PlanPage, kv: str, at_m: float = 100, **more: str) -> None:
    at = f"/plans/{plan.id}/log/reading"
    data = {"csrf": word(plan.client.get(at).text), "run": "line1", "at_m": f"{at_m:g}", "strand": "1", "kv": kv}
    answer = plan.client.post(at, data=data | {"season": "usual", "once": uuid4().hex} | more)
    assert answer.status_code == 303, answer.text[:400]


def newest(plan: PlanPage) -> int:
    return int(panel(plan).split('data-withdrawn="')[1].split('"')[0])


def test_a_reading_is_withdrawn_with_a_reason_and_stays_to_be_seen(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "2.1")
    number = newest(plan)
    assert "Why: describe in up to" in post(plan, "readings", reading=number, why=" ").text
    assert post(plan, "readings", reading=number, why="gate stood open").status_code == 200
    page = panel(plan)
    assert "Set aside: gate stood open." in page
    assert '<tr data-test="reading" class=' in page
    assert "was set aside already" in post(plan, "readings", reading=number, why="again").text


def test_a_reading_is_put_right_at_its_own_time(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "2.1")
    number = newest(plan)
    assert "must lie between" in post(plan, "readings", reading=number, kv="99").text
    assert post(plan, "readings", reading=number, kv="7.1", amps="4").status_code == 200
    page = panel(plan)
    assert "Set aside: corrected." in page
    assert "<b>7.1</b>" in page
    assert "4 A outward" in page
    assert post(plan, "readings", reading=number, kv="7.2").status_code == 422


def test_the_end_of_the_testers_scale_is_a_reading(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "9.9+")
    assert "9.9 or more" in panel(plan)


def test_an_earth_strand_is_judged_as_one(plan: PlanPage) -> None:
    plan.draw()
    plan.save(strands=[{"cm": 30, "role": "earth"}, {"cm": 60}, {"cm": 90}])
    read(plan, "0.1")
    assert "The earth strand is at" in panel(plan)
    read(plan, "6.0")
    assert "a live strand that lies on it" in panel(plan)


def test_upkeep_is_due_done_and_due_again(plan: PlanPage) -> None:
    plan.draw()
    assert "Tighten earth and joint clamps" in panel(plan)
    old = (datetime.now(UTC) - timedelta(days=400)).date().isoformat()
    assert post(plan, "upkeep", kind="clamps", on=old).status_code == 200
    assert "35 days late" in panel(plan) or "34 days late" in panel(plan)
    assert post(plan, "upkeep", kind="clamps").status_code == 200
    assert post(plan, "upkeep", kind="storm_passed").status_code == 200
    assert "Walk after the storm" in panel(plan)


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"kind": "unicorns"}, "is not needed for this fence"),
        ({"kind": "clamps", "on": "soon"}, "is not a date"),
        ({"kind": "clamps", "on": "2999-01-01"}, "in the future"),
    ],
)
def test_upkeep_that_cannot_be_is_named(plan: PlanPage, body: dict[str, str], words: str) -> None:
    plan.draw()
    answer = post(plan, "upkeep", **body)
    assert answer.status_code == 422
    assert words in answer.text


def test_a_defect_is_noted_and_mended(plan: PlanPage) -> None:
    plan.draw()
    assert "write up to 300" in post(plan, "defects", run="line1", at_m="40", words="").text
    assert "Choose a line" in post(plan, "defects", run="gone", at_m="40", words="x").text
    assert "Metres out: First line is 700 m long" in post(plan, "defects", run="line1", at_m="900", words="x").text
    assert post(plan, "defects", run="line1", at_m="40", words="Jumper holds the wire up").status_code == 200
    page = panel(plan)
    assert "Jumper holds the wire up" in page
    number = int(page.split('data-mended="')[1].split('"')[0])
    assert post(plan, "defects", mended=number).status_code == 200
    assert "Jumper holds the wire up" not in panel(plan)


def test_a_point_read_twice_shows_how_it_went(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "7.0")
    assert "Points with two readings or more" in panel(plan)
    read(plan, "6.5")
    assert 'class="trend"' in panel(plan)


def test_amps_of_one_walk_name_the_stretch(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "3.0", 200, amps="40", way="outward")
    read(plan, "3.0", 450, amps="3", way="outward")
    assert "Between 200 m and 450 m of First line" in panel(plan)


@pytest.mark.parametrize("at", ["2001-01-01T00:00+00:00", "2999-01-01T00:00+00:00", "now", "2026-11-28T09:00"])
def test_a_device_with_a_wrong_clock_is_told(plan: PlanPage, at: str) -> None:
    plan.draw()
    form = f"/plans/{plan.id}/log/reading"
    data = {"csrf": word(plan.client.get(form).text), "run": "line1", "at_m": "100", "strand": "1", "kv": "7.0"}
    answer = plan.client.post(form, data=data | {"season": "usual", "once": uuid4().hex, "at": at})
    assert answer.status_code in (200, 422)
    assert "Time:" in answer.text


def test_a_reading_from_a_device_stands_at_its_own_time(plan: PlanPage) -> None:
    plan.draw()
    at = datetime.now(UTC) - timedelta(days=3)
    read(plan, "7.0", at=at.isoformat())
    assert at.strftime("%d %b %Y") in panel(plan)


def test_the_worker_of_the_field_is_served_from_the_root(plan: PlanPage) -> None:
    answer = plan.client.get("/sw.js")
    assert answer.headers["content-type"].startswith("text/javascript")
    assert answer.headers["cache-control"] == "no-cache"


def test_the_farms_page_says_when_a_round_is_due(plan: PlanPage) -> None:
    plan.draw()
    read(plan, "7.0", at=(datetime.now(UTC) - timedelta(days=12)).isoformat())
    assert "Due: a round, read 12 days ago" in said(plan.client.get("/").text)
    read(plan, "7.0")
    assert "Due: a round, read 12 days ago" not in said(plan.client.get("/").text)


def test_a_points_own_level_is_told_once_it_has_shown_some(plan: PlanPage) -> None:
    plan.draw()
    for _ in range(4):
        read(plan, "9.1")
    page = panel(plan)
    assert "As this point shows" in page
    read(plan, "2.4")
    page = panel(plan)
    assert "Something new" in page
    assert ">Find it<" in page


def test_what_a_round_tells_is_said_with_what_it_cannot(plan: PlanPage) -> None:
    plan.draw()
    html = said(plan.get("/seen").json()["html"])
    assert "First line" in html
    assert "a leak to soil of" in html
    assert "nine such faults in ten" in html


def test_the_log_goes_out_as_a_workbook(plan: PlanPage) -> None:
    plan.draw()
    plan.do("add_herd", kind="ewe")
    read(plan, "6.5", note="=1+1")
    read(plan, "9.9 or more")
    post(plan, "defects", run="line1", at_m="30", words="cracked insulator")
    through(plan)
    for _ in range(45):
        post(plan, "upkeep", kind="storm_passed")
    answer = plan.client.get(f"/plans/{plan.id}/log.xlsx")
    book = openpyxl.load_workbook(io.BytesIO(answer.content))
    assert book.sheetnames == ["Readings", "Year by year", "Upkeep", "To be mended", "Got through"]
    rows = list(book["Readings"].iter_rows(min_row=2, values_only=True))
    assert [(row[1], row[2], row[4], row[5]) for row in rows] == [
        ("First line", 100, 9.9, "yes"),
        ("First line", 100, 6.5, None),
    ]
    assert book["Readings"].cell(3, 12).data_type == "s"
    assert [cell.value for cell in book["Year by year"][2]][4:] == [2, pytest.approx(8.2), 6.5]
    assert [row[1] for row in book["Upkeep"].iter_rows(min_row=2, values_only=True)] == ["A storm passed"] * 45
    assert book["To be mended"]["C2"].value == "cracked insulator"
    assert book["Got through"]["B2"].value == "3 ewes"


def through(plan: PlanPage, **more: str) -> Any:
    typed = {"kind": "ewe", "count": "3", "way": "under", "run": "line1", "at_m": "120", "on": "", "note": ""}
    return post(plan, "through", **typed | more)


def test_what_got_through_is_noted_and_told_with_what_speaks_for_it(plan: PlanPage) -> None:
    plan.draw()
    plan.do("add_herd", kind="ewe")
    plan.save(strands=[{"cm": 60}], energizer="mains_3")
    read(plan, "1.1", at_m=100)
    noted = through(plan, note="wool on the strand")
    assert noted.status_code == 200, noted.text
    page = panel(plan)
    assert "<b>3 ewes, under</b>" in page
    assert "wool on the strand" in page
    number = page.split('data-ask="/through/')[1].split('"')[0]
    told = said(plan.get(f"/through/{number}").json()["html"])
    assert "Too few kV on it." in told
    assert "1.1 kV was read 100 m out" in told
    assert "Ewe: under." in told
    assert told.count("<b>Fix:</b>") == told.count("</p>") - 1
    plan.save(runs=[])
    assert "no longer in the plan" in plan.get(f"/through/{number}").text
    assert "a line since removed" in panel(plan)


def test_a_reading_of_an_earth_strand_is_none_of_the_live_ones(plan: PlanPage) -> None:
    plan.draw()
    plan.do("add_herd", kind="ewe")
    plan.save(strands=[{"cm": 30, "role": "earth"}, {"cm": 60}], energizer="mains_3")
    read(plan, "0.2", strand="1")
    assert through(plan).status_code == 200
    number = panel(plan).split('data-ask="/through/')[1].split('"')[0]
    told = said(plan.get(f"/through/{number}").json()["html"])
    assert "No reading of that week." in told
    assert "Too few kV on it" not in told


@pytest.mark.parametrize(
    ("typed", "field", "words"),
    [
        ({"kind": "dragon"}, "kind", "choose an animal of this plan"),
        ({"count": "0"}, "count", "a whole number from 1"),
        ({"count": "2.5"}, "count", "a whole number from 1"),
        ({"count": "many"}, "count", "write a number"),
        ({"way": "flew"}, "way", "choose one of the list"),
        ({"run": "gone"}, "run", "choose a line of this plan"),
        ({"at_m": "9000"}, "at_m", "must lie between 0 and 700"),
        ({"on": "2999-01-01"}, "on", "in the future"),
        ({"on": "yesterday"}, "on", "is not a date"),
        ({"note": "x" * 301}, "note", "at most 300"),
    ],
)
def test_what_cannot_be_noted_is_refused_by_its_field(
    plan: PlanPage, typed: dict[str, str], field: str, words: str
) -> None:
    plan.draw()
    plan.do("add_herd", kind="ewe")
    refused = through(plan, **typed)
    assert refused.status_code == 422
    assert refused.json()["faults"][0]["path"] == f"through.{field}"
    assert words in refused.json()["message"]
    assert "Nothing got through" in panel(plan)


def test_whoever_is_asked_gets_the_facts_and_the_questions(plan: PlanPage) -> None:
    plan.draw()
    plan.do("add_herd", kind="ewe")
    plan.save(strands=[{"cm": 60}], energizer="mains_3")
    read(plan, "1.1")
    sheet = said(plan.client.get(f"/plans/{plan.id}/paper/ask").text)
    assert "700 m on 1 line," in sheet
    assert "60 cm live" in sheet
    assert "<b>Ewe: under" in sheet
    assert "<b>1.1 kV</b>" in sheet
    plan.save(runs=[])
    assert "0 m on 0 lines" in said(plan.client.get(f"/plans/{plan.id}/paper/ask").text)


def test_a_mend_counts_down_what_it_takes_from_the_shed(plan: PlanPage) -> None:
    plan.draw()
    farm = re.search(r"/farms/(\d+)/shed", plan.client.get(f"/plans/{plan.id}/parts").text)
    assert farm
    address = f"/farms/{farm[1]}/shed"
    form = {"csrf": word(plan.client.get(address).text), "part": "rope_clamp", "quantity": "5", "note": ""}
    assert plan.client.post(address, data=form).status_code == 303
    for stage in ("log", "trace"):
        body = {"part": "rope_clamp", "quantity": "2", "what_for": "Ford", "stage": stage}
        answer = plan.client.post(f"/api/plans/{plan.id}/log/used", json=body, headers={"X-CSRF-Token": plan.csrf})
        assert answer.status_code == 200, answer.text
    page = said(plan.get("/panel/log").json()["panel"])
    assert page.count("Ford") == 2
    for typed, words in (
        ({"part": "rope_clamp", "quantity": "3"}, "the shed has 1 piece, not 3"),
        ({"part": "gone", "quantity": "1"}, "the shed no longer has it"),
        ({"part": "rope_clamp", "quantity": "0"}, "takes nothing"),
        ({"part": "rope_clamp", "quantity": "some"}, "write a number"),
        ({"part": "rope_clamp", "quantity": "1", "what_for": "x" * 201}, "at most 200"),
    ):
        refused = plan.client.post(f"/api/plans/{plan.id}/log/used", json=typed, headers={"X-CSRF-Token": plan.csrf})
        assert refused.status_code == 422
        assert words in refused.text


def test_a_rain_gauge_makes_the_record_by_which_readings_are_judged(plan: PlanPage) -> None:
    plan.draw()
    assert "No weather is recorded" in panel(plan)
    today = datetime.now(UTC).date()
    for ago in range(25, -1, -1):
        on = (today - timedelta(days=ago)).isoformat()
        assert post(plan, "rain", mm="9" if ago == 25 else "0", on=on).status_code == 200
    page = panel(plan)
    assert "No good rain for 25 days: the rods must still be enough" in page
    assert "Today by the weather record of 26 days: no good rain for 25 days" in page
    html = said(plan.client.get(f"/plans/{plan.id}/log/reading?run=line1&at_m=700").text)
    assert "no good rain for 25 days: <b>" in html
    for mm, on, words in (
        ("-3", "", "0 to 500 mm"),
        ("wet", "", "such as 12 mm or 0.5 in"),
        ("3", "soon", "not a date"),
        ("3", (today + timedelta(days=2)).isoformat(), "not within the last 400 days"),
    ):
        refused = post(plan, "rain", mm=mm, on=on)
        assert refused.status_code == 422
        assert words in refused.text


@pytest.mark.parametrize(("units", "good"), [("metric", "5.2"), ("imperial", "0.21"), ("metric", "0.21 in")])
def test_a_rain_gauge_is_read_in_the_units_of_the_plan(plan: PlanPage, units: str, good: str) -> None:
    plan.draw()
    plan.save(units=units)
    assert f"Rain in the gauge, {'in' if units == 'imperial' else 'mm'}" in panel(plan)
    today = datetime.now(UTC).date()
    for ago in range(25, -1, -1):
        on = (today - timedelta(days=ago)).isoformat()
        assert post(plan, "rain", mm=good if ago == 3 else "0", on=on).status_code == 200
    assert "no good rain for 3 days" in panel(plan)
