"""What a reading would show under every hypothesis, with the rods as they are and with more ohms."""

import math
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numba import njit

from adze.core.basics.types import Complex, Index, Real
from adze.core.pulse.one_way import Spectra
from adze.core.trace.pulse_base import CUT, LOG_GRASSIER, PARTED_OHM, RODS, Observed, Peaks, State, TraceBase

SIZES_OHM = np.geomspace(20.0, 5000.0, 15)
CUT_TIMES = 20.0
_AT_A_TIME = 1024  # rows of spectra, half a megabyte
RODS_FACTOR, LOG_RODS = 1.35, math.log(1.35)


def sizes_of(kind: Index) -> Real:
    """The sizes of faults by kind, (F, 15): ohms; a cut's are 20 times these, rods take a factor."""
    rods = rods_factor(SIZES_OHM)
    return np.where((kind == CUT)[:, None], CUT_TIMES * SIZES_OHM, np.where((kind == RODS)[:, None], rods, SIZES_OHM))


def rods_factor(size: Real) -> Real:
    """By how much rods are worse that stand beside leaks of a size, ohms: 12 to 1.3 times."""
    factor: Real = 1 + 11 * (SIZES_OHM[0] / size) ** 0.65
    return factor


class ReadAt(NamedTuple):
    """Where a reading is taken: a place's number and the leg whose amps are read ("" for volts alone)."""

    number: int
    leg: str


@dataclass(frozen=True)
class Predicted:
    """kV and A of hypotheses (H,), and with the rods at 1.35 times; `grass_kv`, `grass_a` for growth's logarithm.

    A are NaN where only volts are read.
    """

    kv: Peaks
    amps: Peaks
    rods_kv: Peaks
    rods_a: Peaks
    grass_kv: float
    grass_a: float
    healthy_kv: float
    healthy_a: float

    def part(self, chosen: Index) -> "Predicted":
        """The same for some hypotheses."""
        own = (self.kv[chosen], self.amps[chosen], self.rods_kv[chosen], self.rods_a[chosen])
        return Predicted(*own, self.grass_kv, self.grass_a, self.healthy_kv, self.healthy_a)

    def joined(self, other: "Predicted") -> "Predicted":
        """This one's hypotheses, then the other's."""
        return Predicted(
            np.concatenate([self.kv, other.kv]),
            np.concatenate([self.amps, other.amps]),
            np.concatenate([self.rods_kv, other.rods_kv]),
            np.concatenate([self.rods_a, other.rods_a]),
            self.grass_kv,
            self.grass_a,
            self.healthy_kv,
            self.healthy_a,
        )


@dataclass(frozen=True)
class QuickPrediction:
    """kV and A of a reading, (2, H), as far as they were asked for (else NaN).

    `volts` and `amps` are of the fence when well: the reading, its turn with growth's logarithm, with worse rods.
    """

    shown: Peaks
    volts: tuple[float, float, float]
    amps: tuple[float, float, float]


