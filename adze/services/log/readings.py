"""Log a tester's reading where somebody stands, beside what was forecast there."""

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from adze.core.animals.strand_rules import Role
from adze.core.basics.cache import cached
from adze.core.basics.faults import FieldFault
from adze.core.basics.units import Units, format_length, kv_words, parse_length_m
from adze.core.build.construction import fence_of
from adze.core.forecast.volts import probe_at
from adze.core.ground.lines import length_m, run_of
from adze.core.ground.places import Place, place_words
from adze.core.log.reading_judgement import (
    NOT_FORECAST,
    Expected,
    ReadingVerdict,
    expected_earth_rise,
    judge_alone,
    judge_earth,
    judge_live,
)
from adze.core.log.round import ALONE, ALONE_SHARE
from adze.core.plan.catalogue import unit_of
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.plan.stock import wanted_of
from adze.services.answers.forecasts import expected_at
from adze.store.connection import BeginTransaction
from adze.store.log import readings
from adze.store.log.readings import Reading

MOST_KV, MOST_A = 20.0, 500.0  # more is a slip of who typed it, not a fence
_PAST_END = "{field}: {line} is {length} long."


class ReadingError(FieldFault):
    """A reading that cannot be kept; `field` is where to mend it."""


@dataclass(frozen=True)
class Entry:
    """What was typed; `idempotency_key` is the token of the form, so that it is kept once however often it is sent.

    `read_at` is when a device without signal took it; None: now.
    """

    run: str
    at_m: float
    strand: int
    kv: str
    amps: str
    outward: bool | None
    season: Season
    note: str
    idempotency_key: str = ""
    read_at: datetime | None = None

    def read_kv(self) -> tuple[float, bool]:
        """The kV that was typed, and whether the tester was at the end of its scale ("9.9+"). Raises ReadingError."""
        text = self.kv.strip()
        over = text.endswith("+") or text.startswith(">") or text.endswith("or more")
        plain = text.strip("+> ").removesuffix("or more")
        return number(plain if over else text, "kv", "kV", MOST_KV), over


def number(text: str, field: str, what: str, most: float) -> float:
    """A typed figure within 0 and `most`. Raises ReadingError naming the field and the limit."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        raise ReadingError(field, f"{what}: write a number such as 4.6.") from None
    if not 0 <= value <= most:
        raise ReadingError(field, f"{what}: must lie between 0 and {most:g}.")
    return value


def along_m(plan: Plan, run: str, text: str, way: str = "along") -> float:
    """Metres along a line as typed; a bare number is in the plan's units. Raises ReadingError.

    `way` is how its input is called: metres along, metres out.
    """
    line, is_imperial = run_of(plan, run), plan.units is Units.IMPERIAL
    name = f"{'Feet' if is_imperial else 'Metres'} {way}"
    try:
        at_m = parse_length_m(text.strip() or "0", "ft" if is_imperial else "m")
    except ValueError as error:
        raise ReadingError("at_m", f"{name}: {error}.") from None
    if not 0 <= at_m <= length_m(line) + 0.5:
        raise ReadingError(
            "at_m", _PAST_END.format(field=name, line=line.name, length=format_length(length_m(line), plan.units))
        )
    return at_m


def log_reading(
    begin_transaction: BeginTransaction, *, plan_id: int, plan: Plan, entry: Entry, read_by: int
) -> Reading:
    """Keep a reading with its forecast. Raises ReadingError, Refused."""
    reading = with_forecast(plan, entry)
    with begin_transaction() as connection:
        return readings.add_reading(
            connection,
            reading,
            plan_id=plan_id,
            read_by=read_by,
            idempotency_key=entry.idempotency_key,
            read_at=entry.read_at,
        )


def with_forecast(plan: Plan, entry: Entry) -> readings.NewReading:
    """A reading as it was typed, with the forecast of its place. Raises ReadingError."""
    _check_place(plan, entry)
    if len(entry.note) > 300:
        raise ReadingError("note", "Note: at most 300 characters.")
    kv, is_over = entry.read_kv()
    amps = number(entry.amps, "amps", "Amps", MOST_A) if entry.amps.strip() else None
    expected: Expected | None
    try:
        expected = expected_of(plan, entry.season, Place(entry.run, entry.at_m), entry.strand)
    except (Incomplete, KeyError):
        expected = None
    return readings.NewReading(
        run=entry.run,
        at_m=entry.at_m,
        strand=entry.strand,
        kv=kv,
        amps=amps,
        outward=entry.outward if amps is not None else None,
        season=entry.season.value,
        note=entry.note.strip(),
        forecast_low_kv=expected.low if expected else None,
        forecast_kv=expected.likely if expected else None,
        forecast_high_kv=expected.high if expected else None,
        is_over=is_over,
    )


def _check_place(plan: Plan, entry: Entry) -> None:
    if entry.run in ALONE:
        return
    run = next((r for r in plan.runs if r.id == entry.run), None)
    if run is None:
        raise ReadingError("run", "Choose a line of this plan to stand on.")
    if not 0 <= entry.at_m <= length_m(run) + 0.5:
        raise ReadingError("at_m", f"Distance: {run.name} is {length_m(run):.0f} m long.")
    strands = len(fence_of(fence_at(plan, run.id).view))
    if not 1 <= entry.strand <= strands:
        raise ReadingError("strand", f"Strand: {run.name} has {strands}.")


def alone_expected(plan: Plan) -> Expected:
    """What unit and lead-out should show without a fence: the unit's open kV. Raises Incomplete without a unit."""
    unit = unit_of(plan)
    if unit is None:
        raise Incomplete(Stage.POWER, "No energizer is chosen yet.")
    return Expected(ALONE_SHARE * unit.open_kv, unit.open_kv, unit.open_kv)


