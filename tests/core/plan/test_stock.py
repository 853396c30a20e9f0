"""Groups of animals: bodies as measured, fleece by date, boldness, training, and whether a fence answers the loss."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from adze.core.animals.strand_rules import Duty, design, limits_of
from adze.core.basics.status import Status
from adze.core.plan.herds import Herd
from adze.core.plan.stock import TrainingProgress, animals_of, animals_of_herd, body_of, fleece_cm, progress
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.findings import Finding
from adze.core.verdict.judge_stock import judge_stock
from tests.conftest import simple_plan

SHORN = date(2026, 5, 20)


def herd(kind: str = "ewe", **more: object) -> Herd:
    return Herd.model_validate({"id": "a", "kind": kind} | more)


def findings(**more: object) -> dict[str, Finding]:
    return {f.title: f for f in judge_stock(simple_plan(**more)).findings}


def test_a_measured_shoulder_takes_nose_and_head_along() -> None:
    body = body_of(herd("horse", shoulder_cm="1.24 m"))
    assert (body.nose_cm, body.shoulder_cm, body.head_cm) == (80.0, 124.0, 17.6)
    assert body_of(herd("horse", shoulder_cm=124, nose_cm=90)).nose_cm == 90
    assert body_of(herd("horse")).shoulder_cm == animal_kinds()["horse"].shoulder_cm


def test_young_at_foot_are_as_large_beside_their_kind_as_the_dam() -> None:
    dam, young = animals_of_herd(herd("ewe", shoulder_cm=60, young=True), None)
    assert young.kind == "lamb"
    assert young.shoulder_cm / dam.shoulder_cm == pytest.approx(45 / 75, rel=0.01)


@pytest.mark.parametrize(("part", "cm"), [("shoulder_cm", 400), ("shoulder_cm", 3), ("nose_cm", 150), ("head_cm", 0)])
def test_a_body_that_cannot_be_is_refused_with_its_range(part: str, cm: float) -> None:
    with pytest.raises(ValidationError, match=r"Ewe: .* cm; between \d+ and \d+ cm is taken \(typical"):
        herd("ewe", **{part: cm})


@given(st.floats(30, 150), st.floats(30, 150))
def test_a_taller_animal_never_asks_for_a_lower_top(one: float, other: float) -> None:
    low, high = (animals_of_herd(herd("ewe", shoulder_cm=x), None)[0] for x in sorted((one, other)))
    assert limits_of(low, Duty.HOLD).top_cm <= limits_of(high, Duty.HOLD).top_cm


def test_fleece_grows_from_the_shears_to_full_in_a_year() -> None:
    ewe = animal_kinds()["ewe"]
    cut = herd(sheared=SHORN)
    assert fleece_cm(ewe, cut, SHORN) == 1.5
    assert fleece_cm(ewe, cut, date(2026, 11, 19)) == pytest.approx(3.8, abs=0.1)
    assert fleece_cm(ewe, cut, date(2030, 1, 1)) == 6
    assert fleece_cm(ewe, cut, None) == fleece_cm(ewe, cut, date(2026, 1, 1)) == 6
    assert [fleece_cm(ewe, herd(woolled=w), None) for w in (True, False)] == [6, 1.5]


@given(st.dates(SHORN, date(2028, 1, 1)), st.dates(SHORN, date(2028, 1, 1)))
def test_fleece_never_gets_shorter_by_itself(one: date, other: date) -> None:
    ewe, cut = animal_kinds()["ewe"], herd(sheared=SHORN)
    assert fleece_cm(ewe, cut, min(one, other)) <= fleece_cm(ewe, cut, max(one, other))


def test_a_bold_group_pushes_though_it_knows_the_fence() -> None:
    calm, bold = (animals_of_herd(herd("cow", schooled=True, bold=b), None)[0] for b in (False, True))
    assert limits_of(calm, Duty.HOLD).sniffs
    assert not limits_of(bold, Duty.HOLD).sniffs
    assert design((bold,), Duty.HOLD).wanted_kv > design((calm,), Duty.HOLD).wanted_kv
    assert "Beef cow: bold" in findings(stock=[{"id": "a", "kind": "beef_cow", "schooled": True, "bold": True}])


def test_days_and_touches_make_a_trained_group() -> None:
    came, later = "2026-04-01", date(2026, 4, 8)

    def state(**log: object) -> TrainingProgress:
        return progress(herd(count=10, training={"came": came} | log), later)

    assert progress(herd(), later) is TrainingProgress.UNKNOWN
    assert state(touches=19) is TrainingProgress.LEARNING
    assert state(touches=20) is TrainingProgress.READY
    assert state(touches=20, released="2026-04-03") is TrainingProgress.EARLY
    assert state(touches=20, released="2026-04-08") is TrainingProgress.DONE


def test_training_relaxes_what_is_wanted_and_no_sooner() -> None:
    log = {"came": "2026-04-01", "touches": 40}
    pen, out = (
        simple_plan(stock=[{"id": "a", "kind": "sow", "count": 20, "training": log | more}])
        for more in ({}, {"released": "2026-04-09"})
    )
    assert not animals_of(pen)[0].schooled
    assert animals_of(out)[0].schooled
    early = findings(stock=[{"id": "a", "kind": "sow", "count": 30, "training": log | {"released": "2026-04-09"}}])
    assert early["Sow: let out early"].status is Status.MARGINAL
    with pytest.raises(ValidationError, match="before they came"):
        herd(training={"came": "2026-04-03", "released": "2026-04-01"})


@pytest.mark.parametrize(
    ("loss", "kinds", "status"),
    [
        ("bird", ["hen"], Status.FAILS),
        ("both_predators", ["hen", "fox"], Status.MARGINAL),
        ("ground_predator", ["hen"], Status.MARGINAL),
        ("ground_predator", ["hen", "fox"], None),
        ("straying", ["fox"], Status.MARGINAL),
        ("browsing", ["deer"], None),
        ("digging", ["deer"], Status.MARGINAL),
    ],
)
def test_whether_a_fence_answers_the_loss(loss: str, kinds: list[str], status: Status | None) -> None:
    told = findings(loss=loss, stock=[{"id": k, "kind": k} for k in kinds]).get("Does a fence stop the loss")
    assert (told and told.status) is status


def test_the_day_from_which_fleece_insulates_is_said() -> None:
    told = findings(on_date="2026-08-01", stock=[{"id": "a", "kind": "ewe", "sheared": str(SHORN)}])["Ewe: fleece"]
    assert "from 2026-09-19" in told.reason
    assert told.figure == "2.4 cm"


def test_a_release_counts_from_its_day_and_days_are_never_below_none() -> None:
    log = {"came": "2026-04-01", "touches": 40, "released": "2026-04-09"}
    pigs = herd("sow", count=20, training=log)
    assert progress(pigs, date(2026, 4, 8)) is TrainingProgress.READY
    assert progress(pigs, date(2026, 4, 9)) is TrainingProgress.DONE
    before = findings(on_date="2026-03-20", stock=[{"id": "a", "kind": "sow", "count": 20, "training": log}])
    assert "0 of 5 days" in before["Sow: in the pen"].reason
    (early,) = animals_of(simple_plan(on_date="2026-04-08", stock=[{"id": "a", "kind": "sow", "training": log}]))
    assert not early.schooled


def test_age_makes_a_smaller_body_that_springs_and_entire_males_walk_on() -> None:
    grown, growing = (animals_of_herd(herd("cow", age=age), None)[0] for age in ("grown", "growing"))
    assert growing.shoulder_cm == pytest.approx(0.6 * grown.shoulder_cm, abs=0.1)
    assert growing.head_cm == pytest.approx(0.68 * grown.head_cm, abs=0.1)
    assert (grown.spring_cm, growing.spring_cm) == (0, 15)
    measured = animals_of_herd(herd("cow", age="growing", shoulder_cm=100), None)[0]
    assert measured.shoulder_cm == 100
    calm, entire = (animals_of_herd(herd("cow", schooled=True, sex=sex), None)[0] for sex in ("female", "entire"))
    assert (calm.schooled, entire.schooled) == (True, False)
    assert design((growing,), Duty.HOLD).strands[0].cm < design((grown,), Duty.HOLD).strands[0].cm