@dataclass(frozen=True)
class Hypotheses:
    """One fault more on a fence that stands: ports (H,) and sizes (H,), each a single fault on top of the state.

    `drive` (H, K) is what each drives at its port; the first is that nothing is added. `left` (H, K) is what the
    unit's stop leaves under each, None where it hardly matters. `worse` is the same fence with the rods at 1.35 times;
    `standing` are the faults that the state has already. What was computed of a reading is kept, as it does not change
    with what is believed.
    """

    base: TraceBase
    state: State
    worse: State
    fault: Index
    size: Real
    drive: Spectra
    worse_drive: Spectra
    left: Spectra | None = None
    worse_left: Spectra | None = None
    standing: tuple[int, ...] = ()
    kept: dict[ReadAt, Predicted] = field(default_factory=dict, compare=False)
    seen: dict[ReadAt, tuple[Complex, ...]] = field(default_factory=dict, compare=False)
    quick_predictions: dict[ReadAt, QuickPrediction] = field(default_factory=dict, compare=False)
    others: dict[tuple[int, ...], "Hypotheses"] = field(default_factory=dict, compare=False)

    def under(self, opened: frozenset[str]) -> "Hypotheses":
        """The same while switches stand open."""
        parted = self.base.parted(opened)
        if not parted:
            return self
        if parted not in self.others:
            state = self.state
            for port in parted:
                state = self.base.with_fault(state, port, PARTED_OHM)
            self.others[parted] = hypotheses(self.base, state, self.fault[1:], self.size[1:], self.standing)
        return self.others[parted]

    def predict(self, place: ReadAt) -> Predicted:
        """What a reading would show under all of them."""
        if place not in self.kept:
            self.kept[place] = self.predict_some(place, np.arange(len(self.fault)))
        return self.kept[place]

    def predict_some(self, place: ReadAt, chosen: Index) -> Predicted:
        """What a reading would show under some of them."""
        if place in self.kept:
            return self.kept[place].part(chosen)
        volts_here, volts_seen, worse_here, worse_seen = self._seen(ReadAt(place.number, ""))
        kv = self._peaks((volts_here, volts_seen), self.drive, self.left, chosen)
        rods_kv = self._peaks((worse_here, worse_seen), self.worse_drive, self.worse_left, chosen)
        watched = self.base.volts_at(place.number)
        healthy_kv, grass_kv = self._healthy(watched, is_volts=True)
        if not place.leg:
            none = np.full(len(chosen), np.nan, dtype=np.float32)
            return Predicted(np.abs(kv), none, np.abs(rods_kv), none, grass_kv, 0.0, healthy_kv, math.nan)
        here, seen, worse_here, worse_seen = self._seen(place)
        amps = self._peaks((here, seen), self.drive, self.left, chosen)
        rods_a = self._peaks((worse_here, worse_seen), self.worse_drive, self.worse_left, chosen)
        watched = self.base.amps_at(place.number, place.leg)
        healthy_a, grass_a = self._healthy(watched, is_volts=False)
        return Predicted(np.abs(kv), amps, np.abs(rods_kv), rods_a, grass_kv, grass_a, healthy_kv, healthy_a)

    def quick_prediction(self, place: ReadAt, chosen: Index) -> Predicted:
        """What a reading would show under some of them; how it turns with the rods is taken from the healthy fence."""
        if place in self.kept:
            return self.kept[place].part(chosen)
        if place not in self.quick_predictions:
            unknown = np.full((2, len(self.fault)), np.nan, dtype=np.float32)
            self.quick_predictions[place] = QuickPrediction(unknown, *self._well(place))
        quick_prediction = self.quick_predictions[place]
        missing = chosen[np.isnan(quick_prediction.shown[0, chosen])]
        if len(missing):
            quick_prediction.shown[:, missing] = self._quickly_predicted(place, missing)
        (kv_well, grass_kv, kv_rods), (a_well, grass_a, a_rods) = quick_prediction.volts, quick_prediction.amps
        kv, amps = quick_prediction.shown[0, chosen], quick_prediction.shown[1, chosen]
        left = kv / max(kv_well, 1e-6)
        rods_kv: Peaks = kv + (kv_rods * left).astype(np.float32)
        rods_a: Peaks = amps + (a_rods * left).astype(np.float32)
        return Predicted(kv, amps, rods_kv, rods_a, grass_kv, grass_a, kv_well, a_well)

    def _quickly_predicted(self, place: ReadAt, chosen: Index) -> Peaks:
        """kV and A under some of them, (2, H)."""
        base = self.base
        own, at = np.unique(self.fault[chosen], return_inverse=True)
        rows: list[Peaks] = []
        for watched in self._watched(place):
            scale = base.follow if watched.direct is None else 1.0
            does = base.at_faults(base.sensitivity(watched, self.state, scale), own)
            if watched.direct is not None:
                does[(base.faults.kind[own] == CUT) & (base.faults.piece[own] == watched.piece)] -= watched.direct
            here = base.reads(watched, self.state) * scale
            spectra = here.astype(np.complex64) - does.astype(np.complex64)[at] * self.drive[chosen]
            rows.append(base.peaks(spectra if self.left is None else spectra * self.left[chosen]))
        unread = np.full(len(chosen), np.nan, dtype=np.float32)
        return np.stack([np.abs(rows[0]), rows[1] if place.leg else unread])

    def _watched(self, place: ReadAt) -> tuple[Observed, ...]:
        """What a reading is of the unknowns: volts, and amps where a leg is read."""
        volts = self.base.volts_at(place.number)
        return (volts, self.base.amps_at(place.number, place.leg)) if place.leg else (volts,)

    def _well(self, place: ReadAt) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        """Of kV and of A on the fence as it stands when well: the reading, its turn with growth, with worse rods."""
        base, found = self.base, []
        for watched in self._watched(place):
            scale = base.follow if watched.direct is None else 1.0
            well, grass = self._healthy(watched, is_volts=watched.direct is None)
            both = [base.reads(watched, one) for one in (self.state, self.worse)]
            if self.left is not None and self.worse_left is not None:
                both = [row * left[0] for row, left in zip(both, (self.left, self.worse_left), strict=True)]
            as_is, worse = base.peaks(np.stack(both) * scale).tolist()
            turn = abs(worse) - abs(as_is) if watched.direct is None else worse - as_is
            found.append((well, grass, turn))
        return found[0], found[1] if place.leg else (math.nan, 0.0, 0.0)

    def kv_at(self, number: int, chosen: Index) -> tuple[Peaks, float]:
        """kV at a place under some of them, and when well; the rods as they are."""
        base = self.base
        watched = base.volts_at(number)
        here = base.reads(watched, self.state) * base.follow
        does = base.at_faults(base.sensitivity(watched, self.state, base.follow)).astype(np.complex64)
        kv = np.abs(self._peaks((here, does), self.drive, self.left, chosen))
        return kv, self._healthy(watched, is_volts=True)[0]

    def _seen(self, place: ReadAt) -> tuple[Complex, ...]:
        """At a reading: what stands, and what a unit at each port does there; with the rods as they are and worse."""
        if place not in self.seen:
            base = self.base
            watched = base.amps_at(place.number, place.leg) if place.leg else base.volts_at(place.number)
            scale = 1.0 if place.leg else base.follow
            rows: list[Complex] = []
            for state in (self.state, self.worse):
                here = base.reads(watched, state)
                does = base.at_faults(base.sensitivity(watched, state, 1.0))
                if watched.direct is not None:
                    own = (base.faults.kind == CUT) & (base.faults.piece == watched.piece)
                    does[own] -= watched.direct
                rows += [here * scale, (does * scale).astype(np.complex64)]
            self.seen[place] = tuple(rows)
        return self.seen[place]

    def _peaks(self, seen: tuple[Complex, Complex], drive: Spectra, left: Spectra | None, chosen: Index) -> Peaks:
        """Signed peaks under chosen hypotheses, as many at a time as the processor's cache holds."""
        here, does = seen
        stands, found = here.astype(np.complex64), np.empty(len(chosen), dtype=np.float32)
        for first in range(0, len(chosen), _AT_A_TIME):
            some = chosen[first : first + _AT_A_TIME]
            spectra = np.empty((len(some), len(stands)), dtype=np.complex64)
            _turned(stands, does, drive, self.fault, some, spectra)
            found[first : first + _AT_A_TIME] = self.base.peaks(spectra if left is None else spectra * left[some])
        return found

    def _healthy(self, watched: Observed, *, is_volts: bool) -> tuple[float, float]:
        """The healthy reading, and how it turns with the logarithm of growth."""
        base = self.base
        scale = base.follow if is_volts else 1.0
        both = [(watched.shares * v[watched.ports]).sum(axis=0) * scale for v in base.well_volts]
        healthy, grassy = base.peaks(np.stack(both)).tolist()
        if is_volts:
            healthy, grassy = abs(healthy), abs(grassy)
        return healthy, (grassy - healthy) / LOG_GRASSIER


