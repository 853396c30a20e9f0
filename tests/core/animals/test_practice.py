"""Patterns that builders use are believed: never worse than practice says, and softened no further than that."""

import json
from pathlib import Path
from typing import Any

import pytest

from adze.core.animals.practice import practised
from adze.core.animals.strand_checks import StrandFinding, check
from adze.core.animals.strand_rules import Animal, Duty, Purpose, Role, Strand
from adze.core.basics.status import Status, rank
from adze.core.plan.document import Plan
from adze.core.plan.stages import Stage
from adze.core.plan.stock import animal_of
from adze.core.tables.animals import animal_kinds
from adze.core.verdict.judge import judge
from tests.conftest import simple_plan

CASES = json.loads((Path(__file__).parents[2] / "golden" / "practice.json").read_text())["cases"]
RING = [{"id": "r1", "name": "Ring", "points": [[0, 0], [100, 0], [100, 100], [0, 100], [0, 0]]}]


def kind(key: str, *, schooled: bool = True) -> Animal:
    return animal_of(animal_kinds()[key], schooled=schooled, fleece_cm=0.0)


def live(*heights: float) -> tuple[Strand, ...]:
    return tuple(Strand(cm, Role.LIVE) for cm in heights)


def named(animal: Animal, duty: Duty, strands: tuple[Strand, ...]) -> dict[str, StrandFinding]:
    return {f.check: f for f in practised((animal,), duty, strands)}


def paddock(case: dict[str, Any]) -> Plan:
    keys = ("stock", "strands", "netting", "duty", "conductor", "post_spacing_m")
    return simple_plan(runs=RING, fixtures=[], **{key: case[key] for key in keys})


@pytest.mark.parametrize("case", CASES, ids=[case["id"] for case in CASES])
def test_no_pattern_of_practice_is_called_worse_than_practice_does(case: dict[str, Any]) -> None:
    verdict = judge(paddock(case)).verdicts[Stage.STRANDS]
    assert rank(verdict.status) <= rank(Status(case["least"])), [f for f in verdict.findings if f.status != "holds"]


def test_what_no_builder_uses_still_fails() -> None:
    horse, ewe, fox = kind("horse"), kind("ewe"), kind("fox")
    assert named(horse, Duty.HOLD, live(75, 100, 125))["under"].status is Status.FAILS
    assert named(horse, Duty.HOLD, live(61, 122))["head"].status is Status.FAILS
    assert named(ewe, Duty.HOLD, live(40, 90))["head"].status is Status.FAILS
    assert named(fox, Duty.HOLD, live(30, 60, 90))["head"].status is Status.FAILS


def test_the_pattern_is_named_where_it_softens_a_verdict() -> None:
    found = named(kind("horse"), Duty.HOLD, live(61, 91, 122))
    assert found["under"].status is Status.MARGINAL
    assert "61, 91, 122 cm" in found["under"].reason
    assert found["lean"].status is Status.HOLDS
    assert "Builders" not in found["lean"].reason
    # Closer strands and a higher top keep to the pattern as well, a lower top does not.
    assert named(kind("horse"), Duty.HOLD, live(60, 85, 110, 130))["under"].status is Status.MARGINAL
    assert named(kind("horse"), Duty.HOLD, live(61, 91))["under"].status is Status.FAILS


def test_behind_the_last_fence_no_pattern_and_no_training_helps() -> None:
    assert named(kind("horse"), Duty.LAST, live(61, 91, 122))["under"].status is Status.FAILS
    new, rows = kind("horse", schooled=False), live(45, 80, 120)
    assert named(new, Duty.HOLD, rows)["head"].status is Status.HOLDS
    assert named(new, Duty.LAST, rows)["head"].status is Status.FAILS


def test_who_is_new_to_the_fence_is_a_matter_of_training() -> None:
    case = next(case for case in CASES if case["id"] == "cattle-five-new")
    found = {f.title: f for f in judge(paddock(case)).verdicts[Stage.STRANDS].findings}
    training = found["New to electric fence"]
    assert training.status is Status.MARGINAL
    assert "beef cows and calves" in training.reason
    assert training.mend
    assert "New to electric fence" not in {
        f.title for f in judge(paddock(case | {"duty": "last"})).verdicts[Stage.STRANDS].findings
    }


@pytest.mark.parametrize(
    ("low_cm", "status"),
    [(12.0, Status.HOLDS), (14.0, Status.MARGINAL), (15.0, Status.MARGINAL), (18.0, Status.FAILS)],
)
def test_a_strand_misses_a_low_limit_by_two_cm_at_most(low_cm: float, status: Status) -> None:
    weaner = kind("weaner")
    assert named(weaner, Duty.HOLD, live(low_cm, 33, 60))["under"].status is status
    fails = named(weaner, Duty.HOLD, live(21, 44, 60))["under"]
    assert fails.status is Status.FAILS


@pytest.mark.parametrize(("top_cm", "status"), [(114, Status.HOLDS), (106, Status.MARGINAL), (103, Status.FAILS)])
def test_a_height_is_met_to_five_percent_and_three_cm(top_cm: float, status: Status) -> None:
    # A horse's chest strand: at least 116 cm.
    assert named(kind("horse"), Duty.LAST, live(20, 45, 75, top_cm))["lean"].limit == 124
    assert named(kind("horse"), Duty.HOLD, live(30, 65, 100, top_cm))["lean"].status is status


def test_a_mesh_keeps_a_body_back_until_the_pulse() -> None:
    hen, rows = kind("hen"), live(9, 17, 25, 34, 43, 54, 68, 86, 105)
    net = {f.check: f for f in practised((hen,), Duty.HOLD, rows, 1.3, netting=True)}
    assert net["pulse"].status is Status.HOLDS
    assert "mesh" in net["pulse"].reason
    assert {f.check: f for f in practised((hen,), Duty.HOLD, rows, 1.3)}["pulse"].status is Status.MARGINAL


@pytest.mark.parametrize("key", [key for key, row in animal_kinds().items() if row.purpose == Purpose.HOLD])
def test_practice_never_makes_a_check_worse(key: str) -> None:
    for duty in Duty:
        for strands in (live(20, 45, 70), live(61, 91, 122), live(90.0)):
            strict = {f.check: rank(f.status) for f in check((kind(key),), duty, strands)}
            assert all(rank(f.status) <= strict[f.check] for f in practised((kind(key),), duty, strands))
