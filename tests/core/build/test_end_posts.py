"""What strands leak through the post they end on, and what the fence loses by it."""

import math

import pytest

from adze.core.basics.status import Status
from adze.core.build.end_posts import STEEL_OHM, bare_end_ohm
from adze.core.build.parts import bill
from adze.core.forecast.budget import budget
from adze.core.forecast.volts import solved, volts
from adze.core.plan.season import Season, Weather
from adze.core.tables.construction import end_posts
from adze.core.verdict.judge_materials import material_findings
from tests.conftest import simple_plan

WOOD = end_posts()["timber"]
WET = Weather(Season.WET)


def test_one_strand_leaks_by_its_staple_and_the_post_below_it() -> None:
    """1e3 ohm m: a hemisphere of 3 mm spreads 53 kilohm, 0.9 m of a post of 15 cm is 51."""
    assert bare_end_ohm(WOOD, Season.WET, (0.9,)) == pytest.approx(
        1e3 / (2 * math.pi * 0.003) + 0.9e3 / 0.017671, rel=1e-4
    )


def test_many_strands_share_the_post_not_the_staples() -> None:
    one, five = (bare_end_ohm(WOOD, Season.WET, (0.9,) * n) for n in (1, 5))
    assert one > five > one / 5


@pytest.mark.parametrize("key", list(end_posts()))
def test_dry_never_leaks_more_than_wet(key: str) -> None:
    ohms = [bare_end_ohm(end_posts()[key], season, (0.5, 0.9)) for season in (Season.DRY, Season.USUAL, Season.WET)]
    assert ohms == sorted(ohms, reverse=True)
    assert key != "steel" or ohms == [STEEL_OHM] * 3
    assert bare_end_ohm(end_posts()[key], Season.WET, ()) == math.inf


def kv(**changes: object) -> float:
    return float(volts(simple_plan(**changes), WET).traces[0].live_kv[-1])


def test_bare_ends_cost_kv_after_rain_by_what_they_are_of() -> None:
    whole = kv()
    wood, dense, steel, fibreglass = (
        kv(end_insulators=False, end_post=key) for key in ("timber", "dense_timber", "steel", "fibreglass")
    )
    assert steel < 0.3 * whole
    assert wood < 0.995 * whole
    assert wood < dense <= whole * 1.001
    assert fibreglass == pytest.approx(whole, rel=1e-4)


def test_their_joules_are_the_line_s_leak() -> None:
    bare = budget(solved(simple_plan(end_insulators=False), WET))
    whole = budget(solved(simple_plan(), WET))
    assert bare.leaks_j["line1"] > whole.leaks_j["line1"]
    assert sum(bare.leaks_j.values()) + bare.rods_j + bare.wire_j == pytest.approx(bare.given_j, rel=1e-6)


@pytest.mark.parametrize(
    ("key", "status"),
    [("timber", Status.MARGINAL), ("steel", Status.FAILS), ("dense_timber", Status.HOLDS), ("composite", Status.HOLDS)],
)
def test_bare_ends_are_judged(key: str, status: Status) -> None:
    plan = simple_plan(end_insulators=False, end_post=key)
    assert {f.title: f.status for f in material_findings(plan)}["Ends without insulators"] is status
    assert "end_insulator" not in {line.part for line in bill(plan).lines}
    assert "Ends without insulators" not in {f.title for f in material_findings(simple_plan(end_post=key))}


def test_a_wet_end_post_can_be_tried() -> None:
    trial = {"id": "w", "kind": "wet_post", "run": "line1", "at_m": 1600}
    assert kv(what_ifs=[trial]) < kv()
