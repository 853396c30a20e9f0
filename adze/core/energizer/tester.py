"""How a tester is adjusted: makers set its scale on some pulse, here on that of three joules on 500 ohm (S14)."""

from functools import cache

from adze.core.energizer.fit import fit_pulse
from adze.core.energizer.unit_pulse import peak_on
from adze.core.tables.energizers import Catalogue

_REFERENCE = Catalogue(released_j=3.0, open_v=9000.0, v500_v=6300.0, stored_j=4.3)
_ON_OHM = 500.0


@cache
def adjustment(response_s: float) -> float:
    """What a tester of a time constant multiplies its reading with, to be right on the reference pulse."""
    parts = fit_pulse(_REFERENCE).parts
    return peak_on(parts, _ON_OHM).volts / peak_on(parts, _ON_OHM, response_s=response_s).volts
