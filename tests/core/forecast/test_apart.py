"""Strands that are conductors of their own: which, where they are joined and parted, and what the forecast says."""

import numpy as np
import pytest

from adze.core.forecast.apart import are_apart, groups_of, strand_words
from adze.core.forecast.budget import budget
from adze.core.forecast.circuit import circuit
from adze.core.forecast.compare_units import units_here
from adze.core.forecast.volts import Trace, Volts, probe_at, solved, volts, volts_of
from adze.core.ground.places import Place
from adze.core.plan.catalogue import catalogue
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete
from adze.core.pulse.network import Terminal
from tests.conftest import simple_plan

FIVE = [{"cm": cm, "role": "live"} for cm in (25, 45, 65, 85, 110)]
WITH_EARTH = [{"cm": 25, "role": "live"}, {"cm": 50, "role": "earth"}, {"cm": 80, "role": "live"}]
TWO_LINES = [
    {"id": "line1", "name": "First line", "points": [[0, 0], [800, 0]]},
    {"id": "line2", "name": "Second line", "points": [[800, 0], [1600, 0]]},
]
RING = [{"id": "line1", "name": "Ring", "points": [[0, 0], [400, 0], [400, 400], [0, 400], [0, 0]]}]
USUAL = Weather(Season.USUAL)


def plan(**changes: object) -> Plan:
    return simple_plan(**({"strands": FIVE, "energizer": "mains_6", "grass": "moderate"} | changes))


def switch(
    *, is_open: bool, at_m: float = 0.0, strands: tuple[int, ...] = (1, 2), run: str = "line1"
) -> dict[str, object]:
    return {
        "id": "low", "kind": "switch", "name": "Low switch", "run": run, "at_m": at_m, "is_open": is_open,
        "strands": strands,
    }  # fmt: skip


def link(at_m: float, *strands: int) -> dict[str, object]:
    return {"id": "link", "kind": "join", "name": "Link", "run": "line1", "at_m": at_m, "strands": strands}


def joined(how: str) -> list[dict[str, object]]:
    return [{"id": "line1", "name": "First line", "points": [[0, 0], [1600, 0]], "joined": how}]


def first(forecast: Volts) -> Trace:
    return forecast.traces[0]


def test_strands_are_one_conductor_until_something_says_otherwise() -> None:
    whole = plan()
    assert not are_apart(whole, whole.runs[0])
    assert not first(volts(whole, USUAL)).apart
    assert volts(plan(fixtures=[link(800)]), USUAL).worst == volts(whole, USUAL).worst


def test_a_switch_parts_the_strands_it_names() -> None:
    own = plan(fixtures=[switch(is_open=False)])
    assert [group.numbers for group in groups_of(own, own.runs[0])] == [(3, 4, 5), (1, 2)]
    assert groups_of(own, own.runs[0])[0].terminal is Terminal.LIVE


def test_two_switches_make_three_groups() -> None:
    rows = [switch(is_open=False), switch(is_open=False, strands=(1,), at_m=600) | {"id": "lowest"}]
    own = plan(fixtures=rows)
    assert {group.numbers for group in groups_of(own, own.runs[0])} == {(3, 4, 5), (2,), (1,)}


def test_an_open_switch_takes_grass_off_the_fence() -> None:
    shut, opened = (volts(plan(fixtures=[switch(is_open=is_open)]), USUAL) for is_open in (False, True))
    low = first(opened).apart[0]
    assert not low.fed.any()
    assert low.kv.max() < 0.4 * first(opened).kv.min()
    assert first(shut).apart[0].fed.all()
    assert first(opened).kv.min() > first(shut).kv.min()
    assert opened.worst_on(frozenset({"line1"}))[1] == pytest.approx(first(opened).kv.min())


def test_a_group_in_the_grass_is_where_the_least_is() -> None:
    shut = volts(plan(fixtures=[switch(is_open=False)]), USUAL)
    least = shut.least_on(frozenset({"line1"}))
    assert least.strands == (1, 2)
    assert least.kv == pytest.approx(float(first(shut).apart[0].kv.min()))


def test_a_switch_half_way_parts_what_lies_beyond() -> None:
    low = first(volts(plan(fixtures=[switch(is_open=True, at_m=800)]), USUAL)).apart[0]
    at = first(volts(plan(fixtures=[switch(is_open=True, at_m=800)]), USUAL)).at_m
    assert low.fed[at < 799].all()
    assert not low.fed[at > 801].any()


def test_strands_go_on_into_like_strands_of_the_next_line() -> None:
    off = volts(plan(runs=TWO_LINES, fixtures=[switch(is_open=True)]), USUAL)
    assert not any(trace.apart[0].fed.any() for trace in off.traces)
    on = volts(plan(runs=TWO_LINES, fixtures=[switch(is_open=False)]), USUAL)
    one = first(volts(plan(fixtures=[switch(is_open=False)]), USUAL))
    assert float(on.traces[1].apart[0].kv[-1]) == pytest.approx(float(one.apart[0].kv[-1]), rel=2e-3)


def test_a_ring_that_is_parted_at_its_feed_is_parted_at_both_ends() -> None:
    low = first(volts(plan(runs=RING, fixtures=[switch(is_open=True)]), USUAL)).apart[0]
    assert not low.fed.any()


def test_a_link_feeds_past_an_open_switch() -> None:
    own = plan(fixtures=[switch(is_open=True), link(1600, 1, 2)])
    assert first(volts(own, USUAL)).apart[0].fed.all()


