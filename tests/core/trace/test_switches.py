"""Switches in a search: what is read while one is open, when one is opened, one whose state was told wrongly."""

from dataclasses import replace

import numpy as np
import pytest

from adze.core.practice.play import question, taken
from adze.core.practice.simulated_farm import HiddenFault, SimulatedFarm, Truth, simulated_farm
from adze.core.trace.belief import TraceReading
from adze.core.trace.closing import closing_places
from adze.core.trace.explanation import open_switch
from adze.core.trace.grid import Spot
from adze.core.trace.next_step import NextStep
from adze.core.trace.predicted import ReadAt
from adze.core.trace.pulse_base import LS
from adze.core.trace.search import SURPRISE, FaultSearch, Find, begin
from tests.core.trace.farms import begun, cases, hidden

CASE = "T30001"  # nineteen lines, nine switches


def well(search: FaultSearch, opened: str, faults: tuple[HiddenFault, ...] = ()) -> SimulatedFarm:
    """A farm without a doubt, with a switch open."""
    there = simulated_farm(search.farm, faults, Truth(), 1)
    there.opened.add(opened)
    return there


def without_amps(case: str) -> FaultSearch:
    farm = cases()[case].farm()
    return begin(replace(farm, meter=replace(farm.meter, shows_amps=False)))


@pytest.mark.parametrize("number", range(9))
def test_an_open_switch_reads_as_a_fence_that_is_parted_there(number: int) -> None:
    search = begun(CASE)
    switch = search.farm.switches[number]
    fault = HiddenFault("LS", "s12", 0.0, 200.0)
    there = well(search, switch.id, (fault,))
    base = search.suspects.base
    at = ReadAt(base.fed_place(switch), "")
    port = int(np.flatnonzero(base.faults.place == search.grid.place(Spot("s12", 0.0)))[0])
    rows = np.flatnonzero((search.suspects.fault == port) & (np.arange(len(search.suspects.fault)) > 0))
    shown = search.suspects.single.under(frozenset({switch.id})).predict_some(at, rows).kv
    spot = search.grid.at(at.number, search.grid.legs[at.number][0])
    true_kv, _ = there.true_reading(spot, spot.span)
    sizes = search.suspects.size[rows]
    assert np.interp(np.log(200.0), np.log(sizes), shown) == pytest.approx(true_kv, rel=0.02)


def test_past_an_open_switch_nothing_is_read() -> None:
    search = begun(CASE)
    switch = next(s for s in search.farm.switches if s.id == "sw6")
    far = int(search.grid.b[search.grid.piece_at(Spot(*switch.parts[0]))])
    shown = search.suspects.single.under(frozenset({"sw6"})).predict_some(ReadAt(far, ""), np.array([0]))
    assert shown.kv[0] < 0.1


def test_an_open_switch_is_read_on_its_fed_side_and_shut_again() -> None:
    search = begun(CASE).switched("sw6", opens=True)
    switch = next(s for s in search.farm.switches if s.id == "sw6")
    piece = search.grid.piece_at(Spot(*switch.parts[0]))
    fed = search.suspects.base.fed_place(switch)
    assert search.next_step() == replace(search.next_step(), do="read", place=fed)
    other = int(search.grid.b[piece])
    read = search.walked(other, 5.0).read(TraceReading(ReadAt(other, search.grid.legs[other][0]), 2.6))
    assert read.readings[0][0].place.number == fed
    assert read.readings[0][0].opened == {"sw6"}
    assert (read.next_step().do, read.next_step().switch, read.next_step().opens) == ("switch", "sw6", False)
    assert not read.switched("sw6", opens=False).opened


def test_kv_with_a_switch_open_are_news_where_kv_were_read_before() -> None:
    search = begun(CASE)
    place = ReadAt(search.suspects.base.fed_place(search.farm.switches[1]), "")
    once = search.read(TraceReading(place, 2.4))
    assert once.read(TraceReading(place, 2.4)).readings[-1][1]
    assert not once.switched("sw2", opens=True).read(TraceReading(place, 2.4)).readings[-1][1]


def test_a_tester_without_amps_is_never_asked_for_them_and_finds_the_fault() -> None:
    search, there = without_amps("T30003"), hidden("T30003")
    steps: list[NextStep] = []
    for _ in range(60):
        step = search.next_step()
        steps.append(step)
        if step.do == "stop":
            break
        answer = there.answer(question(search, step))
        answer.pop("amps", None)
        search = taken(search, step, answer)
    assert there.is_restored
    assert not there.opened
    read = [(step.place, search.opened) for step in steps if step.do == "read"]
    assert read
    switched = [step for step in steps if step.do == "switch"]
    assert switched
    assert all(one.switch == other.switch for one, other in zip(switched[::2], switched[1::2], strict=True))


def test_a_closing_round_without_amps_reads_no_place_twice() -> None:
    search = without_amps("T30003").found(Find(LS, Spot("s3", 100.0)), 1.0)
    place = ReadAt(int(search.grid.nodes[2]), search.grid.legs[int(search.grid.nodes[2])][0])
    asked = closing_places(search.candidates, place.number, {place})
    assert place.number not in {one.number for one in asked}
    assert len({one.number for one in asked}) == len(asked)


def test_with_amps_no_switch_needs_to_be_opened() -> None:
    search = begun("T30003")
    for kv, amps in ((2.0, 30.0), (1.8, 28.0)):
        step = search.next_step()
        assert step.do != "switch"
        search = search.walked(step.place, step.minutes).read(TraceReading(step.at, kv, amps))


def read_along(search: FaultSearch, there: SimulatedFarm, spots: tuple[Spot, ...]) -> FaultSearch:
    """After reading kV and amps without errors."""
    for spot in spots:
        place = search.grid.place(spot)
        kv, amps = there.true_reading(search.grid.at(place, spot.span), spot.span)
        search = search.walked(place, 2.0).read(TraceReading(ReadAt(place, spot.span), kv, amps))
    return search


def test_a_switch_that_stands_open_though_told_shut_is_named() -> None:
    search = begun(CASE)
    there = well(search, "sw0")
    start = search.grid.at(search.grid.start, search.grid.legs[search.grid.start][0])
    assert open_switch(search) is None
    after = read_along(search, there, (start, Spot("s3", 40.0), Spot("s3", 120.0), Spot("s0", 100.0)))
    found = open_switch(after)
    assert found is not None
    assert found.id == "sw0"
    assert found.share > 0.5


def test_a_switch_that_is_shut_though_told_open_is_named() -> None:
    """A short past it pulls the kV down beside it as before, which no fault past an open switch does."""
    search = begun(CASE)
    there = simulated_farm(search.farm, (HiddenFault("LS", "s6", 200.0, 30.0),), Truth(), 1)
    fed = search.suspects.base.fed_place(next(s for s in search.farm.switches if s.id == "sw6"))
    spots = (Spot("s2", 100.0), Spot("s6", 0.0), Spot("s6", 100.0), Spot("s6", 300.0))
    told = read_along(search, there, spots).switched("sw6", opens=True)
    kv, amps = there.true_reading(told.grid.at(fed, "s2"), "s2")
    after = told.read(TraceReading(ReadAt(fed, "s2"), kv, amps))
    assert after.surprise >= SURPRISE
    assert after.doubtful == "sw6"
    assert not after.switched("sw6", opens=False).doubtful


def test_a_link_that_is_no_switch_is_named() -> None:
    case = cases()[CASE].model_copy(update={"switches": ["sw0", "gone"]})
    with pytest.raises(ValueError, match="switches: gone is no link of the network"):
        case.farm()
