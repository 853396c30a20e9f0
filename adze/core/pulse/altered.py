"""A network with other rods and growth than it was made with."""

from dataclasses import replace

from adze.core.pulse.network import Line, Network, Terminal, WireLine


def grassier(network: Network, factor: float) -> Network:
    """A network whose lines leak so many times as much."""
    lines = {span.line: leakier(span.line, factor) for span in network.spans}
    return replace(network, spans=tuple(replace(span, line=lines[span.line]) for span in network.spans))


def adjusted(network: Network, rods: float, grass: float) -> Network:
    """A network with other rods and growth."""
    node = network.source.node
    shunts = tuple(
        replace(s, ohm=s.ohm * rods) if s.node == node and s.start is Terminal.EARTH else s for s in network.shunts
    )
    return replace(grassier(network, grass), shunts=shunts)


def leakier(line: Line, factor: float, more_s_per_m: float = 0.0) -> Line:
    """A line that leaks so many times as much, and so much more from its live strands to soil, S/m."""
    if isinstance(line, WireLine):
        return replace(
            line,
            leak_live_soil_s_per_m=factor * line.leak_live_soil_s_per_m + more_s_per_m,
            leak_live_earth_s_per_m=factor * line.leak_live_earth_s_per_m,
            leak_earth_soil_s_per_m=factor * line.leak_earth_soil_s_per_m,
        )
    rows = [[factor * x for x in row] for row in line.leak_s_per_m]
    rows[0][0] += more_s_per_m
    return replace(line, leak_s_per_m=tuple(tuple(row) for row in rows))
