"""The log as a workbook: readings, year by year, upkeep, what is to be mended, what got through."""

from collections.abc import Iterable
from datetime import datetime
from zoneinfo import ZoneInfo

from adze.core.log.years import PointYears, YearRead, by_years
from adze.core.plan.document import Plan
from adze.formats.tables.workbook import SheetRows, workbook_of
from adze.services.log.breaches import breaches_told
from adze.services.log.upkeep import due_view
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log.breaches import BreachRow, list_passages
from adze.store.log.readings import Reading, list_readings
from adze.store.log.upkeep import list_upkeep

MOST_ROWS = 100_000  # of a sheet that spreadsheets still open
_READINGS = (
    ("When", 18), ("Line", 24), ("Metres out", 11), ("Strand", 8), ("kV", 7), ("Over the tester's end", 12),
    ("Amps", 8), ("Season", 9), ("Forecast low, kV", 10), ("Forecast, kV", 10), ("Forecast high, kV", 10),
    ("Note", 40), ("By", 20), ("Set aside: why", 30),
)  # fmt: skip


def years_of(readings: Iterable[Reading], zone: str) -> tuple[PointYears, ...]:
    """Points year by year in the farm's own time, newest reading first; what is withdrawn does not count."""
    here = ZoneInfo(zone)
    return by_years(
        [
            YearRead(row.run, row.at_m, row.strand, row.read_at.astimezone(here).year, row.kv)
            for row in readings
            if row.withdrawn_why is None
        ]
    )


def log_book(begin_transaction: BeginTransaction, opened: OpenPlan) -> bytes:
    """Everything of a plan's log as an XLSX file, times in the farm's own time zone."""
    with begin_transaction() as connection:
        read = list_readings(connection, plan_id=opened.id, most=MOST_ROWS, withdrawn=True)
        done = list_upkeep(connection, plan_id=opened.id, most=MOST_ROWS)
        through = list_passages(connection, plan_id=opened.id, most=MOST_ROWS)
    plan, zone, due = opened.plan, opened.stored.time_zone, due_view(begin_transaction, opened)
    names = {run.id: run.name for run in plan.runs}
    return workbook_of(
        (
            SheetRows("Readings", _READINGS, tuple(_reading(row, names, zone) for row in read)),
            _years(years_of(read, zone), names),
            SheetRows(
                "Upkeep",
                (("Day", 12), ("What", 40), ("Note", 40), ("By", 20)),
                tuple((x.done_on, due.titles.get(x.kind, x.kind), x.note, x.by_name) for x in done),
            ),
            SheetRows(
                "To be mended",
                (("Noted", 12), ("Where", 30), ("What", 50), ("By", 20)),
                tuple((x.noted_on, where, x.words, x.by_name) for x, where in due.defects),
            ),
            _through(plan, through),
        )
    )


def _time(at: datetime, zone: str) -> datetime:
    """A time as spreadsheets take it: the farm's own, without its zone."""
    return at.astimezone(ZoneInfo(zone)).replace(tzinfo=None, microsecond=0)


def _reading(row: Reading, names: dict[str, str], zone: str) -> tuple[object, ...]:
    forecast = (row.forecast_low_kv, row.forecast_kv, row.forecast_high_kv)
    return (
        _time(row.read_at, zone), names.get(row.run, row.run), row.at_m, row.strand, row.kv,
        "yes" if row.is_over else "", row.amps, row.season, *forecast, row.note, row.read_by_name,
        row.withdrawn_why or "",
    )  # fmt: skip


def _years(points: tuple[PointYears, ...], names: dict[str, str]) -> SheetRows:
    columns = (("Line", 24), ("Metres out", 11), ("Strand", 8), ("Year", 7), ("Readings", 9), ("Middle, kV", 10))
    rows = tuple(
        (names.get(point.run, point.run), point.at_m, point.strand, year, x.count, x.middle_kv, x.least_kv)
        for point in points
        for year, x in point.years
    )
    return SheetRows("Year by year", (*columns, ("Least, kV", 10)), rows)


def _through(plan: Plan, rows: tuple[BreachRow, ...]) -> SheetRows:
    columns = (("Day", 12), ("Who", 24), ("How", 18), ("Where", 30), ("Note", 50), ("By", 20))
    told = breaches_told(plan, rows)
    return SheetRows("Got through", columns, tuple((x.on_day, x.who, x.way, x.where, x.note, x.by_name) for x in told))
