"""What a phone needs to go on with a search without signal: the solved fence, packed, and what is believed so far.

Layout: the length of the head (4 bytes, little-endian), the head as JSON, then the arrays one after another, each from
a multiple of 8 bytes on. The head's `arrays` say of each its type, shape and where it begins; complex ones lie as
real and imaginary parts in turn.
"""

import json
import struct
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from adze.core.pulse import laplace
from adze.core.pulse.altered import leakier
from adze.core.pulse.line import line_model
from adze.core.pulse.network import Line, Port, Shunt, Terminal, terminals_of
from adze.core.pulse.one_way import OneWay
from adze.core.pulse.solver import assembled
from adze.core.trace.explanation import pieces_beside
from adze.core.trace.farm import HandSwitch
from adze.core.trace.next_step import MOST_TRUTHS, drawn_errors
from adze.core.trace.pulse_base import WINDOW
from adze.core.trace.search import FaultSearch
from adze.core.trace.suspects import metres_of_hazard

Arrays = dict[str, NDArray[Any]]
_CODES = {"f8": np.float64, "f4": np.float32, "i4": np.int32, "i1": np.int8}


def pack(head: Mapping[str, Any], arrays: Arrays) -> bytes:
    """A head and its arrays as one file."""
    rows: dict[str, dict[str, Any]] = {}
    parts: list[bytes] = []
    at = 0
    for name, array in arrays.items():
        whole = np.ascontiguousarray(array)
        if whole.dtype.kind == "c":
            whole = whole.view(np.float64 if whole.dtype == np.complex128 else np.float32)
        code = next(code for code, kind in _CODES.items() if whole.dtype == kind)
        raw = whole.tobytes()
        rows[name] = {"type": code, "shape": list(array.shape), "at": at}
        parts.append(raw + b"\0" * (-len(raw) % 8))
        at += len(parts[-1])
    text = json.dumps({**head, "arrays": rows}).encode()
    text += b" " * (-(len(text) + 4) % 8)
    return struct.pack("<I", len(text)) + text + b"".join(parts)


def search_head(search: FaultSearch) -> dict[str, Any]:
    """A search as it stands, without its arrays: what things cost, how sure they are, where the person is."""
    farm, grid = search.farm, search.grid
    return {
        "spans": [span.id for span in grid.spans],
        "legs": grid.legs,
        "start": grid.start,
        "pace_m_per_min": farm.pace_m_per_min,
        "minutes": vars(farm.minutes),
        "meter": vars(farm.meter),
        "looking": vars(farm.looking),
        "rods_ohm": search.suspects.base.healthy.rods_ohm if np.isfinite(search.suspects.base.healthy.rods_ohm) else 0,
        "rods_s": sum(1 / shunt.ohm for shunt in farm.network.shunts if _is_rods(search, shunt)),
        "doubt_rods": farm.doubt.rods,
        "doubt_grass": farm.doubt.grass,
        "window": [WINDOW.length_s, WINDOW.damping_per_s],
        "is_one_way": farm.network.source.one_way,
        "rods_port": search.suspects.base.rods_port,
        "grassy": search.learner.grassy,
        "switches": [_switch(search, switch) for switch in farm.switches],
        "material": search.candidates.material,
        "search": {
            "here": search.here,
            "finds": len(search.finds),
            "actions": search.actions,
            "minutes": search.minutes,
            "since": search.since,
            "closing": vars(search.closing),
            "reads_mend": search.reads_mend,
            "is_thorough": search.is_thorough,
            "in_earnest": search.in_earnest,
            "stays": search.stays,
            "is_mown": search.is_mown,
            "sweeps": search.sweeps,
            "looked": sorted(search.looked),
            "opened": sorted(search.opened),
        },
    }


def _switch(search: FaultSearch, switch: HandSwitch) -> dict[str, Any]:
    """A switch by the ports of the cuts that part the fence when it is open, and the place beside it that stays fed."""
    base = search.suspects.base
    parted = base.parted(frozenset({switch.id}))
    ends = {int(end[base.faults.piece[port]]) for port in parted for end in (search.grid.a, search.grid.b)}
    return {
        "id": switch.id,
        "fed": base.fed_place(switch),
        "parted": parted,
        "beside": sorted(ends),
        "near": pieces_beside(search, switch).tolist(),
    }


