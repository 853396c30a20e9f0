"""The rates that rank advice, each as a worked figure: 1,600 m of three strands, 45 ewes in the wool."""

import pytest

from adze.core.advice.earth_here import RodCount, knee
from adze.core.basics.status import Status
from adze.core.design.fixes import Fix
from tests.conftest import simple_plan
from tests.core.volts_fixes import volts_fixes

EWES = [{"id": "e", "kind": "ewe", "count": 45, "woolled": True}]


def offered(**changes: object) -> dict[str, Fix]:
    strands = [{"cm": 30}, {"cm": 60}, {"cm": 90}]
    plan = simple_plan(**{"stock": EWES, "strands": strands, "energizer": "mains_1"} | changes)
    return {r.title: r for r in volts_fixes(plan)}


def test_own_hours_of_remedies() -> None:
    """0.4 h a rod, 15 ewes shorn an hour, 400 m of wire or of cut growth an hour, 60 m of mesh."""
    one_rod, heavy = offered(rods={"count": 1}), offered(grass="heavy", energizer="battery_025")
    assert one_rod["Add 5 rods (6 in all)"].hours == pytest.approx(5 * 0.4)
    assert one_rod["Use the Mains 3 J"].hours == 0.5
    assert heavy["Shear first"].hours == pytest.approx(45 / 15)
    assert heavy["Switch the bottom strands off"].hours == 0.1
    assert heavy["Switch the bottom strands off"].money > 0  # a switch of their own, with its cable
    assert one_rod["Use 1.6 mm aluminium for the strands"].hours == pytest.approx(3 * 1600 / 400)
    assert heavy["Cut growth to 30 cm"].hours == pytest.approx(1600 / 400)
    dry = offered(soil="dry_sand", energizer="mains_3")
    assert dry["Lay bare mesh on the ground, joined to earth"].hours == pytest.approx(1600 / 60, rel=0.02)
    both = one_rod["Add 5 rods (6 in all)"]
    assert both.worth == pytest.approx(both.money + 15 * both.hours)


@pytest.mark.parametrize(("second_ohm", "last"), [(92.1, 1), (91.9, 2)])
def test_a_rod_past_the_knee_takes_off_less_than_8_parts_of_a_hundred(second_ohm: float, last: int) -> None:
    rows = [
        RodCount(n, ohm, ohm, ohm, 0.3, 0.2, Status.HOLDS) for n, ohm in ((1, 100.0), (2, second_ohm), (3, second_ohm))
    ]
    assert knee(rows) == last
