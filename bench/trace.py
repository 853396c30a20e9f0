"""The search for faults on farms made up afresh, against walking and halving: python -m bench.trace [--farms N].

Each farm is a tree of lines with a ring here and there, its own soil, growth, unit and rods, switches, tracks to walk
and hidden faults. All methods meet the same faults and walk at the same pace. docs/trace.md holds the table.
"""

import argparse
import json
import math
import os
import random

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from dataclasses import dataclass, replace
from multiprocessing import Pool
from typing import Any

import numpy as np

from adze.core.practice.halving import halve_all
from adze.core.practice.play import question, taken
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm, walk_all
from adze.core.pulse.network import Link, Network, Port, Shunt, Source, Span, Terminal, Wire, WireLine
from adze.core.trace.explanation import pieces_told
from adze.core.trace.farm import Hazard, TracedFarm, Track, hand_switch
from adze.core.trace.grid import Spot
from adze.core.trace.search import FaultSearch, begin

_UNITS = (
    Source("n0", 6665.6, 2.57e-7, 2.259e-3, 34.51, 1073.6, 1.29e-8),
    Source("n0", 6594.1, 5.26e-7, 1.6e-3, 22.0, 1073.6, 1.29e-8),
    Source("n0", 6490.3, 1.017e-6, 1.2e-3, 15.0, 1073.6, 1.29e-8),
    Source("n0", 6794.9, 1.856e-6, 0.9e-3, 10.0, 1073.6, 1.29e-8),
)
_KINDS = ("LS", "LS", "LS", "LE", "cut", "grass")
_LONGEST_MIN, _MOST_DEEDS = 24 * 60, 400
_MOST_ROUNDS, _BACK = 4, 0.9


@dataclass(frozen=True)
class MadeUp:
    """A farm made up, and what is hidden on it."""

    farm: TracedFarm
    faults: tuple[HiddenFault, ...]
    truth: Truth


def made_up(seed: int, faults: int, kinds: tuple[str, ...] = _KINDS) -> MadeUp:
    """A farm by its number."""
    rng = random.Random(f"trace {seed} {faults} {kinds}")
    count = rng.randint(7, 28)
    at = {"n0": (0.0, 0.0)}
    joined: list[tuple[str, str, float]] = []
    for k in range(1, count + 1):
        near = rng.choice(list(at)[-6:])
        length, way = rng.uniform(200, 950), rng.uniform(0, 2 * math.pi)
        at[f"n{k}"] = (at[near][0] + length * math.cos(way), at[near][1] + length * math.sin(way))
        joined.append((near, f"n{k}", length))
    if rng.random() < 0.4:
        one, other = rng.sample(list(at), 2)
        apart = math.dist(at[one], at[other])
        if 200 < apart < 1200:
            joined.append((one, other, apart))
    wires = rng.choice((("L",), ("L", "E", "L"), ("L", "E", "L", "E"), ("L", "L", "L"), ("L", "L", "L", "L", "L")))
    rho, leak = rng.choice((20.0, 50.0, 100.0, 200.0, 400.0)), 10 ** rng.uniform(-8, -6.3)
    spans, links = [], []
    for k, (a, b, length) in enumerate(joined):
        start = a
        if a == "n0" or rng.random() < 0.4:
            start = f"w{k}"
            links.append(Link(f"sw{k}", Port(a, Terminal.LIVE), Port(start, Terminal.LIVE), 0.05))
            if "E" in wires:
                links.append(Link(f"sw{k}e", Port(a, Terminal.EARTH), Port(start, Terminal.EARTH), 0.01))
        spans.append(Span(f"s{k}", start, b, _line(wires, rho, leak * rng.lognormvariate(0, 0.5)), length))
    rods = Shunt("rods", "n0", Terminal.EARTH, Terminal.SOIL, rng.uniform(5, 40))
    network = Network(rng.choice(_UNITS), tuple(spans), tuple(links), (rods,))
    tracks = []
    for _ in range(6):
        one, other = rng.sample(list(at), 2)
        tracks.append(Track(one, other, math.dist(at[one], at[other])))
    hazards = {s.id: Hazard(rng.choice((0, 0, 1, 2)), rng.random() < 0.4) for s in spans}
    truth = Truth(
        math.exp(rng.gauss(0, 0.03)),
        math.exp(rng.gauss(0, 0.3)),
        math.exp(rng.gauss(0, 0.3)),
        {s.id: math.exp(rng.gauss(0, 0.15)) for s in spans},
    )
    switches = tuple(s for s in (hand_switch(network, k) for k in links if k.a.terminal is Terminal.LIVE) if s)
    farm = TracedFarm(network, "n0", tuple(tracks), hazards, switches=switches)
    return MadeUp(farm, _hidden(rng, farm, truth, faults, kinds), truth)


