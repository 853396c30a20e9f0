"""The band of a forecast: no part reaches beyond it; and what clean fences show at both ends."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from adze.core.energizer.tester import adjustment
from adze.core.forecast.band import band_of
from adze.core.forecast.circuit import ENERGIZER
from adze.core.forecast.volts import solved, volts, volts_of
from adze.core.plan.catalogue import pulse_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Guess, Season, Weather
from adze.core.pulse.solver import solve_pulse
from adze.core.tables.energizers import energizers
from tests.conftest import simple_plan

USUAL = Weather(Season.USUAL)
LIVE = [[{"cm": 90}], [{"cm": 50}, {"cm": 90}], [{"cm": x} for x in (25, 50, 75, 100, 120)]]
IN_TURN = [{"cm": 50, "role": "earth"}, {"cm": 90}]


def line(length_m: float, **more: object) -> Plan:
    runs = [{"id": "line1", "name": "L", "points": [[0, 0], [length_m, 0]]}]
    return simple_plan(**({"runs": runs, "grass": "none", "soil": "loam", "rods": {"count": 4}} | more))


@pytest.mark.parametrize("unit", list(energizers()))
@pytest.mark.parametrize("strands", [*LIVE, IN_TURN], ids=["one", "two", "five", "in turn"])
def test_a_clean_fence_of_1200_m_reads_about_the_same_at_both_ends(unit: str, strands: list[dict[str, object]]) -> None:
    for length_m in (300.0, 700.0, 1200.0):
        (trace,) = volts(line(length_m, energizer=unit, strands=strands), USUAL).traces
        assert 0.95 < trace.live_kv[-1] / trace.live_kv[0] < 1.25, length_m


@settings(max_examples=8)
@given(
    unit=st.sampled_from(sorted(energizers())),
    grass=st.sampled_from(["none", "light", "heavy"]),
    soil=st.sampled_from(["loam", "dry_sand"]),
    length_m=st.floats(200, 4000),
    season=st.sampled_from(list(Season)),
)
def test_no_part_of_the_doubt_reaches_beyond_the_band(
    unit: str, grass: str, soil: str, length_m: float, season: Season
) -> None:
    plan = line(length_m, energizer=unit, grass=grass, soil=soil)
    likely = volts(plan, Weather(season))
    (row,) = band_of(plan, likely).runs
    assert (row.low_live_kv <= likely.traces[0].live_kv * 1.0001).all()
    assert (row.high_live_kv >= likely.traces[0].live_kv * 0.9999).all()
    found = solved(plan, Weather(season))
    model = energizers()[unit]
    others = [replace(found.solution.network.source, one_way=False)]
    others += [pulse_of(replace(model, shape=shape)).at(ENERGIZER) for shape in (0.15, 0.6)]
    rows = [volts_of(replace(found, solution=found.solution.under(source))) for source in others]
    rows += [volts(plan, Weather(season, guess)) for guess in (Guess.LOW, Guess.HIGH)]
    for part in rows:
        # The band is solved in a coarser window, and in between at fewer places.
        assert (part.traces[0].live_kv >= row.low_live_kv * 0.97 - 0.02).all()
        assert (part.traces[0].live_kv <= row.high_live_kv * 1.03 + 0.02).all()


def test_another_energizer_without_solving_again() -> None:
    found = solved(line(900.0, strands=IN_TURN), USUAL)
    source = pulse_of(energizers()["mains_15"]).at(ENERGIZER)
    again = solve_pulse(replace(found.circuit.network, source=source), found.solution.window)
    np.testing.assert_allclose(found.solution.under(source).volts, again.volts, rtol=1e-6)


def test_a_slow_tester_is_right_on_its_reference_and_hides_what_is_faster() -> None:
    assert adjustment(0.0) == 1
    assert (adjustment(5e-6), adjustment(10e-6)) == pytest.approx((1.05, 1.16), abs=0.01)
    starts = [
        volts(line(200.0, energizer="battery_025", tester={"kind": kind}), USUAL).start_kv
        for kind in ("true", "handheld", "lamps")
    ]
    assert starts == sorted(starts, reverse=True)
    assert starts[2] < 0.9 * starts[0]


def test_clipped_to_the_rods_a_tester_sees_their_rise_as_well() -> None:
    poor = {"soil": "dry_sand", "rods": {"count": 1}}
    soil, rods = (volts(line(800.0, tester={"against": other}, **poor), USUAL).start_kv for other in ("remote", "rods"))
    assert rods > soil