def expected_of(plan: Plan, season: Season, place: Place, strand: int) -> Expected:
    """What a tester should show on a strand: a live one's forecast, an earth strand's own rise. Raises Incomplete."""
    if place.run in ALONE:
        return alone_expected(plan)
    fence = fence_of(fence_at(plan, place.run).view)
    if fence[min(strand, len(fence)) - 1].role is not Role.EARTH:
        return expected_at(plan, season, place)
    return expected_earth_rise(probe_at(plan, Weather(season), place).earth_kv)


@dataclass(frozen=True)
class ReadingWords:
    """A reading in the log: where, what, and how it stands to the forecast and to what is wanted.

    `id` names it for who corrects it; `gone` says why it counts no more.
    """

    id: int
    gone: str

    where: str
    kv: str
    amps: str
    status: str
    says: str
    season: str
    note: str
    read_at: str
    read_by: str


def role_of(plan: Plan, reading: Reading) -> Role:
    """What the strand of a reading is, on a line that is on the plan."""
    fence = fence_of(fence_at(plan, reading.run).view)
    return fence[min(max(reading.strand, 1), len(fence)) - 1].role


def _wanted(plan: Plan, reading: Reading) -> float:
    return wanted_of(fence_at(plan, reading.run).view)


@cached("readings in words", 5000, identity_args=1)
def reading_words(plan: Plan, reading: Reading, time_zone: str) -> ReadingWords:
    """A reading against its forecast: inside the band, low, or high; and against what the animals want."""
    if reading.run in ALONE:
        alone = judge_alone(reading.run, reading.kv, _forecast_then(reading), is_over=reading.is_over)
        return _words(reading, ALONE[reading.run], "", alone, time_zone)
    runs = {run.id for run in plan.runs}
    is_on_plan = reading.run in runs
    where = place_words(plan, Place(reading.run, reading.at_m)) if is_on_plan else "a line since removed"
    amps = "" if reading.amps is None else f"{reading.amps:g} A {'outward' if reading.outward else 'back'}"
    expected = _forecast_then(reading)
    if expected is None:
        found = NOT_FORECAST
    elif is_on_plan and role_of(plan, reading) is Role.EARTH:
        found = judge_earth(reading.kv, expected)
    else:
        wanted_kv = _wanted(plan, reading) if is_on_plan else None
        found = judge_live(reading.kv, expected, is_over=reading.is_over, wanted_kv=wanted_kv)
    return _words(reading, f"{where}, strand {reading.strand}", amps, found, time_zone)


def _forecast_then(reading: Reading) -> Expected | None:
    """What was forecast when a reading was taken; None where nothing was."""
    low, likely, high = reading.forecast_low_kv, reading.forecast_kv, reading.forecast_high_kv
    return None if low is None or likely is None or high is None else Expected(low, likely, high)


def _words(reading: Reading, where: str, amps: str, found: ReadingVerdict, time_zone: str) -> ReadingWords:
    return ReadingWords(
        id=reading.id,
        gone=reading.withdrawn_why or "",
        where=where,
        kv=(kv_words(reading.kv) if reading.kv else "0") + (" or more" if reading.is_over else ""),
        amps=amps,
        status=found.status.value,
        says=found.says,
        season=reading.season,
        note=reading.note,
        read_at=reading.read_at.astimezone(ZoneInfo(time_zone)).strftime("%d %b %Y, %H:%M"),
        read_by=reading.read_by_name,
    )
