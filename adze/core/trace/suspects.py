"""Every single fault that may be: its kind, place and size, how likely it is beforehand, and what it would cost."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from adze.core.basics.types import Index, Real
from adze.core.pulse.altered import grassier
from adze.core.pulse.network import Terminal
from adze.core.trace.grid import Spot
from adze.core.trace.predicted import Hypotheses, ReadAt, hypotheses, sizes_of
from adze.core.trace.pulse_base import CUT, LE, LS, RODS, TraceBase
from adze.core.trace.pulse_base import base as base_of

KIND_SHARE = {LS: 0.60, LE: 0.12, CUT: 0.20, RODS: 0.05}
NONE_SHARE, RODS_AFTER = 0.03, 0.01
MATERIAL, MATERIAL_AFTER = 0.05, 0.08
GROWN = 2.2  # growth all along that makes a fence low: so many times the forecast's, or less, or more
_GATE_M, _SWITCH_M, _SPUR_M, _BEFORE = 60.0, 25.0, 300.0, 2.0  # a spur of unknown length: some hundred metres
_LEAST_KV = 0.5  # nodes that read less when well tell nothing of a loss


@dataclass(frozen=True)
class Suspects:
    """Single faults (N+1; the first: none) on a healthy fence.

    `single` predicts what they do; `fault`, `size` (N+1,) say what each is; `cells` (N+1, 2) at which places it
    lies (a cut: at both ends of its piece by half; after the places: none, rods); `loss` (N+1,) is the largest share
    of kV that it takes anywhere; `prior` (N+1,) how likely it is beforehand.
    """

    base: TraceBase
    single: Hypotheses
    fault: Index
    size: Real
    cells: Index
    loss: Real
    prior: Real

    @cached_property
    def grown(self) -> Hypotheses:
        """The fence with growth all along and nothing else wrong."""
        base = self.base
        farm = replace(base.farm, network=grassier(base.farm.network, GROWN))
        tall = base_of(farm, replace(base.grid, network=grassier(base.grid.network, GROWN)))
        return hypotheses(tall, tall.healthy, np.empty(0, dtype=np.intp), np.empty(0))

    @property
    def none_cell(self) -> int:
        """The cell of "nothing is wrong"."""
        return len(self.base.grid.spots)

    @property
    def rods_cell(self) -> int:
        """The cell of worse rods."""
        return self.none_cell + 1

    @property
    def kind(self) -> Index:
        """The kind of each; -1: none."""
        kinds = self.base.faults.kind[self.fault]
        kinds[0] = -1
        return kinds


def every_single(base: TraceBase) -> Hypotheses:
    """Every single fault of a farm at each of its sizes."""
    sizes = sizes_of(base.faults.kind)
    return hypotheses(base, base.healthy, np.repeat(np.arange(len(sizes)), sizes.shape[1]), sizes.ravel())


def suspects(base: TraceBase) -> Suspects:
    """Every single fault of a farm, with what it would cost."""
    kinds = base.faults.kind
    sizes = sizes_of(kinds)
    single = every_single(base)
    fault = np.repeat(np.arange(len(kinds)), sizes.shape[1])
    fault = np.concatenate([[0], fault])
    size = np.concatenate([[np.inf], sizes.ravel()])
    cells = _cells(base)[fault]
    cells[0] = len(base.grid.spots)
    prior = np.concatenate([[NONE_SHARE], np.repeat(_prior(base), sizes.shape[1]) / sizes.shape[1]])
    return Suspects(base, single, fault, size, cells, loss_of(single), prior / prior.sum())


def _cells(base: TraceBase) -> Index:
    faults, grid = base.faults, base.grid
    cells = np.stack([faults.place, faults.place], axis=1)
    cuts = faults.kind == CUT
    cells[cuts] = np.stack([grid.a[faults.piece[cuts]], grid.b[faults.piece[cuts]]], axis=1)
    cells[faults.kind == RODS] = len(grid.spots) + 1
    return cells


def metres_of_hazard(base: TraceBase) -> tuple[Real, Real]:
    """How many metres of plain fence each place (P,) and each piece (B,) counts for, by what makes faults likelier."""
    grid, farm = base.grid, base.farm
    per_m = np.ones(len(grid.spans))
    for k, span in enumerate(grid.spans):
        hazard = farm.hazards.get(span.id)
        if hazard:
            per_m[k] += hazard.trees + _BEFORE * hazard.fault_before
            per_m[k] += (_GATE_M * hazard.has_gate + _SWITCH_M * hazard.has_switch) / span.length_m
            per_m[k] *= hazard.recurs
    pieces = per_m[grid.span] * grid.length_m
    places = np.zeros(len(grid.spots))
    np.add.at(places, grid.a, pieces / 2)
    np.add.at(places, grid.b, pieces / 2)
    number = {name: k for k, name in enumerate(grid.names)}
    for link in farm.network.links:
        for port in (link.a, link.b):
            if port.terminal is Terminal.LIVE and port.node in number:
                places[number[port.node]] += _SWITCH_M / 2
    for spur in farm.spurs:
        places[grid.place(Spot(*spur))] += _SPUR_M
    return places, pieces


def _prior(base: TraceBase) -> Real:
    """How likely each fault port is beforehand, (F,), by kind and hazard."""
    places, pieces = metres_of_hazard(base)
    faults = base.faults
    found = np.zeros(len(faults.kind))
    for kind, share in KIND_SHARE.items():
        rows = faults.kind == kind
        if not rows.any():
            continue
        weight = pieces[faults.piece[rows]] if kind == CUT else places[faults.place[rows]]
        found[rows] = share if kind == RODS else share * weight / weight.sum()
    return found


def loss_of(block: Hypotheses) -> Real:
    """The largest share of kV that each hypothesis (H,) takes at any node which is live when well."""
    base = block.base
    everyone = np.arange(len(block.fault))
    most = np.zeros(len(everyone))
    for node in base.grid.nodes.tolist():
        kv, healthy = block.kv_at(node, everyone)
        if healthy > _LEAST_KV:
            most = np.maximum(most, 1 - kv / healthy)
    return most


def lost_share(loss: Real) -> Real:
    """How far a loss counts as something wrong, 0 to 1."""
    found: Real = np.clip((loss - 0.06) / 0.07, 0.0, 1.0)
    return found


def first_log_prior(found: Suspects) -> Real:
    """Before the first find: something is known to be wrong, so what costs little is hardly it; (N+1,)."""
    log: NDArray[np.float64] = np.log(found.prior * (0.03 + 0.97 * lost_share(found.loss)))
    return log


def place_of(found: Suspects, number: int, leg: str) -> ReadAt:
    """A place to read at."""
    return ReadAt(number, leg or found.base.grid.legs[number][0])
