"""What the log knows of a fence before a search: unit, rods and growth, each as it has shown in good readings."""

import math
from dataclasses import dataclass

import numpy as np

from adze.core.basics.cache import Cache
from adze.core.basics.types import Real
from adze.core.log.level import TOGETHER, Levels, drifted
from adze.services.log.levels import learned_of
from adze.services.log.weather_days import farm_weather
from adze.services.plans.plans import OpenPlan
from adze.store.connection import Connection
from adze.store.log.readings import get_stamp, list_readings
from adze.store.trace.searches import TraceSearch

LEAST_READINGS, LEAST_POINTS = 6, 2
# However many readings there are, so much stays in doubt on a day: the logarithms' standard deviations, assumptions.
_FLOOR = (0.02, 0.12, 0.15)
_kept: "Cache[LogKnown | None]" = Cache("what the log knows", 24)


@dataclass(frozen=True, eq=False)
class LogKnown:
    """Mean (3,) and covariance (3, 3) of the logarithms of unit, rods and growth, and from how many readings.

    `mark` is the same for the same figures: a search goes on as long as what is known does not change.
    """

    mean: Real
    cov: Real
    readings: int

    @property
    def mark(self) -> bytes:
        """What tells these figures from others."""
        return bytes(self.mean.tobytes() + self.cov.tobytes())

    @property
    def sure(self) -> tuple[int, int, int]:
        """How sure each is, one standard deviation, %."""
        spread = 100 * np.sqrt(np.diag(self.cov))
        return round(float(spread[0])), round(float(spread[1])), round(float(spread[2]))


def log_known(connection: Connection, opened: OpenPlan, row: TraceSearch) -> LogKnown | None:
    """What readings from before a search taught; None in practice, and where they are too few to be believed.

    The walk on which something was seen to be wrong is left out.
    """
    if row.hidden is not None:
        return None
    weather = farm_weather(connection, opened)
    key = (id(opened.plan), row.id, get_stamp(connection, plan_id=opened.id), weather)

    def read() -> LogKnown | None:
        until = row.started_at - TOGETHER
        rows = [r for r in list_readings(connection, plan_id=opened.id, most=400) if r.read_at < until]
        found = learned_of(opened.plan, rows, weather)
        if found is None:
            return None
        states = weather.states({0: row.started_at})
        growth = math.log(states[0].growth) if states else 0.0
        return known_of_levels(drifted(found.levels, row.started_at), growth)

    return _kept.get(key, read, opened.plan)


def known_of_levels(levels: Levels, growth: float = 0.0) -> LogKnown | None:
    """Unit, rods and growth of learned levels; `growth`: the logarithm by which that of the day differs."""
    count = sum(levels.counts.values())
    if count < LEAST_READINGS or len(levels.counts) < LEAST_POINTS:
        return None
    mean = levels.mean[:3] + np.array([0.0, 0.0, growth])
    return LogKnown(mean, levels.cov[:3, :3] + np.diag(np.square(_FLOOR)), count)
