"""What the browser is told of a plan."""

import json

import pytest

from adze.core.ground.places import Place
from adze.core.plan.document import Plan
from adze.core.plan.season import Season
from adze.core.plan.stages import Incomplete
from adze.services.answers import forecasts
from adze.services.answers.design import verdict_json
from tests.conftest import simple_plan


def test_a_plan_is_judged_once(hallow: Plan) -> None:
    plan = hallow.model_copy(update={"name": "Judged once"})
    assert forecasts.known_judgement(plan) is None
    first = forecasts.judgement_of(plan)
    assert forecasts.judgement_of(plan) is first
    assert forecasts.known_judgement(plan) is first


def test_the_forecast_is_plain_json_with_every_run_and_season(hallow: Plan) -> None:
    told = json.loads(json.dumps(forecasts.forecast_json(hallow), allow_nan=False))
    for season in ("dry", "usual", "wet"):
        traces = told["seasons"][season]["traces"]
        assert [t["run"] for t in traces] == [r.id for r in hallow.runs]
        assert all(len(t["kv"]) == len(t["at_m"]) > 1 for t in traces)
    assert told["worst"]["stage"] == "volts"
    assert {r["name"] for r in told["routes"]} >= {"Orchard", "Sea bank"}


def test_an_unfinished_plan_says_what_is_missing() -> None:
    told = forecasts.forecast_json(simple_plan(runs=[]))
    assert "Draw a line" in told["blocked"]
    assert told["seasons"] == {}
    assert told["routes"] == []
    with pytest.raises(Incomplete):
        forecasts.band_json(simple_plan(energizer=None), Season.DRY)


def test_the_band_stands_around_the_likely_line(hallow: Plan) -> None:
    band = {t["run"]: t for t in forecasts.band_json(hallow, Season.WET)["traces"]}
    likely = forecasts.forecast_json(hallow)["seasons"]["wet"]["traces"]
    for trace in likely:
        lows, highs = band[trace["run"]]["low"], band[trace["run"]]["high"]
        assert all(a <= kv <= b for a, kv, b in zip(lows, trace["kv"], highs, strict=True))


def test_the_card_tells_the_place_the_strand_and_what_is_fixed(hallow: Plan) -> None:
    card = forecasts.stand_json(hallow, Season.WET, "terraces", 329.5, 2)
    assert card["where"] == "Terraces, 330 m along"
    assert card["fixed"] == ["Lane gate (gate)"]
    assert (card["strand"], card["strands"], card["role"]) == (3, 4, "live")
    assert card["kv_earth"] is None
    assert card["earth_strand_kv"] is None
    assert {t["animal"] for t in card["touches"]} == {"ewe", "beef cow"}
    past_the_end = forecasts.stand_json(hallow, Season.WET, "maylane", 9e9, 99)
    assert past_the_end["strand"] == 4
    assert past_the_end["leak_a"] == 0


def test_earth_strands_are_told_on_the_card() -> None:
    plan = simple_plan(strands=[{"cm": 30}, {"cm": 60, "role": "earth"}, {"cm": 90}])
    card = forecasts.stand_json(plan, Season.DRY, "line1", 800, 1)
    assert card["role"] == "earth"
    assert float(card["kv_soil"]) < float(card["kv_earth"])


def test_expected_kv_is_a_band_with_the_likely_inside(line_plan: Plan) -> None:
    expected = forecasts.expected_at(line_plan, Season.USUAL, Place("line1", 800))
    assert expected.low <= expected.likely <= expected.high


def test_the_verdict_names_stage_place_and_mends(hallow: Plan) -> None:
    verdict = verdict_json(hallow)
    assert verdict["status"] == "fails"
    assert verdict["stages"]["ground"]["status"] == "marginal"
    assert verdict["stages"]["volts"]["findings"][0]["reason"]
    assert all(" instead of " in m["effect"] or m["status"] == "holds" for m in verdict["mends"])
