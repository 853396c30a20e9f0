"""Each limit of this room, just inside and just outside of it."""

from datetime import date

import pytest

from adze.core.plan.herds import Herd
from adze.core.plan.stock import TrainingProgress, fleece_cm, progress
from adze.core.tables.animals import animal_kinds


@pytest.mark.parametrize(
    ("last_day", "touches", "found"),
    [(6, 20, TrainingProgress.READY), (5, 20, TrainingProgress.LEARNING), (6, 19, TrainingProgress.LEARNING)],
)
def test_a_group_of_ten_is_ready_after_five_days_and_twenty_touches(
    last_day: int, touches: int, found: TrainingProgress
) -> None:
    herd = Herd(id="e", kind="ewe", count=10, training={"came": date(2026, 5, 1), "touches": touches})
    assert progress(herd, date(2026, 5, last_day)) is found


def test_half_the_fleece_is_back_after_half_a_year() -> None:
    ewe, herd = animal_kinds()["ewe"], Herd(id="e", kind="ewe", sheared=date(2026, 1, 1))
    half = fleece_cm(ewe, herd, date(2026, 7, 3))
    assert half == pytest.approx((ewe.shorn_cm + ewe.fleece_cm) / 2, rel=0.02)
