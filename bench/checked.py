"""Our own cases against ngspice, as a table and a picture: python -m bench.checked."""

import math
import shutil
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from adze.core.basics.constants import EPS0_F_PER_M, MU0_H_PER_M
from adze.core.plan.catalogue import pulse_of
from adze.core.pulse.laplace import FULL
from adze.core.pulse.line import potential_coefficients_m_per_f
from adze.core.pulse.network import STRANDS, Link, MatrixLine, Network, Port, Shunt, Span, Terminal, Wire
from adze.core.pulse.solver import solve_pulse
from adze.core.tables.energizers import energizers
from bench.spice import Ask, spice_peaks_v

DOCS = Path(__file__).parents[1] / "docs"
LIVE, EARTH, SOIL = Terminal.LIVE, Terminal.EARTH, Terminal.SOIL


def one(ohm: float, leak: float) -> MatrixLine:
    """One group: resistance and leak for each metre, over soil."""
    return MatrixLine(((ohm,),), ((2.0e-6,),), ((7.65e-12,),), ((leak,),))


def two(leak: float) -> MatrixLine:
    """Live and earth strands side by side."""
    return MatrixLine(
        ((0.012, 0.0), (0.0, 0.035)),
        ((1.4e-6, 0.8e-6), (0.8e-6, 2.2e-6)),
        ((2.2e-11, -7e-12), (-7e-12, 1.3e-11)),
        ((leak + 2e-8, -2e-8), (-2e-8, 5e-8)),
    )


def five(leak: float) -> MatrixLine:
    """Five strands of steel over soil, each apart from the others: matrices of wires over a perfect ground."""
    heights = (0.25, 0.45, 0.65, 0.85, 1.10)
    wires = tuple(Wire(h, 0.0, 0.00125, 0.035, 1.0, strand) for h, strand in zip(heights, STRANDS, strict=False))
    coefficients = potential_coefficients_m_per_f(wires)
    leaks = np.diag([leak * (2.0 - h) for h in heights])
    to_tuple = [
        tuple(map(tuple, matrix.tolist()))
        for matrix in (
            0.035 * np.eye(5),
            MU0_H_PER_M * EPS0_F_PER_M * coefficients,
            np.linalg.inv(coefficients),
            leaks,
        )
    ]
    return MatrixLine(*to_tuple, named=STRANDS[:5])


def _strands(unit: str, joined: str, *shunts: Shunt, apart: int = -1) -> Network:
    """Two stretches of 600 m of five strands joined at the nodes named; strand `apart` hangs on nothing at node a."""
    spans = (Span("s1", "a", "b", five(4e-7), 600.0), Span("s2", "b2", "c", five(4e-7), 600.0))
    links = [
        Link(f"{node}{i}", Port(node, LIVE), Port(node, strand), 0.05)
        for node in joined
        for i, strand in enumerate(STRANDS[:5])
        if not (node == "a" and i == apart)
    ]
    links += [Link(f"b{i}", Port("b", strand), Port("b2", strand), 0.05) for i, strand in enumerate(STRANDS[1:5], 1)]
    rods = Shunt("rods", "a", EARTH, SOIL, 20.0)
    return Network(pulse_of(energizers()[unit]).at("a"), spans, tuple(links), (rods, *shunts))


@dataclass(frozen=True)
class Checked:
    """A network, what it stands for, and the terminals that are compared."""

    title: str
    network: Network
    asks: tuple[Ask, ...]


def _network(unit: str, spans: tuple[Span, ...], *shunts: Shunt, rods_ohm: float = 20.0) -> Network:
    rods = Shunt("rods", "a", EARTH, SOIL, rods_ohm)
    return Network(pulse_of(energizers()[unit]).at("a"), spans, shunts=(rods, *shunts))


def cases() -> tuple[Checked, ...]:
    """Rings, branches, thin metal, wet growth, earth strands on dry ground, shorts, small and large units."""
    steel, wet, thin = one(0.035, 1e-7), one(0.035, 2.5e-6), one(7.6, 1e-6)
    ring = tuple(Span(f"r{i}", a, b, steel, 500) for i, (a, b) in enumerate(("ab", "bc", "cd", "da")))
    branches = (Span("t1", "a", "b", wet, 800), Span("t2", "b", "c", wet, 900), Span("t3", "b", "d", steel, 300))
    mixed = (ring[0], Span("p", "b", "c", thin, 400))
    short, long = (Span("k", "a", "b", steel, 150),), (Span("l", "a", "b", wet, 5000),)
    sand = (Span("e1", "a", "b", two(2e-7), 600), Span("e2", "b", "c", two(2e-7), 900))
    far, tangle = Shunt("far", "c", EARTH, SOIL, 400.0), Shunt("x", "b", LIVE, EARTH, 5.0)
    leak = Shunt("s", "c", LIVE, SOIL, 150.0)
    shorted = Shunt("s", "c", STRANDS[1], SOIL, 200.0)
    strands = tuple(("c", strand, SOIL) for strand in STRANDS[:5])
    every = tuple((node, LIVE, SOIL) for node in "abcd")
    returns = ("a", LIVE, EARTH), ("c", LIVE, SOIL), ("c", EARTH, SOIL), ("c", LIVE, EARTH)
    return (
        Checked("Ring of 2 km, shorted half way", _network("mains_3", ring, leak), every),
        Checked("Branches in wet growth", _network("mains_6", branches), every),
        Checked("Thin polywire behind steel", _network("battery_1", mixed), every[:3]),
        Checked("Earth strands on dry sand", _network("mains_6", sand, far, rods_ohm=300.0), returns),
        Checked("The same, tangled", _network("mains_6", sand, far, tangle, rods_ohm=300.0), returns),
        Checked("Small unit on a short clean line", _network("battery_025", short), every[:2]),
        Checked("Large unit on five km", _network("mains_25", long), every[:2]),
        Checked("Five strands joined at one end, the lowest cut half way", _strands("mains_6", "a"), strands),
        Checked("The same, joined at both ends", _strands("mains_6", "ac"), strands),
        Checked("The same, the third switched off", _strands("mains_6", "a", apart=2), strands),
        Checked("The same, a short on the second at its end", _strands("mains_6", "a", shorted), strands),
    )


