"""The search: what is believed after readings and looks, what is done next, and that it ends well."""

import math
from typing import Any

import numpy as np
import pytest

from adze.core.practice.play import question, taken
from adze.core.trace.belief import RODS_PLACE, Doubts, TraceReading, kalman
from adze.core.trace.closing import Round, p_left
from adze.core.trace.explanation import closing_range, kinds_told, meaning, pieces_told, stretches
from adze.core.trace.inspections import unlooked
from adze.core.trace.next_step import learned_bits
from adze.core.trace.predicted import ReadAt
from adze.core.trace.pulse_base import CUT, LS
from adze.core.trace.search import begin
from adze.core.trace.suspects import NONE_SHARE
from tests.core.trace.farms import begun, cases, hidden, played

ONE_FAULT = ("T30003", "T30004", "T30006")


def test_a_reading_is_a_kalman_step() -> None:
    """One doubt of variance P and a reading of variance R: the mean moves by P/(P+R), P shrinks to PR/(P+R)."""
    cov = np.zeros((1, 3, 3))
    cov[0, 0, 0] = 0.04
    found = kalman(Doubts(np.zeros(1), np.zeros((1, 3)), cov), np.array([0.3]), np.eye(1, 3), np.array([0.01]), 5.5)
    assert found.mean[0, 0] == pytest.approx(0.3 * 0.04 / 0.05)
    assert found.cov[0, 0, 0] == pytest.approx(0.04 * 0.01 / 0.05)
    assert found.log_weight[0] == pytest.approx(-0.5 * 0.09 / 0.05 - 0.5 * math.log(0.05))


def test_one_bad_reading_cannot_kill_the_truth() -> None:
    cov = np.zeros((1, 3, 3))
    found = kalman(Doubts(np.zeros(1), np.zeros((1, 3)), cov), np.array([50.0]), np.eye(1, 3), np.array([1.0]), 5.5)
    assert found.log_weight[0] == pytest.approx(-0.5 * 5.5**2)


def test_amps_the_other_way_about_cost_little_and_teach_nothing() -> None:
    one = Doubts(np.zeros(1), np.zeros((1, 3)), np.eye(3)[None] * 0.01)
    slopes, variance = np.array([[8.0, 0.0, 0.0]]), np.array([0.5])
    plain = kalman(one, np.array([-16.0]), slopes, variance, 5.5)
    turned = kalman(one, np.array([-16.0]), slopes, variance, 5.5, np.array([0.0]))  # read -8 A, expected 8 A
    spread = math.sqrt(0.5 + 64 * 0.01)
    assert plain.log_weight[0] == pytest.approx(-0.5 * 5.5**2 - math.log(spread))
    assert turned.log_weight[0] == pytest.approx(-3.0 - math.log(spread))
    assert turned.mean[0] == pytest.approx(0.0)
    assert turned.cov[0] == pytest.approx(one.cov[0])
    right = kalman(one, np.array([0.0]), slopes, variance, 5.5, np.array([16.0]))
    assert right.log_weight == pytest.approx(kalman(one, np.array([0.0]), slopes, variance, 5.5).log_weight)


def test_the_rods_are_read_before_anybody_walks() -> None:
    farm, search = hidden("T30003"), begun("T30003")
    steps = []
    for _ in range(2):
        step = search.next_step()
        steps.append(step.do)
        search = taken(search, step, farm.answer(question(search, step)))
    assert steps == ["read", "read_rods"]
    assert (farm.metres, farm.minutes) == (0, 2)
    assert search.next_step().do != "read_rods"
    skipped = begun("T30003")
    skipped = taken(skipped, skipped.next_step(), {"kv": 3.0, "amps": 9.0}).skipped_at(RODS_PLACE)
    assert skipped.next_step().do != "read_rods"


def test_gains_are_bits_and_none_where_nothing_is_told() -> None:
    before = np.array([0.5, 0.5])
    assert learned_bits(np.array([[1.0, 0.0], [0.5, 0.5]]), before) == pytest.approx([1.0, 0.0], abs=1e-9)


