"""What the log knows before a search: too few readings say nothing, many lower the doubt to a floor."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from adze.core.log.level import GROWTH_DOUBT, RODS_DOUBT, UNIT_DOUBT, LevelReading, judged
from adze.services.trace.known import known_of_levels

BEGUN = datetime(2027, 5, 1, 9, tzinfo=UTC)


def readings(walks: int, points: int, unit: float = 1.0) -> list[LevelReading]:
    return [
        LevelReading(
            walk * points + k,
            f"line1@{k}",
            BEGUN + timedelta(days=walk),
            6.0 * unit,
            6.0,
            -0.1 - 0.05 * k,
            -0.2 * k,
            4.0,
        )
        for walk in range(walks)
        for k in range(points)
    ]


@pytest.mark.parametrize(("walks", "points"), [(1, 3), (12, 1)])
def test_few_readings_or_one_point_alone_say_nothing(walks: int, points: int) -> None:
    assert known_of_levels(judged(readings(walks, points))[0]) is None


def test_many_readings_lower_the_doubt_but_not_to_nothing() -> None:
    few, many = (known_of_levels(judged(readings(walks, 4))[0]) for walks in (2, 30))
    assert few is not None
    assert many is not None
    assert many.readings == 120
    spread = np.sqrt(np.diag(many.cov))
    assert np.all(spread <= np.sqrt(np.diag(few.cov)) + 1e-9)
    assert np.all(spread < [UNIT_DOUBT + 0.02, RODS_DOUBT, GROWTH_DOUBT])
    assert np.all(spread >= [0.02, 0.12, 0.15])


def test_a_weak_unit_is_known_as_one_and_the_growth_of_the_day_moves_the_mean() -> None:
    weak = known_of_levels(judged(readings(20, 4, unit=0.93))[0], growth=0.4)
    plain = known_of_levels(judged(readings(20, 4, unit=0.93))[0])
    assert weak is not None
    assert plain is not None
    assert weak.mean[0] < -0.01
    assert weak.mean[2] - plain.mean[2] == pytest.approx(0.4)
