"""Halving by amps, the trade's way: it finds a hard short in fewer metres than walking; where amps mislead it walks."""

import pytest

from adze.core.practice.halving import halve_all
from adze.core.practice.simulated_farm import HiddenFault, Truth, simulated_farm, walk_all
from tests.core.trace.farms import cases, hidden


def test_a_hard_short_is_found_by_following_the_amps() -> None:
    farm = cases()["T30003"].farm()
    far = max(farm.network.spans, key=lambda span: span.length_m)
    fault = HiddenFault("LS", far.id, 0.4 * far.length_m, 60.0)
    there = halve_all(simulated_farm(farm, [fault], Truth(), 1))
    walked = walk_all(simulated_farm(farm, [fault], Truth(), 1))
    assert there.is_restored
    assert there.left == []
    assert there.metres < walked.metres


@pytest.mark.parametrize("case", ["T30005", "T30012"])
def test_where_amps_mislead_it_walks_until_the_fence_is_restored(case: str) -> None:
    """A cut draws less, and a second fault hides behind the first."""
    there = halve_all(hidden(case))
    assert there.is_restored
    assert there.metres < 3 * sum(span.length_m for span in there.farm.network.spans)
