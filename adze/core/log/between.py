"""Where the amps say it lies: two readings on one line between which more went than the forecast lets go."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

LEAST_A, LEAST_SHARE = 3.0, 0.25  # lost between two readings before it is a place and not a tester's error
TOGETHER = timedelta(hours=36)  # readings of one walk


@dataclass(frozen=True)
class AmpsRead:
    """Amps outward at a place of a line, what the forecast has there, and when it was read."""

    run: str
    at_m: float
    amps: float
    forecast_a: float
    read_at: datetime


@dataclass(frozen=True)
class Between:
    """A stretch that takes more than it should: from and to, m along the line, and amps that are lost there."""

    run: str
    from_m: float
    to_m: float
    lost_a: float


def between(rows: Sequence[AmpsRead]) -> tuple[Between, ...]:
    """The stretches of a walk on which amps are lost, most first. Amps fall by the forecast's share of each leg."""
    found = []
    for run in dict.fromkeys(row.run for row in rows):
        own = sorted((row for row in rows if row.run == run), key=lambda row: row.at_m)
        newest = max(row.read_at for row in own)
        own = [row for row in own if newest - row.read_at <= TOGETHER]
        for near, far in itertools.pairwise(own):
            lost = (near.amps - far.amps) - max(0.0, near.forecast_a - far.forecast_a)
            if lost > max(LEAST_A, LEAST_SHARE * near.amps):
                found.append(Between(run, near.at_m, far.at_m, round(lost, 1)))
    return tuple(sorted(found, key=lambda row: -row.lost_a))
