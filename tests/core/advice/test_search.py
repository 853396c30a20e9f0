"""Energizers side by side, and the search for the cheapest design that holds."""

import math
from itertools import islice, pairwise

import pytest
from pydantic import ValidationError

from adze.core.advice.designs import Build, Choice, chosen
from adze.core.advice.search import SearchProgress, Wishes, search
from adze.core.basics.status import Status
from adze.core.build.construction import fence_of
from adze.core.build.parts import bill
from adze.core.energizer.fit import energy_on_load_j
from adze.core.forecast.compare_units import Trials, grown, units_here
from adze.core.forecast.earth_test import earth_test
from adze.core.forecast.volts import solved, volts
from adze.core.ground.lines import length_m
from adze.core.plan.catalogue import catalogue, pulse_of, unit_of
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.season import Season, Weather
from adze.core.plan.stages import Incomplete, Stage
from adze.core.tables.energizers import energizers
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan

EWES = [{"id": "e", "kind": "ewe", "schooled": True}]
OWN = {
    "key": "shed",
    "label": "From the shed",
    "supply": "mains",
    "stored_j": 4.3,
    "released_j": 3.0,
    "open_kv": 9.0,
    "kv_500": 6.3,
    "price": 0,
}


def farm(**changes: object) -> Plan:
    lines = [
        {"id": "a", "name": "A", "points": [[0, 0], [700, 0]]},
        {"id": "b", "name": "B", "points": [[700, 0], [700, 500]]},
    ]
    return simple_plan(**({"runs": lines, "stock": EWES, "strands": [], "grass": "moderate"} | changes))


def test_side_by_side_is_what_the_forecast_says_of_each() -> None:
    plan = farm()
    rows = {row.unit.key: row for row in units_here(plan, catalogue(plan).values())}
    for key in ("battery_025", "mains_3", "mains_15"):
        own = changed(plan, {"energizer": key})
        for season in Season:
            assert rows[key].kv[season] == pytest.approx(volts(own, Weather(season)).worst[1], rel=1e-6)
        holds = judge(own).verdicts[Stage.VOLTS].status is Status.HOLDS
        assert (rows[key].margin >= 1) == holds
    ordered = [rows[u.key].margin for u in catalogue(plan).values() if u.supply == "mains"]
    assert ordered == sorted(ordered)


def test_the_fewest_rods_hold_and_one_less_does_not() -> None:
    plan = farm(soil="sandy_loam", rods={"count": 1})
    row = next(r for r in units_here(plan, [energizers()["battery_2"]]) if r.rods and r.rods > 1)
    for count, holds in ((row.rods, True), ((row.rods or 0) - 1, False)):
        own = changed(plan, {"energizer": "battery_2", "rods": {"count": count}})
        found = judge(own).verdicts
        good = found[Stage.VOLTS].status is Status.HOLDS and found[Stage.EARTH].status is Status.HOLDS
        assert good is holds


def test_growth_costs_kv_and_keeps_the_plan() -> None:
    plan = farm()
    more = grown(plan, 2000, 2)
    assert sum(length_m(r) for r in more.runs) == pytest.approx(1200 + 2000 + 100)
    assert volts(more, Weather(Season.WET)).worst[1] < volts(plan, Weather(Season.WET)).worst[1]
    assert grown(plan, 0, 0) is plan
    with pytest.raises(ValueError, match="0 or more"):
        grown(plan, -1, 0)


def stands(plan: Plan) -> bool:
    """Whether the volts hold in every season and the earth test passes in the driest week."""
    tested = earth_test(solved(plan, Weather(Season.DRY))).status is Status.HOLDS
    return tested and judge(plan).verdicts[Stage.VOLTS].status is Status.HOLDS


