"""An aerial photo laid under the plan by points known in both."""

import math
from dataclasses import dataclass

import numpy as np

from adze.core.plan.ground import Underlay
from adze.core.plan.scalars import Position


@dataclass(frozen=True)
class Laid:
    """A photo on the ground: metres = scale, turn and shift of its pixels; how far its points miss, m.

    east = a px + b py + c, north = d px + e py + f, with py downward in the photo.
    """

    a: float
    b: float
    c: float
    d: float
    e: float
    f: float
    misses_m: tuple[float, ...]

    def place(self, pixel: tuple[float, float]) -> Position:
        """Where a pixel lies, m."""
        x, y = pixel
        return self.a * x + self.b * y + self.c, self.d * x + self.e * y + self.f

    @property
    def metres_per_pixel(self) -> float:
        """Size of a pixel on the ground, m."""
        return math.sqrt(abs(self.a * self.e - self.b * self.d))


def laid(underlay: Underlay) -> Laid:
    """Least squares over the known points: turn, size and shift.

    A photo from straight above is neither sheared nor mirrored, so two points decide it and more are
    averaged. Source: closed form of the similarity fit (S. Umeyama, IEEE Trans. PAMI 13 (1991)).
    """
    pixels = np.array([p.pixel for p in underlay.points]) * (1.0, -1.0)  # upward, as north is
    places = np.array([p.at for p in underlay.points])
    z, w = (rows[:, 0] + 1j * rows[:, 1] for rows in (pixels, places))
    turned = complex(np.vdot(z - z.mean(), w - w.mean()) / np.vdot(z - z.mean(), z - z.mean()))
    shift = complex(w.mean() - turned * z.mean())
    # w = turned (x - i y) + shift
    missed = np.abs(turned * z + shift - w)
    return Laid(
        a=turned.real,
        b=turned.imag,
        c=shift.real,
        d=turned.imag,
        e=-turned.real,
        f=shift.imag,
        misses_m=tuple(float(m) for m in missed),
    )