def test_looks_count_at_the_place_and_in_the_near_half_of_a_cut() -> None:
    grid = begun("T30003").grid
    place = int(grid.b[0])
    inspections = unlooked(grid).looked(grid, place, 0.95)
    assert inspections.place[place] == pytest.approx(0.05)
    assert inspections.half[0].tolist() == pytest.approx([1.0, 0.05])
    passed = unlooked(grid).passed(grid, [0], 0.5)
    assert passed.half[0].tolist() == [0.5, 0.5]
    assert passed.place[place] == 0.75


def test_beforehand_places_are_weighed_by_their_hazards() -> None:
    search = begun("T30003")
    suspects = search.suspects
    assert suspects.prior.sum() == pytest.approx(1.0)
    assert suspects.prior[0] == pytest.approx(NONE_SHARE, rel=0.2)
    kinds = suspects.kind
    assert suspects.prior[kinds == LS].sum() > suspects.prior[kinds == CUT].sum()
    assert search.candidates.p_material > 0.95  # something is known to be wrong
    assert search.candidates.cells.sum() == pytest.approx(1.0)


@pytest.mark.parametrize("case", ONE_FAULT)
def test_one_fault_is_found_and_the_fence_restored(case: str) -> None:
    farm = hidden(case)
    search = played(begun(case), farm.answer)
    assert farm.is_restored
    assert len(search.finds) == 1
    assert farm.minutes < 120


def test_two_faults_are_found_one_after_the_other() -> None:
    farm = hidden("T30009")
    search = played(begun("T30009"), farm.answer)
    assert farm.is_restored
    assert len(search.finds) == 2
    assert p_left(search.candidates) < 0.1


def _wrong_sign(number: int, told: dict[str, Any]) -> dict[str, Any]:
    return told | {"amps": -told["amps"]} if number == 1 and "amps" in told else told


def _no_amps(_: int, told: dict[str, Any]) -> dict[str, Any]:
    return told | {"amps": None} if "amps" in told else told


def _one_wrong(number: int, told: dict[str, Any]) -> dict[str, Any]:
    return told | {"kv": 1.5 * told["kv"]} if number == 2 and "kv" in told else told


@pytest.mark.parametrize("spoil", [_wrong_sign, _no_amps, _one_wrong])
def test_a_search_with_a_slip_still_ends_well(spoil: Any) -> None:
    farm, count = hidden("T30004"), iter(range(1000))

    def answer(asked: dict[str, Any]) -> dict[str, Any]:
        return spoil(next(count), farm.answer(asked))

    played(begun("T30004"), answer)
    assert farm.is_restored
    assert farm.minutes < 200


def test_where_nobody_can_go_is_not_asked_again() -> None:
    search = begun("T30003")
    step = search.next_step()
    skipped = search.skipped_at(step.at)
    assert skipped.next_step().at != step.at
    told = taken(search, step, {"kv": None, "amps": None, "minutes": 1.0})
    assert step.at in told.skipped


def test_a_reading_that_nothing_explains_is_questioned() -> None:
    search = begun("T30004")
    step = next(d for d in (search.next_step(),) if d.do == "read")
    plain = search.read(TraceReading(step.at, 4.0, 20.0))
    assert plain.surprise < 3
    odd = plain.read(TraceReading(ReadAt(step.place, search.grid.legs[step.place][-1]), None, -400.0))
    assert odd.surprise > 3


def test_the_same_steps_give_the_same_search() -> None:
    """Undo replays: what is believed is a function of the steps alone."""
    farm, search, steps = hidden("T30003"), begun("T30003"), []
    for _ in range(4):
        step = search.next_step()
        answer = farm.answer(question(search, step))
        steps.append((step, answer))
        search = taken(search, step, answer)
    again = begin(cases()["T30003"].farm())
    for step, answer in steps:
        again = taken(again, step, answer)
    np.testing.assert_allclose(again.candidates.weight, search.candidates.weight, rtol=1e-6, atol=1e-12)


def test_after_a_mend_what_is_left_is_weighed_anew() -> None:
    farm, search = hidden("T30003"), begun("T30003")
    while not search.finds:
        step = search.next_step()
        search = taken(search, step, farm.answer(question(search, step)))
    mended = search
    assert mended.candidates.p_material < 0.6
    assert mended.next_step().do == "read"
    assert mended.reads_mend
    assert mended.readings == ()
    assert mended.candidates.weight.sum() == pytest.approx(1.0)


