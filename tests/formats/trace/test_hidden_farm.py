"""Practice on a phone: with a switch open, its tester shows what the fence solved anew would."""

import json
import subprocess
from pathlib import Path
from typing import Any

import pytest

from adze.core.practice.simulated_farm import HiddenFault, Truth, simulated_farm
from adze.core.trace.grid import Grid
from adze.core.trace.search import begin
from adze.formats.trace.trace_kit import pack, search_arrays, search_head
from tests.core.trace.farms import cases

SHOWN = Path(__file__).parents[2] / "js" / "hidden_farm.js"
TRUTH = Truth(unit=0.96, rods=1.4, grass=0.8)
LIVE_KV, FLOWING_A = 0.5, 2.0


def hidden_on(grid: Grid, has_earth: bool) -> list[HiddenFault]:
    """One fault of each kind, at places and in the middle of a piece, where both sides have them."""
    pieces = [k for k in range(len(grid.a)) if grid.length_m[k] > 5 and grid.from_m[k] > 0]
    leak, cut, grass = (pieces[len(pieces) * k // 4] for k in (1, 2, 3))
    name = [grid.spans[grid.span[k]].id for k in (leak, cut, grass)]
    middle_m = float(grid.from_m[cut] + grid.length_m[cut] / 2)
    end_m = grid.spans[grid.span[grass]].length_m
    return [
        HiddenFault("LE" if has_earth else "LS", name[0], float(grid.from_m[leak]), 90.0),
        HiddenFault("cut", name[1], middle_m, 900.0),
        HiddenFault("grass", name[2], float(grid.from_m[grass]), 2e-5, min(float(grid.from_m[grass]) + 150, end_m)),
    ]


@pytest.mark.parametrize("case", ["T30003", "T30001"])
def test_a_phone_shows_what_the_parted_fence_does(case: str, tmp_path: Path) -> None:
    search = begin(cases()[case].farm())
    farm, grid = search.farm, search.grid
    assert farm.switches
    faults = hidden_on(grid, bool((search.suspects.base.earth >= 0).any()))
    lies = [{"kind": f.kind, "span": f.span, "span_at_m": f.at_m, "until_m": f.until_m, "size": f.size} for f in faults]
    drawn = {"truth": {"unit": 0.96, "rods": 1.4, "grass": 0.8}, "faults": lies, "states": []}
    worlds, questions = [], []
    for number, switch in enumerate(farm.switches):
        left = number % 2 ** len(faults)
        there = simulated_farm(farm, [fault for k, fault in enumerate(faults) if left >> k & 1], TRUTH, 0)
        there.opened.add(switch.id)
        for place in range(number % 7, len(grid.spots), 29):
            leg = grid.legs[place][0]
            worlds.append((*there.true_reading(grid.at(place, leg), leg), there.true_rods_kv()))
            questions.append({"left": left, "opened": [switch.id], "number": place, "leg": leg})
    shown = on_a_phone(search, drawn, questions, tmp_path)
    live = [(own, row) for own, row in zip(worlds, shown, strict=True) if own[0] > LIVE_KV]
    assert len(live) > len(worlds) / 3
    assert len(live) < len(worlds)  # past an open switch the fence is dead
    dead = [(own[0], row["kv"]) for own, row in zip(worlds, shown, strict=True) if own[0] <= LIVE_KV]
    assert [kv for _, kv in dead] == pytest.approx([own for own, _ in dead], abs=0.05)
    assert [row["kv"] for _, row in live] == pytest.approx([own[0] for own, _ in live], rel=0.02)
    assert [row["rods_kv"] for _, row in live] == pytest.approx([own[2] for own, _ in live], rel=0.03)
    flowing = [(own[1], row["amps"]) for own, row in live if abs(own[1]) > FLOWING_A]
    assert [abs(amps) for _, amps in flowing] == pytest.approx([abs(own) for own, _ in flowing], rel=0.12)


def on_a_phone(
    search: Any, drawn: dict[str, Any], questions: list[dict[str, Any]], folder: Path
) -> list[dict[str, float]]:
    """What the phone's tester shows."""
    packed, told, asked = (folder / name for name in ("search.bin", "round.json", "questions.json"))
    packed.write_bytes(pack(search_head(search), search_arrays(search)))
    told.write_text(json.dumps(drawn))
    asked.write_text(json.dumps(questions))
    answer = subprocess.run(["node", SHOWN, packed, told, asked], capture_output=True, text=True, check=True)
    found: list[dict[str, float]] = json.loads(answer.stdout)
    return found
