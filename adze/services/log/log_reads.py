"""A plan's readings and what they teach, kept as long as neither the plan nor a reading changes."""

from dataclasses import dataclass

from adze.core.basics.cache import Cache
from adze.core.plan.document import Plan
from adze.services.log.levels import Learned, learned_of
from adze.services.log.weather_days import FarmWeather
from adze.store.connection import Connection
from adze.store.log import readings
from adze.store.log.readings import Reading

MOST_READ = 1000  # the newest of them
_kept: "Cache[LogReads]" = Cache("readings of the log", 48)


@dataclass(frozen=True, eq=False)
class LogReads:
    """The newest readings that count, newest first, and what they teach; one object as long as nothing changes."""

    rows: tuple[Reading, ...]
    learned: Learned | None


def log_reads(connection: Connection, plan: Plan, plan_id: int, weather: FarmWeather) -> LogReads:
    """What was read on a plan, and what it teaches with the weather of its days."""
    stamp = readings.get_stamp(connection, plan_id=plan_id)

    def read() -> LogReads:
        rows = readings.list_readings(connection, plan_id=plan_id, most=MOST_READ)
        return LogReads(rows, learned_of(plan, rows, weather))

    return _kept.get((id(plan), plan_id, stamp, weather), read, plan)
