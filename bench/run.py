"""Ratios of one run on one core: python -m bench.run. Nothing here is a timed test."""

import os

os.environ.setdefault("OMP_NUM_THREADS", "1")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import json
import resource
import shutil
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np

from adze.core.plan.changes import replaced
from adze.core.pulse import laplace
from adze.core.pulse import solver as pulse
from adze.core.pulse.laplace import Window
from adze.core.pulse.network import Network, Port, Terminal
from adze.core.pulse.port_equivalent import equivalent_at_node
from adze.core.pulse.solver import solve_pulse, solve_pulses
from bench.dense import dense_peaks
from bench.networks import farm
from bench.spice import spice_seconds

DENSE = Window(length_s=0.6e-3, frequencies=128, wrap_around=1e-3)
CASES = Path(__file__).parents[1] / "tests" / "golden" / "cases.json"


def _peaks(network: Network) -> object:
    return solve_pulse(network, laplace.FULL).all_node_peaks_v()


def best_s(work: Callable[[], object], repeats: int = 20) -> float:
    """The least of several times, s."""
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return min(times)


def farm_against_dense() -> None:
    """200 nodes, 15 rings: sparse elimination against batched dense solves, and the error of the fast window."""
    network = farm(200, 15)
    solve_pulse(network).all_node_peaks_v()
    ours = best_s(lambda: solve_pulse(network).all_node_peaks_v())
    dense = best_s(lambda: dense_peaks(network, DENSE), 3)
    fast, fine = (solve_pulse(network, w).all_node_peaks_v() for w in (laplace.FAST, Window(2e-3, 2048, 1e-4)))
    error = max(abs(fast[p] / fine[p] - 1) for p in fine)
    took = f"{ours * 1e3:8.1f} ms   dense K=128 {dense * 1e3:8.0f} ms"
    print(f"200 nodes, 15 rings     {took}   {dense / ours:6.1f} times faster")
    print(f"  worst peak of any terminal against a fine run: {error * 100:.2f} %")


