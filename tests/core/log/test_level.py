"""Learned levels: a point's doubt falls with good readings, a fault teaches nothing, growth is told apart."""

import math
import random
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from adze.core.log.level import (
    GROWTH_DOUBT,
    POINT_DOUBT,
    RODS_DOUBT,
    DayAnswer,
    LevelReading,
    alarm_limit,
    chi_square,
    drifted,
    judged,
    learned,
    unlearned,
)

DAY = datetime(2027, 4, 1, 9, tzinfo=UTC)


def reading(key: int, kv: float, days: float = 0.0, point: str = "a", growth: float = -0.1) -> LevelReading:
    return LevelReading(key, point, DAY + timedelta(days=days), kv, 6.0, -0.05, growth, 4.0)


def test_a_points_doubt_falls_with_good_readings() -> None:
    rng = random.Random(1)
    rows = [reading(k, 5.6 * math.exp(rng.gauss(0, 0.03)), 8.0 * k) for k in range(14)]
    levels, found = judged(rows)
    expected, spread = levels.expected("a", 6.0, 0.0, 0.0)
    assert spread < 0.8 * math.hypot(POINT_DOUBT, 0.04)
    assert expected == pytest.approx(5.6, rel=0.05)
    assert all(row.answer is DayAnswer.WELL for row in found)
    assert found[-1].high_kv - found[-1].low_kv < found[0].high_kv - found[0].low_kv


def test_a_reading_far_off_teaches_nothing() -> None:
    good = [reading(k, 5.8, 8.0 * k) for k in range(8)]
    before, _ = judged(good)
    after, found = judged([*good, reading(9, 2.0, 65.0)])
    assert found[-1].answer is DayAnswer.NEW
    kv, _ = before.expected("a", 6.0, 0.0, 0.0)
    assert after.expected("a", 6.0, 0.0, 0.0)[0] == pytest.approx(kv, rel=0.01)
    assert after.counts["a"] == 8


def test_three_readings_with_a_fault_do_not_make_growth_twice() -> None:
    rows = [reading(k, 6.0, 8.0 * k, growth=-0.3) for k in range(6)]
    rows += [reading(10 + k, 2.5, 50.0 + k, growth=-0.3) for k in range(3)]
    levels, found = judged(rows)
    assert [row.answer for row in found[-3:]] == [DayAnswer.NEW] * 3
    assert levels.mean[2] < math.log(1.2)


def test_something_new_is_told_between_the_last_well_point_and_this_one() -> None:
    rows = [
        row
        for k in range(6)
        for row in (reading(10 * k, 6.2, 8.0 * k, "near"), reading(10 * k + 1, 5.9, 8.0 * k + 0.02, "far"))
    ]
    rows += [reading(90, 6.1, 50.0, "near"), reading(91, 3.0, 50.02, "far")]
    _, found = judged(rows)
    assert found[-2].answer is DayAnswer.WELL
    assert found[-1].answer is DayAnswer.NEW
    assert found[-1].after == 90


def test_growth_on_every_point_is_growth() -> None:
    """Each point is low as its own turn with growth says: 1.8 times the growth."""
    turns = {"a": -0.15, "b": -0.45, "c": -0.6}
    rows, key = [], 0
    for k in range(5):
        for point, turn in turns.items():
            key += 1
            rows.append(reading(key, 6.0, 6.0 * k, point, turn))
    for point, turn in turns.items():
        key += 1
        rows.append(reading(key, 6.0 * 1.9**turn, 34.0, point, turn))
    _, found = judged(rows)
    low = [row for row in found[-3:] if row.answer is DayAnswer.GROWTH]
    assert low
    assert low[-1].growth == pytest.approx(1.9, abs=0.3)
    assert not [row for row in found[-3:] if row.answer is DayAnswer.NEW]


