"""A monitor that reads a made-up year of a plan's fence: weather, growth and cuts, storms, and faults that come and go.

It speaks as any device does: batches over HTTP with a token (docs/devices.md). No reading of it is real.
"""

import json
import math
import random
import urllib.request
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np

from adze.core.forecast.volts import readings_at, solved
from adze.core.ground.places import Place
from adze.core.plan.changes import replaced
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import farm_of, spot_of
from adze.core.trace.predicted import sizes_of
from adze.core.trace.pulse_base import CUT, base
from adze.core.trace.suspects import every_single
from adze.standins.weather import made_up_hours

_BATCH = 500
_NOISE = 0.02
_WET_H, _DRY_DAYS = 18.0, 21.0
_GROWS_ABOVE_C, _FULL_DEGREE_DAYS = 5.0, 420.0
_LEAST_GROWTH, _MOST_GROWTH, _CUT_AT = 0.3, 1.7, 1.45
_STORM_BREAKS, _QUIET_BREAKS = 0.25, 0.0012  # the chance of a fault in a stormy, in any other hour
_LEAST_LOSS = 0.12  # a fault that is worth its name takes an eighth here
_TURN = 1.2


@dataclass(frozen=True)
class MonitorReading:
    """What the monitor reads at an hour."""

    at: datetime
    kv: float


@dataclass(frozen=True)
class Hidden:
    """What was really the matter: a fault from an hour to an hour, and the share of kV that it left there."""

    since: datetime
    until: datetime
    left: float


def year(
    plan: Plan, place: Place, days: int, seed: int, end: datetime, *, is_healthy: bool = False
) -> tuple[list[MonitorReading], list[Hidden], list[datetime]]:
    """So many days of readings up to an hour, the faults that were hidden in them, and the days of the cuts.

    `is_healthy`: nothing breaks.
    Raises Incomplete where nothing can be computed.
    """
    rng = random.Random(seed)
    forecast = {season: float(readings_at(solved(plan, Weather(season)), [place])[0, 0]) for season in Season}
    grassier = replaced(
        plan,
        calibration=plan.calibration.model_copy(update={"leak_factor": plan.calibration.leak_factor * _TURN}),
    )
    with_growth = float(readings_at(solved(grassier, Weather(Season.USUAL)), [place])[0, 0])
    turn = math.log(with_growth / forecast[Season.USUAL]) / math.log(_TURN)
    breaks = [] if is_healthy else _losses(plan, place)
    rows, hidden, cuts = [], [], []
    start = (end - timedelta(days=days)).replace(minute=0, second=0, microsecond=0)
    wet, dry_h, degree_days, fault = 0.0, 0.0, 200.0, None
    for hour in _hours(plan, start, days):
        at = datetime.fromisoformat(str(hour["at"])).astimezone(UTC)
        rain = float(hour["rain_mm"])
        wet = min(1.0, wet * math.exp(-1 / _WET_H) + rain / 2)
        dry_h = 0.0 if rain > 0.2 else dry_h + 1
        degree_days += max(0.0, float(hour["temp_c"]) - _GROWS_ABOVE_C) / 24
        growth = _LEAST_GROWTH + (_MOST_GROWTH - _LEAST_GROWTH) * (1 - math.exp(-degree_days / _FULL_DEGREE_DAYS))
        if growth > _CUT_AT and at.hour == 10 and rain == 0:
            degree_days, growth = 0.0, _LEAST_GROWTH
            cuts.append(at)
        dry = min(1.0, dry_h / 24 / _DRY_DAYS)
        kv = forecast[Season.USUAL]
        kv *= (forecast[Season.WET] / kv) ** wet * (forecast[Season.DRY] / kv) ** dry * growth**turn
        stormy = bool(hour["thunder"]) or float(hour["wind_ms"]) > 12
        if fault is None and breaks and rng.random() < (_STORM_BREAKS / 6 if stormy else _QUIET_BREAKS):
            fault = Hidden(at, at + timedelta(hours=rng.uniform(6, 60)), rng.choice(breaks))
            hidden.append(fault)
        if fault is not None:
            kv *= fault.left
            fault = None if at >= fault.until else fault
        if at <= end:
            rows.append(MonitorReading(at, round(max(0.0, kv * (1 + rng.gauss(0, _NOISE))), 2)))
    return rows, hidden, cuts


def _hours(plan: Plan, start: datetime, days: int) -> Iterator[dict[str, Any]]:
    for number in range(days + 1):
        day = (start + timedelta(days=number)).date()
        yield from made_up_hours(plan.origin.lat, plan.origin.lon, day, 1)


def _losses(plan: Plan, place: Place) -> list[float]:
    """The shares of kV that faults anywhere would leave at a place, of those that are worth their name."""
    farm = farm_of(plan, Season.USUAL)
    where = grid(farm)
    every = every_single(base(farm, where))
    chosen = np.arange(1, len(every.fault))
    kv, healthy = every.kv_at(where.place(spot_of(plan, place)), chosen)
    left = np.asarray(kv) / max(healthy, 1e-6)
    kinds = np.repeat(every.base.faults.kind, sizes_of(every.base.faults.kind).shape[1])
    return [float(x) for x in left[(left < 1 - _LEAST_LOSS) & (kinds != CUT)]]


def send(rows: Iterable[MonitorReading], url: str, token: str) -> dict[str, int]:
    """Send readings to an application in batches; how many it kept and knew. Raises OSError."""
    batch: list[MonitorReading] = []
    total = {"kept": 0, "known": 0, "refused": 0}

    def flush() -> None:
        body = {
            "sent_at": datetime.now(UTC).isoformat(),
            "readings": [{"at": row.at.isoformat(), "kv": row.kv} for row in batch],
        }
        request = urllib.request.Request(
            f"{url.rstrip('/')}/api/devices/readings",
            json.dumps(body).encode(),
            {"Content-Type": "application/json", "Authorization": f"Bearer {token}"},
        )
        with urllib.request.urlopen(request, timeout=60) as answer:
            told = json.loads(answer.read())
        total["kept"] += told["kept"]
        total["known"] += told["known"]
        total["refused"] += len(told["refused"])
        batch.clear()

    for row in rows:
        batch.append(row)
        if len(batch) == _BATCH:
            flush()
    if batch:
        flush()
    return total
