"""A search on a phone gives the figures of the server's, step by step, on the golden farms."""

import json
import struct
import subprocess
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from adze.core.plan.season import Season
from adze.core.practice.play import question
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm
from adze.core.trace.belief import RODS_PLACE, Doubts, TraceReading
from adze.core.trace.explanation import kinds_told, meaning, open_switch, piece_shares
from adze.core.trace.grid import Spot
from adze.core.trace.mended import KINDS, Find
from adze.core.trace.next_step import NextStep
from adze.core.trace.plan_farm import farm_of
from adze.core.trace.search import FaultSearch, begin
from adze.formats.trace.trace_kit import pack, search_arrays, search_head
from tests.core.trace.farms import begun, cases, hidden
from tests.core.trace.test_one_forecast import polywire_line

REPLAY = Path(__file__).parents[2] / "js" / "replay_search.js"
NEAR = 1e-4
MOST_STEPS = 24
# Growth is set anew after the find of the first, the second has two faults.
SOME = ("T30000", "T30005", "T30007", "T30012")


def minutes_to(search: FaultSearch, place: int) -> float:
    return float(search.grid.walk_m[search.here, place]) / search.farm.pace_m_per_min


def stepped(search: FaultSearch, step: NextStep, answer: dict[str, Any]) -> tuple[FaultSearch, dict[str, Any]]:
    """The search after a step and its answer, and the step as a phone keeps it."""
    costs, seen = search.farm.minutes, answer.get("seen")
    if seen:
        spot = Spot(*seen["at"])
        walk = minutes_to(search, search.grid.place(spot)) + costs.look
        event = {"what": "found", "span": spot.span, "atM": spot.at_m, "kind": seen["kind"]}
        return search.found(Find(KINDS[seen["kind"]], spot), walk), event
    if step.do == "sweep":
        return search.swept_all(tuple(span.id for span in search.grid.spans), 0.0), {"what": "sweep"}
    if step.do == "read_rods":
        start, kv = search.grid.start, answer["rods_kv"]
        reached = search.walked(start, minutes_to(search, start) + costs.rods)
        return reached.read(TraceReading(RODS_PLACE, kv)), {"what": "rods", "kv": kv}
    if step.do == "switch":
        there = search.walked(step.place, minutes_to(search, step.place) + costs.switch)
        event = {"what": "switch", "switch": step.switch, "opens": step.opens}
        return there.switched(step.switch, opens=step.opens), event
    leg = step.leg or search.grid.legs[step.place][0]
    spot = search.grid.at(step.place, leg)
    kv, amps = answer.get("kv"), answer.get("amps")
    event = {"what": step.do, "span": spot.span, "atM": spot.at_m, "leg": leg, "kv": kv, "amps": amps}
    walk = minutes_to(search, step.place)
    if step.do == "look":
        return search.walked(step.place, walk + costs.look).inspected(step.place), event
    return search.walked(step.place, walk + costs.reading).read(TraceReading(step.at, kv, amps)), event


def told_of(search: FaultSearch, step: NextStep) -> dict[str, Any]:
    return {
        "cells": search.candidates.cells,
        "entropy_bits": search.candidates.entropy_bits,
        "p_material": search.candidates.p_material,
        "minutes": search.minutes,
        "surprise": search.surprise,
        "pieces": piece_shares(search),
        "kinds": kinds_told(search),
        "means": None if search.reads_mend or search.opened else meaning(search, step),
        "doubtful": search.doubtful,
        "open": open_switch(search),
        "nextStep": step,
    }


def played(search: FaultSearch, simulated_farm: SimulatedFarm) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """What the server's search tells before each step, and the steps, until it stops."""
    rows: list[dict[str, Any]] = []
    steps: list[dict[str, Any]] = []
    for _ in range(MOST_STEPS):
        step = search.next_step()
        rows.append(told_of(search, step))
        if step.do == "stop":
            return rows, steps
        answer = simulated_farm.answer(question(search, step))
        if not search.farm.meter.shows_amps:
            answer.pop("amps", None)
        search, event = stepped(search, step, answer)
        steps.append(event)
    rows.append(told_of(search, search.next_step()))
    return rows, steps


def on_a_phone(search: FaultSearch, steps: list[dict[str, Any]], folder: Path) -> list[dict[str, Any]]:
    """What the phone's search tells before each of the steps."""
    packed, file = folder / "search.bin", folder / "steps.json"
    packed.write_bytes(pack(search_head(search), search_arrays(search)))
    file.write_text(json.dumps(steps))
    told = subprocess.run(["node", REPLAY, packed, file], capture_output=True, text=True, check=True)
    return [json.loads(line) for line in told.stdout.splitlines()]


def is_same(step: NextStep, own: dict[str, Any]) -> bool:
    return (step.do, step.place, step.leg) == (own["do"], own["number"], own["leg"])


@pytest.mark.parametrize(
    "case", [case if case in SOME else pytest.param(case, marks=pytest.mark.slow) for case in sorted(cases())]
)
def test_a_phone_believes_and_asks_what_the_server_does(case: str, tmp_path: Path) -> None:
    compare(begun(case), hidden(case), tmp_path)


def test_a_phone_ends_a_quick_search_where_the_server_does(tmp_path: Path) -> None:
    compare(begin(cases()["T30007"].farm(), is_thorough=False), hidden("T30007"), tmp_path)