def search_arrays(search: FaultSearch) -> Arrays:
    """The arrays of a search that has read nothing since its beginning or its last mend."""
    base, grid, candidates = search.suspects.base, search.grid, search.candidates
    order, faults, doubts = base.factors.order, base.faults, candidates.blocks[0].doubts
    links = [(link.a.node, link.b.node) for link in search.farm.network.links]
    number = {name: k for k, name in enumerate(grid.names)}
    joined = [(number[a], number[b]) for a, b in links if a in number and b in number]
    rows, columns = np.triu_indices(3)
    return {
        "instants": base.instants,
        "follow": base.follow,
        "unknowns": _whole(order.unknowns),
        "starts": _whole(order.starts),
        "neighbours": _whole(order.neighbours),
        "columns": _whole(order.columns),
        "target_starts": _whole(order.target_starts),
        "targets": _whole(order.targets),
        "shown": base.shown,
        "live": _whole(base.live),
        "earth": _whole(base.earth),
        "kind": faults.kind.astype(np.int8),
        "place": _whole(faults.place),
        "piece": _whole(faults.piece),
        "ports": _whole(faults.ports),
        "a": _whole(grid.a),
        "b": _whole(grid.b),
        "span": _whole(grid.span),
        "from_m": grid.from_m,
        "length_m": grid.length_m,
        "nodes": _whole(grid.nodes),
        "walk_m": grid.walk_m,
        "steps_back": _steps_back(search),
        "joined": np.array(joined, dtype=np.int32).reshape(-1, 2),
        "loss": search.suspects.loss,
        "prior": search.suspects.prior,
        "hazard_m": metres_of_hazard(base)[0],
        "log_weight": doubts.log_weight,
        "known_mean": search.known.mean[0],
        "known_cov": search.known.cov[0, rows, columns],
        "mean": doubts.mean,
        "cov": doubts.cov[:, rows, columns],
        "looks_place": candidates.inspections.place,
        "looks_half": candidates.inspections.half,
        **_matrix(search),
        **_lines(search),
        "errors": np.concatenate([drawn_errors(count).ravel() for count in range(1, MOST_TRUTHS + 1)]),
    }


def _whole(numbers: NDArray[Any]) -> NDArray[np.int32]:
    return numbers.astype(np.int32)


def _is_rods(search: FaultSearch, shunt: Shunt) -> bool:
    return shunt.node == search.farm.network.source.node and shunt.start is Terminal.EARTH


def _matrix(search: FaultSearch) -> Arrays:
    """The network's matrix at its places, what drives it, and at which places each piece stands in it.

    Ten places a piece: at its a live with live, live with earth, earth with earth, the same at its b, and across
    live with live, live with earth, earth with live, earth with earth; -1 where there is none.
    """
    base, grid = search.suspects.base, search.grid
    layout, whole = assembled(grid.network, WINDOW)
    pairs = [(0, 0), (0, 1), (1, 1)], [(0, 0), (0, 1), (1, 0), (1, 1)]
    rows = []
    for k in range(len(grid.a)):
        a, b = ([int(of[place]) for of in (base.live, base.earth)] for place in (grid.a[k], grid.b[k]))
        groups = len(terminals_of(grid.network.spans[k].line))
        own = [(end[i], end[j], max(i, j)) for end in (a, b) for i, j in pairs[0]]
        across = [(a[i], b[j], max(i, j)) for i, j in pairs[1]]
        rows.append([layout.order.place(i, j) if most < groups else -1 for i, j, most in own + across])
    network = grid.network
    one_way = OneWay(network.source, WINDOW)
    source = [layout.ports[Port(network.source.node, t)] for t in (Terminal.LIVE, Terminal.EARTH)]
    return {
        "whole": np.ascontiguousarray(whole[:, : WINDOW.frequencies]),
        "push": one_way.push,
        "series_s": one_way.series_s,
        "source": _whole(np.array(source)),
        "stands": _whole(np.array(rows)),
    }


def _lines(search: FaultSearch) -> Arrays:
    """Each kind of line (N): series admittance, charge and leak of live, live with earth, earth, (N, 3, K); per metre.

    `groups` (N,) says how many strands' groups it has, `line` (B,) which a piece is of.
    """
    s = laplace.frequencies_per_s(WINDOW)
    known: dict[Line, int] = {}
    of = [known.setdefault(span.line, len(known)) for span in search.grid.network.spans]
    rows = np.zeros((3, len(known), 3, len(s)), dtype=np.complex128)
    groups = np.array([len(terminals_of(line)) for line in known])
    for number, line in enumerate(known):
        own = line_model(line, s)
        leak = line_model(leakier(line, 2.0), s).shunt - own.shunt
        for entry, (i, j) in enumerate(zip(*np.triu_indices(groups[number]), strict=True)):
            rows[:, number, entry] = own.admittance[:, i, j], own.shunt[:, i, j] - leak[:, i, j], leak[:, i, j]
    admittance, charge, leak = rows
    numbers = {"groups": _whole(groups), "line": _whole(np.array(of))}
    return {"admittance": admittance, "charge": charge, "leak": leak, **numbers}


def _steps_back(search: FaultSearch) -> NDArray[np.int32]:
    """For a start (P,) what comes before each place or node (N,) on the shortest way; negative where none leads."""
    grid = search.grid
    return np.stack([grid.steps_back(place) for place in range(len(grid.spots))]).astype(np.int32)
