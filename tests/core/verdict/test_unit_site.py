"""Where the energizer stands: shade, stock, ways."""

import math

import pytest

from adze.core.energizer.supply import Rate
from adze.core.plan.power import Supply
from adze.core.tables.energizers import energizers
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_supply import supply_findings
from adze.core.verdict.surroundings.unit_site import judge_unit_site, shade_m
from tests.conftest import simple_plan

RING = {"id": "r0", "name": "Ring", "points": [[0, 0], [200, 0], [200, 200], [0, 200], [0, 0]]}
EWES = [{"id": "e", "kind": "ewe", "schooled": True}]


def found(*marks: dict[str, object], **changes: object) -> dict[str, Finding]:
    plan = simple_plan(runs=[RING], landmarks=list(marks), **({"energizer": "solar_06"} | changes))
    return {f.title: f for f in judge_unit_site(plan)}


def mark(kind: str, *points: list[float]) -> dict[str, object]:
    return {"id": kind, "kind": kind, "name": kind.title(), "points": list(points)}


def test_shade_is_tall_over_the_tangent_of_the_noon_sun() -> None:
    """At 51.55 degrees the sun stands 15 degrees high at noon on the shortest day."""
    assert shade_m(8.0, 51.55) == pytest.approx(7 / math.tan(math.radians(15)))
    assert shade_m(8.0, -51.55) == shade_m(8.0, 51.55)
    assert shade_m(0.5, 51.55) == 0
    assert math.isfinite(shade_m(8.0, 89))


@pytest.mark.parametrize(
    ("spot", "latitude", "shaded"),
    [
        ([50, -70], 52.0, True),
        ([50, -30], 52.0, False),
        ([50, -70], -33.0, False),
        ([50, -45], -33.0, True),
        ([75, -70], 52.0, False),
    ],
)
def test_a_tree_towards_the_noon_sun_shades_a_panel(spot: list[float], latitude: float, shaded: bool) -> None:
    rows = found(mark("tree", spot), energizer_at=[50, -50], origin={"lat": latitude, "lon": 0.0})
    assert ("Panel in the shade" in rows) == shaded


def test_shade_is_nothing_to_a_unit_without_a_panel() -> None:
    assert "Panel in the shade" not in found(mark("tree", [50, -60]), energizer_at=[50, -50], energizer="battery_1")


def test_stock_that_are_held_reach_a_unit_inside_their_block() -> None:
    assert "Stock reach the energizer" in found(energizer_at=[50, 50], stock=EWES)
    assert "Stock reach the energizer" not in found(energizer_at=[50, -5], stock=EWES)
    assert "Stock reach the energizer" not in found(energizer_at=[50, 50], stock=[{"id": "f", "kind": "fox"}])
    shed = mark("building", [48, 48], [52, 48], [52, 52])
    assert "Stock reach the energizer" not in found(shed, energizer_at=[50, 50], stock=EWES)


def test_a_portable_unit_beside_a_road_is_said() -> None:
    road = mark("road", [-100, -60], [300, -60])
    assert found(road, energizer_at=[50, -40])["Energizer in sight of a road"].figure == "20 m"
    assert "Energizer in sight of a road" not in found(road, energizer_at=[50, -29])
    assert "Energizer in sight of a road" not in found(road, energizer_at=[50, -40], energizer="mains_3")


@pytest.mark.parametrize(("rate", "weakens"), [("full", False), ("day", False), ("night", True), ("slow", True)])
def test_a_saver_runs_while_nothing_comes(rate: str, weakens: bool) -> None:
    fox = [{"id": "f", "kind": "fox"}]
    plan = simple_plan(stock=fox, supply=Supply(rate=Rate(rate), battery_ah=20).model_dump())
    rows = {f.title: f for f in supply_findings(plan, energizers()["battery_1"])}
    assert ("Slow at night" in rows) == weakens
    assert "slow by day" in rows["Days between charges"].mend


def test_a_measured_height_takes_the_place_of_what_is_assumed() -> None:
    near = mark("tree", [50, -60])
    at = {"energizer_at": [50, -50], "origin": {"lat": 52.0, "lon": 0.0}}
    assert "8 m tall, as assumed" in found(near, **at)["Panel in the shade"].reason
    told = found(near | {"tall_cm": 1200}, **at)["Panel in the shade"].reason
    assert "12 m tall, it throws" in told
    assert "Panel in the shade" not in found(near | {"tall_cm": 200}, **at)


def test_an_old_fence_is_no_taller_than_four_metres() -> None:
    with pytest.raises(ValueError, match="at most 400 cm tall"):
        found(mark("old_fence", [0, 0], [5, 0]) | {"tall_cm": 500})