def _line(wires: tuple[str, ...], rho: float, leak: float) -> WireLine:
    heights = np.linspace(0.25, 1.1, len(wires)) if len(wires) > 1 else [0.9]
    named = {"L": Terminal.LIVE, "E": Terminal.EARTH}
    made = tuple(Wire(float(h), 0.0, 0.00125, 0.035, 150.0, named[w]) for h, w in zip(heights, wires, strict=True))
    earthed = "E" in wires
    return WireLine(made, rho, leak, 1e-9 if earthed else 0.0, 3 * leak if earthed else 0.0)


def _hidden(
    rng: random.Random, farm: TracedFarm, truth: Truth, count: int, kinds: tuple[str, ...]
) -> tuple[HiddenFault, ...]:
    """Faults each of which takes a tenth of the kV somewhere."""
    has_earth = any(w.terminal is Terminal.EARTH for w in farm.network.spans[0].line.wires)  # type: ignore[union-attr]
    found: list[HiddenFault] = []
    for _ in range(400):
        if len(found) == count:
            break
        span = rng.choices(
            farm.network.spans, [s.length_m * (1 + farm.hazards[s.id].trees) for s in farm.network.spans]
        )[0]
        kind = rng.choice(kinds)
        at = rng.uniform(0.02, 0.98) * span.length_m
        if kind == "LE" and not has_earth:
            continue
        if kind == "grass":
            at = min(at, max(0.0, span.length_m - 300))
            fault = HiddenFault(kind, span.id, at, 10 ** rng.uniform(-5.4, -4.6), min(at + 300, span.length_m))
        else:
            fault = HiddenFault(kind, span.id, at, 10 ** rng.uniform(1.3, 3.1) * (20 if kind == "cut" else 1))
        if not simulated_farm(farm, [fault], truth, 0).is_restored:
            found.append(fault)
    return tuple(found)


@dataclass(frozen=True)
class Played:
    """A farm after a method; `held` says at each step before the first find whether the 90 % region held the fault."""

    there: SimulatedFarm
    held: tuple[bool, ...] = ()


def searched(made: MadeUp, seed: int, *, is_thorough: bool) -> Played:
    """The farm after the search."""
    there = simulated_farm(made.farm, made.faults, made.truth, seed)
    search, held = begin(made.farm, is_thorough=is_thorough), []
    for _ in range(_MOST_DEEDS):
        if not search.finds and len(made.faults) == 1:
            held.append(_holds(search, made.faults[0]))
        step = search.next_step()
        if step.do == "stop":
            break
        answer = there.answer(question(search, step))
        if not made.farm.meter.shows_amps:
            answer.pop("amps", None)
        search = taken(search, step, answer)
    return Played(there, tuple(held))


def _holds(search: FaultSearch, fault: HiddenFault) -> bool:
    """Whether the stretches that hold nine tenths of it hold the fault; growth lies along a stretch."""
    end = max(fault.until_m, fault.at_m)
    own = [p for p in pieces_told(search) if p.span == fault.span and p.from_m <= end and p.to_m >= fault.at_m]
    return any(piece.in_most for piece in own)


