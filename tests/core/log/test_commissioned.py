"""The healthy baseline: which reading counts, what has fallen since with the weather allowed for."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

import numpy as np

from adze.core.log.commissioned import WEATHER_SHARE, baselines, least_share
from adze.core.log.level import reading_spread

ON = datetime(2027, 5, 12, 15, tzinfo=UTC)
IN = ON + timedelta(hours=4)


@dataclass(frozen=True)
class Read:
    read_at: datetime
    kv: float
    run: str = "line1"
    at_m: float = 300.0
    strand: int = 1
    forecast_kv: float | None = 6.0


def test_the_last_reading_before_stock_goes_in_is_the_baseline() -> None:
    mended = Read(ON + timedelta(hours=3), 6.1)
    reads = [mended, Read(ON + timedelta(hours=1), 2.4), Read(ON - timedelta(hours=1), 5.0)]
    (found,) = baselines(reads, ON, IN)
    assert (found.kv, found.at) == (6.1, mended.read_at)
    assert found.now_kv is None
    assert not found.has_fallen


def test_what_the_weather_explains_has_not_fallen_and_what_it_does_not_has() -> None:
    then = Read(ON, 6.0)
    later = IN + timedelta(days=30)
    dry = Read(later, 4.5, forecast_kv=4.5)
    assert baselines([dry, then], ON, IN)[0].share == 1.0
    low = Read(later, 4.5)
    (fell,) = baselines([low, then], ON, IN)
    assert fell.has_fallen
    assert fell.share is not None
    assert fell.share < least_share(6.0) < 0.9
    unknown = Read(later, 3.0, forecast_kv=None)
    assert baselines([unknown, then], ON, IN)[0].share == 0.5


def test_a_well_point_is_called_fallen_once_in_a_hundred() -> None:
    rng = np.random.default_rng(8)
    then, now = (np.exp(rng.normal(0, reading_spread(6.0), 200_000)) for _ in range(2))
    share = now / then * np.exp(rng.normal(0, WEATHER_SHARE, 200_000))
    assert 0.007 < np.mean(share < least_share(6.0)) < 0.013


def test_points_are_apart_by_strand_and_place() -> None:
    reads = [Read(ON, 6.0), Read(ON, 5.0, strand=2), Read(ON, 4.0, at_m=20.0), Read(ON, 3.0, at_m=306.0)]
    assert [row.kv for row in baselines(reads, ON, IN)] == [6.0, 5.0, 4.0]


def test_a_dead_point_has_no_share() -> None:
    (found,) = baselines([Read(IN + timedelta(days=1), 3.0), Read(ON, 0.0)], ON, IN)
    assert found.share is None
