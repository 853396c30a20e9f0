"""Peaks beside ngspice's, on cases of our own; skipped where it is not installed."""

import shutil

import pytest

from bench.checked import Checked, cases, compared, picture, table

pytestmark = pytest.mark.skipif(not shutil.which("ngspice"), reason="ngspice (Debian package) is not installed")


@pytest.mark.parametrize("case", cases(), ids=lambda case: case.title)
def test_peaks_are_the_simulator_s(case: Checked) -> None:
    rows = compared(case)
    for row in rows:
        assert row.ours_v == pytest.approx(row.spice_v, rel=0.01), row.what
    assert case.title in table(rows)
    assert picture(rows).count("<circle") == len(rows)
