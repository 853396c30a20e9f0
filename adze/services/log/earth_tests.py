"""The earth test from the sheet to the log: what to do, what was read, what it says; stray volts likewise."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from adze.core.advice.earth_here import with_rods
from adze.core.basics.units import parse_length_m
from adze.core.build.rods import array, layers_of
from adze.core.forecast.earth_reading import ROW_MOST, Implied, ReadingFault, TestRead, implied
from adze.core.forecast.earth_test import MOST_STAKES, EarthTest, earth_test, judged, peg_at, reaches, short_place
from adze.core.forecast.stray import strays
from adze.core.forecast.volts import solved
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.places import Place, place_words
from adze.core.plan.changes import changed, replaced
from adze.core.plan.document import Plan
from adze.core.plan.earth import TestSchool
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.services.log.readings import MOST_KV, ReadingError, number
from adze.store.connection import BeginTransaction, Connection
from adze.store.log import earth_tests
from adze.store.log.earth_tests import StoredTest

_TESTED = ("dry", "wet")
_DUE_DAYS = 395
TESTERS = {
    "own_probe": "fence tester with its own earth probe",
    "fence_meter": "digital fence meter",
    "monitor": "the energizer's own earth monitor",
}


@dataclass(frozen=True)
class EarthTestSheet:
    """What the test sheet tells: the forecast, and what a peg at the wished distance would show."""

    test: EarthTest
    place_words: str
    far: bool
    peg_m: float
    peg_share: float
    peg_kv: float
    peg: tuple[float, float]
    enough_stakes: bool


def sheet(plan: Plan, season: Season, peg_m: float) -> EarthTestSheet:
    """The sheet of a plan's earth test. Raises Incomplete."""
    plan, weather = replaced(plan, what_ifs=()), Weather(season)
    found = solved(plan, weather)
    test = earth_test(found)
    share = array(plan.rods, layers_of(plan, weather)).peg_fraction(peg_at(plan.rods, peg_m))
    return EarthTestSheet(
        test,
        place_words(plan, test.place),
        reaches(plan),
        peg_m,
        share,
        test.rods_kv * share,
        peg_at(plan.rods, peg_m),
        test.stakes < MOST_STAKES or test.stakes_ohm <= test.short_ohm,
    )


@dataclass(frozen=True)
class TestEntry:
    """A test as it was typed."""

    run: str
    at_m: str
    season: Season
    rods_kv: str
    fence_kv: str
    before_kv: str
    peg: str
    tester: str
    note: str
    read_on: str


def _length(text: str, field: str, what: str, unit: str, least: float, most: float) -> float:
    try:
        value = parse_length_m(text, unit)
    except ValueError as error:
        raise ReadingError(field, f"{what}: {error}") from error
    if not least <= value <= most:
        raise ReadingError(field, f"{what}: {value:g} m; between {least:g} and {most:g} m is taken.")
    return value


def _day(text: str) -> date:
    try:
        day = date.fromisoformat(text) if text else date.today()
    except ValueError:
        raise ReadingError("read_on", "Day: write it as 2026-08-30.") from None
    if day > date.today():
        raise ReadingError("read_on", "Day: it is in the future.")
    return day


def read_of(plan: Plan, entry: TestEntry) -> TestRead:
    """What was read, checked input by input. Raises ReadingError naming the field."""
    run = next((r for r in plan.runs if r.id == entry.run), None)
    if run is None:
        raise ReadingError("run", "Choose the line on which the fence was shorted.")
    unit = "ft" if plan.units == "imperial" else "m"
    at_m = _length(entry.at_m, "at_m", "Shorted at", unit, 0.0, length_m(run) + 0.5)
    rods = number(entry.rods_kv, "rods_kv", "kV at the rods", MOST_KV)
    fence = number(entry.fence_kv, "fence_kv", "kV on the fence with the short", MOST_KV)
    before = number(entry.before_kv, "before_kv", "kV before the short", MOST_KV) if entry.before_kv.strip() else None
    peg = _length(entry.peg, "peg_m", "Peg", unit, 0.3, 200.0)
    if len(entry.note) > 300:
        raise ReadingError("note", "Note: at most 300 characters.")
    if entry.tester not in TESTERS:
        raise ReadingError("tester", f"Tester: one of {', '.join(TESTERS.values())}. Never a multimeter.")
    return TestRead(Place(run.id, min(at_m, length_m(run))), entry.season, rods, fence, peg, before)


@dataclass(frozen=True)
class WorkedOut:
    """A test as it was read, and what it implies of a plan."""

    read: TestRead
    says: Implied
    read_on: date | None


def worked_out(plan: Plan, entry: TestEntry) -> WorkedOut:
    """What a test that was typed implies. Raises ReadingError, Incomplete."""
    read = read_of(plan, entry)
    day = _day(entry.read_on)
    try:
        return WorkedOut(read, implied(replaced(plan, what_ifs=()), read), day)
    except ReadingFault as error:
        raise ReadingError(error.field, str(error)) from error


def log_test(
    begin_transaction: BeginTransaction, *, plan_id: int, plan: Plan, entry: TestEntry, read_by: int
) -> StoredTest:
    """Keep a test with what it implies. Raises ReadingError, Incomplete, Refused."""
    found = worked_out(plan, entry)
    with begin_transaction() as connection:
        return keep_test(connection, plan_id=plan_id, plan=plan, entry=entry, found=found, read_by=read_by)


