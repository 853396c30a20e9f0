"""What a search begins with: readings that hold still; what was read before a spot changed does not."""

from datetime import UTC, datetime, timedelta

import pytest

from adze.services.trace.from_log import Shown, changed_at

NOW = datetime(2027, 5, 3, 12, tzinfo=UTC)


def shown(hours_ago: float, kv: float, run: str = "line1", at_m: float = 100.0) -> Shown:
    return Shown(NOW - timedelta(hours=hours_ago), run, at_m, kv)


@pytest.mark.parametrize(
    ("seen", "changed_hours_ago"),
    [
        ([], None),
        ([shown(5, 7.5), shown(1, 7.2)], None),
        ([shown(5, 7.5), shown(1, 2.1)], 5),
        ([shown(9, 2.0), shown(6, 7.4), shown(2, 7.5)], 9),
        ([shown(9, 7.5), shown(8, 7.4), shown(3, 2.2), shown(1, 2.1)], 8),
        ([shown(5, 7.5), shown(1, 2.1, at_m=160.0)], None),
        ([shown(5, 7.5), shown(1, 2.1, at_m=120.0)], 5),
        ([shown(5, 7.5), shown(1, 2.1, run="line2")], None),
        ([shown(7, 7.5), shown(1, 2.1), shown(4, 6.0, run="line2"), shown(2, 3.0, run="line2")], 4),
    ],
)
def test_a_spot_that_shows_other_kv_since_makes_what_was_read_before_stale(
    seen: list[Shown], changed_hours_ago: float | None
) -> None:
    expected = None if changed_hours_ago is None else NOW - timedelta(hours=changed_hours_ago)
    assert changed_at(seen) == expected
    assert changed_at(seen[::-1]) == expected