def growth() -> None:
    """Time and memory with the number of nodes."""
    base = 0.0
    for nodes in (200, 500, 1000, 2000):
        network = farm(nodes, nodes * 15 // 200)
        solve_pulse(network).all_node_peaks_v()
        took = best_s(lambda network=network: solve_pulse(network).all_node_peaks_v(), 3)  # type: ignore[misc]
        base = base or took / 200
        print(f"{nodes:5d} nodes             {took * 1e3:8.1f} ms   {took / nodes / base:6.2f} times the time a node")
    print(f"  memory at the most: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


def scenarios() -> None:
    """A dozen scenarios against one; one changed leak at any place against a new solve."""
    leaks = [base * share for base in (2e-7, 7e-7, 2.5e-6) for share in (0.1, 0.5, 1.0, 3.0)]
    dozen = [farm(200, 15, leak) for leak in leaks]
    one = best_s(lambda: solve_pulse(dozen[3]).all_node_peaks_v())

    def from_nothing() -> None:
        pulse.forget()
        solve_pulse(dozen[3]).all_node_peaks_v()

    cold = best_s(from_nothing)
    together = best_s(lambda: [s.all_node_peaks_v() for s in solve_pulses(tuple(dozen))], 3)
    apart = best_s(lambda: [solve_pulse(n).all_node_peaks_v() for n in dozen], 3)
    least = min(together, apart)
    print(f"12 scenarios            {least * 1e3:8.1f} ms   {least / cold:6.1f} times one from nothing")
    print(f"  side by side {together * 1e3:.1f} ms, one after another {apart * 1e3:.1f} ms")
    print(f"  one from nothing {cold * 1e3:.1f} ms, one more {one * 1e3:.1f} ms")
    solution = solve_pulse(dozen[3])
    start = Port("n0", Terminal.LIVE)
    quick = best_s(lambda: solution.peak(equivalent_at_node(solution, "n150").elsewhere_v(300.0, start)))
    print(f"one leak at one place   {quick * 1e3:8.2f} ms   {one / quick:6.0f} times faster than a new solve")


def cases_against_spice() -> None:
    """Public cases against ngspice, where it is installed (frequency-independent ones)."""
    if not shutil.which("ngspice"):
        print("ngspice is not installed: no comparison")
        return
    from adze.formats.cases.case_file import read_cases
    from adze.formats.cases.case_network import NetworkCase

    for case in read_cases(json.dumps(json.loads(CASES.read_text()))):
        if not isinstance(case, NetworkCase) or any(t.wires for t in case.linetypes.values()):
            continue
        network: Network = case.network()
        ours = best_s(partial(_peaks, network))
        theirs, peak = spice_seconds(network)
        mine = solve_pulse(network, laplace.FULL).node_peak_v("n0", Terminal.LIVE)
        took = f"{ours * 1e3:8.2f} ms   ngspice {theirs * 1e3:8.0f} ms   {theirs / ours:6.0f} times faster"
        print(f"{case.id:22s}  {took} (n0: {mine:.0f} V, ngspice {peak:.0f} V)")


def pages() -> None:
    """A moved point of the demo farm: verdicts and forecast, and the page, at the server."""
    from adze.core.plan.document import Plan
    from adze.core.verdict.judge import judge
    from adze.demo.farms import HALLOW_REACH
    from adze.services.answers.forecasts import forecast_json

    plan = HALLOW_REACH.plan
    judge(plan)

    def moved(by: float) -> Plan:
        document = plan.model_dump()
        runs = [dict(run) for run in document["runs"]]
        points = [list(p) for p in runs[0]["points"]]
        points[2][0] += by
        return Plan.model_validate(document | {"runs": [runs[0] | {"points": points}, *runs[1:]]})

    step = iter(np.linspace(0.1, 5, 50))
    took = best_s(lambda: forecast_json(moved(float(next(step)))), 9)
    print(f"a moved point, demo farm{took * 1e3:8.1f} ms   verdicts, three seasons, routes (server, not cached)")


def designs() -> None:
    """The search on the demo farm and on some forty nodes of the large one, designs a minute on one core."""
    from adze.core.advice.search import Wishes, search
    from adze.core.forecast.circuit import circuit
    from adze.core.plan.document import Plan
    from adze.core.plan.season import Season, Weather
    from adze.demo.farms import HALLOW_REACH
    from bench.farm import large_farm

    large = large_farm()
    names = {run.id for run in large.runs[:22]}
    part = replaced(large, runs=large.runs[:22], fixtures=tuple(f for f in large.fixtures if f.run in names))
    wishes = Wishes(keep_conductor=True, keep_strands=True)

    def search_all(plan: Plan) -> int:
        return sum(1 for _ in search(plan, wishes))

    for plan in (HALLOW_REACH.plan, part):
        nodes = len({node for p in circuit(plan, Weather(Season.DRY)).pieces for node in (p.a, p.b)})
        search_all(plan)
        start = time.perf_counter()
        tried = search_all(plan)
        took = time.perf_counter() - start
        print(f"{nodes:5d} nodes             {tried / took * 60:8.0f} designs a minute ({tried} in {took:.1f} s)")


def earth() -> None:
    """Sixty rods in two layers (limit 50 ms), and all that the earth's panel asks of the demo farm."""
    from adze.core.advice.earth_here import EarthHere
    from adze.core.advice.earth_options import options
    from adze.core.soil.electrodes import Buried, Field, Layers
    from adze.demo.farms import HALLOW_REACH

    row = tuple(Buried((3.0 * i, 0.0, 0.0), (3.0 * i, 0.0, 2.0), 0.016) for i in range(60))
    for depth in (0.5, 1.0, 2.5):
        took = best_s(lambda depth=depth: Field(row, Layers(100, depth, 1000)).ohm, 5)
        print(f"60 rods, two layers      {took * 1e3:8.1f} ms   boundary at {depth:g} m")
    plan = HALLOW_REACH.plan
    took = best_s(lambda: (EarthHere(plan).seasons(), EarthHere(plan).counts()), 3)
    print(f"earth in three seasons   {took * 1e3:8.1f} ms   and one to twelve rods (solved seasons kept)")
    took = best_s(lambda: options(plan, EarthHere(plan)), 3)
    print(f"what the next rod buys   {took * 1e3:8.1f} ms   all options")


def large_ground() -> None:
    """An edit of a farm of 2,000 points, 200 lines and 400 fixtures, and a track of 50,000 points."""
    from adze.core.ground.edit import moved
    from adze.core.plan.ground import Origin
    from adze.core.verdict.judge_ground import judge_ground
    from adze.formats.ground.ground_files import read_ground
    from adze.formats.ground.imported import ImportChoice, lines_in_metres
    from adze.services.answers.forecasts import forecast_json
    from bench.farm import large_farm

    plan = large_farm()
    forecast_json(plan)
    step = iter(np.linspace(0.1, 2, 50))

    def edit() -> object:
        return moved(plan, frozenset({("run", "branch20")}), float(next(step)), 0.0)

    print(f"200 lines: the edit     {best_s(edit, 5) * 1e3:8.1f} ms")
    print(f"  findings of the ground{best_s(lambda: judge_ground(edit()), 5) * 1e3:8.1f} ms")  # type: ignore[arg-type]
    took = best_s(lambda: forecast_json(edit()), 5)  # type: ignore[arg-type]
    print(f"  edit, findings, volts {took * 1e3:8.1f} ms   (server, not cached, not stored)")
    rows = "".join(f'<trkpt lat="{52 + 2e-4 * np.sin(i / 300)}" lon="{-30 + i * 3e-6}"/>' for i in range(50_000))
    track = f'<gpx version="1.1" creator="b"><trk><trkseg>{rows}</trkseg></trk></gpx>'.encode()
    took = best_s(lambda: lines_in_metres(read_ground(track), Origin(), ImportChoice(thin_m=1.5)), 3)
    print(f"50,000 points of GPX    {took * 1e3:8.1f} ms   read and thinned")


if __name__ == "__main__":
    for part in (farm_against_dense, scenarios, cases_against_spice, pages, designs, earth, large_ground, growth):
        part()
