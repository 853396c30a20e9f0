"""Rods that are worse: looked at where most lies with them, and what is believed once they are mended or stay dry."""

import math
from dataclasses import replace

import numpy as np
import pytest

from adze.core.plan.season import Season
from adze.core.practice.play import question, taken
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm
from adze.core.trace.belief import Doubts
from adze.core.trace.explanation import stretches
from adze.core.trace.mended import anew
from adze.core.trace.plan_farm import farm_of
from adze.core.trace.search import FaultSearch, begin
from tests.conftest import simple_plan

PLAN = simple_plan(
    runs=[{"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 2300]]}],
    energizer_at=[-5, -5],
    strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}],
    energizer="mains_6",
    grass="heavy",
    rods={"count": 1, "position": [-5, -5]},
)
FARM = farm_of(PLAN, Season.USUAL)
LEAK = HiddenFault("LS", "line1:1", 1200.0, 100.0)


def played(search: FaultSearch, there: SimulatedFarm, until: str, most: int = 45) -> tuple[FaultSearch, list[str]]:
    """A search played until a step, and what was done."""
    done: list[str] = []
    while len(done) < most:
        step = search.next_step()
        if step.do in (until, "stop"):
            return search, done
        done.append(step.do)
        search = taken(search, step, there.answer(question(search, step)))
    raise AssertionError(done)


def worse(*faults: HiddenFault, rods: float = 6.0) -> SimulatedFarm:
    return simulated_farm(FARM, faults, Truth(rods=rods), 5)


def at_the_rods(there: SimulatedFarm) -> tuple[FaultSearch, list[str]]:
    return played(replace(begin(FARM), in_earnest=True), there, "look_rods")


def test_worse_rods_are_looked_at_before_anybody_walks() -> None:
    search, done = at_the_rods(worse())
    assert search.next_step().do == "look_rods"
    assert done == ["read", "read_rods"]
    assert search.candidates.cells[search.suspects.rods_cell] > 0.6
    assert stretches(search, half=True) == ()  # half of it lies with the rods, not on the fence
    assert stretches(begin(FARM), half=True)


def test_where_nobody_can_look_at_them_they_are_not_asked_for() -> None:
    search, _ = at_the_rods(worse())
    assert replace(search, in_earnest=False).next_step().do != "look_rods"


def test_well_rods_are_not_looked_at() -> None:
    _, done = played(replace(begin(FARM), in_earnest=True), simulated_farm(FARM, [LEAK], Truth(), 5), "stop")
    assert "look_rods" not in done


def test_once_they_are_mended_the_search_ends_soon_and_clear() -> None:
    search, _ = at_the_rods(worse())
    mended = search.rods_found(2.0, is_mended=True)
    assert mended.reads_mend
    ended, done = played(mended, simulated_farm(FARM, [], Truth(), 6), "stop")
    assert len(done) <= 8
    assert ended.candidates.p_material < 0.1


@pytest.mark.parametrize("rods", [4.0, 8.0])
def test_dry_rods_are_taken_as_they_are(rods: float) -> None:
    search, _ = at_the_rods(worse(rods=rods))
    stays = search.rods_found(2.0, is_mended=False)
    healthy = begin(FARM).suspects.base.healthy.rods_ohm
    assert stays.stays == ("rods",)
    assert not stays.reads_mend
    assert stays.suspects.base.healthy.rods_ohm / healthy == pytest.approx(rods, rel=0.35)
    ended, _ = played(stays, worse(rods=rods), "stop")
    assert ended.candidates.p_material < 0.1


def test_a_leak_beside_worse_rods_is_found_after_them() -> None:
    search, _ = at_the_rods(worse(LEAK, rods=8.0))
    assert search.next_step().do == "look_rods"
    there = simulated_farm(FARM, [LEAK], Truth(), 6)
    mended = search.rods_found(2.0, is_mended=True)
    played(mended, there, "stop")
    assert there.is_restored


def test_rods_known_anew_keep_what_was_learned_of_unit_and_growth() -> None:
    rng = np.random.default_rng(3)
    root = rng.normal(size=(4, 3, 3))
    doubts = Doubts(np.zeros(4), rng.normal(size=(4, 3)), root @ root.transpose(0, 2, 1))
    now = anew(doubts, 1, math.log(2.0), 0.3)
    assert now.mean[:, 1] == pytest.approx(math.log(2.0))
    assert now.cov[:, 1, 1] == pytest.approx(0.09)
    assert np.array_equal(now.mean[:, ::2], doubts.mean[:, ::2])
    assert np.array_equal(now.cov[:, ::2, ::2], doubts.cov[:, ::2, ::2])
    assert not now.cov[:, 1, ::2].any()
