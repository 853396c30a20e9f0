"""Networks to time: a farm of so many nodes with rings, two groups, frequency-dependent."""

import numpy as np

from adze.core.pulse.network import Network, Shunt, Source, Span, Terminal, Wire, WireLine

SOURCE = Source("n0", 6719.44, 1.13904e-06, 0.000630279, 12.0418, 374.634, 5.69519e-08)


def line(leak_s_per_m: float, soil_ohm_m: float = 100.0) -> WireLine:
    """Five strands, live and earth in turn."""
    wires = tuple(
        Wire(0.25 + 0.2 * i, 0.0, 0.00125, 0.035, 150.0, Terminal.EARTH if i % 2 else Terminal.LIVE) for i in range(5)
    )
    return WireLine(wires, soil_ohm_m, leak_s_per_m, 1e-9, leak_s_per_m)


def farm(nodes: int, rings: int, leak_s_per_m: float = 5e-7, rods_ohm: float = 6.6) -> Network:
    """A tree grown at random with some rings closed; the same every time."""
    random = np.random.default_rng(7)
    kinds = [line(leak_s_per_m * share) for share in (0.5, 1.0, 2.0)]
    pairs = [(max(0, i - int(random.integers(1, 6))), i) for i in range(1, nodes)]
    while len(pairs) < nodes - 1 + rings:
        a, b = sorted(random.integers(0, nodes, 2).tolist())
        if a != b and b - a < 40 and (a, b) not in pairs:
            pairs.append((a, b))
    spans = tuple(
        Span(f"s{k}", f"n{a}", f"n{b}", kinds[k % 3], float(random.uniform(30, 220))) for k, (a, b) in enumerate(pairs)
    )
    rods = Shunt("rods", "n0", Terminal.EARTH, Terminal.SOIL, rods_ohm)
    return Network(SOURCE, spans, shunts=(rods,))
