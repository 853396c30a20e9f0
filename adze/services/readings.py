"""Log a tester's reading where somebody stands, beside what was forecast there."""

from dataclasses import dataclass
from zoneinfo import ZoneInfo

from adze.core.basics.faults import FieldFault
from adze.core.basics.rounding import significant
from adze.core.basics.units import band_words, kv_words
from adze.core.build.construction import fence_of
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place, place_words
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.services.forecasts import Expected, expected_at
from adze.store import readings
from adze.store.connection import Transaction
from adze.store.readings import Reading


class ReadingError(FieldFault):
    """A reading that cannot be kept; `field` is where to mend it."""


@dataclass(frozen=True)
class Entry:
    """What was typed; `once` is the token of the form, so that it is kept once however often it is sent."""

    run: str
    at_m: float
    strand: int
    kv: str
    amps: str
    outward: bool | None
    season: Season
    note: str
    once: str = ""


def number(text: str, field: str, what: str, most: float) -> float:
    """A typed figure within 0 and `most`. Raises ReadingError naming the field and the limit."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        raise ReadingError(field, f"{what}: write a number such as 4.6.") from None
    if not 0 <= value <= most:
        raise ReadingError(field, f"{what}: must lie between 0 and {most:g}.")
    return value


def log_reading(transaction: Transaction, *, plan_id: int, plan: Plan, entry: Entry, read_by: int) -> Reading:
    """Keep a reading with its forecast. Raises ReadingError, Refused."""
    run = next((r for r in plan.runs if r.id == entry.run), None)
    if run is None:
        raise ReadingError("run", "Choose a line of this plan to stand on.")
    if not 0 <= entry.at_m <= length_m(run) + 0.5:
        raise ReadingError("at_m", f"Distance: {run.name} is {length_m(run):.0f} m long.")
    strands = len(fence_of(fence_at(plan, run.id).view))
    if not 1 <= entry.strand <= strands:
        raise ReadingError("strand", f"Strand: {run.name} has {strands}.")
    if len(entry.note) > 300:
        raise ReadingError("note", "Note: at most 300 characters.")
    kv = number(entry.kv, "kv", "kV", 20)
    amps = number(entry.amps, "amps", "Amps", 500) if entry.amps.strip() else None
    expected: Expected | None
    try:
        expected = expected_at(plan, entry.season, Place(run.id, entry.at_m))
    except (Incomplete, KeyError):
        expected = None
    reading = readings.NewReading(
        run=run.id,
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
    )
    with transaction() as connection:
        return readings.add_reading(connection, reading, plan_id=plan_id, read_by=read_by, once=entry.once)


@dataclass(frozen=True)
class ReadingWords:
    """A reading in the log: where, what, and how it stands to the forecast."""

    where: str
    kv: str
    amps: str
    status: str
    says: str
    season: str
    note: str
    read_at: str
    read_by: str


def reading_words(plan: Plan, reading: Reading, time_zone: str) -> ReadingWords:
    """A reading against its forecast: inside the band, low, or high."""
    runs = {run.id for run in plan.runs}
    where = place_words(plan, Place(reading.run, reading.at_m)) if reading.run in runs else "a line since removed"
    amps = "" if reading.amps is None else f"{reading.amps:g} A {'outward' if reading.outward else 'back'}"
    status, says = "unknown", "Nothing was forecast."
    low, likely, high = reading.forecast_low_kv, reading.forecast_kv, reading.forecast_high_kv
    if low is not None and likely is not None and high is not None:
        band = f"{band_words(kv_words(low), kv_words(high))} kV, likely {kv_words(likely)}"
        off = reading.kv - (low if reading.kv < low else high)
        if low <= significant(reading.kv) <= high or abs(off) < 0.05:
            status, says = "holds", f"Within the forecast of {band}."
        elif reading.kv < low:
            status = "fails" if -off > 0.15 * likely else "marginal"
            says = f"{kv_words(-off)} kV below the forecast of {band}: something leaks that the plan does not know."
        else:
            status, says = "holds", f"{kv_words(off)} kV above the forecast of {band}: cleaner or drier than assumed."
    return ReadingWords(
        where=f"{where}, strand {reading.strand}",
        kv=kv_words(reading.kv) if reading.kv else "0",
        amps=amps,
        status=status,
        says=says,
        season=reading.season,
        note=reading.note,
        read_at=reading.read_at.astimezone(ZoneInfo(time_zone)).strftime("%d %b %Y, %H:%M"),
        read_by=reading.read_by_name,
    )