@dataclass(frozen=True)
class Row:
    """One compared peak, V."""

    title: str
    what: str
    ours_v: float
    spice_v: float

    @property
    def off(self) -> float:
        """How far ours is off, as a share."""
        return self.ours_v / self.spice_v - 1


def compared(case: Checked) -> list[Row]:
    """Every peak of a case by both."""
    solution = solve_pulse(case.network, FULL)
    ours = [abs(solution.node_peak_v(*ask)) for ask in case.asks]
    names = {SOIL: "soil", EARTH: "earth strand", LIVE: "live"} | {s: f"strand {s}" for s in STRANDS}
    words = [f"{node}, {names[start]} to {names[end]}" for node, start, end in case.asks]
    rows = zip(words, ours, spice_peaks_v(case.network, case.asks), strict=True)
    return [Row(case.title, what, mine, theirs) for what, mine, theirs in rows]


def table(rows: list[Row]) -> str:
    """The page of docs."""
    out = [
        "# Peaks beside a circuit simulator's",
        "",
        "`python -m bench.checked` writes this page and the picture. Each span is a hundred pi-sections for the",
        "simulator, stepped by 0.2 µs; ours is the full run of docs/physics.md. Lines have constant matrices here: a",
        "simulator in time knows no skin effect. The discharge cannot reverse: a diode in series for the simulator. A",
        "peak of a few hundred volts that lasts a microsecond, as between strands that are tangled, loses 2 % by the",
        "512 frequencies of the full run (4096 of them: 677 V).",
        "",
        "![Our peaks against the simulator's](checked.svg)",
        "",
        "| case | between | ours, V | simulator, V | off |",
        "|---|---|---:|---:|---:|",
    ]
    out += [f"| {r.title} | {r.what} | {r.ours_v:.0f} | {r.spice_v:.0f} | {100 * r.off:+.2f} % |" for r in rows]
    worst = max(rows, key=lambda r: abs(r.off))
    return "\n".join([*out, "", f"Worst: {100 * worst.off:+.2f} %, {worst.title}, {worst.what}.", ""])


def picture(rows: list[Row]) -> str:
    """Ours against theirs on logarithmic axes, 50 V to 12 kV."""
    low, high = math.log10(50), math.log10(12_000)

    def at(volts: float) -> float:
        return 300 * (math.log10(volts) - low) / (high - low)

    dots = "".join(f'<circle cx="{50 + at(r.spice_v):.1f}" cy="{320 - at(r.ours_v):.1f}" r="3.5"/>' for r in rows)
    ticks = "".join(
        f'<text x="{50 + at(v):.0f}" y="336" text-anchor="middle">{v}</text><text x="44" y="{324 - at(v):.0f}" '
        f'text-anchor="end">{v}</text>'
        for v in (100, 300, 1000, 3000, 10_000)
    )
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 370 360" font-family="sans-serif" font-size="11">'
        '<path d="M50 20V320H350M50 320L350 20" fill="none" stroke="#20241f"/>'
        f'<g fill="#6b1d4f">{dots}</g>{ticks}<text x="200" y="354" text-anchor="middle">simulator, V</text>'
        '<text x="14" y="14">ours, V</text></svg>\n'
    )


def main() -> None:
    """Write docs/checked.md and docs/checked.svg."""
    if not shutil.which("ngspice"):
        raise SystemExit("ngspice is not installed: nothing is compared")
    rows = [row for case in cases() for row in compared(case)]
    (DOCS / "checked.md").write_text(table(rows), encoding="utf-8")
    (DOCS / "checked.svg").write_text(picture(rows), encoding="utf-8")
    print(f"{len(rows)} peaks, worst {max(abs(r.off) for r in rows) * 100:.2f} % off")


if __name__ == "__main__":
    main()
