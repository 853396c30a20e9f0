"""Growth all along the fence: told apart from a fault at one place, and what is believed once it was looked at."""

from dataclasses import replace

import numpy as np
import pytest

from adze.core.plan.season import Season
from adze.core.practice.play import question, taken
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm
from adze.core.trace.belief import TraceReading
from adze.core.trace.grid import Spot
from adze.core.trace.mended import GROWN_SHARE, growth_told
from adze.core.trace.plan_farm import farm_of
from adze.core.trace.predicted import ReadAt
from adze.core.trace.search import FaultSearch, begin
from tests.conftest import simple_plan

PLAN = simple_plan(
    runs=[{"id": "line1", "name": "First line", "points": [[0, 0], [400, 0], [400, 1600]]}],
    energizer_at=[-5, -5],
    strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}],
    energizer="mains_6",
    grass="moderate",
)
FARM = farm_of(PLAN, Season.USUAL)
ALONG_M = (0.0, 500.0, 1000.0, 1500.0, 1900.0)


def read_along(there: SimulatedFarm, *, in_earnest: bool = True) -> FaultSearch:
    """A search after the true readings along the line."""
    search = replace(begin(FARM), in_earnest=in_earnest)
    for at_m in ALONG_M:
        spot = Spot("line1:1", at_m)
        place = search.grid.place(spot)
        kv, amps = there.true_reading(spot, "line1:1")
        search = search.walked(place, 1.0).read(TraceReading(ReadAt(place, "line1:1"), kv, amps))
    return search


def grown(times: float, *faults: HiddenFault) -> SimulatedFarm:
    return simulated_farm(FARM, faults, Truth(grass=times), 5)


def ended(search: FaultSearch, there: SimulatedFarm, most: int = 30) -> FaultSearch:
    for _ in range(most):
        step = search.next_step()
        if step.do == "stop":
            return search
        search = taken(search, step, there.answer(question(search, step)))
    raise AssertionError("the search does not end")


def test_before_any_reading_it_is_as_likely_as_it_was_taken_to_be() -> None:
    search = begin(FARM)
    told = growth_told(search.candidates, search.learner, search.log_prior, [])
    assert told.share == pytest.approx(GROWN_SHARE)
    assert told.times == pytest.approx(2.2)


@pytest.mark.parametrize("times", [2.2, 3.0, 4.0])
def test_growth_all_along_is_seen_with_how_much_it_is(times: float) -> None:
    search = read_along(grown(times))
    assert search.growth.share > 0.6
    assert search.growth.times == pytest.approx(times, rel=0.2)
    assert search.next_step().do == "look_growth"


@pytest.mark.parametrize("ohm", [40.0, 150.0, 400.0])
def test_a_leak_at_one_place_is_not_taken_for_growth(ohm: float) -> None:
    search = read_along(grown(1.2, HiddenFault("LS", "line1:1", 1200.0, ohm)))
    assert search.growth.share < 0.1
    assert search.next_step().do != "look_growth"


def test_two_leaks_are_not_taken_for_growth_of_many_times() -> None:
    two = (HiddenFault("LS", "line1:1", 400.0, 40.0), HiddenFault("LS", "line1:1", 1700.0, 60.0))
    search = read_along(grown(1.0, *two))
    assert search.growth.times > 6
    assert search.growth.share == 0


def test_where_nobody_can_look_it_is_not_asked_for() -> None:
    search = read_along(grown(2.5), in_earnest=False)
    assert search.growth.share == 0
    assert search.next_step().do != "look_growth"


def test_growth_that_is_none_is_not_asked_for_again() -> None:
    denied = read_along(grown(2.5)).growth_denied()
    assert denied.growth.share == 0
    assert denied.next_step().do != "look_growth"
    assert not denied.finds


@pytest.mark.parametrize("is_mended", [True, False])
def test_once_it_was_seen_the_search_ends_clear(is_mended: bool) -> None:
    seen = read_along(grown(2.5)).growth_found(1.0, is_mended=is_mended)
    assert seen.reads_mend == is_mended
    assert seen.stays == (() if is_mended else ("growth",))
    done = ended(seen, grown(1.0 if is_mended else 2.5))
    assert done.candidates.p_material < 0.1


def test_growth_that_stays_is_of_the_fence_from_there_on() -> None:
    search = read_along(grown(2.5))
    seen = search.growth_found(1.0, is_mended=False)
    place = seen.grid.place(Spot("line1:1", 1500.0))
    before, after = (
        float(one.suspects.single.predict_some(ReadAt(place, ""), np.arange(1)).kv[0]) for one in (search, seen)
    )
    kv, _ = grown(2.5).true_reading(Spot("line1:1", 1500.0), "line1:1")
    assert after == pytest.approx(kv, rel=0.03)
    assert after < before


def test_a_leak_behind_growth_is_found_after_it() -> None:
    there = grown(2.5, HiddenFault("LS", "line1:1", 1600.0, 250.0))
    seen = read_along(there).growth_found(1.0, is_mended=False)
    ended(seen, there, 60)
    assert there.left == []
