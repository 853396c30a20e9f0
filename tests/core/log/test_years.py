"""Points year by year."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from adze.core.log.years import SAME_POINT_M, YearRead, by_years


def test_a_point_s_years_have_their_middle_and_least_and_change() -> None:
    reads = [
        YearRead("a", 100, 1, 2027, 6.0),
        YearRead("a", 108, 1, 2027, 5.0),
        YearRead("a", 100, 1, 2026, 7.5),
        YearRead("a", 100, 2, 2026, 1.0),
        YearRead("a", 100 + SAME_POINT_M, 1, 2026, 3.0),
    ]
    first, second, third = by_years(reads)
    assert (first.at_m, [year for year, _ in first.years]) == (100, [2026, 2027])
    assert first.years[1][1].middle_kv == 5.5
    assert (first.years[1][1].count, first.years[1][1].least_kv) == (2, 5.0)
    assert first.change_kv == pytest.approx(-2.0)
    assert (second.strand, second.change_kv) == (2, None)
    assert third.at_m == 100 + SAME_POINT_M
    assert by_years([]) == ()


@given(
    st.lists(
        st.builds(
            YearRead,
            run=st.sampled_from("ab"),
            at_m=st.floats(0, 100),
            strand=st.integers(1, 2),
            year=st.integers(2024, 2027),
            kv=st.floats(0, 9.9),
        ),
        max_size=30,
    )
)
def test_every_reading_counts_once_and_the_middle_lies_over_the_least(reads: list[YearRead]) -> None:
    years = [year for point in by_years(reads) for _, year in point.years]
    assert sum(year.count for year in years) == len(reads)
    assert all(year.least_kv <= year.middle_kv for year in years)