def walked_past(made: MadeUp, seed: int) -> Played:
    """The farm after walking it as people do: past every line, the nearest next, a tester at its far end.

    A fault is seen in passing; where kV at the mend are back at nine tenths of the forecast, it is taken for the only
    one.
    """
    there, forecast = (
        simulated_farm(made.farm, made.faults, made.truth, seed),
        simulated_farm(made.farm, (), Truth(), seed),
    )
    lengths = {span.id: span.length_m for span in made.farm.network.spans if not span.is_open}
    for _ in range(_MOST_ROUNDS):
        left = list(lengths)
        while left:
            name = min(left, key=lambda one: there.away_m(one, lengths[one]))
            begins = there.away_m(name, 0.0) <= there.away_m(name, lengths[name])
            for at_m in (0.0, lengths[name]) if begins else (lengths[name], 0.0):
                seen = there.answer({"do": "read", "at": [name, at_m], "leg": name}).get("seen")
                if seen:
                    break
            else:
                left.remove(name)
                continue
            leg, at_m = seen["at"]
            kv = there.answer({"do": "read", "at": [leg, at_m], "leg": leg}).get("kv", 0.0)
            if kv >= _BACK * forecast.true_reading(Spot(leg, at_m), leg)[0]:
                return Played(there)
    return Played(there)


def without_amps(made: MadeUp) -> MadeUp:
    """The same farm and a tester that shows kV alone."""
    return replace(made, farm=replace(made.farm, meter=replace(made.farm.meter, shows_amps=False)))


METHODS = {
    "thorough": lambda made, seed: searched(made, seed, is_thorough=True),
    "quick": lambda made, seed: searched(made, seed, is_thorough=False),
    "kv alone": lambda made, seed: searched(without_amps(made), seed, is_thorough=True),
    "halving": lambda made, seed: Played(halve_all(simulated_farm(made.farm, made.faults, made.truth, seed))),
    "walking past": walked_past,
    "walking": lambda made, seed: Played(walk_all(simulated_farm(made.farm, made.faults, made.truth, seed))),
}


def one_farm(task: tuple[int, int, tuple[str, ...], tuple[str, ...]]) -> dict[str, Any]:
    """Some methods on one farm."""
    seed, faults, kinds, methods = task
    made = made_up(seed, faults, kinds)
    row: dict[str, Any] = {"seed": seed, "faults": len(made.faults), "kinds": [f.kind for f in made.faults]}
    for name in methods:
        played = METHODS[name](made, seed)
        there = played.there
        minutes = min(there.minutes, _LONGEST_MIN)
        row[name] = {"restored": there.is_restored, "minutes": minutes, "metres": there.metres, "held": played.held}
    return row


def main() -> None:
    """Run and print a table."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--farms", type=int, default=20)
    parser.add_argument("--first", type=int, default=1000)
    parser.add_argument("--processes", type=int, default=2)
    parser.add_argument("--methods", nargs="+", choices=list(METHODS), default=list(METHODS))
    asked = parser.parse_args()
    methods = tuple(asked.methods)
    groups = {"one fault": (1, _KINDS), "two or three": (2, _KINDS), "a break": (1, ("cut",))}
    for name, (faults, kinds) in groups.items():
        several = name.startswith("two")
        tasks = [(asked.first + i, faults + (i % 2 if several else 0), kinds, methods) for i in range(asked.farms)]
        with Pool(asked.processes) as pool:
            rows = pool.map(one_farm, tasks, chunksize=1)
        for method in methods:
            minutes = [row[method]["minutes"] for row in rows]
            metres = [row[method]["metres"] for row in rows]
            restored = sum(row[method]["restored"] for row in rows)
            print(
                f"{name:14} {method:9} restored {restored}/{len(rows)}  minutes median {np.median(minutes):.0f} "
                f"90th {np.quantile(minutes, 0.9):.0f}  metres median {np.median(metres):.0f}",
                flush=True,
            )
            held = [step for row in rows for step in row[method]["held"]]
            if held:
                print(
                    f"{name:14} {method:9} of {len(held)} steps the 90 % region held it in {np.mean(held):.0%}",
                    flush=True,
                )
        for row in rows:
            if not row.get("thorough", {"restored": True})["restored"]:
                print("  left:", json.dumps(row), flush=True)


if __name__ == "__main__":
    main()
