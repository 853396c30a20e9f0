"""The plan document refuses what has no meaning, naming it."""

import pytest
from pydantic import ValidationError

from adze.core.animals.strand_rules import Purpose
from adze.core.plan.document import Plan
from adze.core.plan.stock import animals_of
from tests.conftest import simple_plan


def refused(**changes: object) -> str:
    with pytest.raises(ValidationError) as caught:
        simple_plan(**changes)
    return str(caught.value)


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"runs": [{"id": "a", "name": "A", "points": [[0, 0], [0, 0]]}]}, "points 1 and 2 are in one place"),
        ({"runs": [{"id": "a", "name": "A", "points": [[0, 0], [float("nan"), 5]]}]}, "finite"),
        ({"runs": [{"id": "a", "name": "A", "points": [[0, 0], [9e9, 5]]}]}, "less than or equal to 200000"),
        ({"strands": [{"cm": 50}, {"cm": 30}]}, "strand 2: 30 cm is not above strand 1 at 50 cm"),
        ({"strands": [{"cm": -4}]}, "greater than or equal to 1"),
        ({"rods": {"count": int("9" * 400)}}, "less than or equal to 200"),
        ({"rods": {"count": "9" * 6000}}, "unable to parse|exceeded"),
        ({"rods": {"length_m": "5 furlongs"}}, "is not a unit of length"),
        ({"energizer": "lightning"}, "there is no energizer 'lightning'"),
        ({"stock": [{"id": "a", "kind": "dragon"}]}, "there is no kind of animal 'dragon'"),
        ({"fixtures": [{"id": "g", "kind": "gate", "run": "zz", "at_m": 1, "name": "G"}]}, "is not on the plan"),
        ({"surprise": 1}, "Extra inputs"),
        ({"name": ""}, "at least 1 character"),
    ],
)
def test_bad_input_is_named(changes: dict[str, object], says: str) -> None:
    message = refused(**changes)
    assert any(part.lower() in message.lower() for part in says.split("|")), message


def test_ids_stand_once() -> None:
    run = {"id": "a", "name": "A", "points": [[0, 0], [5, 0]]}
    assert "is there twice" in refused(runs=[run, run])


def test_lengths_are_taken_as_typed() -> None:
    plan = simple_plan(rods={"length_m": "6 ft", "spacing_m": "10 ft"}, strands=[{"cm": "35 in"}])
    assert plan.rods.length_m == pytest.approx(1.8288)
    assert plan.rods.spacing_m == pytest.approx(3.048)
    assert plan.strands[0].cm == pytest.approx(88.9)


def test_young_know_what_the_dam_knows() -> None:
    plan = simple_plan(stock=[{"id": "e", "kind": "ewe", "schooled": True, "woolled": True, "young": True}])
    ewe, lamb = animals_of(plan)
    assert (ewe.kind, lamb.kind) == ("ewe", "lamb")
    assert lamb.schooled
    assert lamb.fleece_cm == 1.5
    assert ewe.fleece_cm == 6


def test_what_is_kept_out_is_never_schooled() -> None:
    (fox,) = animals_of(simple_plan(stock=[{"id": "f", "kind": "fox", "schooled": True}]))
    assert fox.purpose is Purpose.OUT
    assert not fox.schooled


def test_save_then_load_gives_back_the_same(hallow: Plan) -> None:
    assert Plan.model_validate(hallow.model_dump(mode="json")) == hallow