def test_the_search_finds_what_the_judge_confirms_and_nothing_cheaper_holds() -> None:
    plan = farm()
    *_, last = search(plan, Wishes(keep_strands=True, keep_conductor=True))
    assert last.done == last.total
    costs, margins = [d.cost for d in last.front], [d.margin for d in last.front]
    assert costs == sorted(costs)
    assert margins == sorted(margins)
    cheapest = next(d for d in last.front if d.holds)
    taken = chosen(plan, cheapest.choice)
    assert bill(taken).total == pytest.approx(cheapest.cost, abs=0.01)
    assert stands(taken)
    for unit in catalogue(plan).values():
        for rods in (3, 4, 5, 6):
            other = changed(plan, {"energizer": unit.key, "rods": {"count": rods}})
            if bill(other).total < cheapest.cost - 0.01:
                assert not stands(other)


def test_dry_sand_wants_a_way_home_and_the_search_says_so() -> None:
    *_, last = search(farm(soil="dry_sand"), Wishes(keep_conductor=True))
    assert last.best
    assert last.best[0].holds
    assert last.best[0].choice.build.strands in ("in turn", "earth between", "mesh before")


def test_one_strand_more_stands_in_the_widest_gap_and_costs_what_it_says() -> None:
    plan = farm(grass="none")
    choice = Choice("mains_1", 4, 2.4, build=Build(more_live=True))
    built = chosen(plan, choice)
    before, after = ([s.cm for s in fence_of(p)] for p in (plan, built))
    (new,) = set(after) - set(before)
    low, high = max(c for c in before if c < new), min(c for c in before if c > new)
    assert high - low == max(b - a for a, b in pairwise(before))
    assert built.rods.length_m == 2.4
    assert volts(built, Weather(Season.DRY)).worst[1] != volts(plan, Weather(Season.DRY)).worst[1]


def test_what_is_not_computed_could_not_have_won() -> None:
    plan, wishes = farm(), Wishes(keep_strands=True, keep_conductor=True, keep_lines=True, least_rods=1)
    *_, quick = search(plan, wishes)
    assert quick.computed < quick.total
    rows = {(d.choice.energizer, d.choice.rods, d.choice.rod_m): d for d in quick.front}
    for unit in catalogue(plan).values():
        for count in (1, 2, 4, 12):
            trials = [Trials(changed(plan, {"energizer": unit.key}), Weather(s)) for s in (Season.DRY, Season.WET)]
            margin = min(t.tried(unit, t.rods_ohm(count)).margin for t in trials)
            margin = min(margin, trials[0].tolerable_kv / trials[0].test_kv(unit, trials[0].rods_ohm(count)))
            cost = bill(changed(plan, {"energizer": unit.key, "rods": {"count": count}})).total
            better = [d for d in rows.values() if d.cost <= cost + 0.01 and d.margin >= margin - 1e-6]
            assert better, (unit.key, count)


def test_damper_ground_within_reach_is_tried_for_the_rods() -> None:
    hollow = {"id": "h", "kind": "hollow", "points": [[20, 20], [60, 20], [60, 60], [20, 60]]}
    rods = {"count": 3, "position": (-20, -40)}
    plan = farm(landmarks=[hollow], rods=rods, soil="loam", energizer="mains_15")
    wishes = Wishes(keep_strands=True, keep_conductor=True, keep_lines=True, keep_energizer=True)
    *_, last = search(plan, wishes)
    moved = next(d for d in last.front if d.choice.rods_at)
    built = chosen(plan, moved.choice)
    assert bill(built).total == pytest.approx(moved.cost, abs=0.01)
    same = {**plan.rods.model_dump(), "count": built.rods.count, "length_m": built.rods.length_m}
    there, here = (solved(p, Weather(Season.DRY)).circuit.rods_ohm for p in (built, changed(plan, {"rods": same})))
    assert there < 0.9 * here


def test_a_search_that_is_stopped_keeps_the_best_so_far() -> None:
    some: list[SearchProgress] = list(islice(search(farm(), Wishes()), 40))
    assert some[-1].done == 40
    assert some[-1].front
    cheapest = [min((d.cost for d in step.front if d.holds), default=math.inf) for step in some]
    assert all(later <= earlier for earlier, later in pairwise(cheapest))


