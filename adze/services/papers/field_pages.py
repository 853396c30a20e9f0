"""What the pages beside the fence show: a reading's form, the earth test's sheet."""

import contextlib
import math
import secrets
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any
from urllib.parse import quote

from adze.core.basics.units import parse_length_m
from adze.core.build.construction import fence_of
from adze.core.forecast.earth_test import PEG_M, TEST_SCHOOLS
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place, place_words
from adze.core.log.round import ALONE, stops
from adze.core.log.weather_day import DayState
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.core.soil.earth import EarthError
from adze.services.log.earth_tests import TESTERS, TestEntry, again, learned_soil, sheet, test_rows
from adze.services.log.levels import turns_of_day
from adze.services.log.readings import Entry, ReadingError, expected_of
from adze.services.log.weather_days import expected_on, farm_weather, state_words
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction
from adze.store.log.earth_tests import list_earth_tests

_OLDEST, _AHEAD = timedelta(days=60), timedelta(minutes=5)
_MOST_PAGES = 60


@dataclass(frozen=True)
class TypedReading:
    """A reading's form as it was typed."""

    run: str = ""
    at_m: str = "0"
    strand: str = "1"
    kv: str = ""
    amps: str = ""
    way: str = "outward"
    season: str = "usual"
    note: str = ""
    idempotency_key: str = ""
    over: str = ""
    at: str = ""

    def standing(self) -> "TypedReading":
        """The form as a page opens it: the distance as a number of metres, a token of its own."""
        return replace(self, at_m=f"{_finite(self.at_m):.1f}", idempotency_key=secrets.token_urlsafe(12))

    def entry(self) -> Entry:
        """The reading. Raises ReadingError naming the field."""
        try:
            at_m, strand = float(self.at_m), int(self.strand)
        except ValueError:
            raise ReadingError("at_m", "Distance and strand: write numbers.") from None
        season = Season(self.season) if self.season in set(Season) else Season.USUAL
        kv = f"{self.kv}+" if self.over and self.kv.strip() else self.kv
        typed = (kv, self.amps, self.way == "outward", season, self.note, self.idempotency_key)
        return Entry(self.run, at_m, strand, *typed, self.read_at())

    def read_at(self) -> datetime | None:
        """When it was read, as a device without signal says it; None for now. Raises ReadingError for a wrong clock."""
        if not self.at:
            return None
        try:
            at = datetime.fromisoformat(self.at)
        except ValueError:
            raise ReadingError("at", f"Time: {self.at[:40]!r} is not a time with its zone.") from None
        now = datetime.now(UTC)
        if at.tzinfo is None or not now - _OLDEST <= at <= now + _AHEAD:
            raise ReadingError("at", f"Time: {self.at[:25]} is not within the last 60 days; set the device's clock.")
        return at


def _finite(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        return 0.0
    return value if math.isfinite(value) else 0.0


def reading_view(
    begin_transaction: BeginTransaction, opened: OpenPlan, typed: TypedReading, error: ReadingError | None = None
) -> dict[str, Any]:
    """The form with what is expected where one stands, today where the weather is known, and what is wrong with it."""
    plan = opened.plan
    run = next((r for r in plan.runs if r.id == typed.run), plan.runs[0] if plan.runs else None)
    place = run and Place(run.id, min(max(_finite(typed.at_m), 0.0), length_m(run)))
    if run and typed.run in ALONE:
        place = Place(typed.run, 0.0)
    expected = None
    if place:
        with contextlib.suppress(Incomplete, KeyError, ValueError):
            expected = expected_of(plan, Season(typed.season), place, 1)
    with begin_transaction() as connection:
        weather = farm_weather(connection, opened)
    state, on = weather.today(), datetime.now(UTC).astimezone(weather.zone).date()
    return {
        "stored": opened.stored,
        "plan": plan,
        "place": place,
        "today": _today(plan, state, place, on) if state and place and place.run not in ALONE else None,
        "where": place and (ALONE.get(place.run) or place_words(plan, place)),
        "alone": ALONE,
        "typed": vars(typed),
        "expected": expected,
        "strands": len(fence_of(fence_at(plan, run.id).view if run else plan)),
        "points": [f for f in plan.fixtures if f.kind == "test"],
        "units": plan.units,
        "field": error.field if error else "",
        "message": str(error) if error else "",
        "pages": _pages(opened),
    }


def _today(plan: Plan, state: DayState, place: Place, on: date) -> dict[str, Any] | None:
    """What is expected on a day by the weather record; a page that a device keeps says which day that was."""
    try:
        turns = turns_of_day(plan, (place,), state)
        expected = expected_on(plan, state, place, turns[place][2])
    except (Incomplete, KeyError, ValueError):
        return None
    return {
        "on": on,
        "words": state_words(state),
        "low": expected.low,
        "likely": expected.likely,
        "high": expected.high,
    }


def _pages(opened: OpenPlan) -> list[str]:
    """The field pages of every stop of a round, and the sheets for the crew."""
    at = f"/plans/{opened.id}"
    places = [stop.place for stop in stops(opened.plan) if stop.place]
    own = [f"{at}/log/reading?run={p.run}&at_m={p.at_m:g}" for p in places]
    alone = [f"{at}/log/reading?run={quote(key)}" for key in ALONE]
    return [f"{at}/log/reading", *alone, *own[:_MOST_PAGES], *([f"{at}/paper/work"] if opened.plan.runs else [])]


def earth_test_view(
    begin_transaction: BeginTransaction,
    opened: OpenPlan,
    typed: TestEntry,
    error: ReadingError | None = None,
    notice: str = "",
) -> dict[str, Any]:
    """The earth test's sheet: what to do, the form, and what the newest test says of the plan."""
    plan, peg = opened.plan, PEG_M
    # The form says what is wrong with it; the sheet goes on with the usual distance.
    with contextlib.suppress(ValueError):
        peg = min(200.0, max(0.3, parse_length_m(typed.peg, "ft" if plan.units == "imperial" else "m")))
    found, blocked = None, ""
    try:
        found = sheet(plan, typed.season, peg)
    except (Incomplete, EarthError) as missing:
        blocked = str(missing)
    with begin_transaction() as connection:
        tests = list_earth_tests(connection, plan_id=opened.id)
    latest = tests[0] if tests else None
    return {
        "stored": opened.stored,
        "plan": plan,
        "units": plan.units,
        "sheet": found,
        "blocked": blocked,
        "typed": typed,
        "testers": TESTERS,
        "schools": TEST_SCHOOLS,
        "rows": test_rows(tests, plan.earth_school),
        "latest": latest,
        "says": again(plan, latest) if latest else None,
        "learned": learned_soil(plan, latest) if latest else None,
        "field": error.field if error else "",
        "message": str(error) if error else "",
        "notice": notice,
    }


def with_peg(typed: TestEntry, peg: str) -> TestEntry:
    """The form with another distance of the probe, where one is named."""
    return replace(typed, peg=peg) if peg else typed
