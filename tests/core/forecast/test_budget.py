"""Where the joules go: nothing comes from nowhere."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.energizer.fit import energy_on_load_j
from adze.core.forecast.budget import budget
from adze.core.forecast.circuit import LossKind
from adze.core.forecast.volts import solved
from adze.core.plan.catalogue import pulse_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.tables.energizers import energizers
from adze.core.tables.ground import grasses
from tests.conftest import simple_plan

WET = Weather(Season.WET)
TURN = [{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}]


@settings(max_examples=25)
@given(
    st.sampled_from(sorted(energizers())),
    st.sampled_from(sorted(grasses())),
    st.sampled_from(["loam", "dry_sand"]),
    st.sampled_from([TURN, [{"cm": 25}, {"cm": 60}]]),
    st.sampled_from(list(Season)),
)
def test_no_more_comes_out_than_is_stored_and_all_is_found(
    unit: str, grass: str, soil: str, strands: list[dict[str, object]], season: Season
) -> None:
    found = budget(solved(simple_plan(energizer=unit, grass=grass, soil=soil, strands=strands), Weather(season)))
    parts = [*found.leaks_j.values(), found.rods_j, found.far_rods_j, found.mishaps_j]
    assert all(part >= 0 for part in parts)
    assert 0 <= found.given_j <= found.stored_j
    # What is found in leaks and rods was given first; the wire has the rest.
    assert sum(parts) <= 1.01 * found.given_j
    assert found.wire_j == pytest.approx(found.given_j - sum(parts), abs=0.011 * found.given_j)


def test_growth_eats_most_of_it_in_a_wet_year() -> None:
    low = [{"cm": 20}, {"cm": 50}]
    plans = [simple_plan(grass=grass, strands=low, energizer="mains_6") for grass in ("none", "heavy")]
    clean, grown = (budget(solved(plan, WET)) for plan in plans)
    assert grown.leaks_j["line1"] > 2 * clean.leaks_j["line1"]
    assert grown.leaks_j["line1"] > 0.3 * grown.given_j


def test_a_short_takes_what_the_closed_form_says() -> None:
    # Ten metres of line with a dead short through good rods: the pulse goes into the resistance there.
    runs = [{"id": "line1", "name": "L", "points": [[0, 0], [10, 0]]}]
    trial = [{"id": "w", "kind": "post", "run": "line1", "at_m": 10}]
    plan: Plan = simple_plan(runs=runs, what_ifs=trial, energizer="mains_25", soil="wet_clay", rods={"count": 12})
    found = budget(solved(plan, WET))
    rods = solved(plan, WET).circuit.rods_ohm
    unit = pulse_of(energizers()["mains_25"])
    assert found.mishaps_j + found.rods_j + found.wire_j == pytest.approx(energy_on_load_j(unit, 50 + rods), rel=0.05)
    assert found.mishaps_j / found.rods_j == pytest.approx(50 / rods, rel=0.02)


def test_each_shunt_is_counted_once_and_their_sum_is_what_was_given() -> None:
    """A plan with every kind of shunt: rods near and far, cable under a gate, a mishap, bare ends."""
    fixtures = [
        {"id": "g", "kind": "gate", "run": "line1", "at_m": 200, "name": "Gate"},
        {"id": "c", "kind": "crossing", "run": "line1", "at_m": 400, "name": "Road"},
        {"id": "r", "kind": "rods", "run": "line1", "at_m": 900, "name": "Far rods"},
    ]
    trial = [{"id": "w", "kind": "branch", "run": "line1", "at_m": 700}]
    plan = simple_plan(strands=TURN, scheme="alternate", fixtures=fixtures, what_ifs=trial, end_insulators=False)
    found = solved(plan, WET)
    counted = found.circuit.counted
    assert [row.shunt for row in counted] == list(found.circuit.network.shunts)
    assert {row.kind for row in counted} == set(LossKind)
    spent = budget(found)
    parts = [*spent.leaks_j.values(), spent.rods_j, spent.far_rods_j, spent.mishaps_j, spent.wire_j]
    assert sum(parts) == pytest.approx(spent.given_j, rel=1e-9)
    assert min(spent.far_rods_j, spent.mishaps_j, spent.wire_j) > 0