@njit(cache=True, nogil=True)
def _turned(stands, does, drive, fault, chosen, spectra):  # type: ignore[no-untyped-def]
    """What stands less what each chosen fault does, into `spectra`: one pass instead of four."""
    for row in range(len(chosen)):
        push, own = drive[chosen[row]], does[fault[chosen[row]]]
        for f in range(len(stands)):
            spectra[row, f] = stands[f] - own[f] * push[f]


def hypotheses(base: TraceBase, state: State, fault: Index, size: Real, standing: tuple[int, ...] = ()) -> Hypotheses:
    """Faults (H,) of sizes (H,) on top of a state; before them stands that nothing is added."""
    rods = np.flatnonzero(base.faults.kind == RODS)
    worse = base.with_fault(state, int(rods[0]), RODS_FACTOR) if len(rods) else state
    drive: list[Spectra] = []
    left: list[Spectra | None] = []
    ports, sizes = np.concatenate([[0], fault]), np.concatenate([[np.inf], size])
    for one in (state, worse):
        own = (base.strength(one, fault, size) * one.drive[fault]).astype(np.complex64)
        drive.append(np.concatenate([np.zeros((1, own.shape[1]), dtype=np.complex64), own]))
        left.append(base.left(one, ports, drive[-1]) if base.one_way else None)
    return Hypotheses(base, state, worse, ports, sizes, drive[0], drive[1], left[0], left[1], standing)