@pytest.mark.parametrize(
    ("wishes", "kept"),
    [
        (Wishes(supply="battery"), lambda c, plan: "battery" in catalogue(plan)[c.energizer].supply),
        (Wishes(keep_energizer=True), lambda c, plan: c.energizer == plan.energizer),
        (Wishes(keep_rods=True), lambda c, plan: c.rods == plan.rods.count and not c.build.far_rods),
        (Wishes(keep_strands=True), lambda c, _: c.build.strands == "as they are"),
        (Wishes(keep_conductor=True), lambda c, _: c.build.conductor is None),
        (Wishes(keep_lines=True), lambda c, _: c.build.feed_at is None and c.build.link is None),
        (Wishes(least_rods=5, keep_strands=True), lambda c, _: c.rods >= 5),
    ],
)
def test_wishes_are_kept(wishes: Wishes, kept: object) -> None:
    plan = farm()
    *_, last = islice(search(plan, wishes), 400)
    assert all(kept(d.choice, plan) for d in last.front)  # type: ignore[operator]


def test_wishes_that_leave_nothing_and_plans_that_cannot_be_solved() -> None:
    with pytest.raises(Incomplete):
        next(search(farm(runs=[]), Wishes()))
    *_, poor = search(farm(), Wishes(keep_strands=True, keep_conductor=True, most_money=10))
    assert poor.front == ()


def test_an_own_energizer_is_one_of_the_catalogue() -> None:
    plan = farm(own_energizers=[OWN], energizer="shed")
    unit = unit_of(plan)
    assert unit is not None
    assert unit.label == "From the shed"
    same = volts(farm(energizer="mains_3"), Weather(Season.DRY)).worst[1]
    assert volts(plan, Weather(Season.DRY)).worst[1] == pytest.approx(same, rel=1e-6)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"released_j": 5.0}, "released cannot come from 4.3 J stored"),
        ({"kv_500": 9.5}, "must be less than the 9 kV without load"),
        ({"kv_500": 8.95}, "too near the open"),
        ({"key": "mains_3"}, "already"),
        ({"pulse_s": 0.5}, "greater than or equal to 1"),
    ],
)
def test_a_plate_that_contradicts_itself_is_refused(change: dict[str, object], words: str) -> None:
    with pytest.raises(ValidationError, match=words):
        farm(own_energizers=[OWN | change])


def test_the_reduced_terminal_gives_half_of_the_joules() -> None:
    unit = energizers()["mains_6"]
    full, half = (energy_on_load_j(pulse_of(unit, half=h), 500.0) for h in (False, True))
    assert half == pytest.approx(full / 2)
    weak, strong = (volts(farm(half_power=h, energizer="mains_6"), Weather(Season.WET)).worst[1] for h in (True, False))
    assert weak == pytest.approx(strong / 2**0.5)


def test_trials_serve_every_fence_with_its_own_want() -> None:
    plan = farm(
        fences=[{"id": "f", "name": "F", "herds": ["h"]}],
        herds=["e"],
        stock=[*EWES, {"id": "h", "kind": "horse", "schooled": True}],
        runs=[
            {"id": "a", "name": "A", "points": [[0, 0], [700, 0]]},
            {"id": "b", "name": "B", "points": [[700, 0], [700, 500]], "fence": "f"},
        ],
    )
    found = Trials(plan, Weather(Season.DRY)).tried(energizers()["mains_6"])
    assert {wanted for wanted, _ in Trials(plan, Weather(Season.DRY)).fences} == {4.0, 3.0}
    assert found.weakest is not None


def test_a_measured_load_table_moves_the_volts_and_what_cannot_be_is_refused() -> None:
    plate, measured = (
        volts(farm(own_energizers=[OWN | {"loads": loads}], energizer="shed"), Weather(Season.WET)).worst[1]
        for loads in ([], [[100, 3.4], [50, 2.2]])
    )
    assert measured > plate
    with pytest.raises(ValidationError, match="more than the 9 kV without load"):
        farm(own_energizers=[OWN | {"loads": [[100, 12]]}])
