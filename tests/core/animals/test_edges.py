"""Each figure of the strand rules as a worked one, or just inside and just outside of it."""

from dataclasses import replace
from itertools import pairwise

import pytest

from adze.core.animals.strand_checks import check
from adze.core.animals.strand_rules import (
    Animal,
    Duty,
    Purpose,
    Role,
    Strand,
    bottom_group,
    design,
    limits_of,
    post_over_cm,
    wanted_kv,
)
from adze.core.basics.status import Status
from adze.core.plan.catalogue import between_pulses_s
from tests.conftest import simple_plan

# A body of round figures: nose 50, shoulder 100, head 10 cm.
ROUND = Animal("round", 50, 100, 10, 20, False, False, True, 0, 5.0, 3.0, False, Purpose.HOLD, True)


def live(*heights: float) -> tuple[Strand, ...]:
    return tuple(Strand(cm, Role.LIVE) for cm in heights)


def test_what_a_sniffing_and_a_pushing_head_pass() -> None:
    """2.2 and 1.25 head widths; 40 parts of a hundred of the shoulder, 70 of the nose for one that digs."""
    wide = replace(ROUND, head_cm=40)
    assert limits_of(ROUND, Duty.HOLD).gap_at_nose_cm == 22
    assert limits_of(replace(ROUND, schooled=False), Duty.HOLD).gap_at_nose_cm == 13
    assert limits_of(wide, Duty.HOLD).lowest_cm == 40
    assert limits_of(replace(wide, digs=True), Duty.HOLD).lowest_cm == 35
    assert limits_of(replace(wide, digs=True, nose_cm=60, shoulder_cm=200), Duty.HOLD).lowest_cm == 42


def test_how_high_the_top_and_an_inner_strand_stand() -> None:
    """75 parts of a hundred of the shoulder for one that knows it, 80 else, and the spring; 65 on an inner line."""
    assert limits_of(ROUND, Duty.HOLD).top_cm == 95
    assert limits_of(replace(ROUND, schooled=False), Duty.HOLD).top_cm == 100
    assert limits_of(ROUND, Duty.INNER).lowest_cm == 65
    assert limits_of(replace(ROUND, smooth=False), Duty.INNER).lowest_cm == 22


@pytest.mark.parametrize(("wild", "seconds"), [(True, 4.0), (False, 1.2)])
def test_how_long_a_body_takes_past_a_strand(wild: bool, seconds: float) -> None:
    """60 cm at 0.15 m/s by one that is wary, at 0.5 m/s by one that is bold."""
    animal = replace(ROUND, wild=wild, schooled=False)
    (pulse,) = [f for f in check((animal,), Duty.HOLD, live(50), pulse_s=9.0) if f.check == "pulse"]
    assert pulse.value == pytest.approx(seconds)


def test_a_pulse_each_1_2_seconds_where_no_unit_is_chosen() -> None:
    assert between_pulses_s(simple_plan(energizer=None)) == 1.2


def test_a_post_stands_5_cm_over_the_top_strand() -> None:
    assert [post_over_cm(cm) for cm in (94.5, 95, 95.5)] == [100, 100, 105]


@pytest.mark.parametrize(("upper_cm", "shared"), [(40, (0, 1)), (41, (0,))])
def test_strands_in_the_grass_share_a_switch(upper_cm: float, shared: tuple[int, ...]) -> None:
    assert bottom_group(live(20, upper_cm, 80)) == shared


def test_strands_of_a_design_stand_at_least_5_cm_apart() -> None:
    """Where one animal's gap is less than 5 cm its strands stand 5 cm apart."""
    small = Animal("small", 3, 9, 2, 10, False, False, True, 0, 3.0, 2.0, True, Purpose.OUT, False)
    heights = [s.cm for s in design((small,), Duty.HOLD).strands]
    assert min(b - a for a, b in pairwise(heights)) == 5


@pytest.mark.parametrize(("fleece_cm", "kv"), [(3.0, 3.0), (3.1, 4.0)])
def test_wool_over_3_cm_wants_one_kv_more(fleece_cm: float, kv: float) -> None:
    assert wanted_kv((replace(ROUND, fleece_cm=fleece_cm),)) == kv


@pytest.mark.parametrize(("gap_cm", "status"), [(22, Status.HOLDS), (24, Status.MARGINAL), (25, Status.FAILS)])
def test_a_gap_up_to_a_tenth_too_wide_is_marginal(gap_cm: float, status: Status) -> None:
    (head,) = [f for f in check((ROUND,), Duty.HOLD, live(22, 22 + gap_cm, 66, 84, 100)) if f.check == "head"]
    assert head.status is status
