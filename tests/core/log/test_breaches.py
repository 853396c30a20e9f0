"""Why something got through: what was read, the strands, what it feels there, training, the ground."""

from datetime import date

from adze.core.basics.status import Status
from adze.core.forecast.touches import touches
from adze.core.forecast.volts import equivalent_at, solved
from adze.core.ground.places import Place
from adze.core.log.breaches import Breach, BreachWay, ReadThen, causes_of
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from tests.conftest import simple_plan

Reads = tuple[ReadThen, ...]
DAY = date(2027, 6, 10)
EWES = [{"id": "e", "kind": "ewe", "count": 20, "schooled": True}]
SHEEP_STRANDS = [{"cm": cm} for cm in (15, 30, 45, 65, 90)]


def farm(**more: object) -> Plan:
    values = {"stock": EWES, "strands": SHEEP_STRANDS, "energizer": "mains_6", "soil": "wet_clay", "grass": "none"}
    return simple_plan(**values | more)


def told(plan: Plan, way: BreachWay = BreachWay.THROUGH, reads: Reads = (), at_m: float = 100.0) -> dict[str, Status]:
    passage = Breach("ewe", way, Place(plan.runs[0].id, at_m), DAY)
    return {cause.title: cause.status for cause in causes_of(plan, passage, reads)}


def test_where_nothing_speaks_for_it_nothing_is_told() -> None:
    good = (ReadThen(7.9, 90, DAY),)
    assert told(farm(), reads=good) == {}
    assert told(farm()) == {"No reading of that week": Status.UNKNOWN}


def test_the_nearest_reading_of_the_week_decides_whether_too_little_was_on_it() -> None:
    low, old, far = ReadThen(1.2, 60, date(2027, 6, 8)), ReadThen(1.2, 60, date(2027, 6, 1)), ReadThen(1.2, 600, DAY)
    assert told(farm(), reads=(low,))["Too few kV on it"] is Status.FAILS
    assert "No reading of that week" in told(farm(), reads=(old, far))
    assert "Too few kV on it" in told(farm(), reads=(ReadThen(1.2, 395, DAY),))
    assert "No reading of that week" in told(farm(), reads=(ReadThen(1.2, 405, DAY),))
    after = ReadThen(7.9, 90, DAY)
    assert told(farm(), reads=(low, after)) == {}
    assert told(farm(), reads=(ReadThen(1.2, 60, DAY, is_over=True),)) == {}
    # The bottom strand read low beside a top strand that read well.
    assert "Too few kV on it" in told(farm(), reads=(ReadThen(8.8, 90, DAY), ReadThen(1.2, 95, DAY)))


def test_only_the_checks_of_its_way_are_told() -> None:
    low = farm(strands=[{"cm": 40}, {"cm": 60}])
    reads = (ReadThen(7.9, 90, DAY),)
    under, over = told(low, BreachWay.UNDER, reads), told(low, BreachWay.OVER, reads)
    assert "Ewe: under" in under
    assert not any("under" in title for title in over)
    assert set(told(low, BreachWay.UNSEEN, reads)) >= {*under, *over}
    assert told(low, BreachWay.GATE, reads) == {}


def test_what_it_feels_is_that_of_the_place_in_its_worst_season() -> None:
    dry = farm(soil="dry_sand", stock=[{**EWES[0], "schooled": True}])
    place = Place(dry.runs[0].id, 100.0)
    found = solved(dry, Weather(Season.DRY))
    (felt,) = touches(dry, equivalent_at(found, place), found.weather, None)
    assert felt.status is not Status.HOLDS
    cause = next(c for c in causes_of(dry, Breach("ewe", BreachWay.THROUGH, place, DAY), ()) if "feels" in c.title)
    assert cause.status is felt.status


def test_an_open_switch_before_the_place_leaves_it_without_a_pulse() -> None:
    switch = {"id": "s", "kind": "switch", "run": "line1", "at_m": 50, "name": "S", "is_open": True}
    assert "No pulse reaches it" in told(farm(fixtures=[switch]), reads=(ReadThen(7.9, 90, DAY),))


def test_those_who_did_not_learn_the_fence_and_a_dip_under_it_are_told() -> None:
    new = farm(stock=[{**EWES[0], "schooled": False}])
    assert told(new)["It did not know the fence"] is Status.MARGINAL
    dip = {"profile": [[0, 10], [80, 10], [100, 8.6], [120, 10], [400, 10]]}
    low = farm(runs=[{"id": "line1", "name": "Line", "points": [[0, 0], [400, 0]], **dip}])
    near, away = (set(told(low, BreachWay.UNDER, at_m=at_m)) for at_m in (100.0, 300.0))
    assert near - away == {"A dip in the ground"}


def test_a_dip_counts_within_fifteen_metres() -> None:
    dip = {"profile": [[0, 10], [80, 10], [100, 8.6], [120, 10], [400, 10]]}
    low = farm(runs=[{"id": "line1", "name": "Line", "points": [[0, 0], [400, 0]], **dip}])
    named = {at_m: "A dip in the ground" in told(low, BreachWay.UNDER, at_m=at_m) for at_m in (85.5, 114.5, 84, 116)}
    assert named == {85.5: True, 114.5: True, 84: False, 116: False}
