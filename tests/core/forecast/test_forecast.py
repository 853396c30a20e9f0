"""From a plan to its volts: what physics says must come out, and what the circuit must respect."""

import numpy as np
import pytest

from adze.core.animals.strand_rules import Role
from adze.core.build.construction import fence_of
from adze.core.forecast.circuit import circuit
from adze.core.forecast.volts import probe_at, volts
from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Guess, Season, Weather, grass_weight, soil_ohm_m
from adze.core.plan.stages import Incomplete
from adze.core.pulse import laplace
from adze.core.pulse.solver import solve_pulse
from tests.conftest import simple_plan

USUAL, DRY, WET = Weather(Season.USUAL), Weather(Season.DRY), Weather(Season.WET)
FIVE = [{"cm": cm} for cm in (25, 45, 65, 85, 105)]


def at_ends(plan: Plan, weather: Weather) -> tuple[float, float, float]:
    (trace,) = volts(plan, weather).traces
    return float(trace.live_kv[0]), float(trace.live_kv[len(trace.live_kv) // 2]), float(trace.live_kv[-1])


def test_one_joule_on_a_mile_of_clean_strand(line_plan: Plan) -> None:
    # On an ideal line the pulse comes back from the open end; in use a little less, and no more than a little.
    ideal, in_use = (at_ends(line_plan, Weather(Season.USUAL, guess)) for guess in (Guess.HIGH, Guess.LIKELY))
    assert ideal[0] == pytest.approx(7.5, rel=0.03)
    assert ideal[2] == pytest.approx(9.0, rel=0.03)
    assert in_use[2] < ideal[2]
    assert 0.95 < in_use[2] / in_use[0] < 1.25


def test_a_big_unit_on_five_km_of_five_strands_in_grass() -> None:
    plan = simple_plan(
        runs=[{"id": "a", "name": "A", "points": [[0, 0], [5000, 0]]}],
        strands=FIVE,
        energizer="mains_15",
        grass="moderate",
        rods={"count": 10},
    )
    damp, wet = at_ends(plan, USUAL), at_ends(plan, WET)
    assert damp[1] < damp[0]
    assert damp[1] < damp[2]
    assert wet[1] < 0.7 * damp[1]


def test_stainless_polywire_loses_what_mixed_metal_keeps() -> None:
    short = [{"id": "a", "name": "A", "points": [[0, 0], [1000, 0]]}]
    ends = [
        at_ends(simple_plan(runs=short, energizer="battery_2", conductor=key), USUAL)[2]
        for key in ("poly_steel_3", "poly_mixed")
    ]
    assert 3.5 < ends[0] < 6
    assert ends[1] > ends[0] + 1


def test_dry_ground_hides_a_dead_fence() -> None:
    plan = simple_plan(soil="dry_sand", energizer="mains_6", stock=[{"id": "c", "kind": "cow"}])
    probe = probe_at(plan, DRY, Place("line1", 1600))
    assert probe.live_kv > 5
    wave = probe.equivalent.loaded_wave_v(500 + 7000 / (4 * 0.04 * 4) + 500, to_earth_strand=False)
    assert np.abs(wave).max() * 500 / 12000 < 500


def test_a_place_reads_the_same_from_the_trace_and_from_its_own_node(hallow: Plan) -> None:
    trace = next(t for t in volts(hallow, DRY).traces if t.run == "orchard")
    for i in (3, len(trace.at_m) // 2, -2):
        probe = probe_at(hallow, DRY, Place("orchard", float(trace.at_m[i])))
        assert probe.live_kv == pytest.approx(trace.live_kv[i], rel=1e-3)


def test_leak_flows_outward_and_is_spent_at_a_dead_end(hallow: Plan) -> None:
    trace = next(t for t in volts(hallow, WET).traces if t.run == "pump")
    assert trace.leak_a[0] > 0.2
    assert trace.leak_a[-1] == pytest.approx(0, abs=1e-3)
    assert np.all(np.diff(trace.leak_a) < 1e-9)
    assert probe_at(hallow, WET, Place("pump", 100)).pulse_a > np.interp(100, trace.at_m, trace.leak_a)


@pytest.mark.parametrize(
    ("kind", "cable", "dead"), [("switch", True, True), ("gate", False, True), ("gate", True, False)]
)
def test_what_is_open_really_opens(kind: str, cable: bool, dead: bool) -> None:
    fixture = {"id": "f", "kind": kind, "run": "line1", "at_m": 800, "name": "F", "is_open": True}
    if kind == "gate":
        fixture["under_cable"] = cable
    _, _, end = at_ends(simple_plan(fixtures=[fixture]), USUAL)
    assert (end < 0.01) is dead


def test_the_band_holds_the_likely_line(hallow: Plan) -> None:
    low, likely, high = (volts(hallow, Weather(Season.WET, g)).worst[1] for g in (Guess.LOW, Guess.LIKELY, Guess.HIGH))
    assert low < likely < high


def test_season_figures() -> None:
    plan = simple_plan(soil="dry_sand")
    assert [soil_ohm_m(plan, w) for w in (DRY, USUAL, WET)] == [7000, 2000, 1200]
    assert soil_ohm_m(simple_plan(soil_ohm_m=150), USUAL) == 150
    assert [grass_weight(h, 0.3) for h in (0.1, 0.3, 0.5)] == [1, pytest.approx(0.5), 0]


def test_heights_follow_the_animals_until_they_are_set() -> None:
    herd = [{"id": "e", "kind": "ewe", "schooled": True, "young": True}]
    assert [s.cm for s in fence_of(simple_plan(stock=herd, strands=[]))] == [18, 34, 55, 85]
    off = fence_of(simple_plan(stock=herd, strands=[], bottom_off=True))
    assert [s.role for s in off] == [Role.DEAD, Role.DEAD, Role.LIVE, Role.LIVE]


def test_earth_strands_are_joined_to_the_rods() -> None:
    plan = simple_plan(strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}])
    forecast = volts(plan, DRY)
    assert all(trace.has_earth for trace in forecast.traces)
    assert forecast.traces[0].earth_kv.max() < forecast.traces[0].live_kv.max()


def test_an_unjoined_line_stays_dead() -> None:
    rows = [
        {"id": f"r{i}", "name": f"L{i}", "points": p} for i, p in enumerate([[[0, 0], [900, 0]], [[0, 50], [900, 50]]])
    ]
    fed, lone = volts(simple_plan(runs=rows), USUAL).traces
    assert fed.live_kv.min() > 3
    assert lone.live_kv.max() < 1e-6


@pytest.mark.parametrize(
    ("changes", "stage"),
    [
        ({"runs": []}, "ground"),
        ({"energizer": None}, "power"),
        ({"rods": {"count": 0}}, "earth"),
        ({"strands": [{"cm": 50, "role": "earth"}]}, "strands"),
    ],
)
def test_what_is_missing_is_said_with_its_stage(changes: dict[str, object], stage: str) -> None:
    with pytest.raises(Incomplete) as missing:
        volts(simple_plan(**changes), USUAL)
    assert missing.value.stage == stage
    assert str(missing.value).endswith(".")


def test_energy_goes_nowhere_but_into_leaks() -> None:
    # On an ideal dry line nearly no net charge leaves; a hard leak takes nearly all.
    wiring = circuit(simple_plan(), Weather(Season.DRY, Guess.HIGH))
    clean = solve_pulse(wiring.network, laplace.FAST).charge_total_c
    stored = wiring.network.source.storage_f * wiring.network.source.v0_v
    assert 0 < clean < 0.02 * stored