def test_a_phone_keeps_what_was_known_before_the_search(tmp_path: Path) -> None:
    known = Doubts(np.zeros(1), np.array([[-0.05, 0.1, -0.2]]), np.diag([0.02, 0.2, 0.25])[None] ** 2)
    compare(begin(cases()["T30007"].farm(), known=known), hidden("T30007"), tmp_path)


def test_a_phone_opens_the_switches_that_the_server_does(tmp_path: Path) -> None:
    farm = cases()["T30003"].farm()
    search = begin(replace(farm, meter=replace(farm.meter, shows_amps=False)))
    steps = compare(search, hidden("T30003"), tmp_path)
    switches = [(step["switch"], step["opens"]) for step in steps if step["what"] == "switch"]
    assert switches
    assert switches[::2] == [(name, True) for name, _ in switches[1::2]]  # each is shut again


def test_a_phone_follows_the_stop_of_the_unit_as_the_server_does(tmp_path: Path) -> None:
    farm = farm_of(polywire_line("tape_20", "mains_3"), Season.USUAL)
    search = begin(farm)
    assert search.suspects.base.one_way
    span = max(farm.network.spans, key=lambda one: one.length_m)
    hidden_farm = simulated_farm(farm, [HiddenFault("LS", span.id, span.length_m / 2, 900.0)], Truth(), seed=1)
    compare(search, hidden_farm, tmp_path)


def compare(search: FaultSearch, simulated_farm: SimulatedFarm, folder: Path) -> list[dict[str, Any]]:
    """Play a search on both; the steps."""
    rows, steps = played(search, simulated_farm)
    found = on_a_phone(search, steps, folder)
    assert len(found) == len(rows)
    other = []
    for number, (row, own) in enumerate(zip(rows, found, strict=True)):
        assert own["cells"] == pytest.approx(row["cells"], abs=NEAR)
        assert own["pieces"] == pytest.approx(row["pieces"], abs=NEAR)
        for name in ("entropy_bits", "p_material", "minutes", "surprise"):
            assert own[name] == pytest.approx(row[name], abs=10 * NEAR, rel=NEAR), (number, name)
        assert own["doubtful"] == row["doubtful"]
        assert (own["open"] or {}).get("id") == (row["open"].id if row["open"] else None)
        assert own["kinds"]["hardShort"] == pytest.approx(row["kinds"].hard_short, abs=NEAR)
        assert own["kinds"]["several"] == pytest.approx(row["kinds"].several, abs=NEAR)
        if not is_same(row["nextStep"], own["nextStep"]):
            other.append(number)
            continue
        assert own["nextStep"].get("minutes", 0.0) == pytest.approx(row["nextStep"].minutes, abs=10 * NEAR)
        if row["means"] is not None:
            assert own["means"]["past"] == pytest.approx(row["means"].past, abs=NEAR)
            assert own["means"]["names"] == [outcome.means for outcome in row["means"].outcomes]
    # At the very beginning many hypotheses weigh alike, and which of them are weighed against each other is open.
    assert not [number for number in other if number > 0], other
    return steps


def test_fence_on_no_plan_counts_on_a_phone_as_on_the_server(tmp_path: Path) -> None:
    farm = cases()["T30007"].farm()
    plain, span = begin(farm), farm.network.spans[1]
    joins = ((span.id, span.length_m / 3), (span.id, span.length_m))
    known = begin(replace(farm, spurs=joins))
    lines = {span.id: {"run": span.id, "from_m": 0, "length_m": span.length_m}}
    field = {"lines": lines, "lead": "", "runs": [{"id": span.id}], "spurs": []}
    packed, file = tmp_path / "search.bin", tmp_path / "steps.json"
    packed.write_bytes(pack(search_head(plain) | {"field": field}, search_arrays(plain)))
    file.write_text(json.dumps([{"what": "spur", "run": run, "at_m": at_m, "once": f"{at_m}"} for run, at_m in joins]))
    told = subprocess.run(["node", REPLAY.parent / "spurred.js", packed, file], capture_output=True, check=True)
    own = json.loads(told.stdout)
    assert own["prior"] == pytest.approx(known.suspects.prior, rel=1e-9)
    server = known.candidates.blocks[0].doubts.log_weight
    # Weights are known but for a factor that all share.
    assert np.array(own["log_weight"]) - own["log_weight"][0] == pytest.approx(server - server[0], abs=1e-9)


def test_what_is_packed_is_read_where_it_lies() -> None:
    raw = pack(
        {"name": "A fence"}, {"few": np.arange(3, dtype=np.int8), "pairs": np.array([1 + 2j]), "none": np.empty(0)}
    )
    (size,) = struct.unpack_from("<I", raw)
    head = json.loads(raw[4 : 4 + size])
    assert head["name"] == "A fence"
    assert (4 + size) % 8 == 0
    at = 4 + size + head["arrays"]["pairs"]["at"]
    assert struct.unpack_from("<2d", raw, at) == (1.0, 2.0)
    assert head["arrays"]["pairs"] == {"type": "f8", "shape": [1], "at": 8}


def test_a_farm_of_three_hundred_places_is_small_to_keep() -> None:
    search = begun("T30006")
    assert len(search.grid.spots) > 250
    assert search.suspects.base.faults.has_earth
    assert len(pack(search_head(search), search_arrays(search))) < 40e6
