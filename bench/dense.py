"""The same system solved dense at all frequencies at once: what the sparse elimination is measured against."""

import numpy as np

from adze.core.basics.types import Real
from adze.core.pulse import laplace
from adze.core.pulse.discharge import discharge_of
from adze.core.pulse.laplace import Window
from adze.core.pulse.network import Network, Port, Terminal
from adze.core.pulse.solver import assembled


def dense_peaks(network: Network, window: Window) -> Real:
    """Peak volts of every unknown by one batched dense solve, shape (n,)."""
    layout, values = assembled(network, window)
    size = len(layout.ports)
    count = window.frequencies
    matrix = np.zeros((count, size, size), dtype=np.complex128)
    for (i, j), place in layout.order.places.items():
        matrix[:, i, j] = matrix[:, j, i] = values[place, :count]
    rhs = np.zeros((count, size, 1), dtype=np.complex128)
    source = network.source
    push = discharge_of(source, window).push[:count]
    rhs[:, layout.ports[Port(source.node, Terminal.LIVE)], 0] = push
    rhs[:, layout.ports[Port(source.node, Terminal.EARTH)], 0] = -push
    return laplace.peaks(np.linalg.solve(matrix, rhs)[..., 0].T, window)