def test_a_link_joins_the_strands_it_names() -> None:
    near = first(volts(plan(runs=joined("near")), USUAL))
    one = first(volts(plan(runs=joined("near"), fixtures=[link(1600, 1)]), USUAL))
    assert one.apart[0].kv[-1] == pytest.approx(one.kv[-1], rel=0.01)
    assert one.apart[1].kv[-1] != pytest.approx(one.kv[-1], rel=0.005)
    assert near.apart[0].kv[-1] < one.apart[0].kv[-1]


def test_joined_at_both_ends_is_near_one_conductor() -> None:
    both = first(volts(plan(runs=joined("both")), USUAL))
    along = first(volts(plan(), USUAL))
    assert both.kv[-1] == pytest.approx(along.kv[-1], rel=0.01)
    assert both.apart[0].kv[-1] == pytest.approx(along.kv[-1], rel=0.01)
    assert both.leak_a[0] == pytest.approx(along.leak_a[0], rel=0.03)


def test_a_cut_strand_is_fed_backward_where_both_ends_are_joined() -> None:
    cut = {"id": "cut", "kind": "cut", "run": "line1", "at_m": 800, "strand": 1}
    near, both = (first(volts(plan(runs=joined(how), what_ifs=[cut]), USUAL)) for how in ("near", "both"))
    assert not near.apart[0].fed[-1]
    assert both.apart[0].fed[-1]
    # One of several that are joined all along carries on.
    assert volts(plan(what_ifs=[cut]), USUAL).worst[1] == pytest.approx(volts(plan(), USUAL).worst[1], rel=1e-3)


def test_a_leak_on_one_strand_pulls_that_one_down() -> None:
    short = {"id": "if", "kind": "post", "run": "line1", "at_m": 1600, "strand": 2}
    near = first(volts(plan(runs=joined("near"), what_ifs=[short]), USUAL))
    low = {own.group.numbers: float(own.kv[-1]) for own in near.apart}
    assert low[(2,)] < 0.2 * low[(3,)]
    # On all of them its ohms are shared: as on one conductor.
    every = {k: v for k, v in short.items() if k != "strand"}
    all_near = first(volts(plan(runs=joined("both"), what_ifs=[every]), USUAL))
    assert all_near.kv[-1] == pytest.approx(first(volts(plan(what_ifs=[every]), USUAL)).kv[-1], rel=0.05)


def test_earth_strands_stay_between() -> None:
    own = volts(plan(strands=WITH_EARTH, fixtures=[switch(is_open=False, strands=(1,))]), USUAL)
    one = volts(plan(strands=WITH_EARTH, grass="none", fixtures=[switch(is_open=False, strands=(1,))]), USUAL)
    along = volts(plan(strands=WITH_EARTH, grass="none"), USUAL)
    assert first(own).has_earth
    assert first(one).kv[-1] == pytest.approx(first(along).kv[-1], rel=0.02)
    assert first(one).earth_kv[-1] == pytest.approx(first(along).earth_kv[-1], rel=0.05)


def test_joules_and_amps_leak_as_of_one_conductor_where_both_ends_are_joined() -> None:
    apart, along = (solved(plan(runs=joined(how)), USUAL) for how in ("both", "along"))
    assert budget(apart).leaks_j["line1"] == pytest.approx(budget(along).leaks_j["line1"], rel=0.02)
    # Outward at the feed flows what leaks everywhere (eq. 20).
    assert first(volts_of(apart)).leak_a[0] == pytest.approx(first(volts_of(along)).leak_a[0], rel=0.02)


def test_what_is_switched_off_leaks_no_joules() -> None:
    off, on = (solved(plan(fixtures=[switch(is_open=is_open)]), USUAL) for is_open in (True, False))
    assert budget(off).leaks_j["line1"] < 0.8 * budget(on).leaks_j["line1"]


def test_a_strand_is_probed_by_its_number() -> None:
    own = plan(runs=joined("near"))
    low, top = (probe_at(own, USUAL, Place("line1", 1200.0), strand) for strand in (1, 5))
    trace = first(volts(own, USUAL))
    assert low.live_kv == pytest.approx(float(np.interp(1200, trace.at_m, trace.apart[0].live_kv)), rel=0.01)
    assert top.live_kv > low.live_kv
    assert (
        probe_at(plan(), USUAL, Place("line1", 1200.0), 1).live_kv
        == probe_at(plan(), USUAL, Place("line1", 1200.0)).live_kv
    )


def test_a_switch_of_every_live_strand_says_so() -> None:
    with pytest.raises(Incomplete, match="names every live strand"):
        circuit(plan(fixtures=[switch(is_open=True, strands=(1, 2, 3, 4, 5))]), USUAL)


def test_netting_has_no_strands_apart() -> None:
    own = plan(netting="sheep_90", strands=[], fixtures=[switch(is_open=True)])
    assert not are_apart(own, own.runs[0])
    assert volts(own, USUAL).worst[1] > 0


def test_numbers_in_words() -> None:
    assert strand_words((2,)) == "strand 2"
    assert strand_words((1, 2)) == "strands 1 and 2"
    assert strand_words((1, 2, 4)) == "strands 1, 2 and 4"


@pytest.mark.parametrize("is_open", [True, False])
def test_energizers_side_by_side_are_judged_on_every_strand_that_is_fed(is_open: bool) -> None:
    """What Power says of the unit that stands there is what Volts says."""
    own = plan(fixtures=[switch(is_open=is_open)], stock=[{"id": "e", "kind": "ewe", "schooled": True}])
    (here,) = units_here(own, [unit for unit in catalogue(own).values() if unit.key == "mains_6"])
    for season in Season:
        assert here.kv[season] == pytest.approx(volts(own, Weather(season)).worst[1], rel=2e-3)
