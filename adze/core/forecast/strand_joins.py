"""What joining strands at one end, at both or nowhere brings, whole and with a strand cut."""

from dataclasses import dataclass

import numpy as np

from adze.core.animals.strand_rules import Role
from adze.core.basics.types import Real
from adze.core.build.construction import fence_of, live_numbers
from adze.core.forecast.apart import ends_of
from adze.core.forecast.circuit import circuit
from adze.core.forecast.volts import Solved
from adze.core.ground.places import Place
from adze.core.plan.changes import replaced
from adze.core.plan.constructions import fence_at
from adze.core.plan.document import Plan
from adze.core.plan.ground import WhatIf
from adze.core.plan.season import Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.pulse import laplace
from adze.core.pulse.solver import solve_pulse

WAYS = ("near", "both", "none")
_CUT = "strand-cut"


@dataclass(frozen=True)
class Cut:
    """A strand, numbered from the lowest live one, cut at a distance from the start of its run, m."""

    strand: int
    at_m: float


@dataclass(frozen=True)
class JoinedWay:
    """One way of joining: kV that a tester reads at the end that is farther from the feed, on each live strand.

    `whole_kv` (n,) with every strand whole, `cut_kv` (n,) with one cut; `way` near (at the end towards the feed), both
    (and wherever another line hangs on it), or none (the feed hangs on the top strand alone). What is not joined
    carries other lines on by its top strand.
    """

    way: str
    whole_kv: Real
    cut_kv: Real


@dataclass(frozen=True)
class StrandJoins:
    """A run's live strands, their heights, the end where they are read, and what each way of joining gives there."""

    run: str
    heights_cm: tuple[float, ...]
    end: Place
    cut: Cut
    ways: tuple[JoinedWay, ...]

    def way(self, name: str) -> JoinedWay:
        """The way of a name."""
        return next(way for way in self.ways if way.way == name)


def strand_joins(plan: Plan, run_id: str, cut: Cut | None, weather: Weather) -> StrandJoins:
    """Every way of joining the live strands of a run, in a season.

    No cut named: the lowest strand, half way. Raises Incomplete where the plan cannot be solved, or the run has fewer
    than two live strands, or is not fed.
    """
    whole = circuit(plan, weather)
    view = fence_at(plan, run_id).view
    heights = tuple(s.cm for s in fence_of(view) if s.role is Role.LIVE)
    pieces = sorted((p for p in whole.pieces if p.run == run_id), key=lambda p: p.from_m)
    if not pieces or pieces[0].a not in whole.wiring.reached:
        raise Incomplete(Stage.GROUND, "That line gets no pulse. Choose one that is fed.")
    if len(heights) < 2:
        raise Incomplete(Stage.STRANDS, "That line has one live strand, so there is nothing to join.")
    if view.netting:
        raise Incomplete(Stage.STRANDS, "Netting is woven in one piece: its strands are joined when it is made.")
    cut = cut or Cut(0, (pieces[0].from_m + pieces[-1].to_m) / 2)
    if not 0 <= cut.strand < len(heights):
        raise Incomplete(Stage.STRANDS, f"That line has {len(heights)} live strands; give one of them.")
    numbers = live_numbers(view)
    trial = WhatIf(id=_CUT, kind="cut", run=run_id, at_m=cut.at_m, strand=numbers[cut.strand])
    ways = []
    for way in WAYS:
        runs = tuple(replaced(run, joined=way) if run.id == run_id else run for run in plan.runs)
        own = replaced(plan, runs=runs)
        parted = replaced(own, what_ifs=(*plan.what_ifs, trial))
        ways.append(JoinedWay(way, *(_read(one, weather, run_id, numbers) for one in (own, parted))))
    _, far = ends_of(whole.wiring, run_id)
    end = Place(run_id, pieces[-1].to_m if far == pieces[-1].b else pieces[0].from_m)
    return StrandJoins(run_id, heights, end, cut, tuple(ways))


def _read(plan: Plan, weather: Weather, run_id: str, numbers: tuple[int, ...]) -> Real:
    """kV that a tester reads on each live strand at the end of a line that is farther from the feed, (n,)."""
    whole = circuit(plan, weather)
    solution = solve_pulse(whole.network, laplace.FAST)
    _, far = ends_of(whole.wiring, run_id)
    terminals = {n: group.terminal for group in whole.groups[run_id] for n in group.numbers}
    spectra = np.stack([solution.spectrum(far, terminals[n]) for n in numbers])
    kv: Real = Solved(plan, weather, whole, solution).shown_kv(spectra)
    return kv
