"""The healthy baseline: what each point read when the fence was commissioned, and how far it has come down since."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from adze.core.log.level import reading_spread
from adze.core.log.years import OfPoint, is_one_point

# How well the forecast knows what another week's weather does, as a share of kV: an assumption.
WEATHER_SHARE = 0.05
ONE_IN_A_HUNDRED = 2.33  # spreads of a normal error, one-sided


class DatedRead(OfPoint, Protocol):
    """A reading with its time and what was forecast for it."""

    @property
    def kv(self) -> float:
        """What was read."""

    @property
    def forecast_kv(self) -> float | None:
        """What was forecast for the day; None: nothing."""

    @property
    def read_at(self) -> datetime:
        """When."""


@dataclass(frozen=True)
class Baseline:
    """A point as it was commissioned and its newest reading since; None: not read since.

    `share` is what stands now against then, each beside its own day's forecast; 1 where nothing was forecast.
    """

    run: str
    at_m: float
    strand: int
    kv: float
    at: datetime
    now_kv: float | None = None
    now_at: datetime | None = None
    share: float | None = None

    @property
    def has_fallen(self) -> bool:
        """Whether it fell by more than two readings and the weather of their days explain."""
        return self.share is not None and self.share < least_share(self.kv)


def least_share(kv: float) -> float:
    """What a well point that read `kv` shows again at the least, as a share, ninety-nine times in a hundred.

    Both readings carry the tester's error and their day's; the forecast's own comes on top.
    """
    return math.exp(-ONE_IN_A_HUNDRED * math.hypot(math.sqrt(2) * reading_spread(kv), WEATHER_SHARE))


def baselines(reads: Sequence[DatedRead], begun: datetime, ended: datetime) -> tuple[Baseline, ...]:
    """Each point's last reading between switching on and stock going in, with its newest reading since.

    `reads` come newest first. The last counts: what was low was mended before stock went in.
    """
    first: list[DatedRead] = []
    for row in reads:
        if begun <= row.read_at <= ended and not any(is_one_point(row, known) for known in first):
            first.append(row)
    return tuple(_beside(row, reads, ended) for row in first)


def _beside(then: DatedRead, reads: Sequence[DatedRead], ended: datetime) -> Baseline:
    now = next((row for row in reads if row.read_at > ended and is_one_point(row, then)), None)
    if now is None:
        return Baseline(then.run, then.at_m, then.strand, then.kv, then.read_at)
    share = None
    if then.kv > 0:
        weather = now.forecast_kv / then.forecast_kv if now.forecast_kv and then.forecast_kv else 1.0
        share = now.kv / then.kv / weather
    return Baseline(then.run, then.at_m, then.strand, then.kv, then.read_at, now.kv, now.read_at, share)
