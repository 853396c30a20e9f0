"""Rods and soil: closed forms, limits and sharing."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.soil.earth import EarthError, RodField, backfilled_rod_ohm, hooves_ohm, pair_ohm, rod_ohm


def test_one_rod_by_hand() -> None:
    # 100/(4 pi) (ln 1000 - 1) for 2 m by 16 mm.
    assert rod_ohm(100, 2, 0.016) == pytest.approx(100 / (4 * math.pi) * (math.log(1000) - 1))


@given(st.integers(1, 25), st.floats(1, 9))
def test_another_rod_always_helps_but_less_than_its_share(count: int, spacing: float) -> None:
    now = RodField.row(count, spacing, 2, 0.016).ohm(100)
    more = RodField.row(count + 1, spacing, 2, 0.016).ohm(100)
    assert now * count / (count + 1) < more < now


def test_far_rods_share_evenly_and_the_ends_of_a_row_take_most() -> None:
    ohm, shares = RodField.row(5, 1000, 2, 0.016).shares(100)
    assert ohm == pytest.approx(rod_ohm(100, 2, 0.016) / 5, rel=0.01)
    assert shares == pytest.approx(np.full(5, 0.2), abs=1e-3)
    _, close = RodField.row(5, 3, 2, 0.016).shares(100)
    assert close[0] > close[1] > close[2]


def test_pair_from_afar_is_a_point() -> None:
    assert float(pair_ohm(100, 2, 500)) == pytest.approx(100 / (2 * math.pi * 500), rel=1e-3)


def test_a_nearer_peg_shows_less() -> None:
    field = RodField.row(3, 3, 2, 0.016)
    shown = [field.peg_fraction(100, (6 + away, 0)) for away in (0.5, 1, 3, 10, 30, 300)]
    assert shown == sorted(shown)
    assert shown[-1] == pytest.approx(1, abs=0.01)


def test_clay_in_the_bore_helps_in_dry_soil_only() -> None:
    assert backfilled_rod_ohm(1000, 5, 2, 0.016, 0.08) < rod_ohm(1000, 2, 0.016)
    assert backfilled_rod_ohm(100, 100, 2, 0.016, 0.08) == pytest.approx(rod_ohm(100, 2, 0.016))


def test_four_cattle_hooves() -> None:
    assert hooves_ohm(100, 0.04, 4) == pytest.approx(156.25)


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda: rod_ohm(0, 2, 0.016), "soil_ohm_m"),
        (lambda: rod_ohm(100, 2, 3), "diameter_m"),
        (lambda: RodField.row(0, 3, 2, 0.016), "count"),
        (lambda: RodField.row(3, 0.001, 2, 0.016).ohm(100), "m apart"),
        (lambda: backfilled_rod_ohm(100, 5, 2, 0.016, 0.01), "bore_m"),
    ],
)
def test_what_has_no_meaning_is_refused_by_name(make: object, says: str) -> None:
    with pytest.raises(EarthError, match=says):
        make()  # type: ignore[operator]