def keep_test(
    connection: Connection, *, plan_id: int, plan: Plan, entry: TestEntry, found: WorkedOut, read_by: int
) -> StoredTest:
    """Keep a test that was worked out. Raises Refused."""
    read, says = found.read, found.says
    return earth_tests.add_earth_test(
        connection,
        plan_id=plan_id,
        run=read.place.run,
        at_m=read.place.at_m,
        season=read.season.value,
        rods_kv=read.rods_kv,
        fence_kv=read.fence_kv,
        before_kv=read.before_kv,
        peg_m=read.peg_m,
        rods=plan.rods.count,
        tester=entry.tester,
        school=plan.earth_school.value,
        note=entry.note.strip(),
        rods_ohm=says.rods_ohm,
        low_ohm=says.low_ohm,
        high_ohm=says.high_ohm,
        soil_ohm_m=says.soil_ohm_m,
        full_kv=says.full_kv,
        read_by=read_by,
        read_on=found.read_on,
    )


def again(plan: Plan, test: StoredTest) -> Implied | None:
    """What a kept test says of the plan as it stands now; None where its line is gone or it no longer fits."""
    if test.run not in {run.id for run in plan.runs}:
        return None
    place = Place(test.run, min(test.at_m, length_m(run_of(plan, test.run))))
    read = TestRead(place, Season(test.season), test.rods_kv, test.fence_kv, test.peg_m, test.before_kv)
    # The rods that stood then: what is added later is judged from there.
    then = replaced(plan, rods=replaced(plan.rods, count=test.rods), what_ifs=())
    try:
        return implied(then, read)
    except (ReadingFault, Incomplete):
        return None


def test_rows(tests: tuple[StoredTest, ...], school: TestSchool) -> list[dict[str, Any]]:
    """Kept tests as the page lists them, each with the change since the last of its season."""
    rows: list[dict[str, Any]] = []
    last: dict[str, StoredTest] = {}
    for test in reversed(tests):
        before = last.get(test.season)
        last[test.season] = test
        change = None if before is None else test.rods_ohm / before.rods_ohm - 1
        rows.append({"test": test, "status": judged(test.full_kv, school), "change": change})
    return rows[::-1]


def tests_due(tests: tuple[StoredTest, ...], today: date) -> list[str]:
    """The seasons, driest and wettest, whose last test lies a year and a month back, or was never done."""
    last = {season: max((t.read_on for t in tests if t.season == season), default=None) for season in _TESTED}
    return seasons_due(last, today)


def seasons_due(last: Mapping[str, date | None], today: date) -> list[str]:
    """The tested seasons whose last day lies a year and a month back, or is not known."""
    days = {season: last.get(season) for season in _TESTED}
    return [season for season, day in days.items() if day is None or (today - day).days > _DUE_DAYS]


def learned_soil(plan: Plan, test: StoredTest) -> dict[str, Any] | None:
    """The soil factor that a test teaches, as the plan's calibration takes it; None where it already has it."""
    own = layers_of(plan, Weather(Season(test.season))).upper_ohm_m / plan.calibration.soil_factor
    factor = round(min(10.0, max(0.1, test.soil_ohm_m / own)), 3)
    if abs(factor / plan.calibration.soil_factor - 1) < 0.02:
        return None
    share = min(1.0, (test.high_ohm - test.low_ohm) / (2 * test.rods_ohm))
    return plan.calibration.model_dump() | {"soil_factor": factor, "soil_share": round(share, 3)}


@dataclass(frozen=True)
class StrayEntry:
    """Volts at a place as they were typed."""

    landmark: str
    volts: str
    season: Season
    note: str
    read_on: str


def log_stray(
    begin_transaction: BeginTransaction, *, plan_id: int, plan: Plan, entry: StrayEntry, read_by: int
) -> None:
    """Keep volts read where animals drink. Raises ReadingError, Refused."""
    mark = next((m for m in plan.landmarks if m.id == entry.landmark), None)
    if mark is None:
        raise ReadingError("landmark", "Choose a place where animals drink; mark one at Ground first.")
    volts = number(entry.volts, "volts", "Volts", 1000)
    if len(entry.note) > 300:
        raise ReadingError("note", "Note: at most 300 characters.")
    try:
        known = {row.mark.id: row for row in strays(plan)}
    except Incomplete:
        known = {}
    row = known.get(mark.id)
    with begin_transaction() as connection:
        earth_tests.add_stray_reading(
            connection,
            plan_id=plan_id,
            landmark=mark.id,
            place=mark.name or mark.kind.replace("_", " "),
            volts=volts,
            season=entry.season.value,
            forecast_v=row.volts[entry.season.value] if row else None,
            note=entry.note.strip(),
            read_by=read_by,
            read_on=_day(entry.read_on),
        )


def default_entry(plan: Plan, season: Season) -> TestEntry:
    """The sheet's form before anything is typed."""
    place = short_place(plan)
    at = f"{place.at_m:.0f} m" if place else ""
    return TestEntry(place.run if place else "", at, season, "", "", "", "10 m", "own_probe", "", "")


def remedy_of_test(
    begin_transaction: BeginTransaction, plan_id: int, plan: Plan, rods: str, learn: str
) -> tuple[Plan, str] | None:
    """The plan with so many rods, or with the soil of a kept test by its id, and the words; None for neither."""
    if rods.isdigit() and 1 <= int(rods) <= ROW_MOST:
        return with_rods(plan, count=int(rods)), f"{rods} rods after an earth test"
    with begin_transaction() as connection:
        tests = earth_tests.list_earth_tests(connection, plan_id=plan_id)
    test = next((t for t in tests if str(t.id) == learn), None)
    soil = learned_soil(plan, test) if test else None
    return (changed(plan, {"calibration": soil}), "Soil as the earth test found it") if soil else None