def test_in_band_and_below_what_is_wanted_is_short() -> None:
    rows = [LevelReading(k, "a", DAY + timedelta(days=k), 3.6, 3.6, 0.0, 0.0, 5.0) for k in range(3)]
    assert {row.answer for row in judged(rows)[1]} == {DayAnswer.SHORT}


def test_what_was_learned_of_growth_fades_with_time() -> None:
    levels, _ = judged([reading(k, 5.4, k * 0.1, growth=-0.5) for k in range(6)])
    later, _ = judged([*[reading(k, 5.4, k * 0.1, growth=-0.5) for k in range(6)], reading(9, 6.0, 300.0, "b", 0.0)])
    assert levels.cov[2, 2] < GROWTH_DOUBT**2
    assert later.cov[2, 2] == pytest.approx(GROWTH_DOUBT**2, rel=0.01)
    assert abs(later.mean[2]) < abs(levels.mean[2])


def test_the_alarms_limit_is_the_chi_square_of_one_in_a_hundred() -> None:
    for count, limit in ((1, 6.635), (4, 13.277), (10, 23.209)):
        assert alarm_limit(count) == pytest.approx(limit, rel=0.01)
    assert alarm_limit(0) == math.inf


def test_one_well_round_in_a_hundred_alarms() -> None:
    """Points of a fence as the prior draws it, read well: the chi-square passes its limit one time in a hundred."""
    rng = random.Random(5)
    points = [f"p{k}" for k in range(6)]
    levels, alarms, rounds = unlearned(points), 0, 4000
    for number in range(rounds):
        unit, rods, growth = rng.gauss(0, 0.04), rng.gauss(0, 0.3), rng.gauss(0, 0.35)
        walk = []
        for k, point in enumerate(points):
            turn = -0.05 - 0.06 * k
            true = 6.0 * math.exp(unit - 0.05 * rods + turn * growth + rng.gauss(0, 0.05))
            read = true * math.exp(rng.gauss(0, math.hypot(0.03, 0.1 / true, 0.02)))
            walk.append(LevelReading(number, point, DAY, read, 6.0, -0.05, turn, 4.0))
        alarms += chi_square(levels, walk) > alarm_limit(len(walk))
    assert 0.004 < alarms / rounds < 0.018


def test_rods_and_growth_drift_back_to_the_tables_with_their_own_times() -> None:
    """An exponential: after 45 days 1/e of what was learned of the rods is left, after 30 days 1/e of the growth's."""
    start = replace(unlearned(["a"]), mean=np.array([0.1, 0.2, 0.3, 0.4]), cov=np.zeros((4, 4)), at=DAY)
    for days, number, doubt in ((45, 1, RODS_DOUBT), (30, 2, GROWTH_DOUBT)):
        later = drifted(start, DAY + timedelta(days=days))
        assert later.mean[number] == pytest.approx(start.mean[number] / math.e)
        assert later.cov[number, number] == pytest.approx((1 - math.exp(-2)) * doubt**2)
        assert later.mean[[0, 3]].tolist() == [0.1, 0.4]
        assert later.cov[[0, 3], [0, 3]].tolist() == [0.0, 0.0]
    assert drifted(start, DAY - timedelta(days=1)) is start


@pytest.mark.parametrize(("spreads", "teaches"), [(-3.4, True), (-3.6, False), (3.4, True), (3.6, False)])
def test_a_reading_beyond_three_and_a_half_spreads_teaches_nothing(spreads: float, teaches: bool) -> None:
    known, _ = judged([reading(k, 6.0, 8.0 * k) for k in range(6)])
    low, high = 1.0, 12.0
    for _ in range(60):  # the kV that lies so many spreads off, by halving
        kv = (low + high) / 2
        low, high = (kv, high) if learned(known, reading(9, kv, 50.0))[3] < spreads else (low, kv)
    after = learned(known, reading(9, kv, 50.0))[0]
    assert (after.counts["a"] > known.counts["a"]) is teaches
