"""A network with constant matrices as a netlist of pi-sections for ngspice, timed."""

import re
import subprocess
import tempfile
import time
from collections.abc import Sequence
from itertools import combinations
from pathlib import Path

from adze.core.pulse.network import MatrixLine, Network, Terminal

_SECTIONS = 100
_LENGTH_S = 6e-4  # every peak lies before it
Ask = tuple[str, Terminal, Terminal]  # a node, from which terminal to which


def netlist(network: Network, asks: Sequence[Ask] = ()) -> str:
    """100 pi-sections a span, 0.2 us step; what is asked is measured at both ends of its swing."""
    out = ["pulse"]
    s = network.source
    live, earth = f"{s.node}_L", f"{s.node}_E"
    out += [f"Cs top {earth} {s.storage_f} ic={s.v0_v}", f"Ls top a {s.series_h} ic=0"]
    # A discharge that cannot reverse is a diode in series.
    out += [f"Rs a b {s.series_ohm}", f"Ds b {live} oneway"] if s.one_way else [f"Rs a {live} {s.series_ohm}"]
    out += [f"Rp {live} {earth} {s.parallel_ohm}", f"Rd {live} d {max(s.damper_ohm, 1e-6)}"]
    out += [f"Cp d {earth} {s.damper_f} ic=0", ".model oneway D(n=0.1 is=1e-9)"]
    for k in network.links:
        out.append(f"Rk{k.id} {k.a.node}_{k.a.terminal} {k.b.node}_{k.b.terminal} {k.ohm}")
    for h in network.shunts:
        end = "0" if h.end is Terminal.SOIL else f"{h.node}_{h.end}"
        out.append(f"Rh{h.id} {h.node}_{h.start} {end} {h.ohm}")
    for span in network.spans:
        out += _sections(span.id, span.a, span.b, span.line, span.length_m / _SECTIONS)  # type: ignore[arg-type]
    out += [".option method=trap", f".tran 0.2u {_LENGTH_S} 0 0.2u uic", f".meas tran top max v({live})"]
    for i, (node, start, end) in enumerate(asks):
        across = f"v({node}_{start})" if end is Terminal.SOIL else f"par('v({node}_{start})-v({node}_{end})')"
        out += [f".meas tran high{i} max {across}", f".meas tran low{i} min {across}"]
    out.append(".end")
    return "\n".join(out)


def _sections(name: str, a: str, b: str, line: MatrixLine, step_m: float) -> list[str]:
    size = len(line.resistance_ohm_per_m)
    names = tuple(t.value for t in line.terminals)
    out = []
    for i in range(_SECTIONS):
        start, end = (a if i == 0 else f"{name}_{i}"), (b if i == _SECTIONS - 1 else f"{name}_{i + 1}")
        for g, t in enumerate(names):
            key = f"{name}{i}{t}"
            out.append(f"R{key} {start}_{t} {key}m {line.resistance_ohm_per_m[g][g] * step_m}")
            out.append(f"L{key} {key}m {end}_{t} {line.inductance_h_per_m[g][g] * step_m} ic=0")
            own_c = sum(line.capacitance_f_per_m[g]) * step_m
            own_g = sum(line.leak_s_per_m[g]) * step_m
            out += [f"C{key} {end}_{t} 0 {own_c} ic=0", f"G{key} {end}_{t} 0 {end}_{t} 0 {own_g}"]
        own = line.inductance_h_per_m
        for g, h in combinations(range(size), 2):
            t, u = names[g], names[h]
            key, pair = f"{name}{i}{t}x{u}", f"{end}_{t} {end}_{u}"
            coupling = own[g][h] / (own[g][g] * own[h][h]) ** 0.5
            out.append(f"K{key} L{name}{i}{t} L{name}{i}{u} {coupling}")
            out.append(f"C{key} {pair} {-line.capacitance_f_per_m[g][h] * step_m} ic=0")
            out.append(f"G{key} {pair} {pair} {-line.leak_s_per_m[g][h] * step_m}")
    return out


def spice_seconds(network: Network) -> tuple[float, float]:
    """Seconds that ngspice takes, and its peak volts at the source's live terminal."""
    took, said = _run(netlist(network))
    return took, _figure(said, "top")


def spice_peaks_v(network: Network, asks: Sequence[Ask]) -> list[float]:
    """Peak volts, whichever way, between the terminals that are asked for."""
    _, said = _run(netlist(network, asks))
    return [max(abs(_figure(said, f"high{i}")), abs(_figure(said, f"low{i}"))) for i in range(len(asks))]


def _figure(said: str, name: str) -> float:
    found = re.search(rf"^{name}\s*=\s*([-+.\deE]+)", said, re.MULTILINE)
    return float(found[1]) if found else float("nan")


def _run(lines: str) -> tuple[float, str]:
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "case.cir"
        file.write_text(lines)
        start = time.perf_counter()
        done = subprocess.run(["ngspice", "-b", str(file)], capture_output=True, text=True, check=False)
        took = time.perf_counter() - start
    return took, done.stdout
