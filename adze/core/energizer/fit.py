"""The energizer as a pulse source: from catalogue figures to the parts of eq. 12, and its pulse on a load.

Equations are numbered as in docs/physics.md.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import brentq, least_squares

from adze.core.basics.cache import kept
from adze.core.basics.types import Complex, Real
from adze.core.pulse.network import Source
from adze.core.tables.energizers import Catalogue

_PARALLEL_SHARE = 0.05
_USUAL_EFFICIENCY = 0.7
_TRIES = 12
_SCAN_H = np.geomspace(3.0, 1e-7, 64)


class FitError(ValueError):
    """Catalogue figures that no energizer of this kind can have; the message names the figure and its limit."""


@dataclass(frozen=True)
class Pulse:
    """The parts of eq. 12 without a place, and what must be told about the fit."""

    v0_v: float
    storage_f: float
    series_h: float
    series_ohm: float
    parallel_ohm: float
    parallel_f: float
    warnings: tuple[str, ...] = ()

    def at(self, node: str) -> Source:
        """The source of a network whose energizer stands at `node`."""
        return Source(
            node, self.v0_v, self.storage_f, self.series_h, self.series_ohm, self.parallel_ohm, self.parallel_f
        )


def _natural(
    pulse: tuple[float, float, float, float, float, float], load_ohm: float, load_f: float
) -> tuple[Complex, Complex]:
    """Poles and residues of the terminal volts into a load: V(s) is a cubic's inverse.

    V = V0 C / ((1 + s R C + s^2 L C)(G + s Cp) + s C).
    """
    v0, c, h, r, rp, cp = pulse
    g, cap = 1 / rp + 1 / load_ohm, cp + load_f
    cubic = np.array([h * c * cap, h * c * g + r * c * cap, r * c * g + cap + c, g])
    poles: Complex = np.roots(cubic).astype(np.complex128)
    slope = np.polyval(np.polyder(cubic), poles)
    return poles, v0 * c / slope


def _parts(pulse: Pulse) -> tuple[float, float, float, float, float, float]:
    return pulse.v0_v, pulse.storage_f, pulse.series_h, pulse.series_ohm, pulse.parallel_ohm, pulse.parallel_f


def _peak(parts: tuple[float, float, float, float, float, float], load_ohm: float, load_f: float = 0.0) -> float:
    poles, residues = _natural(parts, load_ohm, load_f)
    # The first swing is over within a few of the fastest lives or half a swing of the slowest ring.
    fastest, slowest = 1 / np.max(np.abs(poles)), 8 / np.min(np.abs(poles))
    t = np.concatenate([[0.0], np.geomspace(fastest * 1e-2, slowest, 240)])

    def volts(at: Real) -> Real:
        wave: Real = np.abs(np.real(np.exp(np.outer(at, poles)) @ residues))
        return wave

    best = int(np.argmax(volts(t)))
    fine = np.linspace(t[max(best - 1, 0)], t[min(best + 1, len(t) - 1)], 80)
    return float(volts(fine).max())


def peak_on_load_v(pulse: Pulse, load_ohm: float = math.inf, load_f: float = 0.0) -> float:
    """Peak terminal volts on a load, V. `load_ohm` inf is an open terminal."""
    return _peak(_parts(pulse), load_ohm, load_f)


def energy_on_load_j(pulse: Pulse, load_ohm: float) -> float:
    """Joules one pulse leaves in a resistance: the integral of v^2/R in closed form over the poles."""
    poles, residues = _natural(_parts(pulse), load_ohm, 0.0)
    total = -(residues[:, None] * residues[None, :] / (poles[:, None] + poles[None, :])).sum()
    return float(np.real(total) / load_ohm)


@kept("fits", 128)
def fit_pulse(catalogue: Catalogue) -> Pulse:
    """The source whose best-load energy and two peaks are the catalogue's (eq. 13).

    Raises FitError naming the figure when none exists. Source: derived here from L-pad matching
    (the best load takes the released energy) and two nested root searches for v0 and the inductance.
    """
    _check(catalogue)
    released, stored = catalogue.released_j, catalogue.stored_j or catalogue.released_j / _USUAL_EFFICIENCY
    best = catalogue.best_load_ohm or float(np.clip(500 * released**-0.7, 50, 5000))
    for _ in range(_TRIES):
        found = _fit_at_best_load(catalogue, stored, best)
        if isinstance(found, Pulse):
            return found
        if found > 0:
            raise FitError(
                f"kV at 500 Ω: {catalogue.v500_v:.0f} V is too near the open {catalogue.open_v:.0f} V for "
                f"{released:g} J released; check both, or enter the joules that belong to them"
            )
        best *= 1.15
    raise FitError(
        f"kV at 500 Ω: {catalogue.v500_v:.0f} V is too low beside the open {catalogue.open_v:.0f} V for "
        f"{released:g} J released; check the three figures"
    )


def _check(catalogue: Catalogue) -> None:
    for name, low, high in (("released_j", 0.01, 200.0), ("open_v", 500.0, 20000.0)):
        value = getattr(catalogue, name)
        if not (math.isfinite(value) and low <= value <= high):
            raise FitError(f"{name} is {value}, must be between {low:g} and {high:g}")
    if catalogue.v500_v is not None and not 0 < catalogue.v500_v < catalogue.open_v:
        raise FitError(f"v500_v is {catalogue.v500_v}, must lie between 0 and the open {catalogue.open_v:g}")
    if catalogue.stored_j is not None and not catalogue.stored_j > catalogue.released_j:
        raise FitError(f"stored_j is {catalogue.stored_j}, must be more than the released {catalogue.released_j:g}")


def _fit_at_best_load(catalogue: Catalogue, stored_j: float, best_ohm: float) -> Pulse | float:
    """A pulse, or which way the 500 ohm figure misses: above 0 asked too high, below 0 too low."""
    u = math.log(stored_j / catalogue.released_j) / 2
    parallel = best_ohm / math.tanh(u)
    series = parallel * math.sinh(u) ** 2

    def parts(v0: float, inductance: float) -> tuple[float, float, float, float, float, float]:
        storage = 2 * stored_j / v0**2
        return v0, storage, inductance, series, parallel, _PARALLEL_SHARE * storage

    def v0_for(inductance: float) -> float | None:
        def miss(log_v0: float) -> float:
            return _peak(parts(math.exp(log_v0), inductance), math.inf) - catalogue.open_v

        low, high = math.log(catalogue.open_v / 30), math.log(catalogue.open_v * 30)
        return None if miss(low) * miss(high) > 0 else math.exp(brentq(miss, low, high, xtol=1e-8))

    def v500_miss(inductance: float) -> float:
        v0 = v0_for(inductance)
        return math.nan if v0 is None else _peak(parts(v0, inductance), 500.0) - (catalogue.v500_v or 0.0)

    if catalogue.v500_v is None:
        inductance = _matched_inductance(best_ohm, stored_j, v0_for)
        return _pulse(parts(v0_for(inductance) or catalogue.open_v, inductance), catalogue)
    # Two inductances meet the figures: walk down from above and take the larger.
    upper, over = 0.0, math.nan
    for lower in _SCAN_H.tolist():
        under = v500_miss(lower)
        if over * under <= 0:
            root = math.exp(brentq(lambda x: v500_miss(math.exp(x)), math.log(lower), math.log(upper), xtol=1e-9))
            return _pulse(parts(v0_for(root) or catalogue.open_v, root), catalogue)
        upper, over = (lower, under) if not math.isnan(under) else (upper, over)
    # All loaded peaks lie below what is asked: asked too high; all above: asked too low.
    return 1.0 if over < 0 else -1.0


def _matched_inductance(best_ohm: float, stored_j: float, v0_for: Callable[[float], float | None]) -> float:
    """The inductance that matches storage and best load, L = C R^2; C depends on v0, so by repetition, H."""
    inductance = 1e-3
    for _ in range(40):
        v0 = v0_for(inductance)
        if v0 is None:
            raise FitError("open_v: no pulse of this shape reaches it; give the kV at 500 Ω too")
        inductance = 2 * stored_j / v0**2 * best_ohm**2
    return inductance


_USUAL_RATIO = np.array([[0.25, 0.2, 0.5], [1, 0.35, 0.7], [4, 0.6, 0.85], [15, 0.8, 0.93], [40, 0.85, 0.95]])


def usual_ratio_500(released_j: float) -> tuple[float, float]:
    """Usual band of kV at 500 ohm over open kV for released joules (between the rows of eq. 13)."""
    x = math.log(released_j)
    rows = np.log(_USUAL_RATIO[:, 0])
    return float(np.interp(x, rows, _USUAL_RATIO[:, 1])), float(np.interp(x, rows, _USUAL_RATIO[:, 2]))


def _pulse(parts: tuple[float, float, float, float, float, float], catalogue: Catalogue) -> Pulse:
    warnings = []
    if catalogue.v500_v is not None:
        low, high = usual_ratio_500(catalogue.released_j)
        ratio = catalogue.v500_v / catalogue.open_v
        if not low <= ratio <= high:
            warnings.append(
                f"kV at 500 Ω is {ratio:.2f} of the open kV; for {catalogue.released_j:g} J it is usually "
                f"{low:.2f} to {high:.2f}. Check the catalogue figures."
            )
    return Pulse(*parts, warnings=tuple(warnings))


_LOAD_PRIOR = 0.7  # how far a part may lie from the catalogue's, as one standard deviation of its logarithm
_LOAD_ERROR = 0.04  # of a measured peak
_LOAD_OFF = 0.12  # of a peak: farther off, the unit does not act as one fixed circuit


@kept("fits by loads", 128)
def fit_loads(catalogue: Catalogue, loads: tuple[tuple[float, float], ...]) -> Pulse:
    """The source that comes nearest to peaks measured on loads, (ohm, V) each, beside the catalogue's own two.

    The catalogue's circuit is where the search begins and what holds parts that the loads do not tell of
    (least squares on logarithms). A unit that raises its output under load fits no fixed circuit: the
    warning names the load that is farthest off. Raises FitError.
    """
    begin = fit_pulse(catalogue)
    stored = begin.storage_f * begin.v0_v**2 / 2
    told = (*loads, (math.inf, catalogue.open_v), *(((500.0, catalogue.v500_v),) if catalogue.v500_v else ()))
    first = np.log([begin.v0_v, begin.series_h, begin.series_ohm, begin.parallel_ohm])

    def parts(logs: Real) -> tuple[float, float, float, float, float, float]:
        v0, inductance, series, parallel = (float(x) for x in np.exp(logs))
        storage = 2 * stored / v0**2
        return v0, storage, inductance, series, parallel, _PARALLEL_SHARE * storage

    def misses(logs: Real) -> Real:
        peaks = [math.log(_peak(parts(logs), ohm) / volts) / _LOAD_ERROR for ohm, volts in told]
        return np.concatenate([peaks, (logs - first) / _LOAD_PRIOR])

    found = least_squares(misses, first, bounds=(first - 3, first + 3), xtol=1e-6).x
    pulse = _pulse(parts(found), replace(catalogue, v500_v=None))
    off = {ohm: _peak(parts(found), ohm) / volts - 1 for ohm, volts in loads}
    worst = max(off, key=lambda ohm: abs(off[ohm]), default=None)
    if worst is None or abs(off[worst]) <= _LOAD_OFF:
        return pulse
    warning = (
        f"On {worst:g} Ω one fixed circuit is {100 * off[worst]:+.0f} % off the measured kV: a unit that raises its "
        "output under load, or a figure misread. Near that load the forecast is off by as much."
    )
    return replace(pulse, warnings=(*pulse.warnings, warning))
