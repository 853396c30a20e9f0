"""A farm's weather record and the cuts of a fence: how it stood on a day, what that says of kV and of what is due."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from adze.core.basics.units import Units, parse_length_m
from adze.core.ground.places import Place
from adze.core.log.reading_judgement import Expected
from adze.core.log.weather_day import DRY_DAYS, DayState, WeatherDay, day_state, kv_of_day, storms
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.services.answers.forecasts import expected_at
from adze.services.log.readings import ReadingError
from adze.services.plans.plans import OpenPlan
from adze.store.connection import BeginTransaction, Connection
from adze.store.log import upkeep, weather_days

CUT = "trim"  # the upkeep that takes the growth off
_MOST_MM = 500.0
_OLDEST = timedelta(days=400)


@dataclass(frozen=True)
class FarmWeather:
    """The record of a farm by day, newest first, and the days on which growth was cut at a fence, newest first."""

    days: tuple[WeatherDay, ...]
    cuts: tuple[date, ...]
    zone: ZoneInfo

    @property
    def record(self) -> Mapping[date, WeatherDay]:
        """The days by their date."""
        return {row.day: row for row in self.days}

    def states(self, moments: Mapping[int, datetime]) -> dict[int, DayState]:
        """How the fence stood at some moments; those are left out of whose day nothing is recorded."""
        record, found, known = self.record, dict[int, DayState](), dict[date, DayState | None]()
        for key, at in moments.items():
            day = at.astimezone(self.zone).date()
            if day not in known:
                known[day] = day_state(record, day, next((cut for cut in self.cuts if cut <= day), None))
            state = known[day]
            if state is not None:
                found[key] = state
        return found

    def today(self) -> DayState | None:
        """How the fence stands now."""
        return self.states({0: datetime.now(UTC)}).get(0)


def farm_weather(connection: Connection, opened: OpenPlan) -> FarmWeather:
    """The record of a plan's farm up to today, and its cuts."""
    zone = ZoneInfo(opened.stored.time_zone)
    today = datetime.now(UTC).astimezone(zone).date()
    rows = weather_days.list_days(connection, farm_id=opened.stored.farm_id, until=today)
    done = upkeep.list_upkeep(connection, plan_id=opened.id, most=500) if rows else ()
    cuts = sorted({row.done_on for row in done if row.kind == CUT}, reverse=True)
    days = tuple(WeatherDay(row.day, row.rain_mm, row.mean_c, row.is_stormy) for row in rows)
    return FarmWeather(days, tuple(cuts), zone)


def expected_on(plan: Plan, state: DayState, place: Place, with_growth: float) -> Expected:
    """The forecast of a live strand on a day, between its seasons. Raises Incomplete."""
    rows = [expected_at(plan, season, place) for season in (Season.DRY, Season.USUAL, Season.WET)]

    def of_day(kv: list[float]) -> float:
        return kv_of_day(state, (kv[0], kv[1], kv[2]), with_growth)

    return Expected(of_day([r.low for r in rows]), of_day([r.likely for r in rows]), of_day([r.high for r in rows]))


def state_words(state: DayState) -> str:
    """How a fence stands on a day, in words."""
    words = "the ground is frozen" if state.is_frozen else "wet" if state.wet > 0.5 else ""
    if not words:
        days = state.rainless_days
        words = f"no good rain for {days} days" if days > 1 else "moist"
    if state.since_cut_days is not None:
        words += f", {state.since_cut_days} days since the cut: {state.growth:.1f} times the growth of the plan"
    return words


def season_of(state: DayState) -> Season:
    """The season of the plan that is nearest to a day."""
    return Season.WET if state.wet > 0.5 else Season.DRY if state.dry > 0.5 else Season.USUAL


def spell_words(weather: FarmWeather) -> str:
    """Whether this is the spell for the earth test of the driest or the wettest week; nothing where it is neither."""
    state = weather.today()
    if state is None:
        return ""
    if state.is_frozen:
        return "The ground is frozen: at best the rods read as in the driest week."
    if state.rainless_days >= DRY_DAYS:
        return f"No good rain for {state.rainless_days} days: the rods must still be enough in such a dry spell."
    if state.wet >= 1.0:
        return "Soaked today: readings now show the losses of the wettest week."
    return ""


def last_storm(weather: FarmWeather) -> date | None:
    """The last stormy day that the record knows."""
    return storms(weather.record, max((row.day for row in weather.days), default=date.min))


def keep_gauge(begin_transaction: BeginTransaction, opened: OpenPlan, mm: str, on: str) -> None:
    """What a rain gauge showed, as typed; without a day: today. Raises ReadingError naming the field."""
    today = datetime.now(UTC).astimezone(ZoneInfo(opened.stored.time_zone)).date()
    try:
        day = date.fromisoformat(on) if on.strip() else today
    except ValueError:
        raise ReadingError("on", f"Day: {on[:20]!r} is not a date such as 2027-05-12.") from None
    if not today - _OLDEST <= day <= today:
        raise ReadingError("on", f"Day: {day} is not within the last {_OLDEST.days} days.")
    try:
        amount = 1000 * parse_length_m(mm, "in" if opened.plan.units is Units.IMPERIAL else "mm")
    except ValueError:
        raise ReadingError("mm", "Rain in the gauge: write how much it shows, such as 12 mm or 0.5 in.") from None
    if not 0 <= amount <= _MOST_MM:
        raise ReadingError("mm", f"Rain in the gauge: 0 to {_MOST_MM:g} mm ({_MOST_MM / 25.4:.1f} in).")
    with begin_transaction() as connection:
        weather_days.keep_gauge(connection, farm_id=opened.stored.farm_id, day=day, gauge_mm=amount)
