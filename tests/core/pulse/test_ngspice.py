"""Peaks beside ngspice's, on cases of our own; skipped where it is not installed."""

import shutil

import pytest

from adze.core.pulse.network import Terminal, terminals_of
from bench.checked import Checked, cases, compared, picture, table

pytestmark = pytest.mark.skipif(not shutil.which("ngspice"), reason="ngspice (Debian package) is not installed")


def _as_quick(case: Checked) -> object:
    """Five strands apart, and strands that are tangled, take the simulator a minute each."""
    apart = any(len(terminals_of(span.line)) > 2 for span in case.network.spans)
    tangled = any(shunt.end is Terminal.EARTH for shunt in case.network.shunts)
    return pytest.param(case, id=case.title, marks=pytest.mark.slow if apart or tangled else ())


@pytest.mark.parametrize("case", [_as_quick(case) for case in cases()])
def test_peaks_are_the_simulator_s(case: Checked) -> None:
    # A spike of a microsecond is cut by the frequencies: what counts is its share of the energizer's volts.
    rows, least_v = compared(case), 0.002 * case.network.source.v0_v
    for row in rows:
        assert row.ours_v == pytest.approx(row.spice_v, rel=0.01, abs=least_v), row.what
    assert case.title in table(rows)
    assert picture(rows).count("<circle") == len(rows)