def test_what_was_known_before_the_search_outlasts_a_mend() -> None:
    farm = cases()["T30007"].farm()
    off = math.log(0.93)
    search = begin(farm, known=Doubts(np.zeros(1), np.array([[off, 0.0, 0.0]]), np.diag([0.02, 0.3, 0.35])[None] ** 2))
    there = hidden("T30007")
    while not search.finds:
        step = search.next_step()
        search = taken(search, step, there.answer(question(search, step)))
    assert search.known.mean[0, 0] == off
    assert np.sqrt(search.candidates.doubts.cov[:, 0, 0]).max() < 0.021
    assert np.abs(search.candidates.doubts.mean[:, 0] - off).max() < 0.06  # three spreads


def test_the_stretches_hold_what_they_say() -> None:
    search = begun("T30003")
    pieces = pieces_told(search)
    whole = sum(piece.share for piece in pieces)
    half = sum(row.share for row in stretches(search, half=True))
    most = sum(row.share for row in stretches(search, half=False))
    assert 0.5 <= half / whole < 0.6
    assert 0.9 <= most / whole < 0.96
    kinds = kinds_told(search)
    assert sum(vars(kinds).values()) == pytest.approx(1.0, abs=0.02)


def test_what_an_outcome_means_is_told_before_it_is_read() -> None:
    search = begun("T30003")
    found = meaning(search, search.next_step())
    assert found is not None
    assert found.past + found.before == pytest.approx(1.0, abs=0.1)
    assert sum(row.chance for row in found.outcomes) == pytest.approx(1.0, abs=0.02)
    assert {row.means for row in found.outcomes} >= {"past", "before"}


def test_a_closing_reading_has_a_range_for_nothing_more_and_sides_for_what_is_left() -> None:
    """What is outside two spreads of the reading of a well fence is told, with the stretches that would show it."""
    there = hidden("T30006")
    search = begun("T30006")
    told = []
    while (step := search.next_step()).do != "stop":
        if search.is_closing and not search.reads_mend and step.do == "read":
            told.append((closing_range(search, step), search, step))
        search = taken(search, step, there.answer(question(search, step)))
    shown = [(row, at, step) for row, at, step in told if row is not None]
    assert shown
    for row, at, step in shown:
        assert row.low < row.high
        assert row.under + row.over <= at.candidates.p_material + 1e-9
        assert all(side for side, chance in ((row.under_at, row.under), (row.over_at, row.over)) if chance > 0)
        well = at.suspects.single.predict_some(ReadAt(step.place, step.leg), np.arange(1))
        assert row.low < float(well.amps[0] if row.unit == "A" else well.kv[0]) < row.high


@pytest.mark.slow
def test_all_public_farms() -> None:
    """Sixteen farms: every one with one fault restored, of those with several most."""
    restored = {}
    for case, row in cases().items():
        farm = hidden(case)
        played(begin(row.farm()), farm.answer)
        restored[case] = farm.is_restored
    several = [case for case, row in cases().items() if row.world and len(row.world.faults) > 1]
    assert all(restored[case] for case in restored if case not in several)
    assert sum(restored[case] for case in several) >= 5


def test_a_round_is_trusted_by_what_its_readings_brought() -> None:
    assert Round().earned == 1.0
    assert Round(1, 9, expected_bits=0.9, brought_bits=0.0).earned == pytest.approx(0.1)
    assert Round(1, 9, expected_bits=0.1, brought_bits=0.5).earned == 1.0


def test_a_reading_in_the_round_counts_what_it_moved() -> None:
    """What a reading brought is how far "is anything left" lies from what was believed before (closed form)."""
    search = begun("T30003")
    place = ReadAt(search.here, search.grid.legs[search.here][0])
    read = search.candidates.after(search.learner, TraceReading(place, 3.0, 20.0), again=False)
    before, now = p_left(search.candidates), p_left(read)
    found = Round(1).after(search.candidates, search.learner, place, read)
    bits = now * math.log2(now / before) + (1 - now) * math.log2((1 - now) / (1 - before)) if now < 1 else 0.0
    assert found.brought_bits == pytest.approx(bits, abs=1e-6)
    assert (found.finds, found.readings) == (1, 1)
    assert found.expected_bits > 0
