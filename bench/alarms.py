"""Alarms of a monitor over made-up years, false ones and what is told within a day: python -m bench.alarms [--years N].

A monitor at the farthest end of each demo farm reads every hour (`adze/standins/monitor.py`): weather, growth and cuts,
a tester's noise. Healthy years have no fault; the others have what storms and chance break. docs/devices.md holds the
table.
"""

import argparse
import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from multiprocessing import Pool

from adze.core.forecast.volts import readings_at, solved
from adze.core.ground.lines import length_m
from adze.core.ground.places import Place
from adze.core.log.alarms import AlarmKind, AlarmLimits, DeviceReading, alarms
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.demo.farms import DEMO_FARMS
from adze.standins.monitor import Hidden, MonitorReading, year

SHARES = (0.5, 0.6, 0.7, 0.8, 0.9)
BINS = ((0.0, 0.25), (0.25, 0.5), (0.5, 0.7), (0.7, 0.88))
_END = datetime(2027, 12, 31, 23, tzinfo=UTC)
_SEEN = 12  # readings that the alarm looks at


@dataclass(frozen=True)
class _Year:
    """A year at one limit: alarms while nothing was wrong, and of each fault its share left and whether it was told."""

    false_alarms: int
    faults: tuple[tuple[float, bool], ...]


def told(rows: Sequence[MonitorReading], hidden: Sequence[Hidden], limit_kv: float) -> _Year:
    """A year of readings through the alarm: a new alarm that no fault explains is false."""
    limits, open_search = AlarmLimits(limit_kv, 10_000), frozenset[AlarmKind]()
    newest: list[DeviceReading] = []
    false, at_of_alarms = 0, []
    for row in rows:
        newest = [*newest[1 - _SEEN :], DeviceReading(row.at, row.kv)]
        found = frozenset(alarm.kind for alarm in alarms(limits, newest, row.at, open_search))
        if found - open_search:
            at_of_alarms.append(row.at)
            if not any(f.since <= row.at <= f.until + timedelta(hours=2) for f in hidden):
                false += 1
        open_search = found
    faults = tuple(
        (f.left, any(f.since <= at <= min(f.until, f.since + timedelta(days=1)) for at in at_of_alarms)) for f in hidden
    )
    return _Year(false, faults)


def _far_end(plan: Plan) -> Place:
    run = max(plan.runs, key=length_m)
    return Place(run.id, length_m(run))


def one_year(task: tuple[int, int, bool]) -> list[_Year]:
    """A year on a demo farm at every limit: a share of what is forecast there in the worst week."""
    farm, seed, is_healthy = task
    plan = DEMO_FARMS[farm].plan
    place = _far_end(plan)
    least = min(float(readings_at(solved(plan, Weather(season)), [place])[0, 0]) for season in Season)
    rows, hidden, _ = year(plan, place, 365, seed, _END, is_healthy=is_healthy)
    return [told(rows, hidden, share * least) for share in SHARES]


def main() -> None:
    """Run and print a table."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--years", type=int, default=200)
    parser.add_argument("--first", type=int, default=1)
    parser.add_argument("--processes", type=int, default=2)
    asked = parser.parse_args()
    farms = len(DEMO_FARMS)
    with Pool(asked.processes) as pool:
        healthy = pool.map(one_year, [(i % farms, asked.first + i, True) for i in range(asked.years)])
        broken = pool.map(one_year, [(i % farms, asked.first + i, False) for i in range(asked.years)])
    for number, share in enumerate(SHARES):
        false = sum(years[number].false_alarms > 0 for years in healthy)
        faults = [fault for years in broken for fault in years[number].faults]
        cells = []
        for low, high in BINS:
            own = [was_told for left, was_told in faults if low <= left < high]
            cells.append(f"{low:.0%}-{high:.0%} {sum(own)}/{len(own)}")
        print(
            f"limit {share:.0%}: false in {false}/{len(healthy)} years; told, by kV left: {', '.join(cells)}",
            flush=True,
        )


if __name__ == "__main__":
    main()
