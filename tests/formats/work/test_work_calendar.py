"""The calendar and the job plan as files: days, zones, steps with who and when."""

import json
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from icalendar import Calendar

from adze.core.tasks.schedule import CrewError
from adze.formats.work.work_calendar import CalendarEntry, work_calendar
from adze.formats.work.work_plan import work_plan_ics, work_plan_json
from tests.conftest import simple_plan

DAY = date(2027, 5, 12)


def test_a_zone_is_written_out_and_a_warning_comes_before() -> None:
    begins = datetime(2027, 5, 12, 8, tzinfo=ZoneInfo("Europe/Dublin"))
    text = work_calendar("Farm", [CalendarEntry("k", "Ends; all", "", begins, begins + timedelta(hours=2), 2.0)])
    assert "BEGIN:VTIMEZONE" in text
    (event,) = Calendar.from_ical(text).walk("VEVENT")
    assert str(event["summary"]) == "Ends; all"
    assert event.decoded("dtstart") == begins
    assert "TRIGGER:-PT2H" in text


def test_the_job_plan_names_who_and_when() -> None:
    found = json.loads(work_plan_json(simple_plan(), 3, DAY, 8))
    assert found["bound_minutes"] <= found["minutes"] <= 1.15 * found["bound_minutes"]
    by_key = {row["step"]: row for row in found["steps"]}
    assert by_key["line1/mark"]["begins"] == "2027-05-12T08:00"
    assert by_key["line1/ends"]["begins"] >= by_key["services"]["ends"]
    assert {person for row in found["steps"] for person in row["people"]} == {1, 2, 3}
    assert any(part["part"].startswith("End or corner post") for part in by_key["line1/ends"]["parts"])


def test_days_of_the_work_follow_each_other() -> None:
    events = Calendar.from_ical(work_plan_ics(simple_plan(), 2, DAY, 8)).walk("VEVENT")
    days = [event.decoded("dtstart").date() for event in events]
    assert days == [DAY + timedelta(days=n) for n in range(len(days))]
    assert len(days) > 1


def test_nobody_builds_nothing() -> None:
    with pytest.raises(CrewError, match="give one or more"):
        work_plan_json(simple_plan(), 0, DAY, 8)
