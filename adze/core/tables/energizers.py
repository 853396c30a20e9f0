"""Energizers by their catalogue figures."""

from dataclasses import dataclass
from functools import cache

from adze.core.tables.reader import read_table


@dataclass(frozen=True)
class Catalogue:
    """What a catalogue says: joules released, kV without load and on 500 ohm; optionally stored J and more.

    `open_v` and `v500_v` in V, `released_j` and `stored_j` in J, `best_load_ohm` in ohm. Rarely known: `shape`, R over
    sqrt(L/C) of the pulse, and `peak_500_us`, the time to the peak on 500 ohm in us.
    """

    released_j: float
    open_v: float
    v500_v: float | None = None
    stored_j: float | None = None
    best_load_ohm: float | None = None
    shape: float | None = None
    peak_500_us: float | None = None


@dataclass(frozen=True)
class EnergizerModel:
    """An energizer: J, kV, seconds between pulses, supply, price; `loads` as measured, (ohm, kV) each.

    `output` is low impedance (short pulses that push through leaks), high impedance (longer, older), or
    continuous (no pulse at all). Where they are known: `shape` of its pulse, R over sqrt(L/C), `j_500`, what a pulse
    leaves in 500 ohm, J, and `peak_500_us`, the time to the peak there, us.
    """

    key: str
    label: str
    supply: str
    stored_j: float
    released_j: float
    open_kv: float
    kv_500: float
    pulse_s: float
    price: float
    loads: tuple[tuple[float, float], ...] = ()
    output: str = "low impedance"
    shape: float | None = None
    j_500: float | None = None
    peak_500_us: float | None = None

    @property
    def catalogue(self) -> Catalogue:
        """Its figures as the fit wants them, V and J."""
        volts = (self.open_kv * 1000, self.kv_500 * 1000)
        return Catalogue(self.released_j, *volts, self.stored_j, shape=self.shape, peak_500_us=self.peak_500_us)


@cache
def energizers() -> dict[str, EnergizerModel]:
    """All energizers by key, smallest first."""
    return read_table("energizers.csv", EnergizerModel)
