"""The kV of a healthy fence are one figure, on the card and in a search, the unit's stop and strands apart included."""

from dataclasses import replace

import numpy as np
import pytest

from adze.core.forecast.volts import readings_at, solved
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.pulse import laplace
from adze.core.pulse.network import Shunt, Terminal
from adze.core.pulse.solver import solve_pulse
from adze.core.pulse.tester import followed_v
from adze.core.trace.belief import TraceReading
from adze.core.trace.grid import grid
from adze.core.trace.plan_farm import farm_of, fence_place
from adze.core.trace.predicted import ReadAt, hypotheses
from adze.core.trace.pulse_base import LS, base
from adze.core.trace.search import begin
from adze.core.trace.suspects import every_single
from adze.demo.farms import DEMO_FARMS, DemoFarm

# What a line of one length and unit is built of, and how far the search may be from the card, as a share.
FENCES = {
    "stainless polywire": ("poly_steel_6", "mains_10", "along", 0.01),
    "tape": ("tape_20", "mains_3", "along", 0.01),
    "steel wire": ("steel_25", "mains_3", "along", 0.01),
    "steel wire, strands joined near the unit": ("steel_25", "mains_3", "near", 0.01),
    "stainless polywire, strands apart": ("poly_steel_6", "mains_10", "none", 0.01),
}


def polywire_line(conductor: str = "poly_steel_6", unit: str = "mains_10", joined: str = "along") -> Plan:
    """A line of 3.3 km."""
    return Plan.model_validate(
        {
            "name": "Long line",
            "stock": [{"id": "c", "kind": "cow", "count": 20}],
            "runs": [{"id": "line1", "name": "Line", "points": [[0, 0], [3300, 0]], "joined": joined}],
            "energizer": unit,
            "energizer_at": [-6, -4],
            "soil": "loam",
            "grass": "light",
            "conductor": conductor,
            "post": "plastic",
            "post_spacing_m": 6,
            "rods": {"count": 3, "length_m": 2, "position": [-20, -15]},
            "strands": [{"cm": 40}, {"cm": 60}, {"cm": 90}],
        }
    )


def shares_off(plan: Plan, season: Season) -> float:
    """The largest share by which the search's kV differ from the card's at any place."""
    farm = farm_of(plan, season)
    where = grid(farm)
    every = every_single(base(farm, where))
    placed = [(k, fence_place(plan, where, k)) for k in range(len(where.spots))]
    at = [(k, place) for k, place in placed if place is not None]
    card = np.array(readings_at(solved(plan, Weather(season)), tuple(place for _, place in at))[0])
    own = np.array([every.kv_at(k, np.array([0]))[1] for k, _ in at])
    return float(np.abs(own / card - 1).max())


@pytest.mark.parametrize("fence", FENCES)
def test_a_search_expects_what_the_card_says(fence: str) -> None:
    conductor, unit, joined, most = FENCES[fence]
    plan = polywire_line(conductor, unit, joined)
    assert max(shares_off(plan, season) for season in (Season.DRY, Season.WET)) < most


@pytest.mark.parametrize("farm", DEMO_FARMS, ids=lambda farm: farm.name)
def test_the_demo_farms_too(farm: DemoFarm) -> None:
    assert max(shares_off(farm.plan, season) for season in Season) < 0.01


@pytest.mark.parametrize(("share", "ohm"), [(0.1, 5000.0), (0.5, 5000.0), (0.5, 300.0), (0.95, 1000.0)])
def test_a_leak_on_a_fence_whose_unit_stops_is_what_a_whole_solve_gives(share: float, ohm: float) -> None:
    farm = farm_of(polywire_line("tape_20", "mains_3"), Season.USUAL)
    where = grid(farm)
    found = base(farm, where)
    count = len(where.spots)
    leak = int(share * (count - 1))
    port = int(np.flatnonzero((found.faults.kind == LS) & (found.faults.place == leak))[0])
    made = hypotheses(found, found.healthy, np.array([port]), np.array([ohm]))
    shunt = Shunt("leak", where.names[leak], Terminal.LIVE, Terminal.SOIL, ohm)
    whole = solve_pulse(replace(where.network, shunts=(*where.network.shunts, shunt)), laplace.FAST)
    for number in (0, count // 2, count - 1):
        volts = followed_v(whole.spectrum(where.names[number], Terminal.LIVE), laplace.FAST, farm.response_s)
        kv = abs(float(whole.peak(volts))) / 1000
        told = float(made.kv_at(number, np.array([1]))[0][0])
        assert told == pytest.approx(kv * farm.kv_scale, rel=0.01), number


def test_what_the_card_says_surprises_no_search() -> None:
    plan = polywire_line("tape_20", "mains_3")
    search = begin(farm_of(plan, Season.USUAL))
    for number in np.linspace(0, len(search.grid.spots) - 1, 5).astype(int).tolist():
        place = fence_place(plan, search.grid, number)
        if place is None:
            continue
        (kv,) = readings_at(solved(plan, Weather(Season.USUAL)), (place,))[0]
        search = search.read(TraceReading(ReadAt(number, search.grid.legs[number][0]), float(kv), None))
        assert search.surprise < 0.1
