"""From the figures on an energizer's plate to the parts of its circuit.

Equations S1 to S12 are those of docs/model.md.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import brentq, least_squares

from adze.core.basics.cache import cached
from adze.core.basics.types import Real
from adze.core.energizer.unit_pulse import PulseCircuit, best_load_ohm, energy_on_j, peak_on, released_j
from adze.core.pulse.network import Source
from adze.core.tables.energizers import Catalogue

USUAL_EFFICIENCY = 0.7  # released over stored joules (0.5-0.85)
USUAL_SHAPE = 0.30  # R over sqrt(L/C): not on any plate (S5)
SHAPE_BAND = (0.15, 0.6)
_SHAPES = (0.12, 2.5)  # that are accepted
_TIMED_SHAPES = (0.2, 2.5)  # between which the time to peak falls as the shape grows
_DAMPER_SHARE, _DAMPER_OF_LOSS = 0.2, 0.6  # of the storage capacitance, at most; of what is not released (S4)
_DAMPING = 0.6  # damper's ohms over sqrt(L/Cp) (0.4-1.0)
_LOWER_SHAPE = 0.8
_JOULES, _OPEN_V = (0.01, 200.0), (500.0, 20000.0)
RATIO_500 = (0.03, 0.985)  # of kV on 500 ohm to open kV
MOST_EFFICIENT, LEAST_EFFICIENT = 0.96, 0.2
_PEAK_US = (2.0, 120.0)  # after which the pulse of a real unit peaks on 500 ohm


class FitError(ValueError):
    """Catalogue figures that no energizer can have; the message names the figure, its limit and the mend."""


@dataclass(frozen=True)
class Pulse:
    """The parts of an energizer without a place; `warnings` tell what hardly can be, `notes` what was taken for it."""

    parts: PulseCircuit
    warnings: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()

    def at(self, node: str) -> Source:
        """The source of a network whose energizer stands at `node`; its discharge cannot reverse (S21)."""
        return Source(node, **vars(self.parts), one_way=True)


def peak_on_load_v(pulse: Pulse, load_ohm: float = math.inf, load_f: float = 0.0) -> float:
    """Peak terminal volts on a load, V. `load_ohm` inf is an open terminal."""
    return peak_on(pulse.parts, load_ohm, load_f).volts


def energy_on_load_j(pulse: Pulse, load_ohm: float) -> float:
    """Joules that one pulse leaves in a resistance."""
    return energy_on_j(pulse.parts, load_ohm)


def damper_share(efficiency: float) -> float:
    """The damper's capacitance over the storage's: a unit that loses little has little to damp with (S4)."""
    return min(_DAMPER_SHARE, _DAMPER_OF_LOSS * (1 - efficiency))


def _unit(shape: float, parallel: float, share: float) -> PulseCircuit:
    """The circuit in its own units: L, C and V0 are 1."""
    return PulseCircuit(1.0, 1.0, 1.0, shape, parallel, share, _DAMPING / math.sqrt(share))


@dataclass(frozen=True)
class _Shaped:
    """The circuit of an efficiency and a shape in its own units, the shape that it got, and its open peak."""

    unit: PulseCircuit
    shape: float
    open_peak: float


@cached("shaped circuits", 256)
def _shaped(efficiency: float, shape: float) -> _Shaped:
    """The parallel ohms that lose what is not released (S10 a). A shape that loses more by itself is lowered."""
    share = damper_share(efficiency)

    def miss(log_parallel: float, shape: float) -> float:
        return 2 * released_j(_unit(shape, math.exp(log_parallel), share)) - efficiency

    low, high = math.log(1e-2), math.log(1e6)
    while miss(high, shape) < 0:
        shape *= _LOWER_SHAPE
    parallel = math.exp(brentq(miss, low, high, args=(shape,), xtol=1e-9))
    unit = _unit(shape, parallel, share)
    return _Shaped(unit, shape, peak_on(unit).volts)


def _scaled(shaped: _Shaped, stored_j: float, open_v: float, v500_v: float) -> PulseCircuit:
    """The circuit in ohms and seconds: its open peak gives the volts, its peak on 500 ohm the ohms (S10 b to d)."""
    unit, v0 = shaped.unit, open_v / shaped.open_peak
    storage = 2 * stored_j / v0**2
    wanted = shaped.open_peak * v500_v / open_v
    rho = math.exp(brentq(lambda x: peak_on(unit, math.exp(x)).volts - wanted, -14.0, 14.0, xtol=1e-9))
    z = 500 / rho
    return PulseCircuit(
        v0,
        storage,
        z**2 * storage,
        unit.series_ohm * z,
        unit.parallel_ohm * z,
        unit.damper_f * storage,
        unit.damper_ohm * z,
    )


@cached("fits", 256)
def fit_pulse(catalogue: Catalogue) -> Pulse:
    """The source whose open kV, kV on 500 ohm, stored and released joules are the catalogue's (S10).

    Two searches in one unknown each, both monotone. Raises FitError naming the figure. Source: derived here from
    the scaling of linear circuits; checked against ngspice (the shared cases).
    """
    check_figures(catalogue)
    stored = catalogue.stored_j or catalogue.released_j / USUAL_EFFICIENCY
    efficiency = catalogue.released_j / stored
    low, high = usual_ratio_500(catalogue.released_j)
    v500 = catalogue.v500_v or catalogue.open_v * (low + high) / 2
    notes: list[str] = []
    if catalogue.stored_j is None:
        notes.append(
            f"Stored joules are not given: {stored:.2g} J are assumed, the released joules over {USUAL_EFFICIENCY:g}."
        )
    if catalogue.v500_v is None:
        notes.append(f"kV on 500 Ω is not given: {v500 / 1000:.1f} kV are assumed, the middle of the usual range.")

    def shaped(shape: float) -> tuple[_Shaped, PulseCircuit]:
        found = _shaped(efficiency, shape)
        return found, _scaled(found, stored, catalogue.open_v, v500)

    wanted, told = _wanted_shape(catalogue, shaped)
    found, parts = shaped(wanted)
    if found.shape < wanted * 0.999:
        notes.append(
            f"A pulse of shape {wanted:g} cannot release {100 * efficiency:.0f} % of what is stored: {found.shape:.2g} "
            "taken."
        )
    return Pulse(parts, tuple(_warnings(parts)), (*notes, *told, *_unusual(catalogue, low, high)))


def _wanted_shape(
    catalogue: Catalogue, shaped: Callable[[float], tuple[_Shaped, PulseCircuit]]
) -> tuple[float, tuple[str, ...]]:
    """The shape of the pulse: as given, else from a time to peak or a best load, else the usual one (S5, S11)."""
    if catalogue.shape is not None:
        return catalogue.shape, ()
    if catalogue.peak_500_us is not None:
        target, name = catalogue.peak_500_us, f"a peak after {catalogue.peak_500_us:g} µs on 500 Ω"
        low, high = _TIMED_SHAPES

        def miss(log_shape: float) -> float:
            return peak_on(shaped(math.exp(log_shape))[1], 500.0).at_s * 1e6 - target
    elif catalogue.best_load_ohm is not None:
        target, name = catalogue.best_load_ohm, f"a best load of {catalogue.best_load_ohm:g} Ω"
        low, high = _SHAPES

        def miss(log_shape: float) -> float:
            return math.log(best_load_ohm(shaped(math.exp(log_shape))[1]) / target)
    else:
        return USUAL_SHAPE, ()
    ends = {shape: miss(math.log(shape)) for shape in (low, high)}
    if ends[low] * ends[high] > 0:
        nearest = min(ends, key=lambda shape: abs(ends[shape]))
        return nearest, (f"{name[0].upper()}{name[1:]} does not fit the other figures: the nearest is used.",)
    return math.exp(brentq(miss, math.log(low), math.log(high), xtol=1e-4)), ()


def check_figures(catalogue: Catalogue) -> None:
    """Refuse figures out of range, and pairs that contradict each other (S12). Raises FitError."""
    for name, value, (low, high), unit in (
        ("released joules", catalogue.released_j, _JOULES, "J"),
        ("stored joules", catalogue.stored_j, (_JOULES[0], _JOULES[1] / LEAST_EFFICIENT), "J"),
        ("open kV", catalogue.open_v / 1000, (_OPEN_V[0] / 1000, _OPEN_V[1] / 1000), "kV"),
        ("the shape of the pulse", catalogue.shape, _SHAPES, ""),
    ):
        if value is not None and not (math.isfinite(value) and low <= value <= high):
            raise FitError(f"{name}: {value:g} {unit}, must lie between {low:g} and {high:g} {unit}".replace("  ", " "))
    _check_ratio(catalogue)
    check_joules(catalogue.released_j, catalogue.stored_j)


def check_joules(released: float, stored: float | None) -> None:
    """Refuse joules released and stored that contradict each other (S12). Raises FitError."""
    if stored is None:
        return
    if stored < released / MOST_EFFICIENT:
        raise FitError(
            f"stored joules: {stored:g} J beside {released:g} J released; no unit releases more than "
            f"{100 * MOST_EFFICIENT:.0f} %. At least {released / MOST_EFFICIENT:.2g} J are stored, or leave it empty"
        )
    if released < LEAST_EFFICIENT * stored:
        raise FitError(
            f"released joules: {released:g} J of {stored:g} J stored; no unit loses more than "
            f"{100 * (1 - LEAST_EFFICIENT):.0f} %. Check which of the two the plate says"
        )


def _check_ratio(catalogue: Catalogue) -> None:
    if catalogue.v500_v is None:
        return
    ratio = catalogue.v500_v / catalogue.open_v
    if not ratio < RATIO_500[1]:
        raise FitError(
            f"kV on 500 Ω: {catalogue.v500_v / 1000:g} kV is too near the open {catalogue.open_v / 1000:g} kV; every "
            f"unit falls under load, to less than {100 * RATIO_500[1]:g} %"
        )
    if not ratio >= RATIO_500[0]:
        raise FitError(
            f"kV on 500 Ω: {catalogue.v500_v / 1000:g} kV is less than {100 * RATIO_500[0]:g} % of the open "
            f"{catalogue.open_v / 1000:g} kV; check the unit of the figure (kV, not V)"
        )


def _warnings(parts: PulseCircuit) -> list[str]:
    at_us = peak_on(parts, 500.0).at_s * 1e6
    if _PEAK_US[0] <= at_us <= _PEAK_US[1]:
        return []
    return [
        f"On 500 Ω the pulse would peak after {at_us:.2g} µs, of a real unit after {_PEAK_US[0]:g} to "
        f"{_PEAK_US[1]:g} µs: check joules, open kV and kV on 500 Ω."
    ]


_USUAL_RATIO = np.array([[0.25, 0.2, 0.5], [1, 0.35, 0.7], [4, 0.6, 0.85], [15, 0.8, 0.93], [40, 0.85, 0.95]])


def usual_ratio_500(released: float) -> tuple[float, float]:
    """Usual band of kV at 500 ohm over open kV for released joules (between the rows of eq. 13)."""
    x = math.log(released)
    rows = np.log(_USUAL_RATIO[:, 0])
    return float(np.interp(x, rows, _USUAL_RATIO[:, 1])), float(np.interp(x, rows, _USUAL_RATIO[:, 2]))


def _unusual(catalogue: Catalogue, low: float, high: float) -> tuple[str, ...]:
    if catalogue.v500_v is None or low <= catalogue.v500_v / catalogue.open_v <= high:
        return ()
    return (
        f"kV at 500 Ω is {catalogue.v500_v / catalogue.open_v:.2f} of the open kV; for {catalogue.released_j:g} J it "
        f"is usually {low:.2f} to {high:.2f}. Check the catalogue figures.",
    )


_LOAD_PRIOR = 0.7  # how far a part may lie from the catalogue's, as one standard deviation of its logarithm
_LOAD_ERROR = 0.04  # of a measured peak
_LOAD_OFF = 0.12  # of a peak: farther off, the unit does not act as one fixed circuit


@cached("fits by loads", 128)
def fit_loads(catalogue: Catalogue, loads: tuple[tuple[float, float], ...]) -> Pulse:
    """The source that comes nearest to peaks measured on loads, (ohm, V) each, beside the catalogue's own two.

    The catalogue's circuit is where the search begins and what holds parts that the loads do not tell of
    (least squares on logarithms; the stored joules are kept, S11). A unit that raises its output under load fits no
    fixed circuit: the warning names the load that is farthest off. Raises FitError.
    """
    begin = fit_pulse(catalogue)
    stored, share = begin.parts.stored_j, begin.parts.damper_f / begin.parts.storage_f
    told = (*loads, (math.inf, catalogue.open_v), *(((500.0, catalogue.v500_v),) if catalogue.v500_v else ()))
    z = math.sqrt(begin.parts.series_h / begin.parts.storage_f)
    first = np.log([begin.parts.v0_v, z, begin.parts.series_ohm / z, begin.parts.parallel_ohm / z])

    def parts(logs: Real) -> PulseCircuit:
        v0, z, shape, parallel = (float(x) for x in np.exp(logs))
        storage = 2 * stored / v0**2
        damper = _DAMPING * z / math.sqrt(share)
        return PulseCircuit(v0, storage, z**2 * storage, shape * z, parallel * z, share * storage, damper)

    def misses(logs: Real) -> Real:
        peaks = [math.log(peak_on(parts(logs), ohm).volts / volts) / _LOAD_ERROR for ohm, volts in told]
        return np.concatenate([peaks, (logs - first) / _LOAD_PRIOR])

    found = parts(least_squares(misses, first, bounds=(first - 3, first + 3), xtol=1e-6).x)
    pulse = Pulse(found, tuple(_warnings(found)), begin.notes)
    off = {ohm: peak_on(found, ohm).volts / volts - 1 for ohm, volts in loads}
    worst = max(off, key=lambda ohm: abs(off[ohm]), default=None)
    if worst is None or abs(off[worst]) <= _LOAD_OFF:
        return pulse
    warning = (
        f"On {worst:g} Ω one fixed circuit is {100 * off[worst]:+.0f} % off the measured kV: a unit that raises its "
        "output under load, or a figure misread. Near that load the forecast is off by as much."
    )
    return replace(pulse, warnings=(*pulse.warnings, warning))
