"""Days, moves and rounds as an iCalendar file that any calendar opens."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event


@dataclass(frozen=True)
class CalendarEntry:
    """One entry: a key that stays, title, words, begin and end with their zone."""

    key: str
    title: str
    words: str
    begins: datetime
    ends: datetime
    warned_h: float = 0.0


def work_calendar(name: str, entries: Sequence[CalendarEntry], made_at: datetime | None = None) -> str:
    """The entries as text of iCalendar (RFC 5545)."""
    calendar = Calendar()
    calendar.add("prodid", "-//Adze//Build//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        event = Event()
        event.add("uid", f"{entry.key}@adze")
        event.add("dtstamp", made_at or datetime.now(UTC))
        event.add("dtstart", entry.begins)
        event.add("dtend", entry.ends)
        event.add("summary", entry.title)
        if entry.words:
            event.add("description", entry.words)
        if entry.warned_h:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", entry.title)
            alarm.add("trigger", -timedelta(hours=entry.warned_h))
            event.add_component(alarm)
        calendar.add_component(event)
    calendar.add_missing_timezones()
    text: bytes = calendar.to_ical()
    return text.decode()
